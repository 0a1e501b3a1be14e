"""Whether what a label leads to is still the thing that was picked."""

from __future__ import annotations

from collections.abc import Iterable

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


def ranked(witness: Witness | None, places: dict[str, tuple[float, float, float]]) -> list[str]:
    """Labels by how near they lie to where the picked thing was."""
    if witness is None or len(witness.at) != 3:
        return list(places)
    return sorted(places, key=lambda k: sum((a - b) ** 2 for a, b in zip(places[k], witness.at, strict=True)))
