"""Split, combine, move, take out: what becomes of whole bodies."""

from __future__ import annotations

import math
from typing import Any

from architectonic.base import tolerance
from architectonic.describe.drawn.curves import as_piece_of, piece_result
from architectonic.describe.operations.solid import acted, plan_areas, plan_face_or_plane, replaced
from architectonic.describe.recipes import BridgeInput, CombineInput, MoveInput, SplitInput, Thing
from architectonic.describe.references.chains import chained, met
from architectonic.describe.references.places import nature, of_sketch, plan_line, plan_point
from architectonic.describe.references.planes import along, in_line, plan_plane
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import (
    Frame,
    ModelState,
    Node,
    NodeFault,
    Plan,
    Recipe,
    SketchResult,
    fault,
    needed,
)
from architectonic.describe.view import View
from architectonic.family.records import (
    SELF,
    Align,
    Back,
    Bridge,
    Combine,
    Mirror,
    Move,
    Scale,
    Shift,
    Sketch,
    Split,
    TakeOut,
    Turn,
)
from architectonic.family.walk import index
from architectonic.quantities.units import ANGLE, LENGTH, NUMBER


def plan_split(view: View, node: Node, record: Split, given: ModelState) -> Plan:
    """Bodies after they were cut in two."""
    bodies = acted(view, node, record.acts_on, given)
    shapes = [s for _, s in bodies]
    by: dict[str, Any] = {}
    divider = index(view.document(node)).get(record.by.item) if record.by.of == SELF else None
    if isinstance(divider, Sketch) and not record.by.label:
        lines = yield from _plan_lines(view, node, divider)
        (frame,) = yield [Node("frame", node.at, divider.id)]
        by = {"frame": needed(frame, "its plane"), "lines": lines}
    else:
        thing: Thing = yield from plan_face_or_plane(view, node, record.by, record.id, shapes)
        by = {"frame": thing.frame, "face": None if thing.wanted is None else (thing.shape, thing.wanted)}
    pairs = tuple((b, record.pieces.get(b, "")) for b, _ in bodies)
    payload = SplitInput(operation=record.id, bodies=pairs, flip=record.flip, **by)
    made = yield Recipe("split", payload, tuple(shapes))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


def _plan_lines(view: View, node: Node, sketch: Sketch) -> Plan:
    """Sub-plan: the lines of a sketch that are no helpers, those that meet as one, closed ones counter-clockwise.

    Raises:
        NodeFault: there are none, or they branch.
    """
    solved, frame = yield [Node("solve", node.at, sketch.id), Node("frame", node.at, sketch.id)]
    found: SketchResult = needed(solved, "its sketch")
    curves = {k: of_sketch(found, needed(frame), k) for k, c in found.curves.items() if not c.helper}
    left = {k: c for k, c in curves.items() if c.curve.kind not in ("point", "text")}
    if not left:
        raise fault("split.no_line", f"{sketch.name} has no line to split by", "draw one through the body")
    chains = []
    while left:
        group = met(left)
        pieces = [p for _, p in chained([left[k] for k in group], group)]
        for key in group:
            del left[key]
        if math.dist(pieces[0].start, pieces[-1].end) < tolerance.FEATURE:
            if sum(as_piece_of(p).area() for p in pieces) < 0:
                pieces = [piece_result(as_piece_of(p).reversed()) for p in reversed(pieces)]
        chains.append(tuple(pieces))
    return tuple(chains)


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
    way = yield from _plan_way(view, node, record)
    payload = MoveInput(operation=record.id, bodies=pairs, **way)
    made = yield Recipe("move", payload, tuple(s for _, s in bodies))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


def _plan_way(view: View, node: Node, record: Move) -> Plan:
    """Sub-plan: how a move goes, as fields of its input."""
    way: dict[str, Any] = {}
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
    elif isinstance(by, Back):
        way = yield from _plan_back(view, node, record, by)
    else:
        assert isinstance(by, Scale)
        way["about"] = yield from plan_point(view, node, by.point, record.id)
        way["factor"] = yield from evaluate(view, node, by.factor, NUMBER)
        if way["factor"] < tolerance.FEATURE:
            raise fault("move.factor", "a body is scaled by a positive factor", "give one above zero")
    return way


def _plan_back(view: View, node: Node, record: Move, by: Back) -> Plan:
    """Sub-plan: the way of an earlier move, gone backwards; off where that one is off."""
    build = view.model(node).build
    ids = [o.id for o in build]
    earlier = build[ids.index(by.move.item)] if by.move.item in ids else None
    if not isinstance(earlier, Move):
        raise fault("move.gone", "the move that it takes back is gone", "choose another one", "missing")
    if ids.index(earlier.id) > ids.index(record.id):
        raise fault("move.later", f"{earlier.name} comes later: there is nothing to take back yet", "move it down")
    if not view.is_on(node, earlier):
        raise fault("operation.off", f"{earlier.name} is off in this configuration", severity="off")
    way = yield from _plan_way(view, node, earlier)
    return {**way, "back": not way.get("back", False)}


def _aligned(view: View, node: Node, record: Move, by: Align) -> Plan:
    """From point to point a shift; from line to line, and from plane to plane, the move that lays one on the other."""
    kinds = {nature(view, node, r) for r in (by.start, by.target)}
    if len(kinds) > 1:
        told = "a point goes to a point, a line to a line, and a plane to a plane"
        raise fault("move.unlike", told, "pick two of a kind")
    if kinds == {"point"}:
        start = yield from plan_point(view, node, by.start, record.id)
        target = yield from plan_point(view, node, by.target, record.id)
        return {"shift": along(target, start, -1.0)}
    if kinds == {"line"}:
        line = yield from plan_line(view, node, by.start, record.id)
        other = yield from plan_line(view, node, by.target, record.id)
        return {"onto": in_line(line, other, by.flip)}
    first: Frame = yield from plan_plane(view, node, by.start, record.id)
    second: Frame = yield from plan_plane(view, node, by.target, record.id)
    if by.flip:
        n = second.normal
        second = Frame(second.origin, second.x, (-n[0], -n[1], -n[2]))
    return {"onto": (first, second)}


def plan_take_out(view: View, node: Node, record: TakeOut, given: ModelState) -> Plan:
    """Bodies without some of them."""
    yield []  # it needs nothing but the state that it is given
    return replaced(given, "", (), [b for b, _ in acted(view, node, record.acts_on, given)])
