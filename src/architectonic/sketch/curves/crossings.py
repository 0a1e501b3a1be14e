"""Where pieces meet when one of them is part of an ellipse or spline.

Both are taken as polylines with boxes that hold the curve; where two boxes meet, the two fractions of the way are
brought together by Gauss-Newton steps, all such places at once. Touches are found as well as crossings: they are
where the distance has a zero minimum (Patrikalakis & Maekawa, Shape Interrogation, 2002, ch. 5).
"""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np

from architectonic.sketch.curves import paths
from architectonic.sketch.curves.paths import Array

if TYPE_CHECKING:
    from architectonic.sketch.curves.piece import Piece

Point = tuple[float, float]
_ITERATIONS = 40
_TOUCH = 0.05
"""Longest stretch, mm, along which rounding can scatter one touch."""
_MOST = 24
"""More meetings than this of two curves mean that they run along each other."""


def between(a: Piece, b: Piece, tol: float) -> list[Point]:
    """Points at which two pieces cross or touch; none where they run along each other."""
    if a.path is not None and b.path is not None and _alike(a.path, b.path, tol):
        return []
    f, g = _candidates(a, b)
    if len(f) == 0:
        return []
    f, g, away = _together(a, b, f, g)
    met = sorted({(float(x), float(y)) for x, y in zip(f[away <= tol], g[away <= tol], strict=True)})
    found: list[list[tuple[float, float]]] = []
    for one in met:
        group = next((k for k in found if _one_meeting(a, b, k[-1], one, tol)), None)
        if group is None:
            found.append([one])
        else:
            group.append(one)
    if len(found) > _MOST:
        return []
    # where curves touch, rounding scatters the meeting along them: its middle is nearest to the truth
    points = _position(a, np.array([(k[0][0] + k[-1][0]) / 2 for k in found]))
    return [(float(x), float(y)) for x, y in points]


def _one_meeting(a: Piece, b: Piece, one: tuple[float, float], other: tuple[float, float], tol: float) -> bool:
    """Whether two meetings are one: the curves stay together between them."""
    f, g = np.linspace(one[0], other[0], 3), np.linspace(one[1], other[1], 3)
    p, q = _position(a, f), _position(b, g)
    near = float(np.hypot(*(p[0] - p[2]))) <= max(10 * tol, _TOUCH)
    return near and float(np.hypot(*(p[1] - q[1]))) <= 4 * tol


def own(piece: Piece, tol: float) -> list[float]:
    """Fractions of the way at which a spline crosses itself."""
    f, g = _candidates(piece, piece)
    step = 2.5 / max(len(_marks(piece)) - 1, 1)
    apart = g - f > step
    if piece.start == piece.end:
        apart &= g - f < 1 - step
    if not apart.any():
        return []
    f, g, away = _together(piece, piece, f[apart], g[apart])
    good = (away <= tol) & (np.abs(f - g) > step / 2)
    return [float(t) for t in np.concatenate([f[good], g[good]])]


def box(piece: Piece) -> tuple[Point, Point]:
    """Corners of a box that holds a piece."""
    low, high = _boxes(piece)
    a, b = low.min(axis=0), high.max(axis=0)
    return (float(a[0]), float(a[1])), (float(b[0]), float(b[1]))


def _alike(a: paths.Path, b: paths.Path, tol: float) -> bool:
    if a.kind != b.kind or len(a.poles) != len(b.poles):
        return False
    return bool(np.abs(np.array(a.poles) - np.array(b.poles)).max() <= tol)


def _marks(p: Piece) -> Array:
    """Fractions of the way between which a piece hardly turns."""
    if p.path is not None:
        a, b = p.span
        return (paths.grid(p.path, a, b) - a) / (b - a)
    return np.linspace(0.0, 1.0, max(1, int(np.ceil(abs(p.turn) / 0.1))) + 1)


def _position(p: Piece, f: Array) -> Array:
    """Points at fractions of the way, (n, 2)."""
    if p.path is not None:
        return paths.at(p.path, p.span[0] + f * (p.span[1] - p.span[0]))
    if p.radius:
        begin = np.arctan2(p.start[1] - p.centre[1], p.start[0] - p.centre[0])
        a = begin + f * p.turn
        return np.column_stack([p.centre[0] + p.radius * np.cos(a), p.centre[1] + p.radius * np.sin(a)])
    return np.array(p.start) + np.outer(f, np.array(p.end) - np.array(p.start))


def _slope(p: Piece, f: Array) -> Array:
    """Derivatives by the fraction of the way, (n, 2)."""
    if p.path is not None:
        d = p.span[1] - p.span[0]
        return paths.at(p.path, p.span[0] + f * d, 1) * d
    if p.radius:
        begin = np.arctan2(p.start[1] - p.centre[1], p.start[0] - p.centre[0])
        a = begin + f * p.turn
        return p.radius * p.turn * np.column_stack([-np.sin(a), np.cos(a)])
    return np.broadcast_to(np.array(p.end) - np.array(p.start), (len(f), 2))


@lru_cache(maxsize=8192)
def _boxes(p: Piece) -> tuple[Array, Array]:
    """Low and high corners of boxes along a piece, each with room for how far the curve leaves its chord."""
    marks = _marks(p)
    points, middles = _position(p, marks), _position(p, (marks[1:] + marks[:-1]) / 2)
    room = 1.5 * np.abs(middles - (points[1:] + points[:-1]) / 2).max(axis=1, keepdims=True) + 1e-6
    return np.minimum(points[1:], points[:-1]) - room, np.maximum(points[1:], points[:-1]) + room


def _candidates(a: Piece, b: Piece) -> tuple[Array, Array]:
    """Where their boxes meet: middles of the stretches of both ways, as fractions."""
    (low_a, high_a), (low_b, high_b) = _boxes(a), _boxes(b)
    meet = (low_a[:, None] <= high_b[None]).all(axis=2) & (low_b[None] <= high_a[:, None]).all(axis=2)
    i, j = np.nonzero(meet)
    f, g = _marks(a), _marks(b)
    return (f[i] + f[i + 1]) / 2, (g[j] + g[j + 1]) / 2


def _around(marks: Array, f: Array) -> tuple[Array, Array]:
    """The stretch that each fraction lies in, with as much again on both sides."""
    k = np.clip(np.searchsorted(marks, f, side="right") - 1, 0, len(marks) - 2)
    wide = marks[k + 1] - marks[k]
    return np.clip(marks[k] - wide, 0.0, 1.0), np.clip(marks[k + 1] + wide, 0.0, 1.0)


def _together(a: Piece, b: Piece, f: Array, g: Array) -> tuple[Array, Array, Array]:
    """Fractions brought to the nearest meeting within both pieces, and how far apart the points stay."""
    # each start looks only around its own stretch, so that none is drawn to another's meeting
    (low_f, high_f), (low_g, high_g) = _around(_marks(a), f), _around(_marks(b), g)
    for _ in range(_ITERATIONS):
        away = _position(a, f) - _position(b, g)
        u, v = _slope(a, f), _slope(b, g)
        # normal equations of |away + u df - v dg|, damped so little that crossings stay quadratic
        uu, vv, uv = (u * u).sum(1), (v * v).sum(1), (u * v).sum(1)
        damping = 1e-12 * (uu + vv) + 1e-300
        ru, rv = -(u * away).sum(1), (v * away).sum(1)
        det = (uu + damping) * (vv + damping) - uv * uv
        det = np.maximum(det, 1e-14 * uu * vv + 1e-300)
        df = (ru * (vv + damping) + uv * rv) / det
        dg = (rv * (uu + damping) + uv * ru) / det
        new_f, new_g = np.clip(f + df, low_f, high_f), np.clip(g + dg, low_g, high_g)
        still = max(float(np.abs(new_f - f).max()), float(np.abs(new_g - g).max()))
        f, g = new_f, new_g
        if still < 1e-15:
            break
    return f, g, np.hypot(*(_position(a, f) - _position(b, g)).T)
