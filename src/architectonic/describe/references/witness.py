"""Whether what a label leads to is still the thing that was picked."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from architectonic.base.labels import atoms, plain
from architectonic.family.records import Witness


def disagreement(witness: Witness | None, kind: str, convex: str, neighbours: Iterable[str]) -> str:
    """What tells a match from what was picked, in words; "" when nothing does.

    Only another kind, another convexity or all other neighbours reject a match: position and size change with every
    value. A neighbour that was rounded or split since still counts, as its label names the old one.
    """
    if witness is None:
        return ""
    if witness.kind and kind and kind != witness.kind:
        return f"it is a {kind} now and was a {witness.kind}"
    if witness.convex and convex and convex != witness.convex and "smooth" not in (convex, witness.convex):
        return f"it is {convex} now and was {witness.convex}"
    before = {plain(n) for n in witness.neighbours}
    now = {a for n in neighbours for a in atoms(plain(n))}
    if before and now and not any(atoms(n) & now for n in before):
        return "it has other neighbours than it had"
    return ""


class Candidate(NamedTuple):
    """Something that a lost reference may have meant.

    Attributes:
        shared: how many faces its label has in common with the lost one; kind, at: as of a witness.
    """

    label: str
    shared: int
    kind: str
    at: tuple[float, float, float]


def ranked(witness: Witness | None, candidates: Iterable[Candidate]) -> list[str]:
    """Labels: those that share most come first, then those of the same kind, then those that lie near."""

    def key(c: Candidate) -> tuple[int, bool, float, str]:
        far = 0.0
        if witness is not None and len(witness.at) == 3:
            far = sum((a - b) ** 2 for a, b in zip(c.at, witness.at, strict=True))
        return -c.shared, witness is not None and bool(witness.kind) and c.kind != witness.kind, far, c.label

    return [c.label for c in sorted(candidates, key=key)]
