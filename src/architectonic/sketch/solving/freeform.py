"""Residuals on ellipses, splines and images of arcs.

Their formulas are long, so derivatives are carried along with the numbers (forward differentiation; Griewank &
Walther, Evaluating Derivatives, 2008, ch. 3) instead of being written out. Kernels are compared by what they say, so
that blocks solved once are known again.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from architectonic.sketch.curves import paths
from architectonic.sketch.curves.paths import Array
from architectonic.sketch.solving.kernels import TINY


class Dual:
    """A number with its derivatives by all variables of a row."""

    __slots__ = ("g", "x")

    def __init__(self, x: float, g: Array | float) -> None:
        self.x, self.g = x, g

    def __add__(self, other: Dual | float) -> Dual:
        return Dual(self.x + other.x, self.g + other.g) if isinstance(other, Dual) else Dual(self.x + other, self.g)

    __radd__ = __add__

    def __neg__(self) -> Dual:
        return Dual(-self.x, -self.g)

    def __sub__(self, other: Dual | float) -> Dual:
        return self + (-other)

    def __rsub__(self, other: float) -> Dual:
        return -self + other

    def __mul__(self, other: Dual | float) -> Dual:
        if isinstance(other, Dual):
            return Dual(self.x * other.x, self.x * other.g + other.x * self.g)
        return Dual(self.x * other, self.g * other)

    __rmul__ = __mul__

    def __truediv__(self, other: Dual | float) -> Dual:
        if isinstance(other, Dual):
            d = other.x if abs(other.x) > TINY**3 else math.copysign(TINY**3, other.x)
            return Dual(self.x / d, (self.g - (self.x / d) * other.g) / d)
        return self * (1.0 / other)


Vector = tuple[Dual, Dual]


def root(a: Dual) -> Dual:
    """Square root; of nothing, with no derivative."""
    r = math.sqrt(max(a.x, 0.0))
    return Dual(r, a.g * (0.5 / r) if r > TINY else a.g * 0.0)


def _minus(a: Vector, b: Vector) -> Vector:
    return a[0] - b[0], a[1] - b[1]


def _dot(a: Vector, b: Vector) -> Dual:
    return a[0] * b[0] + a[1] * b[1]


def _cross(a: Vector, b: Vector) -> Dual:
    return a[0] * b[1] - a[1] * b[0]


Formula = Callable[[list[Vector], list[Dual], float, tuple[float, ...]], Dual]


@dataclass(frozen=True)
class Freeform:
    """A kernel: a formula of points and of single numbers after them, a constant, and fixed data.

    Attributes:
        points: how many of the variables, taken by two from the first, are points.
    """

    formula: Formula
    points: int
    data: tuple[float, ...] = ()

    def __call__(self, v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
        """Residual and derivatives, as in sketch.kernels."""
        seeds = np.eye(len(v))
        duals = [Dual(x, seeds[k]) for k, x in enumerate(v)]
        n = 2 * self.points
        found = self.formula(list(zip(duals[:n:2], duals[1:n:2], strict=True)), duals[n:], value, self.data)
        slopes = found.g if isinstance(found.g, np.ndarray) else np.zeros(len(v))
        return found.x, tuple(slopes.tolist())


def _within(centre: Vector, along: Vector, across: Vector, p: Vector) -> tuple[Vector, Vector, Dual, Dual]:
    """Half axes and where a point lies along them in shares of their lengths."""
    a, b, d = _minus(along, centre), _minus(across, centre), _minus(p, centre)
    return a, b, _dot(d, a) / _dot(a, a), _dot(d, b) / _dot(b, b)


def on_ellipse(p: list[Vector], _: list[Dual], value: float, data: tuple[float, ...]) -> Dual:
    """How far a point lies outside an ellipse, in parts of its first half axis times that; centre, ends, point."""
    a, _b, x, y = _within(*p[:4])
    return (root(x * x + y * y) - 1.0) * root(_dot(a, a))


def _normal(centre: Vector, along: Vector, across: Vector, p: Vector) -> Vector:
    """Outward normal of an ellipse at a point on it, a unit long."""
    a, b, x, y = _within(centre, along, across, p)
    u, w = x / _dot(a, a), y / _dot(b, b)
    n = (a[0] * u + b[0] * w, a[1] * u + b[1] * w)
    size = root(_dot(n, n))
    return n[0] / size, n[1] / size


def touching_line(p: list[Vector], _: list[Dual], value: float, data: tuple[float, ...]) -> Dual:
    """Distance of a centre to the left of a line, less value (+1 or -1) times the reach of its ellipse across the line.

    Line, centre, ends of the half axes. The reach across a unit normal n is sqrt((n.a)^2 + (n.b)^2).
    """
    start, end, centre, along, across = p
    d = _minus(end, start)
    size = root(_dot(d, d))
    n = (-d[1] / size, d[0] / size)
    a, b = _dot(n, _minus(along, centre)), _dot(n, _minus(across, centre))
    return _dot(n, _minus(centre, start)) - value * root(a * a + b * b)


def line_at_ellipse(p: list[Vector], _: list[Dual], value: float, data: tuple[float, ...]) -> Dual:
    """Direction of a line times the normal of an ellipse at a joint; line, joint, centre, ends of the half axes."""
    start, end, joint, *of = p
    d = _minus(end, start)
    n = _normal(of[0], of[1], of[2], joint)
    return _dot(d, n) / root(_dot(d, d))


def round_at_ellipse(p: list[Vector], _: list[Dual], value: float, data: tuple[float, ...]) -> Dual:
    """Radius to a joint across the normal of an ellipse there; round centre, joint, centre, ends of the half axes."""
    centre, joint, *of = p
    return _cross(_minus(joint, centre), _normal(of[0], of[1], of[2], joint))


def ellipses_at(p: list[Vector], _: list[Dual], value: float, data: tuple[float, ...]) -> Dual:
    """Normals of two ellipses at a joint across each other, times the first half axis; joint, both ellipses."""
    n, m = _normal(p[1], p[2], p[3], p[0]), _normal(p[4], p[5], p[6], p[0])
    a = _minus(p[2], p[1])
    return _cross(n, m) * root(_dot(a, a))


def aligned(p: list[Vector], _: list[Dual], value: float, data: tuple[float, ...]) -> Dual:
    """Image of the way from c to e across the way from c' to e'; c, e, c', e' (and a mirror's two ends).

    The image is turned by value, or mirrored when six points are given.
    """
    way, new = _minus(p[1], p[0]), _minus(p[3], p[2])
    if len(p) == 6:
        d = _minus(p[5], p[4])
        across, square = _dot(way, d) * 2.0, _dot(d, d)
        way = (d[0] * (across / square) - way[0], d[1] * (across / square) - way[1])
    else:
        c, s = math.cos(value), math.sin(value)
        way = (way[0] * c - way[1] * s, way[0] * s + way[1] * c)
    return _cross(way, new) / root(_dot(way, way))


def _bend(p: list[Vector], data: tuple[float, ...]) -> tuple[Vector, Vector]:
    """First and second derivative at an end of a spline, times the first knot step; data: weights of poles 0 to 2."""
    # C' ~ 3 (q1 - q0); C'' ~ 6 ((q2 - q1) / (1 + k) - (q1 - q0)), k the second knot step by the first
    count, ratio = int(data[0]), data[1]
    q0, q1 = p[0], p[1]
    weights = data[2 : 2 + count]
    q2 = (
        sum((w * q[0] for w, q in zip(weights, p[:count], strict=True)), start=q0[0] * 0.0),
        sum((w * q[1] for w, q in zip(weights, p[:count], strict=True)), start=q0[1] * 0.0),
    )
    first, second = _minus(q1, q0), _minus(q2, q1)
    k, degree = 1.0 + ratio, data[2 + count]
    bent = (second[0] / k - first[0], second[1] / k - first[1])
    return (first[0] * degree, first[1] * degree), (
        bent[0] * (degree * (degree - 1)),
        bent[1] * (degree * (degree - 1)),
    )


def bent_alike(p: list[Vector], r: list[Dual], value: float, data: tuple[float, ...]) -> Dual:
    """Curvature at an end of a spline less that of what goes on there, times the square of its first leg.

    Points that make the spline's end (its first two poles first), then those of a second spline's end; or a radius, or
    neither for a line. `value` is +1 when the other one runs on in the direction in which the spline ends, else -1, of
    a circle +1 when it turns to the left seen from there; data: see `_bend`, of both ends in turn.
    """
    count = int(data[0])
    d, e = _bend(p, data)
    own = _cross(d, e) / root(_dot(d, d))
    square = _dot(d, d)
    if r:
        return own - (square / r[0]) * value
    if len(p) > count:
        f, g = _bend(p[count:], data[3 + count :])
        return own - _cross(f, g) / (root(_dot(f, f)) * _dot(f, f)) * square * value
    return own


@dataclass(frozen=True)
class OnSpline:
    """One coordinate of a point less that of a spline at a parameter; coordinate of all its points, parameter, of p.

    The parameter is carried as a length, of which `value` is the whole.
    """

    kind: str
    count: int
    parameters: tuple[float, ...]

    def __call__(self, v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
        """Residual and derivatives, as in sketch.kernels."""
        knots = paths.knots_of(self.kind, self.count, self.parameters)
        matrix = paths.pole_matrix(self.kind, self.count, self.parameters)
        path = paths.Path("spline", tuple((float(q), 0.0) for q in matrix @ np.array(v[: self.count])), knots)
        t = v[self.count] / value
        here = min(max(t, 0.0), 1.0)
        at, slope = paths.point(path, here)[0], paths.point(path, here, 1)[0]
        weights = paths.basis(knots, len(path.poles), np.array([here]))[0] @ matrix
        # beyond its ends a spline goes on straight, so that the parameter finds back
        return at + slope * (t - here) - v[self.count + 1], (*weights.tolist(), slope / value, -1.0)
