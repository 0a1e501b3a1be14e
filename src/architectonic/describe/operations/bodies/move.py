"""Move: bodies, or copies of them, put elsewhere."""

from __future__ import annotations

from typing import Any

import msgspec

from architectonic.base import tolerance
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import ANY, acted, replaced
from architectonic.describe.references.places import nature, plan_line, plan_point
from architectonic.describe.references.planes import along, in_line, plan_plane
from architectonic.describe.references.switched import is_on
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import (
    Axis,
    Frame,
    HoleSet,
    ModelState,
    Node,
    NodeFault,
    Plan,
    Recipe,
    Value,
    Vector,
    fault,
    needed,
)
from architectonic.describe.view import View
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.blanks import Angle, Copies, Flag, Length, Number
from architectonic.describe.words.spoken import Sentence, a_move
from architectonic.describe.words.things import EarlierMove, LineBlank, PlaceBlank, PlaneBlank, PointBlank
from architectonic.family.operations.bodies.bring_in import BringIn
from architectonic.family.operations.bodies.move import Align, Back, Mirror, Move, Scale, Shift, Turn
from architectonic.family.operations.marks.engrave import is_text
from architectonic.quantities.units import ANGLE, LENGTH, NUMBER


class MoveInput(Value, frozen=True, kw_only=True):
    """Bodies in the order of the shapes, each with the id of its copy or its own; one of the ways is given.

    Attributes:
        back: the way is gone backwards.
    """

    operation: str
    bodies: tuple[tuple[str, str], ...]
    shift: Vector | None = None
    axis: Axis | None = None
    angle: float = 0.0
    onto: tuple[Frame, Frame] | None = None
    mirror: Frame | None = None
    about: Vector | None = None
    factor: float = 1.0
    back: bool = False


def plan(view: View, node: Node, record: Move, given: ModelState) -> Plan:
    """Bodies after some were put elsewhere, or copied there."""
    original = given
    mirror = record.by if isinstance(record.by, Mirror) else None
    if mirror is not None and mirror.readable:
        given = yield from _plan_legible(view, node, record, given)
    bodies = acted(view, node, record.acts_on, given, ANY)
    pairs = tuple((b, record.copies.get(b, "") if record.copies else b) for b, _ in bodies)
    way = yield from _plan_way(view, node, record)
    payload = MoveInput(operation=record.id, bodies=pairs, **way)
    made = yield Recipe("move", payload, tuple(s for _, s in bodies))
    if made.problem is not None:
        raise NodeFault(made.problem)
    moved = replaced(original, made.key, made.value)
    if mirror is None or mirror.threads:
        return moved
    return _with_data(moved, {to: _other_hand(b.attributes) for b in given.bodies for at, to in pairs if b.id == at})


def _plan_legible(view: View, node: Node, record: Move, given: ModelState) -> Plan:
    """Sub-plan: what is mirrored as it is with every text before it the wrong way round, so that it reads right in the mirror."""
    build = view.model(node).build
    before = build[: [o.id for o in build].index(record.id)]
    previous = view.previous(node, record.id)
    if previous is None or not any(isinstance(o, BringIn) or is_text(o) for o in before):
        return given
    (outcome,) = yield [previous.other_way_round()]
    turned = {b.id: b for b in needed(outcome).bodies if b.id in record.acts_on}
    return ModelState(tuple(turned.get(b.id, b) for b in given.bodies))


def _with_data(state: ModelState, data: dict[str, dict[str, HoleSet]]) -> ModelState:
    return ModelState(tuple(msgspec.structs.replace(b, attributes=data.get(b.id, b.attributes)) for b in state.bodies))


def _other_hand(sets: dict[str, HoleSet]) -> dict[str, HoleSet]:
    """Hole sets whose threads were mirrored with what they are in."""
    return {
        k: msgspec.structs.replace(s, hand="left" if s.hand == "right" else "right") if s.thread else s
        for k, s in sets.items()
    }


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
    if not (yield from is_on(view, node, earlier)):
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


KIND = OperationKind(
    Move,
    (
        Sentence("move", "Move bodies", "move", "Move", (
            Bodies("acts_on"), Length("by.x", "along x by", "10 mm", signed=True), Length("by.y", "y", "0 mm", signed=True),
            Length("by.z", "z", "0 mm", signed=True), Copies("copies", "as a copy"),
        ), short="Move", by=Shift, also=("shift", "translate", "copy", "pattern")),
        Sentence("turn", "Turn bodies", "turn", "Turn", (
            Bodies("acts_on"), LineBlank("by.axis", "about"), Angle("by.angle", "by", "90 deg"), Copies("copies", "as a copy"),
        ), short="Turn", by=Turn, also=("rotate", "copy")),
        Sentence("align", "Align bodies", "align", "Align", (
            Bodies("acts_on"), PlaceBlank("by.start", "so that"), PlaceBlank("by.target", "lies on"), Flag("by.flip", "turned over"),
            Copies("copies", "as a copy"),
        ), short="Align", by=Align, also=("snap", "mate", "position")),
        Sentence("mirror", "Mirror bodies", "mirror", "Mirror", (
            Bodies("acts_on"), PlaneBlank("by.plane", "in"), Copies("copies", "as a copy"),
            Flag("by.threads", "keeping the hand of threads"), Flag("by.readable", "and texts readable"),
        ), short="Mirror", by=Mirror, also=("reflect", "symmetry", "opposite hand")),
        Sentence("scale", "Scale bodies", "scale", "Scale", (
            Bodies("acts_on"), Number("by.factor", "by", "2", signed=True), PointBlank("by.point", "about"), Copies("copies", "as a copy"),
        ), short="Scale", by=Scale, also=("resize", "shrink", "grow")),
        Sentence("back", "Put bodies back", "put back", "Put back", (
            Bodies("acts_on"), EarlierMove("by.move", "as before"),
        ), short="Put back", needs=a_move, wants="a moved body", by=Back, also=("undo a move", "return")),
    ),
    plan,
    recipe="move", given=MoveInput, version=2,
    group="bodies",
    rank=40,
)  # fmt: skip
