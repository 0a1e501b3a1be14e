"""Join: surfaces made one along their edges, and what closes made a solid."""

from __future__ import annotations

import msgspec

from architectonic.base import tolerance
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import SURFACES, acted, plan_length, replaced
from architectonic.describe.results import ModelState, Node, NodeFault, Plan, Recipe, Value
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Flag, Length
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.surfaces import Surfaces
from architectonic.family.operations.surfaces.join import Join


class JoinInput(Value, frozen=True, kw_only=True):
    """Surfaces in the order of the shapes, joined into the first; how far apart edges may lie, mm."""

    operation: str
    bodies: tuple[str, ...]
    gap: float
    close: bool


def plan(view: View, node: Node, record: Join, given: ModelState) -> Plan:
    """Bodies after surfaces were joined."""
    bodies = acted(view, node, record.acts_on, given, SURFACES)
    gap = tolerance.GAP
    if record.gap is not None:
        gap = yield from plan_length(view, node, record.gap, "gap")
    ids = tuple(b for b, _ in bodies)
    payload = JoinInput(operation=record.id, bodies=ids, gap=gap, close=record.close)
    made = yield Recipe("join", payload, tuple(s for _, s in bodies))
    if made.problem is not None:
        raise NodeFault(made.problem)
    state = replaced(given, made.key, made.value, ids[1:])
    kind = "solid" if record.close else "surface"
    return ModelState(tuple(msgspec.structs.replace(b, kind=kind) if b.id == ids[0] else b for b in state.bodies))


KIND = OperationKind(
    Join,
    (
        Sentence("join", "Join surfaces", "join", "Join", (
            Surfaces("acts_on"), Flag("close", "to a solid"), Length("gap", "with gaps up to", "0.01 mm", "+ gaps"),
        ), short="Join", wants="a surface", also=("sew", "stitch", "knit", "close", "solid from surfaces")),
    ),
    plan,
    recipe="join", given=JoinInput, version=1,
    group="surfaces",
    rank=50,
)  # fmt: skip
