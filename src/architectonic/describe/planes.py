"""Planes: the standard three, datums, planes of sketches, faces and sockets.

A sketch's origin is the document's origin projected on its plane, its x the document's x so projected, or y where the
plane is square to x (docs/decisions/0008).
"""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.describe.recipes import FaceInput, Wanted
from architectonic.describe.results import Frame, Node, NodeFault, PlacedCurve, Plan, Recipe, Vector, fault, needed
from architectonic.describe.value import evaluate, plan_source
from architectonic.describe.view import View, is_standard_plane
from architectonic.family.records import Datum, OffsetPlane, Reference, Sketch, Socket, SquarePlane
from architectonic.family.scopes import Scope
from architectonic.quantities.units import ANGLE, LENGTH

STANDARD: dict[str, Frame] = {
    "front": Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, -1.0, 0.0)),
    "top": Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0)),
    "right": Frame((0.0, 0.0, 0.0), (0.0, 1.0, 0.0), (1.0, 0.0, 0.0)),
}


def dot(a: Vector, b: Vector) -> float:
    """Scalar product."""
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def cross(a: Vector, b: Vector) -> Vector:
    """Vector product."""
    return (a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])


def along(p: Vector, d: Vector, t: float) -> Vector:
    """p + t d."""
    return (p[0] + t * d[0], p[1] + t * d[1], p[2] + t * d[2])


def unit(a: Vector) -> Vector:
    """The direction of a vector."""
    n = math.sqrt(dot(a, a))
    return (a[0] / n, a[1] / n, a[2] / n)


def rounded(frame: Frame) -> Frame:
    """A frame on the grid."""
    o, x, n = frame.origin, frame.x, frame.normal
    return Frame(
        (tolerance.length(o[0]), tolerance.length(o[1]), tolerance.length(o[2])),
        (tolerance.ratio(x[0]), tolerance.ratio(x[1]), tolerance.ratio(x[2])),
        (tolerance.ratio(n[0]), tolerance.ratio(n[1]), tolerance.ratio(n[2])),
    )


def y_axis(frame: Frame) -> Vector:
    """The second axis of a frame."""
    return cross(frame.normal, frame.x)


def in_space(frame: Frame, p: tuple[float, float]) -> Vector:
    """A point of a plane, in the document's coordinates."""
    return along(along(frame.origin, frame.x, p[0]), y_axis(frame), p[1])


def on_plane(frame: Frame, p: Vector) -> tuple[float, float]:
    """A point projected on a plane, in the plane's coordinates."""
    d = along(p, frame.origin, -1.0)
    return dot(d, frame.x), dot(d, y_axis(frame))


def sketch_frame(origin: Vector, normal: Vector, axis: str) -> Frame:
    """The frame of a sketch on a plane through `origin`."""
    foot = along((0.0, 0.0, 0.0), normal, dot(origin, normal))
    document_x: Vector = (1.0, 0.0, 0.0) if axis == "x" else (0.0, 1.0, 0.0)
    x = along(document_x, normal, -dot(document_x, normal))
    if dot(x, x) < 1e-6:  # the stored axis became square to the plane
        document_x = (0.0, 1.0, 0.0) if axis == "x" else (0.0, 0.0, 1.0)
        x = along(document_x, normal, -dot(document_x, normal))
    return rounded(Frame(foot, unit(x), normal))


def plan_plane(view: View, node: Node, reference: Reference, standing: str) -> Plan:
    """Sub-plan: the frame that a reference to something planar means."""
    if is_standard_plane(reference):
        return STANDARD[reference.item]
    at: Scope = yield from plan_source(view, node, reference)
    record = view.record(Node("", *at, reference.item)) if at.document == node.document else None
    if isinstance(record, Socket):
        (outcome,) = yield [Node("socket", *at, reference.item)]
        value = needed(outcome, "the fed plane")
        if not isinstance(value, Frame):
            raise fault("plane.not_planar", "what is fed here is not a plane", "feed a datum or a planar face")
        return value
    if reference.label and not isinstance(record, (Sketch, Datum)):
        state = view.state_of(node, at, reference, standing)
        if state is None:
            raise fault("face.missing", "there is no body here yet", "move the operation down", "missing")
        (outcome,) = yield [state]
        shapes = tuple(shape for _, shape in needed(outcome).bodies)
        made = yield Recipe("face", FaceInput(Wanted(reference.label, reference.witness)), shapes)
        if made.problem is not None:
            raise NodeFault(made.problem)
        return made.value
    (outcome,) = yield [Node("frame", *at, reference.item)]
    return needed(outcome, "its plane")


def plan_frame(view: View, node: Node) -> Plan:
    """The frame of a sketch or datum."""
    record = view.record(node)
    if isinstance(record, Sketch):
        plane = yield from plan_plane(view, node, record.plane, record.id)
        return sketch_frame(plane.origin, plane.normal, record.along)
    if not isinstance(record, Datum):
        raise fault("plane.missing", "this is neither a datum nor a sketch", "pick another plane", "missing")
    if not view.is_on(node, record):
        raise fault("operation.off", f"{record.name} is off in this configuration", severity="off")
    if isinstance(record.plane, OffsetPlane):
        plane = yield from plan_plane(view, node, record.plane.plane, record.id)
        distance = yield from evaluate(view, node, record.plane.distance, LENGTH)
        return rounded(Frame(along(plane.origin, plane.normal, distance), plane.x, plane.normal))
    placed = yield from plan_curve(view, node, record.plane.line)
    if placed.curve.kind != "line":
        raise fault("datum.not_a_line", "a plane through a curve needs a straight one", "pick a line")
    v = placed.curve.values
    start, end = in_space(placed.frame, (v[0], v[1])), in_space(placed.frame, (v[2], v[3]))
    direction = unit(along(end, start, -1.0))
    base = placed.frame.normal
    if isinstance(record.plane, SquarePlane):
        return rounded(Frame(start, base, direction))
    turn = yield from evaluate(view, node, record.plane.angle, ANGLE)
    # Rodrigues' rotation of the sketch's normal about the line
    normal = along(along((0.0, 0.0, 0.0), base, math.cos(turn)), cross(direction, base), math.sin(turn))
    return rounded(Frame(start, direction, unit(normal)))


def plan_curve(view: View, node: Node, reference: Reference) -> Plan:
    """Sub-plan: a curve of a sketch or of a socket, with its plane."""
    at: Scope = yield from plan_source(view, node, reference)
    record = view.record(Node("", *at, reference.item)) if at.document == node.document else None
    if isinstance(record, Socket):
        (outcome,) = yield [Node("socket", *at, reference.item)]
        value = needed(outcome, "the fed curve")
        if not isinstance(value, PlacedCurve):
            raise fault("curve.missing", "what is fed here is not a curve", "feed a curve", "missing")
        return value
    solved, frame = yield [Node("solve", *at, reference.item), Node("frame", *at, reference.item)]
    curve = needed(solved, "its sketch").curves.get(reference.label)
    if curve is None:
        raise fault("curve.missing", "the curve it takes is gone", "pick another curve", "missing")
    return PlacedCurve(needed(frame), curve)
