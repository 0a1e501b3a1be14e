"""Bridge: two bodies joined by a solid from face to face."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import acted, data_of, plan_areas, replaced, with_data
from architectonic.describe.recipes import Area
from architectonic.describe.results import (
    ModelState,
    Node,
    NodeFault,
    Plan,
    Recipe,
    Value,
    fault,
)
from architectonic.describe.view import View
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import Faces
from architectonic.family.operations.bodies.bridge import Bridge


class BridgeInput(Value, frozen=True, kw_only=True):
    """The outlines of two faces; the body that stays, whose shape comes first."""

    operation: str
    body: str
    ends: tuple[Area, Area]


def plan(view: View, node: Node, record: Bridge, given: ModelState) -> Plan:
    """Bodies after two were joined from face to face; the first in the sentence stays."""
    if len(record.faces) != 2 or len(record.changes) != 2:
        raise fault("bridge.faces", "needs one flat face of each of two bodies", "pick a face of either")
    ends = []
    for reference in record.faces:
        ends += yield from plan_areas(view, node, (reference,), record.id)
    bodies = dict(acted(view, node, record.changes, given))
    first, second = record.changes
    if len(bodies) < 2:
        raise fault("bridge.bodies", "one of its bodies does not exist here", "pick another face", "missing")
    payload = BridgeInput(operation=record.id, body=first, ends=(ends[0], ends[1]))
    made = yield Recipe("bridge", payload, (bodies[first], bodies[second]))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return with_data(replaced(given, made.key, made.value, [second]), [first], data_of(given, [second]))


KIND = OperationKind(
    Bridge,
    (
        Sentence("bridge", "Bridge bodies", "bridge", "Bridge", (Faces("faces", "from one of"),), short="Bridge", also=("connect",)),
    ),
    plan,
    recipe="bridge", given=BridgeInput, version=2,
    group="bodies",
    rank=30,
)  # fmt: skip
