"""Rows of the constraints that ellipses and splines take part in.

A place along a spline, or the point where an ellipse touches a round, is no point of any curve: the constraint brings
variables of its own for it, which begin where the curves were drawn.
"""

from __future__ import annotations

import itertools
import math

from architectonic.base.places import curve_of, curves_of, point_on
from architectonic.sketch.curves import paths
from architectonic.sketch.curves.kinds import OVALS, ROUNDS, SPLINES
from architectonic.sketch.solving import freeform, kernels
from architectonic.sketch.solving.entities import Constraint, Unknowns
from architectonic.sketch.solving.freeform import Freeform, OnSpline
from architectonic.sketch.solving.kernels import Residual


def added(s: Unknowns, c: Constraint) -> tuple[float, ...]:
    """Start values of the variables that a constraint brings along, mm; () for nearly all."""
    if c.kind == "on_curve" and s.kind(c.of[1]) in SPLINES:
        path, whole = _path(s, c.of[1]), _whole(s, c.of[1])
        return (whole * paths.nearest(path, s.at(c.of[0]), *paths.span(path)),)
    if c.kind == "tangent":
        kinds = {s.kind(p) for p in c.of}
        if kinds & set(OVALS) and kinds <= {*OVALS, *ROUNDS} and not _drawn_joint(s, *c.of):
            return _contact(s, *c.of)
    return ()


def _drawn_joint(s: Unknowns, a: str, b: str) -> bool:
    """Whether two curves are joined at an end, or an end of one is said to lie on the other."""
    ends = {point_on(k, end) for k in (a, b) for end in ("start", "end")}
    return any(
        (c.kind == "coincident" and len(curves_of(c.of) & {a, b}) == 2 and set(c.of) <= ends)
        or (c.kind == "on_curve" and c.of[0] in ends and c.of[1] in (a, b) and curve_of(c.of[0]) != c.of[1])
        for c in s.constraints
    )


def _path(s: Unknowns, curve: str) -> paths.Path:
    c = s.curves[curve]
    if c.kind in OVALS:
        v = c.values
        return paths.ellipse((v[0], v[1]), (v[2], v[3]), (v[4], v[5]))
    return paths.spline(c.kind, c.values, c.data)


def _whole(s: Unknowns, curve: str) -> float:
    """A length of the size of a spline as drawn: what its parameter is measured by."""
    points = [s.at(point_on(curve, name)) for name in s.points(curve)]
    return max(sum(math.dist(a, b) for a, b in itertools.pairwise(points)), 1e-3)


def _contact(s: Unknowns, a: str, b: str) -> tuple[float, float]:
    """Where two closed curves come nearest to touching as drawn: of points along the first the nearest to the second."""
    first, second = (a, b) if s.kind(a) in OVALS else (b, a)
    path = _path(s, first)

    def away(p: tuple[float, float]) -> float:
        if s.kind(second) in ROUNDS:
            return abs(math.dist(p, s.at(point_on(second, "centre"))) - s.x[s.radius(second)])
        other = _path(s, second)
        return math.dist(p, paths.point(other, paths.nearest(other, p, 0.0, math.tau)))

    points = [(float(x), float(y)) for x, y in paths.at(path, paths.grid(path, 0.0, math.tau))]
    return min(points, key=away)


def _oval(s: Unknowns, curve: str) -> tuple[int, ...]:
    i = s.first[curve]
    return tuple(range(i, i + 6))


def on_curve(s: Unknowns, c: Constraint, p: tuple[int, int], curve: str) -> list[Residual]:
    """A point on an ellipse or a spline."""
    if s.kind(curve) in OVALS:
        return [Residual(Freeform(freeform.on_ellipse, 4), (*_oval(s, curve), *p))]
    record = s.curves[curve]
    kernel = OnSpline(record.kind, len(record.values) // 2, record.data)
    places = list(s.points(curve).values())
    (along,) = s.added[c.id]
    return [Residual(kernel, (*(q[k] for q in places), along, p[k]), _whole(s, curve)) for k in (0, 1)]


def tangent(s: Unknowns, c: Constraint, first: str, second: str, joint: tuple[int, int] | None) -> list[Residual]:
    """Tangency in which an ellipse or a spline takes part; splines touch at their ends."""
    a, b = s.kind(first), s.kind(second)
    if a in SPLINES or b in SPLINES:
        if b not in SPLINES or (a in SPLINES and b == "line"):
            first, second = second, first
            a = b
        leg = _leg(s, second, joint)
        if a == "line" or a in SPLINES:
            other = s.ends(first) if a == "line" else _leg(s, first, joint)
            return [Residual(kernels.turn, (*other, *leg), 0.0 if c.branch > 0 else math.pi, length=False, turn=True)]
        at = leg[:2]
        if a in ROUNDS:
            return [Residual(kernels.square_at, (*leg, *at, *s.point(point_on(first, "centre"))))]
        return [Residual(Freeform(freeform.line_at_ellipse, 6), (*leg, *at, *_oval(s, first)))]
    if a == "line":
        if joint is not None:
            return [Residual(Freeform(freeform.line_at_ellipse, 6), (*s.ends(first), *joint, *_oval(s, second)))]
        return [
            Residual(Freeform(freeform.touching_line, 5), (*s.ends(first), *_oval(s, second)), float(c.branch), False)
        ]
    contact = joint if c.id not in s.added else (s.added[c.id][0], s.added[c.id][1])
    assert contact is not None
    if a in ROUNDS or b in ROUNDS:
        ring, oval = (first, second) if a in ROUNDS else (second, first)
        at = s.point(point_on(ring, "centre"))
        found = [Residual(Freeform(freeform.round_at_ellipse, 5), (*at, *contact, *_oval(s, oval)))]
        on = [Residual(kernels.on_round, (*at, *contact, s.radius(ring)))]
        ovals = [oval]
    else:
        found = [Residual(Freeform(freeform.ellipses_at, 7), (*contact, *_oval(s, first), *_oval(s, second)))]
        on, ovals = [], [first, second]
    if c.id in s.added:
        on += [Residual(Freeform(freeform.on_ellipse, 4), (*_oval(s, k), *contact)) for k in ovals]
        return [*found, *on]
    return found


def _end(s: Unknowns, spline: str, joint: tuple[int, int] | None) -> str:
    """Which end of a spline is at a joint; the nearer one as drawn when they are not joined."""
    ends = s.points(spline)
    if joint is not None:
        for end in ("start", "end"):
            if s.same_point(ends[end], joint):
                return end
        near = [math.dist(s.at(point_on(spline, end)), (s.x[joint[0]], s.x[joint[1]])) for end in ("start", "end")]
        return "start" if near[0] <= near[1] else "end"
    return "start"


def _leg(s: Unknowns, spline: str, joint: tuple[int, int] | None) -> tuple[int, int, int, int]:
    """The first leg of a spline from a joint: its end there and the next pole."""
    points, end = s.points(spline), _end(s, spline, joint)
    return (*points[end], *points[_next(s, spline, end)])


def _next(s: Unknowns, spline: str, end: str) -> str:
    names = list(s.points(spline))
    if s.kind(spline) == "spline":
        return "from" if end == "start" else "to"
    return names[1] if end == "start" else names[-2]


def _bend(s: Unknowns, spline: str, joint: tuple[int, int] | None) -> tuple[tuple[int, ...], tuple[float, ...]]:
    """Variables and data of the curvature at an end (freeform.bent_alike): its first two poles first, then the rest."""
    record = s.curves[spline]
    names, end = list(s.points(spline)), _end(s, spline, joint)
    first = [end, _next(s, spline, end)]
    order = first + [n for n in names if n not in first]
    knots = paths.knots_of(record.kind, len(names), record.data)
    matrix = paths.pole_matrix(record.kind, len(names), record.data)
    inner = sorted(set(knots))
    if end == "end":
        inner, matrix = [1.0 - k for k in reversed(inner)], matrix[::-1]
    ratio = (inner[2] - inner[1]) / (inner[1] - inner[0]) if len(inner) > 2 else 0.0
    weights = [float(matrix[2, names.index(n)]) for n in order]
    degree = len(knots) - len(matrix) - 1
    points = s.points(spline)
    return tuple(i for n in order for i in points[n]), (float(len(names)), ratio, *weights, float(degree))


def smooth(s: Unknowns, c: Constraint, joint: tuple[int, int] | None) -> list[Residual]:
    """Tangent, and bent alike, at the end of a spline that something else goes on from."""
    first, second = c.of
    rows = tangent(s, c, second, first, joint)
    at, data = _bend(s, first, joint)
    kind = s.kind(second)
    if kind in SPLINES:
        more, other = _bend(s, second, joint)
        kernel = Freeform(freeform.bent_alike, (len(at) + len(more)) // 2, (*data, *other))
        return [*rows, Residual(kernel, (*at, *more), -1.0, length=False)]
    kernel = Freeform(freeform.bent_alike, len(at) // 2, data)
    if kind == "line":
        return [*rows, Residual(kernel, at, 0.0, length=False)]
    return [*rows, Residual(kernel, (*at, s.radius(second)), float(c.branch), length=False)]
