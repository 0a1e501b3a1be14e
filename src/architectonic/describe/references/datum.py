"""Datums: named planes, axes and points, from what they are placed by; and the frames of sketches."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.describe.references.places import (
    ZERO,
    at_share,
    line_of,
    plan_curve,
    plan_line,
    plan_looked_up,
    plan_place,
    plan_point,
)
from architectonic.describe.references.planes import along, cross, dot, plan_plane, rounded, sketch_frame, unit
from architectonic.describe.references.switched import is_on
from architectonic.describe.references.value import evaluate, plan_source
from architectonic.describe.results import Axis, Frame, Node, Picture, PlacedCurve, Plan, Spot, Vector, fault, needed
from architectonic.describe.view import View
from architectonic.family.records import (
    AnyAxis,
    AnyPlane,
    CrossingAxis,
    Datum,
    FrameAt,
    LineAxis,
    LinePlane,
    MidPlane,
    OffsetPlane,
    PointAt,
    PointCrossing,
    PointHere,
    PointsAxis,
    PointsPlane,
    Reference,
    Sketch,
    SquareAxis,
    SquarePlane,
    TangentPlane,
    Underlay,
)
from architectonic.quantities.units import ANGLE, LENGTH, NUMBER

PARALLEL = 1e-9
"""Sine of the angle below which two directions count as the same."""


def plan_frame(view: View, node: Node) -> Plan:
    """The frame of a sketch; the plane, axis or point of a datum."""
    record = view.record(node)
    if isinstance(record, (Sketch, Underlay)):
        plane = yield from plan_plane(view, node, record.plane, record.id)
        if isinstance(plane, Frame) and _has_own_origin(view, node, record.plane):
            return plane
        return sketch_frame(plane.origin, plane.normal, record.along)
    if not isinstance(record, Datum):
        raise fault("plane.missing", "this is neither a datum nor a sketch", "pick another plane", "missing")
    if not (yield from is_on(view, node, record)):
        raise fault("operation.off", f"{record.name} is off in this configuration", severity="off")
    if isinstance(record.by, AnyPlane):
        made = yield from _plane(view, node, record, record.by)
        return rounded(made)
    if isinstance(record.by, AnyAxis):
        axis = yield from _axis(view, node, record, record.by)
        return Axis(_on_grid(_foot(axis)), _direction(axis.direction))
    point = yield from _point(view, node, record)
    return Spot(_on_grid(point))


def plan_underlay(view: View, node: Node) -> Plan:
    """Where an underlay lies."""
    record = view.record(node)
    assert isinstance(record, Underlay)
    if not (yield from is_on(view, node, record)):
        raise fault("operation.off", f"{record.name} is off in this configuration", severity="off")
    (frame,) = yield [Node("frame", node.at, record.id)]
    width = yield from evaluate(view, node, record.width, LENGTH)
    if width < tolerance.FEATURE:
        raise fault("underlay.no_size", f"would be {width:g} mm wide", "give it a width above zero")
    w, h = record.pixels
    return Picture(needed(frame, "its plane"), record.at, (width, width * h / w), record.turn)


def _has_own_origin(view: View, node: Node, reference: Reference) -> bool:
    """Whether a sketch on this plane takes the plane's own origin and x, as it was made to have them."""
    if reference.of != "self":
        return False
    record = next((o for o in view.model(node).build if o.id == reference.item), None)
    return isinstance(record, Datum) and isinstance(record.by, FrameAt)


def _on_grid(p: Vector) -> Vector:
    return (tolerance.length(p[0]), tolerance.length(p[1]), tolerance.length(p[2]))


def _direction(d: Vector) -> Vector:
    return (tolerance.ratio(d[0]), tolerance.ratio(d[1]), tolerance.ratio(d[2]))


def _foot(axis: Axis) -> Vector:
    """The point of an axis nearest the origin."""
    return along(axis.origin, axis.direction, -dot(axis.origin, axis.direction))


def _plane(view: View, node: Node, record: Datum, by: AnyPlane) -> Plan:
    if isinstance(by, OffsetPlane):
        plane = yield from plan_plane(view, node, by.plane, record.id)
        distance = yield from evaluate(view, node, by.distance, LENGTH)
        return Frame(along(plane.origin, plane.normal, distance), plane.x, plane.normal)
    if isinstance(by, LinePlane):
        made = yield from _through_line(view, node, record, by)
        return made
    if isinstance(by, SquarePlane):
        placed = yield from plan_curve(view, node, by.line, record.id)
        share = 0.0
        if by.share is not None:
            share = yield from evaluate(view, node, by.share, NUMBER)
        at, direction = at_share(placed, share)
        base = placed.frame.normal
        return Frame(at, base, direction)
    if isinstance(by, MidPlane):
        first = yield from plan_plane(view, node, by.first, record.id)
        second = yield from plan_plane(view, node, by.second, record.id)
        return midway(first, second)
    if isinstance(by, PointsPlane):
        points = []
        for reference in by.points:
            points.append((yield from plan_point(view, node, reference, record.id)))
        return through(points[0], points[1], points[2])
    if isinstance(by, TangentPlane):
        made = yield from _touching(view, node, record, by)
        return made
    assert isinstance(by, FrameAt)
    plane = yield from plan_plane(view, node, by.plane, record.id)
    origin = yield from plan_point(view, node, by.origin, record.id)
    x = plane.x
    if by.along is not None:
        line = yield from plan_line(view, node, by.along, record.id)
        flat = along(line.direction, plane.normal, -dot(line.direction, plane.normal))
        if dot(flat, flat) < PARALLEL:
            raise fault(
                "datum.square", "the line stands square to the plane and gives no direction", "pick another line"
            )
        x = unit(flat)
    return Frame(origin, x, plane.normal)


def _through_line(view: View, node: Node, record: Datum, by: LinePlane) -> Plan:
    """Rodrigues' rotation of the base plane's normal about the line."""
    value = yield from plan_place(view, node, by.line, record.id)
    axis = line_of(value)
    if by.base is not None:
        plane = yield from plan_plane(view, node, by.base, record.id)
        base = plane.normal
    elif isinstance(value, PlacedCurve):
        base = value.frame.normal
    else:
        raise fault("datum.no_base", "needs a plane to count the angle from", "pick a plane too")
    base = along(base, axis.direction, -dot(base, axis.direction))
    if dot(base, base) < PARALLEL:
        raise fault("datum.square", "the plane to count from stands square to the line", "count from another plane")
    base = unit(base)
    turn = yield from evaluate(view, node, by.angle, ANGLE)
    normal = along(along(ZERO, base, math.cos(turn)), cross(axis.direction, base), math.sin(turn))
    return Frame(axis.origin, axis.direction, unit(normal))


def midway(first: Frame, second: Frame) -> Frame:
    """The plane between two: midway between parallel ones, else through their crossing line, halving the angle.

    Raises:
        NodeFault: they are the same plane.
    """
    facing = dot(first.normal, second.normal)
    across = cross(first.normal, second.normal)
    if math.sqrt(dot(across, across)) < PARALLEL:
        gap = dot(along(second.origin, first.origin, -1.0), first.normal)
        return Frame(along(first.origin, first.normal, gap / 2), first.x, first.normal)
    line = crossing(first, second)
    other = second.normal if facing >= 0 else along(ZERO, second.normal, -1.0)
    return Frame(line.origin, line.direction, unit(along(first.normal, other, 1.0)))


def crossing(first: Frame, second: Frame) -> Axis:
    """The line where two planes cross.

    Raises:
        NodeFault: they are parallel.
    """
    d = cross(first.normal, second.normal)
    size = dot(d, d)
    if math.sqrt(size) < PARALLEL:
        raise fault("datum.parallel", "the two planes are parallel and never cross", "pick two that cross")
    a, b = dot(first.origin, first.normal), dot(second.origin, second.normal)
    # Goldman, Intersection of two planes in space, Graphics Gems, 1990
    p = cross(along(along(ZERO, second.normal, a), first.normal, -b), d)
    return Axis(along(ZERO, p, 1 / size), unit(d))


def through(a: Vector, b: Vector, c: Vector) -> Frame:
    """The plane of three points.

    Raises:
        NodeFault: they lie on one line.
    """
    u, v = along(b, a, -1.0), along(c, a, -1.0)
    n = cross(u, v)
    if math.sqrt(dot(n, n)) < tolerance.FEATURE * max(1.0, math.sqrt(dot(u, u))):
        raise fault("datum.in_line", "the three points lie on one line", "pick a point beside it")
    return Frame(a, unit(u), unit(n))


def _touching(view: View, node: Node, record: Datum, by: TangentPlane) -> Plan:
    """The plane that touches a cylinder or cone along one of its straight lines."""
    at = yield from plan_source(view, node, by.face)
    found = yield from plan_looked_up(view, node, at, by.face, record.id, "axis")
    if found.axis is None or not found.radius:
        raise fault("datum.not_round", "the face it touches is not a cylinder or cone", "pick a round face")
    axis = found.axis
    start: Vector = (1.0, 0.0, 0.0) if abs(axis.direction[0]) < 0.9 else (0.0, 1.0, 0.0)
    x = unit(along(start, axis.direction, -dot(start, axis.direction)))
    turn = yield from evaluate(view, node, by.angle, ANGLE)
    out = along(along(ZERO, x, math.cos(turn)), cross(axis.direction, x), math.sin(turn))
    ruling = unit(along(axis.direction, out, found.slope))  # a cone's straight lines lean outwards along its axis
    normal = unit(along(out, axis.direction, -found.slope))
    return Frame(along(axis.origin, out, found.radius), ruling, normal)


def _axis(view: View, node: Node, record: Datum, by: AnyAxis) -> Plan:
    if isinstance(by, LineAxis):
        line = yield from plan_line(view, node, by.line, record.id)
        return line
    if isinstance(by, PointsAxis):
        a = yield from plan_point(view, node, by.points[0], record.id)
        b = yield from plan_point(view, node, by.points[1], record.id)
        if math.dist(a, b) < tolerance.FEATURE:
            raise fault("datum.same_point", "the two points are one", "pick two different points")
        return Axis(a, unit(along(b, a, -1.0)))
    if isinstance(by, CrossingAxis):
        first = yield from plan_plane(view, node, by.first, record.id)
        second = yield from plan_plane(view, node, by.second, record.id)
        return crossing(first, second)
    assert isinstance(by, SquareAxis)
    plane = yield from plan_plane(view, node, by.plane, record.id)
    point = yield from plan_point(view, node, by.point, record.id)
    return Axis(point, plane.normal)


def _point(view: View, node: Node, record: Datum) -> Plan:
    by = record.by
    if isinstance(by, PointHere):
        point = yield from plan_point(view, node, by.point, record.id)
        return point
    if isinstance(by, PointAt):
        found = []
        for expression in (by.x, by.y, by.z):
            found.append((yield from evaluate(view, node, expression, LENGTH)))
        return (found[0], found[1], found[2])
    assert isinstance(by, PointCrossing)
    line = yield from plan_line(view, node, by.line, record.id)
    plane = yield from plan_plane(view, node, by.plane, record.id)
    return meeting(line, plane)


def meeting(line: Axis, plane: Frame) -> Vector:
    """Where a line crosses a plane.

    Raises:
        NodeFault: it runs along it.
    """
    rise = dot(line.direction, plane.normal)
    if abs(rise) < PARALLEL:
        raise fault("datum.parallel", "the line runs along the plane and never crosses it", "pick another line")
    away = dot(along(plane.origin, line.origin, -1.0), plane.normal)
    return along(line.origin, line.direction, away / rise)
