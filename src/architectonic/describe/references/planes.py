"""Planes: the standard three, those of datums, sketches, faces and sockets; and the arithmetic of space.

A sketch's origin is the document's origin projected on its plane, its x the document's x so projected, or y where the
plane is square to x (docs/decisions/0008).
"""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.describe.recipes import FaceInput, Wanted
from architectonic.describe.references.value import plan_source
from architectonic.describe.results import Axis, Frame, Node, NodeFault, Plan, Recipe, Vector, fault, needed
from architectonic.describe.view import View, is_standard_plane
from architectonic.family.records import Datum, Reference, Sketch, Socket
from architectonic.family.scopes import Scope

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


def in_line(line: Axis, other: Axis, flip: bool) -> tuple[Frame, Frame]:
    """Frames of which the first laid on the second brings a line into another one by the shortest turn, without a
    shift along it.

    Args:
        flip: in the other direction of the two.
    """
    d, e = line.direction, other.direction
    if (dot(d, e) < 0) != flip:
        e = (-e[0], -e[1], -e[2])
    foot = along(other.origin, other.direction, dot(along(line.origin, other.origin, -1.0), other.direction))
    across = cross(d, e)
    if math.sqrt(dot(across, across)) < tolerance.MODELLING:  # they are parallel already: any direction across will do
        beside: Vector = (0.0, 0.0, 1.0) if abs(d[2]) < 0.9 else (1.0, 0.0, 0.0)
        across = cross(d, beside)
    x = unit(across)
    return Frame(line.origin, x, d), Frame(foot, x, e)


def plan_plane(view: View, node: Node, reference: Reference, standing: str) -> Plan:
    """Sub-plan: the frame that a reference to something planar means."""
    if is_standard_plane(reference):
        return STANDARD[reference.item]
    at: Scope = yield from plan_source(view, node, reference)
    record = view.record(Node("", at, reference.item)) if at.document == node.document else None
    if isinstance(record, Socket):
        (outcome,) = yield [Node("socket", at, reference.item)]
        value = needed(outcome, "the fed plane")
        if not isinstance(value, Frame):
            raise fault("plane.not_planar", "what is fed here is not a plane", "feed a datum or a planar face")
        return value
    if reference.label and not isinstance(record, (Sketch, Datum)):
        state = view.state_of(node, at, reference, standing)
        if state is None:
            raise fault("face.missing", "there is no body here yet", "move the operation down", "missing")
        (outcome,) = yield [state]
        shapes = tuple(b.shape for b in needed(outcome).bodies)
        made = yield Recipe("face", FaceInput(Wanted(reference.label, reference.witness)), shapes)
        if made.problem is not None:
            raise NodeFault(made.problem)
        return made.value
    (outcome,) = yield [Node("frame", at, reference.item)]
    plane = needed(outcome, "its plane")
    if not isinstance(plane, Frame):
        raise fault("plane.not_planar", "what was picked is an axis or a point, not a plane", "pick a plane")
    return plane
