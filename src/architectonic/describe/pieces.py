"""Split, combine, move, take out: what becomes of whole bodies."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.describe.places import is_point, plan_line, plan_point
from architectonic.describe.planes import along, plan_plane
from architectonic.describe.recipes import BridgeInput, CombineInput, MoveInput, SplitInput
from architectonic.describe.results import ModelState, Node, NodeFault, Plan, Recipe, fault
from architectonic.describe.solid import acted, plan_areas, replaced
from architectonic.describe.value import evaluate
from architectonic.describe.view import View
from architectonic.family.records import Align, Bridge, Combine, Mirror, Move, Scale, Shift, Split, TakeOut, Turn
from architectonic.quantities.units import ANGLE, LENGTH, NUMBER


def plan_split(view: View, node: Node, record: Split, given: ModelState) -> Plan:
    """Bodies after they were cut in two."""
    plane = yield from plan_plane(view, node, record.plane, record.id)
    bodies = acted(view, node, record.acts_on, given)
    pairs = tuple((b, record.pieces.get(b, "")) for b, _ in bodies)
    made = yield Recipe(
        "split", SplitInput(operation=record.id, bodies=pairs, plane=plane), tuple(s for _, s in bodies)
    )
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


def plan_combine(view: View, node: Node, record: Combine, given: ModelState) -> Plan:
    """Bodies after one was united with others, or they were taken from it."""
    if len(record.acts_on) != 1 or not record.tools:
        raise fault("combine.bodies", "it needs one body that changes and others beside it", "choose the bodies")
    if record.acts_on[0] in record.tools:
        raise fault("combine.itself", "a body cannot be combined with itself", "choose other bodies")
    clearance = 0.0
    if record.clearance is not None:
        clearance = yield from evaluate(view, node, record.clearance, LENGTH)
    ((body, shape),) = acted(view, node, record.acts_on, given)
    tools = acted(view, node, record.tools, given)
    payload = CombineInput(operation=record.id, does=record.does, body=body, clearance=clearance)
    made = yield Recipe("combine", payload, (shape, *(s for _, s in tools)))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value, () if record.keep else [b for b, _ in tools])


def plan_bridge(view: View, node: Node, record: Bridge, given: ModelState) -> Plan:
    """Bodies after two were joined from face to face; the first in the sentence stays."""
    if len(record.faces) != 2 or len(record.changes) != 2:
        raise fault("bridge.faces", "it needs one flat face of each of two bodies", "pick a face of either")
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
    return replaced(given, made.key, made.value, [second])


def plan_move(view: View, node: Node, record: Move, given: ModelState) -> Plan:
    """Bodies after some were put elsewhere, or copied there."""
    bodies = acted(view, node, record.acts_on, given)
    pairs = tuple((b, record.copies.get(b, "") if record.copies else b) for b, _ in bodies)
    way: dict[str, object] = {}
    by = record.by
    if isinstance(by, Shift):
        found = []
        for expression in (by.x, by.y, by.z):
            found.append((yield from evaluate(view, node, expression, LENGTH)))
        way["shift"] = tuple(found)
    elif isinstance(by, Turn):
        way["axis"] = yield from plan_line(view, node, by.axis, record.id)
        way["angle"] = yield from evaluate(view, node, by.angle, ANGLE)
    elif isinstance(by, Align):
        way |= yield from _aligned(view, node, record, by)
    elif isinstance(by, Mirror):
        way["mirror"] = yield from plan_plane(view, node, by.plane, record.id)
    else:
        assert isinstance(by, Scale)
        way["about"] = yield from plan_point(view, node, by.point, record.id)
        way["factor"] = yield from evaluate(view, node, by.factor, NUMBER)
        if float(str(way["factor"])) < tolerance.FEATURE:
            raise fault("move.factor", "a body is scaled by a positive factor", "give one above zero")
    payload = MoveInput(operation=record.id, bodies=pairs, **way)  # type: ignore[arg-type]
    made = yield Recipe("move", payload, tuple(s for _, s in bodies))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


def _aligned(view: View, node: Node, record: Move, by: Align) -> Plan:
    """From point to point a shift; from plane to plane the move that lays one on the other."""
    points = [is_point(view, node, r) for r in (by.start, by.target)]
    if points == [True, True]:
        start = yield from plan_point(view, node, by.start, record.id)
        target = yield from plan_point(view, node, by.target, record.id)
        return {"shift": along(target, start, -1.0)}
    if any(points):
        raise fault("move.unlike", "a point goes to a point, and a plane to a plane", "pick two of a kind")
    first = yield from plan_plane(view, node, by.start, record.id)
    second = yield from plan_plane(view, node, by.target, record.id)
    return {"onto": (first, second)}


def plan_take_out(view: View, node: Node, record: TakeOut, given: ModelState) -> Plan:
    """Bodies without some of them."""
    yield []  # it needs nothing but the state that it is given
    return replaced(given, "", (), [b for b, _ in acted(view, node, record.acts_on, given)])
