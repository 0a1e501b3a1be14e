"""What is brought into a sketch: curves and points projected on its plane, crossing it, or cut by it."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator
from typing import Any

from architectonic.base import tolerance
from architectonic.describe.drawn.curves import as_pieces, points_in
from architectonic.describe.recipes import CurveInput, SectionInput
from architectonic.describe.references.datum import crossing, meeting
from architectonic.describe.references.places import in_3d, line_of, plan_place, plan_shape
from architectonic.describe.references.planes import along, dot, in_space, on_plane
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
    Spot,
    Vector,
    fault,
    needed,
)
from architectonic.describe.view import View
from architectonic.family.records import Reference, Sketch, Socket, Trace
from architectonic.family.scopes import Scope

REACH = 50.0
"""How far lines without ends are drawn to both sides of where they pass the origin, mm."""


def plan_trace(view: View, node: Node, record: Sketch, key: str, trace: Trace) -> Plan:
    """Sub-plan: a traced curve of a sketch as the solver takes it: fixed, where its source stands now."""
    (own,) = yield [Node("frame", node.at, record.id)]
    frame = needed(own, "its plane")
    if trace.how == "section":
        found = yield from plan_section(view, node, trace.source, record.id, frame)
        curve = _cut(found, trace, frame)
    else:
        value = yield from plan_place(view, node, trace.source, record.id)
        curve = crossed(value, frame, trace.drawn) if trace.how == "crossing" else brought(value, frame)
    drawn = trace.drawn if len(trace.drawn) == len(curve.values) else ()
    return CurveInput(key, curve.kind, curve.values, trace.helper, True, drawn, curve.data, curve.text)


def plan_section(view: View, node: Node, reference: Reference, standing: str, frame: Frame) -> Plan:
    """Sub-plan: the curves in which a plane cuts a body, with the faces they lie on."""
    at: Scope = yield from plan_source(view, node, reference)
    record = view.record(Node("", at, reference.item)) if at.document == node.document else None
    if isinstance(record, Socket):
        at = yield from plan_source(view, node, record.source)
        reference = record.source
    gone = fault("body.missing", "the body it cuts does not exist here", "switch on what makes it", "missing")
    shape = yield from plan_shape(view, node, at, reference, standing, gone)
    made = yield Recipe("section", SectionInput(frame), (shape,))
    if made.problem is not None:
        raise NodeFault(made.problem)
    assert isinstance(made.value, Found)
    return made.value


def plan_cut(view: View, node: Node) -> Plan:
    """All curves in which a sketch's plane cuts a body of its document, or one that a socket holds (the node's label)."""
    record = view.record(node)
    assert isinstance(record, Sketch)
    (own,) = yield [Node("frame", node.at, record.id)]
    reference = Reference(item=node.label, stage="here")
    found = yield from plan_section(view, node, reference, record.id, needed(own, "its plane"))
    return found


def _cut(found: Found, trace: Trace, frame: Frame) -> CurveResult:
    """The curve of a section that lies on a face; of several the one nearest to where it was drawn."""
    here = [c for c, label in zip(found.curves, found.labels, strict=True) if label == trace.source.label]
    if not here:
        raise fault(
            "section.missing",
            "the plane does not cut this face any more",
            "trace the section again",
            "missing",
            tuple(dict.fromkeys(found.labels))[:5],
        )
    curves = [brought(c, frame) for c in here]
    if len(curves) == 1 or not trace.drawn:
        return curves[0]
    was = points_in(trace.drawn)[0]
    return min(curves, key=lambda c: min(math.dist(p, was) for p in points_in(c.values)))


def brought(value: Any, frame: Frame) -> CurveResult:
    """A curve, line or point projected square on a plane.

    Raises:
        NodeFault: it cannot be seen from there.
    """
    if isinstance(value, Spot):
        return _point(value.at, frame)
    if isinstance(value, Axis):
        return _endless(value, frame)
    if isinstance(value, Frame):
        raise fault("trace.plane", "a plane is traced where it crosses", "take its crossing")
    kind, values = project(value, frame)
    return CurveResult(kind, values, data=value.curve.data, text=value.curve.text)


def _point(at: Vector, frame: Frame) -> CurveResult:
    u, w = on_plane(frame, at)
    return CurveResult("point", (tolerance.length(u), tolerance.length(w)))


def _endless(axis: Axis, frame: Frame) -> CurveResult:
    """A line without ends: a piece of it about its point nearest the plane's origin; a point where it is seen end on."""
    at = along(axis.origin, axis.direction, dot(along(frame.origin, axis.origin, -1.0), axis.direction))
    a, b = (on_plane(frame, along(at, axis.direction, s)) for s in (-REACH, REACH))
    if math.dist(a, b) < tolerance.FEATURE:
        return _point(at, frame)
    return CurveResult("line", tuple(tolerance.length(c) for p in (a, b) for c in p))


def crossed(value: Any, frame: Frame, drawn: tuple[float, ...] = ()) -> CurveResult:
    """The point where a curve crosses a plane (nearest to where it was drawn), or the line where a plane does.

    Raises:
        NodeFault: it does not cross.
    """
    if isinstance(value, Frame):
        return _endless(crossing(frame, value), frame)
    if isinstance(value, Axis) or (isinstance(value, PlacedCurve) and value.curve.kind == "line"):
        return _point(meeting(line_of(value), frame), frame)
    if not isinstance(value, PlacedCurve):
        raise fault("trace.no_crossing", "a point crosses nothing", "trace it projected")
    found = [on_plane(frame, p) for p in crossings(value, frame)]
    if not found:
        raise fault("trace.no_crossing", "the curve does not cross the plane here", "trace it projected", "missing")
    was = (drawn[0], drawn[1]) if len(drawn) == 2 else found[0]
    near = min(found, key=lambda p: math.dist(p, was))
    return CurveResult("point", (tolerance.length(near[0]), tolerance.length(near[1])))


def crossings(placed: PlacedCurve, frame: Frame) -> Iterator[Vector]:
    """All points where a curve that lies in a plane crosses another one, by bisection between samples."""
    if placed.heights:
        raise fault("trace.in_space", "this curve lies in no plane", "trace it projected")

    def height(p: tuple[float, float]) -> float:
        return dot(along(in_space(placed.frame, p), frame.origin, -1.0), frame.normal)

    for p in as_pieces("", placed.curve):
        marks = [k / 128 for k in range(129)]
        heights = [height(p.at(t)) for t in marks]
        for (a, b), (ha, hb) in zip(itertools.pairwise(marks), itertools.pairwise(heights), strict=True):
            if ha == 0.0:
                yield in_space(placed.frame, p.at(a))
            elif ha * hb < 0:
                low, high = a, b
                while high - low > 1e-15 * max(1.0, high):
                    mid = (low + high) / 2
                    if mid in (low, high):
                        break
                    low, high = (mid, high) if height(p.at(mid)) * ha > 0 else (low, mid)
                yield in_space(placed.frame, p.at((low + high) / 2))
        if heights[-1] == 0.0 and p.start != p.end:
            yield in_space(placed.frame, p.at(1.0))


def project(placed: PlacedCurve, frame: Frame) -> tuple[str, tuple[float, ...]]:
    """A curve of another plane, projected square onto this one; a round one seen at an angle becomes an ellipse."""
    kind, v = placed.curve.kind, placed.curve.values
    if placed.heights:
        return kind, tuple(tolerance.length(c) for p in in_3d(placed) for c in on_plane(frame, p))

    def moved(p: tuple[float, float]) -> tuple[float, float]:
        u, w = on_plane(frame, in_space(placed.frame, p))
        return tolerance.length(u), tolerance.length(w)

    points = points_in(v)
    facing = sum(a * b for a, b in zip(placed.frame.normal, frame.normal, strict=True))
    parallel = abs(abs(facing) - 1) <= 1e-9
    if kind == "text" and (not parallel or facing < 0):
        raise fault("trace.text", "a text can only be traced square on", "trace it onto a plane parallel to it")
    if kind == "circle" and parallel:
        return kind, (*moved(points[0]), v[2])
    if kind == "arc" and parallel:
        ends = (points[1], points[2]) if facing > 0 else (points[2], points[1])
        return kind, (*moved(points[0]), *moved(ends[0]), *moved(ends[1]), v[6])
    if kind in ("circle", "arc", "ellipse", "elliptic_arc"):
        return _oval(kind, v, points, moved, facing)
    return kind, tuple(c for p in points for c in moved(p))


def _oval(
    kind: str,
    v: tuple[float, ...],
    points: list[tuple[float, float]],
    moved: Callable[[tuple[float, float]], tuple[float, float]],
    facing: float,
) -> tuple[str, tuple[float, ...]]:
    """An ellipse or a round one, projected: its axes are those of what its conjugate half axes become.

    Raises:
        NodeFault: it is seen edge on.
    """
    (x, y), r = points[0], v[-1]
    ends = [(x + r, y), (x, y + r)] if kind in ("circle", "arc") else points[1:3]
    centre, a, b = moved(points[0]), moved(ends[0]), moved(ends[1])
    u, w = (a[0] - centre[0], a[1] - centre[1]), (b[0] - centre[0], b[1] - centre[1])
    # the axes of centre + u cos t + w sin t lie where its length is stationary: tan 2t = 2 u.w / (u.u - w.w)
    t = math.atan2(2 * (u[0] * w[0] + u[1] * w[1]), u[0] ** 2 + u[1] ** 2 - w[0] ** 2 - w[1] ** 2) / 2
    c, s = math.cos(t), math.sin(t)
    along, across = (c * u[0] + s * w[0], c * u[1] + s * w[1]), (c * w[0] - s * u[0], c * w[1] - s * u[1])
    size = math.hypot(*along)
    if min(size, math.hypot(*across)) < tolerance.FEATURE:
        raise fault(
            "trace.edge_on", "a round curve seen edge on is only a line", "sketch on a plane that sees its face"
        )
    share = math.hypot(*across) / size
    left = (-along[1] * share, along[0] * share)  # seen from behind it would lie to the right
    found = [centre, (centre[0] + along[0], centre[1] + along[1]), (centre[0] + left[0], centre[1] + left[1])]
    if kind in ("arc", "elliptic_arc"):
        begin, end = (moved(p) for p in (points[1:3] if kind == "arc" else points[3:5]))
        found += [begin, end] if facing > 0 else [end, begin]
    name = "elliptic_arc" if kind in ("arc", "elliptic_arc") else "ellipse"
    return name, tuple(tolerance.length(q) for p in found for q in p)
