"""Pieces of surfaces that are trimmed, as a script decides on them."""

from __future__ import annotations

from collections.abc import Callable

from architectonic.api.protocols import Modelled
from architectonic.describe.operations.surfaces.pieces import PieceSeen
from architectonic.family.operations.surfaces.trim import Trim
from architectonic.session.model import building
from architectonic.session.model.trimming import decided_by


class TrimPiece:
    """A piece of a surface that is trimmed.

    Attributes:
        of: name of the surface; area: mm2; at: centre of its largest face, mm.
        inner: what cuts it bounds it all round: nothing of the surface's own edge does.
    """

    def __init__(self, model: Modelled, seen: PieceSeen) -> None:
        bodies = model.model.bodies
        self.of, self.area, self.at = bodies[seen.of].name, seen.area, seen.at
        self.inner = not seen.rims
        planes = {o.id: o.name for o in model.model.build}
        self._sides = {
            (bodies[cut].name if cut in bodies else planes.get(cut, cut), where)
            for cut, _, where in (s.rpartition(":") for s in seen.sides)
        }

    def before(self, name: str) -> bool:
        """Whether it lies where the normals of a surface or plane point that cuts it."""
        return (name, "before") in self._sides

    def behind(self, name: str) -> bool:
        """Whether it lies on the other side of it."""
        return (name, "behind") in self._sides


def with_pieces(model: Modelled, record: Trim, keep: Callable[[TrimPiece], bool]) -> Trim:
    """A trim whose pieces a script has decided on, one by one.

    Raises:
        UserFault: the surfaces do not cut each other.
    """
    assert model.opened.engine is not None  # pieces need the kernel
    family = building.store(model.opened.family, model.id, record, "", "", model.opened.new_id)
    return decided_by(family, model.at, record, lambda p: keep(TrimPiece(model, p)))
