"""Pieces of surfaces: which of them was decided on before, by what bounds them, never by where they lie."""

from __future__ import annotations

from collections.abc import Sequence

from architectonic.describe.results import Value, Vector
from architectonic.family.operations.surfaces.trim import PieceChoice


class PieceSeen(Value, frozen=True, kw_only=True):
    """A piece of a surface as it is now.

    Attributes:
        of, sides, bounds, rims, faces: as of PieceChoice.
        area: mm2; at: on its largest face, mm.
        shape: the key of it alone, as a shape of the recipe that found it.
    """

    of: str
    sides: tuple[str, ...]
    bounds: tuple[str, ...]
    rims: tuple[str, ...]
    faces: tuple[str, ...]
    area: float
    at: Vector
    shape: str = ""

    def chosen(self, keep: bool) -> PieceChoice:
        """What is stored of it."""
        return PieceChoice(
            of=self.of, sides=self.sides, bounds=self.bounds, rims=self.rims, faces=self.faces, keep=keep
        )


def _levels(p: PieceSeen | PieceChoice) -> tuple[tuple[object, ...], ...]:
    """What a piece is known by, from all of it to the least."""
    return (
        (p.of, p.sides, p.bounds, p.rims, p.faces),
        (p.of, p.sides, p.bounds, p.rims),
        (p.of, p.sides, p.rims),
        (p.of, p.sides),
    )


def decided(
    found: Sequence[PieceSeen], choices: Sequence[PieceChoice]
) -> tuple[list[PieceChoice | None], list[PieceChoice]]:
    """What was decided of each piece, and the choices that no piece answers to.

    A piece takes a decision where nothing else could be meant: where it alone among the pieces, and one choice alone, are
    known by the same. What two pieces or two choices could be is asked about, also where all that tells them apart is where
    they lie.
    """
    taken: list[PieceChoice | None] = [None] * len(found)
    left = list(choices)
    for level in range(4):
        for number, piece in enumerate(found):
            if taken[number] is not None:
                continue
            key = _levels(piece)[level]
            same = [k for k, p in enumerate(found) if taken[k] is None and _levels(p)[level] == key]
            meant = [c for c in left if _levels(c)[level] == key]
            if len(same) == 1 and len(meant) == 1:
                if level > 0 and any(_levels(p)[3] == _levels(piece)[3] for k, p in enumerate(found) if k != number):
                    continue  # beside others that lie on the same sides only what is known by everything is known
                taken[number] = meant[0]
                left.remove(meant[0])
    return taken, left
