"""Curves beside lines and circles as parametric paths: ellipses, and splines by their poles.

An ellipse is centre + along cos t + across sin t, t from 0 to 2 pi. A spline is a clamped B-spline of degree 3 (2 with
three poles). A spline *through points* keeps the parameters that it was drawn with, so that its poles stay linear in
its points: the second and the last but one are its end handles, the others follow from passing through every point
(Piegl & Tiller, The NURBS Book, 1997, section 9.2.2: interpolation with end derivatives given).
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Point = tuple[float, float]
_STEPS = 16
"""Straight pieces for each span of a spline, and for a quarter of an ellipse, where a path is searched."""


class Path(NamedTuple):
    """A parametric curve: an ellipse by centre and two half axes (vectors), or a spline by knots and poles, mm."""

    kind: str
    poles: tuple[Point, ...]
    knots: tuple[float, ...] = ()

    @property
    def degree(self) -> int:
        """The degree of a spline."""
        return len(self.knots) - len(self.poles) - 1


def ellipse(centre: Point, along: Point, across: Point) -> Path:
    """The ellipse with two ends of its half axes."""
    axes = ((along[0] - centre[0], along[1] - centre[1]), (across[0] - centre[0], across[1] - centre[1]))
    return Path("ellipse", (centre, *axes))


def bezier(poles: Sequence[Point]) -> Path:
    """A single span by its poles."""
    n = len(poles)
    return Path("spline", tuple(poles), (0.0,) * n + (1.0,) * n)


def parameters(points: Sequence[Point]) -> tuple[float, ...]:
    """Parameters of points to pass through, from 0 to 1, by the roots of their distances (Lee, CAD 21, 1989)."""
    steps = [math.sqrt(math.dist(a, b)) for a, b in pairwise(points)]
    total = sum(steps) or 1.0
    found, s = [0.0], 0.0
    for step in steps[:-1]:
        s += step
        found.append(s / total)
    return (*found, 1.0)


def first_handles(points: Sequence[Point]) -> tuple[Point, Point]:
    """Handles with which a curve through points begins and ends at rest: second derivatives zero (natural ends)."""
    u = parameters(points)
    n = len(points)
    matrix, right = np.zeros((n, n)), np.zeros((n, 2))
    h, p = np.diff(u), np.array(points)
    matrix[0, :2], right[0] = (2.0, 1.0), 3 * (p[1] - p[0]) / h[0]
    matrix[-1, -2:], right[-1] = (1.0, 2.0), 3 * (p[-1] - p[-2]) / h[-1]
    for k in range(1, n - 1):
        matrix[k, k - 1 : k + 2] = h[k], 2 * (h[k - 1] + h[k]), h[k - 1]
        right[k] = 3 * (h[k] * (p[k] - p[k - 1]) / h[k - 1] + h[k - 1] * (p[k + 1] - p[k]) / h[k])
    slopes = np.linalg.solve(matrix, right)
    a, b = p[0] + slopes[0] * h[0] / 3, p[-1] - slopes[-1] * h[-1] / 3
    return (float(a[0]), float(a[1])), (float(b[0]), float(b[1]))


@lru_cache(maxsize=256)
def knots_of(kind: str, count: int, parameters: tuple[float, ...]) -> tuple[float, ...]:
    """Clamped knots of a spline through points, or of one with so many poles."""
    if kind == "spline":
        return (0.0,) * 4 + parameters[1:-1] + (1.0,) * 4
    if parameters:  # of a traced edge: its own knots
        return parameters
    degree = min(3, count - 1)
    spans = count - degree
    return (0.0,) * degree + tuple(k / spans for k in range(spans + 1)) + (1.0,) * degree


@lru_cache(maxsize=256)
def pole_matrix(kind: str, count: int, parameters: tuple[float, ...]) -> Array:
    """Poles from the points of a spline, in the order of its values: start, inner points, end, both handles.

    Args:
        count: of its points, handles included.
    """
    if kind != "spline":
        return np.eye(count)
    n = count - 2
    made = np.zeros((n + 2, count))
    made[0, 0] = made[1, n] = made[n, n + 1] = made[n + 1, n - 1] = 1.0
    if n > 2:
        weights = basis(knots_of(kind, count, parameters), n + 2, np.array(parameters[1:-1]))
        inner = weights[:, 2:n]
        right = np.zeros((n - 2, count))
        right[:, 1 : n - 1] = np.eye(n - 2)
        for pole in (0, 1, n, n + 1):
            right -= np.outer(weights[:, pole], made[pole])
        made[2:n] = np.linalg.solve(inner, right)
    return made


def basis(knots: tuple[float, ...], count: int, at: Array) -> Array:
    """Weights of the poles at parameters, (n, count), by the recurrence of Cox and de Boor (The NURBS Book, eq. 2.5).

    Written here as the library that has it takes longer to load than a first stroke may wait.
    """
    u, t = np.array(knots), np.clip(at, knots[0], knots[-1])[:, None]
    last = np.flatnonzero(np.diff(u))[-1]  # the last span holds its end too
    found = ((u[:-1] <= t) & (t < u[1:])).astype(float)
    found[(t >= u[-1])[:, 0], last] = 1.0
    for degree in range(1, len(knots) - count):
        low, high = u[degree:-1] - u[: -degree - 1], u[degree + 1 :] - u[1:-degree]
        left = np.divide(t - u[: -degree - 1], low, out=np.zeros((len(t), len(low))), where=low > 0)
        right = np.divide(u[degree + 1 :] - t, high, out=np.zeros((len(t), len(high))), where=high > 0)
        found = left * found[:, :-1] + right * found[:, 1:]
    return found


@lru_cache(maxsize=1024)
def spline(kind: str, values: tuple[float, ...], parameters: tuple[float, ...]) -> Path:
    """The path of a spline curve from its values (sketch.kinds.names_of) and parameters."""
    points = np.array(values).reshape(-1, 2)
    poles = pole_matrix(kind, len(points), parameters) @ points
    return Path("spline", tuple((float(x), float(y)) for x, y in poles), knots_of(kind, len(points), parameters))


def span(path: Path) -> tuple[float, float]:
    """Its first and last parameter."""
    return (0.0, math.tau) if path.kind == "ellipse" else (path.knots[0], path.knots[-1])


@lru_cache(maxsize=1024)
def _derived(path: Path, order: int) -> Path:
    """The spline that is a derivative: its poles are differences of these (The NURBS Book, eq. 3.4)."""
    if order == 0:
        return path
    p, u = path.degree, path.knots
    if p == 0:
        return Path("spline", tuple((0.0, 0.0) for _ in path.poles), u)
    poles = []
    for i, ((ax, ay), (bx, by)) in enumerate(pairwise(path.poles)):
        share = p / (u[i + p + 1] - u[i + 1])
        poles.append((share * (bx - ax), share * (by - ay)))
    return _derived(Path("spline", tuple(poles), u[1:-1]), order - 1)


def at(path: Path, t: Array, order: int = 0) -> Array:
    """Points, or derivatives of an order, at parameters; shape (n, 2)."""
    if path.kind == "ellipse":
        centre, along, across = (np.array(p) for p in path.poles)
        shifted = t + order * math.pi / 2
        found: Array = np.outer(np.cos(shifted), along) + np.outer(np.sin(shifted), across)
        return found if order else found + centre
    marks, terms = _polynomials(path, order)
    s = np.clip(np.asarray(t, float), marks[0], marks[-1])
    k = np.clip(np.searchsorted(marks, s, side="right") - 1, 0, len(terms) - 1)
    step, of = (s - marks[k])[:, None], terms[k]
    found = of[:, -1]
    for power in range(terms.shape[1] - 2, -1, -1):
        found = found * step + of[:, power]
    return found


@lru_cache(maxsize=4096)
def _polynomials(path: Path, order: int) -> tuple[Array, Array]:
    """Knots of a spline, and of each span the terms of a derivative from its start: (spans, degree + 1, 2)."""
    marks = sorted(set(path.knots))
    terms = [
        [[c / math.factorial(k) for c in point(path, m, order + k)] for k in range(max(path.degree - order, 0) + 1)]
        for m in marks[:-1]
    ]
    return np.array(marks), np.array(terms)


def point(path: Path, t: float, order: int = 0) -> Point:
    """One point or derivative; of splines by de Boor's corner cutting (The NURBS Book, section 5.2)."""
    if path.kind == "ellipse":
        (cx, cy), (ax, ay), (bx, by) = path.poles
        c, s = math.cos(t + order * math.pi / 2), math.sin(t + order * math.pi / 2)
        return (0.0 if order else cx) + c * ax + s * bx, (0.0 if order else cy) + c * ay + s * by
    curve = _derived(path, order)
    u, p = curve.knots, curve.degree
    t = min(max(t, u[0]), u[-1])
    k = min(bisect_right(u, t), len(curve.poles)) - 1
    d = [list(q) for q in curve.poles[k - p : k + 1]]
    for r in range(1, p + 1):
        for j in range(p, r - 1, -1):
            i = j + k - p
            share = (t - u[i]) / (u[i + p - r + 1] - u[i])
            d[j][0] += (1 - share) * (d[j - 1][0] - d[j][0])
            d[j][1] += (1 - share) * (d[j - 1][1] - d[j][1])
    return d[p][0], d[p][1]


def grid(path: Path, t0: float, t1: float) -> Array:
    """Parameters from t0 to t1, close enough that the path hardly turns between two."""
    low, high = min(t0, t1), max(t0, t1)
    if path.kind == "ellipse":
        marks = np.linspace(low, high, max(2, math.ceil((high - low) / (math.pi / 2) * _STEPS)) + 1)
    else:
        inner = [k for k in sorted(set(path.knots)) if low < k < high]
        ends = [low, *inner, high]
        marks = np.concatenate([np.linspace(a, b, _STEPS, endpoint=False) for a, b in pairwise(ends)] + [[high]])
    return marks if t0 <= t1 else marks[::-1]


def area(path: Path, t0: float, t1: float) -> float:
    """Half the integral of x dy - y dx: its share of the area of a loop (Green), exact to rounding."""
    if path.kind == "ellipse":
        (cx, cy), (ax, ay), (bx, by) = path.poles
        (x0, y0), (x1, y1) = point(path, t0), point(path, t1)
        return (cx * (y1 - y0) - cy * (x1 - x0) + (ax * by - ay * bx) * (t1 - t0)) / 2
    low, high = min(t0, t1), max(t0, t1)
    ends = [low, *(k for k in sorted(set(path.knots)) if low < k < high), high]
    nodes, weights = np.polynomial.legendre.leggauss(4)  # exact to degree 7; x y' of two cubics has 5
    total = 0.0
    for a, b in pairwise(ends):
        t = (a + b) / 2 + (b - a) / 2 * nodes
        p, d = at(path, t), at(path, t, 1)
        total += float(np.sum(weights * (p[:, 0] * d[:, 1] - p[:, 1] * d[:, 0]))) * (b - a) / 4
    return total if t0 <= t1 else -total


def nearest(path: Path, q: Point, t0: float, t1: float) -> float:
    """The parameter between t0 and t1 of the nearest point: from every near stretch of a grid by Newton's method."""
    marks = grid(path, min(t0, t1), max(t0, t1))
    points = at(path, marks)
    away = np.hypot(points[:, 0] - q[0], points[:, 1] - q[1])
    step = np.hypot(*np.diff(points, axis=0).T).max()
    beside = np.concatenate([[np.inf], away, [np.inf]])
    # the strand that is nearest on the grid need not be the one that passes through the point
    starts = np.flatnonzero((away <= beside[:-2]) & (away <= beside[2:]) & (away <= away.min() + step))
    found = [_descended(path, q, marks, int(k)) for k in starts]
    return min(found, key=lambda t: math.dist(point(path, t), q))


def _descended(path: Path, q: Point, marks: Array, k: int) -> float:
    """Down to the nearest point around one place of a grid."""
    low, high = float(marks[max(k - 1, 0)]), float(marks[min(k + 1, len(marks) - 1)])
    t = float(marks[k])
    for _ in range(20):
        (x, y), (dx, dy), (ex, ey) = point(path, t), point(path, t, 1), point(path, t, 2)
        slope = (x - q[0]) * dx + (y - q[1]) * dy
        curve = dx * dx + dy * dy + (x - q[0]) * ex + (y - q[1]) * ey
        if curve <= 0:
            curve = dx * dx + dy * dy or 1.0
        new = min(max(t - slope / curve, low), high)
        if abs(new - t) < 1e-15 * max(1.0, abs(high)):
            return new
        t = new
    return t
