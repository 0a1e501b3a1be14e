"""Curves, lines and points in space that references mean: of sketches, datums, bodies and sockets."""

from __future__ import annotations

import math
from typing import Any, Literal, TypeGuard

import numpy as np

from architectonic.base import tolerance
from architectonic.base.labels import kind_of, plain
from architectonic.base.places import curve_of, point_of, taken_apart
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.drawn.curves import as_piece, points_in
from architectonic.describe.recipes import FindInput, PlacedInput, Wanted
from architectonic.describe.references.planes import along, cross, dot, in_space, unit, y_axis
from architectonic.describe.references.value import plan_source
from architectonic.describe.results import (
    Axis,
    CurveResult,
    Found,
    Frame,
    Node,
    NodeFault,
    PlacedCurve,
    Plan,
    Recipe,
    SketchResult,
    Spot,
    Vector,
    fault,
    needed,
)
from architectonic.describe.view import View, is_standard
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import ORIGIN, SELF, Body, Datum, Point, Reference, Sketch, Socket
from architectonic.family.scopes import Scope
from architectonic.family.walk import index
from architectonic.sketch.curves import kinds, paths, piece

ZERO: Vector = (0.0, 0.0, 0.0)
AXES: dict[str, Axis] = {
    "x": Axis(ZERO, (1.0, 0.0, 0.0)),
    "y": Axis(ZERO, (0.0, 1.0, 0.0)),
    "z": Axis(ZERO, (0.0, 0.0, 1.0)),
}


def plan_place(view: View, node: Node, reference: Reference, standing: str = "") -> Plan:
    """Sub-plan: what a reference to a curve, line or point means: a PlacedCurve, an Axis, a Spot, or a plane's Frame.

    Args:
        standing: id of the operation that the reference stands in, for the stage "here".
    """
    if is_standard(reference):
        if reference.item == ORIGIN:
            return Spot(ZERO)
        if reference.item in AXES:
            return AXES[reference.item]
    at: Scope = yield from plan_source(view, node, reference)
    record = view.record(Node("", at, reference.item)) if at.document == node.document else None
    if isinstance(record, Socket):
        (outcome,) = yield [Node("socket", at, reference.item)]
        return part_of(needed(outcome, "what is fed"), reference.label)
    if isinstance(record, Datum):
        (outcome,) = yield [Node("frame", at, reference.item)]
        return needed(outcome, record.name)
    if _draws(record):
        (outcome,) = yield [Node("path", at, reference.item)]
        return _of_path(needed(outcome, record.name), reference.label)
    if isinstance(record, (Body, BodyOperation)):
        found = yield from plan_found(view, node, at, reference, standing)
        return found
    curve, part = taken_apart(reference.label)
    solved, frame = yield [Node("solve", at, reference.item), Node("frame", at, reference.item)]
    return part_of(of_sketch(needed(solved, "its sketch"), needed(frame), curve), part)


def _draws(record: Any) -> TypeGuard[BodyOperation]:
    """Whether it is an operation that gives curves in space."""
    return isinstance(record, BodyOperation) and record.draws


def _of_path(led: Any, label: str) -> Any:
    """A piece of a path in space, or one of its points.

    Raises:
        NodeFault: it is gone.
    """
    if label in led.points:
        return Spot(led.points[label])
    known = dict(zip(led.labels, led.curves, strict=True))
    if label not in known:
        raise fault("curve.missing", "the piece of the path it takes is gone", "pick another one", "missing")
    return known[label]


def of_sketch(solved: SketchResult, frame: Frame, curve: str) -> PlacedCurve:
    """A curve of a sketch in space.

    Raises:
        NodeFault: it is gone.
    """
    found = solved.curves.get(curve)
    if found is None:
        raise fault("curve.missing", "the curve it takes is gone", "pick another curve", "missing")
    return PlacedCurve(frame, found)


def part_of(value: Any, part: str) -> Any:
    """A curve, or one of its points when a part is named."""
    if not part or not isinstance(value, PlacedCurve):
        return value
    at = place_of(value.curve, part)
    if at is None:
        raise fault("point.missing", f"there is no {part} to take any more", "pick another point", "missing")
    return Spot(in_space(value.frame, at))


def place_of(curve: CurveResult, part: str) -> tuple[float, float] | None:
    """A named point of a curve in its plane (sketch.kinds.names_of), None when it has none of the name."""
    names = kinds.names_of(curve.kind, len(curve.values))
    if f"{part}.x" not in names:
        return None
    k = names.index(f"{part}.x")
    return curve.values[k], curve.values[k + 1]


def parts_of(curve: CurveResult) -> tuple[str, ...]:
    """Names of the points of a curve: its ends, its centre."""
    names = kinds.names_of(curve.kind, len(curve.values))
    return tuple(dict.fromkeys(curve_of(n) for n in names if point_of(n)))


def plan_found(view: View, node: Node, at: Scope, reference: Reference, standing: str) -> Plan:
    """Sub-plan: an edge, a vertex, or the axis of a round face of a body."""
    kind = kind_of(reference.label)
    what = "axis" if kind == "face" else kind
    found = yield from plan_looked_up(view, node, at, reference, standing, what)
    if found.point is not None:
        return Spot(found.point)
    return found.axis if found.axis is not None else joined(found.curves)


def plan_shape(view: View, node: Node, at: Scope, reference: Reference, standing: str, gone: NodeFault) -> Plan:
    """Sub-plan: the key of a body's shape at the stage that a reference means.

    Args:
        gone: what to raise when the body is not there.
    """
    state = view.state_of(node, at, reference, standing)
    if state is None:
        raise fault("body.missing", "there is no body here yet", "move it down", "missing")
    (outcome,) = yield [state]
    shape = needed(outcome).shape(reference.item)
    if shape is None:
        raise gone
    return shape


def plan_stood(shape: str, stands: Rigid) -> Plan:
    """Sub-plan: the key of a shape where it stands; its own when that is where it was made."""
    if stands == IDENTITY:
        return shape
    made = yield Recipe("stood", PlacedInput(stands), (shape,))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return f"{made.key}.body"


def plan_looked_up(view: View, node: Node, at: Scope, reference: Reference, standing: str, what: Any) -> Plan:
    """Sub-plan: what a label of a body leads to, as the kernel finds it."""
    state = view.state_of(node, at, reference, standing)
    if state is None:
        raise fault("body.missing", "there is no body here yet", "move the operation down", "missing")
    (outcome,) = yield [state]
    shapes = tuple(b.shape for b in needed(outcome).bodies)
    made = yield Recipe("find", FindInput(what, Wanted(reference.label, reference.witness)), shapes)
    if made.problem is not None:
        raise NodeFault(made.problem)
    assert isinstance(made.value, Found)
    return made.value


def joined(pieces: tuple[PlacedCurve, ...]) -> PlacedCurve:
    """The pieces of an edge that was split since: straight ones as one line from end to end.

    Raises:
        NodeFault: a round edge is in pieces.
    """
    if len(pieces) == 1:
        return pieces[0]
    if any(p.curve.kind != "line" for p in pieces):
        raise fault("edge.parted", f"the edge is in {len(pieces)} pieces now", "trace the pieces instead", "missing")
    first = pieces[0]
    axis = line_of(first)
    ends = [end for p in pieces for end in ends_of(p)]
    shares = [dot(along(e, axis.origin, -1.0), axis.direction) for e in ends]
    start, end = along(axis.origin, axis.direction, min(shares)), along(axis.origin, axis.direction, max(shares))
    return straight(start, end)


def straight(start: Vector, end: Vector) -> PlacedCurve:
    """A line between two points, in some plane that holds it."""
    direction = unit(along(end, start, -1.0))
    beside: Vector = (0.0, 0.0, 1.0) if abs(direction[2]) < 0.9 else (1.0, 0.0, 0.0)
    normal = unit(cross(direction, cross(beside, direction)))
    length = math.sqrt(dot(along(end, start, -1.0), along(end, start, -1.0)))
    return PlacedCurve(Frame(start, direction, normal), CurveResult("line", (0.0, 0.0, length, 0.0)))


def ends_of(placed: PlacedCurve) -> list[Vector]:
    """Both ends of a line, arc or spline in space; [] of a closed curve."""
    if placed.curve.kind not in kinds.ENDED:
        return []
    points = in_3d(placed)
    names = kinds.names_of(placed.curve.kind, len(placed.curve.values))
    return [points[names.index(f"{part}.x") // 2] for part in ("start", "end")]


def in_3d(placed: PlacedCurve) -> list[Vector]:
    """The points among a curve's values, in space."""
    flat = points_in(placed.curve.values)
    heights = placed.heights or (0.0,) * len(flat)
    return [along(in_space(placed.frame, p), placed.frame.normal, h) for p, h in zip(flat, heights, strict=True)]


def line_of(value: Any) -> Axis:
    """A line, an axis, or the axis of a round curve.

    Raises:
        NodeFault: it is none of these.
    """
    if isinstance(value, Axis):
        return value
    if isinstance(value, PlacedCurve):
        if value.curve.kind == "line":
            start, end = in_3d(value)
            if math.dist(start, end) < tolerance.FEATURE:
                raise fault("line.short", "the line has no length", "pick another line")
            return Axis(start, unit(along(end, start, -1.0)))
        if value.curve.kind in ("circle", "arc", "ellipse", "elliptic_arc"):
            return Axis(in_3d(value)[0], value.frame.normal)
    raise fault("datum.not_a_line", "needs a straight line, or a round curve with an axis", "pick a line")


def spot_of(value: Any) -> Vector:
    """A point: a Spot, a drawn point, or the centre of a round curve.

    Raises:
        NodeFault: it is none of these.
    """
    if isinstance(value, Spot):
        return value.at
    if isinstance(value, PlacedCurve) and value.curve.kind in ("point", "circle", "ellipse"):
        return in_3d(value)[0]
    raise fault("datum.not_a_point", "needs a point", "pick an end, a centre or a vertex")


def plan_line(view: View, node: Node, reference: Reference, standing: str) -> Plan:
    """Sub-plan: a reference as an Axis."""
    value = yield from plan_place(view, node, reference, standing)
    return line_of(value)


def plan_point(view: View, node: Node, reference: Reference, standing: str) -> Plan:
    """Sub-plan: a reference as a point in space."""
    value = yield from plan_place(view, node, reference, standing)
    return spot_of(value)


def nature(view: View, node: Node, reference: Reference) -> Literal["point", "line", "plane"]:
    """What a reference can be used as, as far as the records tell: a round face or edge counts as its axis."""
    if is_standard(reference):
        return "point" if reference.item == ORIGIN else "line" if reference.item in AXES else "plane"
    record = index(view.document(node)).get(reference.item) if reference.of == SELF else None
    if isinstance(record, Datum):
        return "line" if record.gives == "axis" else record.gives
    if isinstance(record, (Sketch, Socket)) and point_of(reference.label):
        return "point"
    if isinstance(record, Socket):
        return "point" if record.takes == "vertex" else "plane" if record.takes in ("plane", "face") else "line"
    if isinstance(record, Sketch):
        curve = record.curves.get(reference.label)
        return "plane" if not reference.label else "point" if isinstance(curve, Point) else "line"
    kind = kind_of(reference.label)
    if kind != "face":
        return "point" if kind == "vertex" else "line"
    flat = reference.witness is None or reference.witness.kind == "plane"
    return "plane" if flat else "line"


def plan_curve(view: View, node: Node, reference: Reference, standing: str = "") -> Plan:
    """Sub-plan: a curve of a sketch, body or socket, with its plane."""
    value = yield from plan_place(view, node, reference, standing)
    if not isinstance(value, PlacedCurve):
        raise fault("curve.missing", "what it takes is not a curve", "pick a curve", "missing")
    return value


def plan_pieces(view: View, node: Node, references: tuple[Reference, ...], standing: str = "") -> Plan:
    """Sub-plan: curves with what each is called; a path in space stands for all of its pieces."""
    found: list[tuple[str, PlacedCurve]] = []
    for reference in references:
        at: Scope = yield from plan_source(view, node, reference)
        record = view.record(Node("", at, reference.item)) if at.document == node.document else None
        if _draws(record) and not reference.label:
            (outcome,) = yield [Node("path", at, reference.item)]
            led = needed(outcome, record.name)
            found += [(f"{record.id}:{k}", c) for k, c in zip(led.labels, led.curves, strict=True)]
            continue
        if isinstance(record, Socket) and record.takes == "path":
            (outcome,) = yield [Node("socket", at, reference.item)]
            led = needed(outcome, "the fed path")
            found += [(f"{reference.item}:{k}", c) for k, c in zip(led.labels, led.curves, strict=True)]
            continue
        curve = yield from plan_curve(view, node, reference, standing)
        found.append((plain(reference.label) or reference.item, curve))
    return found


def at_share(placed: PlacedCurve, share: float) -> tuple[Vector, Vector]:
    """A point of a curve at a share of its length, and its direction there.

    Raises:
        NodeFault: it has no length there (a text, a point).
    """
    if placed.curve.kind in ("text", "point"):
        raise fault("curve.no_length", "what was picked has no length to go along", "pick a line or a curve")
    if placed.heights:
        raise fault("curve.in_space", "this curve lies in no plane", "pick a curve that lies in a plane")
    here, ahead = _along(as_piece("", placed.curve), min(max(share, 0.0), 1.0))
    y = y_axis(placed.frame)
    direction = along(along(ZERO, placed.frame.x, ahead[0]), y, ahead[1])
    return in_space(placed.frame, here), unit(direction)


def _along(p: piece.Piece, share: float) -> tuple[tuple[float, float], tuple[float, float]]:
    """Point and direction at a share of a piece's length; of ellipses and splines to about 1e-6 of it."""
    if p.path is None:
        x, y = p.at(share)
        if p.straight:
            return (x, y), (p.end[0] - p.start[0], p.end[1] - p.start[1])
        return (x, y), (p.centre[1] - y, x - p.centre[0])
    marks = np.linspace(*p.span, 2049)
    steps = np.hypot(*np.diff(paths.at(p.path, marks), axis=0).T)
    lengths = np.concatenate([[0.0], np.cumsum(steps)])
    t = float(np.interp(share * lengths[-1], lengths, marks))
    return paths.point(p.path, t), paths.point(p.path, t, 1)
