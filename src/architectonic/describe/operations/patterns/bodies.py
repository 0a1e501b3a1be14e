"""Pattern of bodies: bodies made again in other places."""

from __future__ import annotations

from architectonic.base.rigid import Rigid
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.patterns.pattern import said
from architectonic.describe.operations.solid import ANY, acted, replaced
from architectonic.describe.results import MemberMove, ModelState, Node, NodeFault, Plan, Recipe, Value, fault, needed
from architectonic.describe.view import View
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.blanks import Flag
from architectonic.family.operations.patterns.pattern import (
    Along,
    AtPoints,
    ByTable,
    PatternBodies,
    Ring,
    Row,
    TwoWays,
)


class PatternBodiesInput(Value, frozen=True, kw_only=True):
    """Bodies in the order of the shapes.

    Attributes:
        members: label and move of each; copies: the new body of each member and body, () where they become one with it.
    """

    operation: str
    bodies: tuple[str, ...]
    members: tuple[tuple[str, Rigid], ...]
    copies: tuple[tuple[str, ...], ...] = ()


def plan(view: View, node: Node, record: PatternBodies, given: ModelState) -> Plan:
    """Bodies with their copies."""
    (outcome,) = yield [Node("members", node.at, record.id)]
    members: tuple[MemberMove, ...] = needed(outcome, "")
    kept = [m for m in members if not m.out]
    bodies = acted(view, node, record.acts_on, given, ANY)
    if not kept:
        return given
    copies: tuple[tuple[str, ...], ...] = ()
    if record.apart:
        copies = tuple(tuple(record.copies.get(f"{m.key}/{b}", "") for b, _ in bodies) for m in kept)
        missing = sum(not key for row in copies for key in row)
        if missing:
            told = f"{len(kept)} members are asked for here, and {missing} have no body yet"
            raise fault("pattern.more", told, "open it and keep it: the bodies are made")
    payload = PatternBodiesInput(
        operation=record.id,
        bodies=tuple(b for b, _ in bodies),
        members=tuple((m.key, m.move) for m in kept),
        copies=copies,
    )
    made = yield Recipe("pattern_bodies", payload, tuple(s for _, s in bodies))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


_WHAT = (Bodies("acts_on"), Flag("apart", "as bodies of their own"))

KIND = OperationKind(
    PatternBodies,
    (
        said("bodies_row", "Row of bodies", "repeat", _WHAT, "Row of bodies", Row, ("pattern", "array", "linear", "copy")),
        said("bodies_rows", "Grid of bodies", "repeat", _WHAT, "Grid of bodies", TwoWays, ("pattern", "array", "grid")),
        said("bodies_ring", "Ring of bodies", "repeat", _WHAT, "Ring of bodies", Ring, ("pattern", "array", "circular", "polar")),
        said("bodies_along", "Bodies along a path", "repeat", _WHAT, "Bodies along a path", Along, ("pattern", "curve", "array")),
        said("bodies_points", "Bodies at points", "repeat", _WHAT, "Bodies at points", AtPoints, ("pattern", "array")),
        said("bodies_table", "Bodies by a table of places", "repeat", _WHAT, "Bodies by a table", ByTable, ("pattern", "coordinates", "array")),
    ),
    plan,
    recipe="pattern_bodies", given=PatternBodiesInput, version=1,
    group="patterns and mirrors",
    rank=20,
)  # fmt: skip
