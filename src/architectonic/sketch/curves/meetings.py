"""Where pieces of curves meet."""

from __future__ import annotations

import math

import numpy as np

from architectonic.sketch.curves import crossings, paths
from architectonic.sketch.curves.piece import LETTER, TAU, Piece, Point


def meetings(a: Piece, b: Piece, tol: float) -> list[Point]:
    """Points that two pieces share: crossings, touches, and ends of one lying on the other."""
    return [p for p, _, _ in _met(a, b, _box(a), _box(b), tol)]


def _met(a: Piece, b: Piece, box_a: Box, box_b: Box, tol: float) -> list[tuple[Point, float, float]]:
    """The same, with the fractions of both ways."""
    if a.path is not None or b.path is not None:
        crossed = [] if _one_text(a, b) else crossings.between(a, b, tol)
    elif a.radius == 0 and b.radius == 0:
        crossed = _line_line(a, b)
    elif a.radius > 0 and b.radius > 0:
        crossed = _circle_circle(a, b, tol)
    else:
        crossed = _line_circle(a, b, tol) if a.radius == 0 else _line_circle(b, a, tol)
    found = []
    for p in crossed:
        t = _parameter(a, p, tol)
        u = _parameter(b, p, tol) if t is not None else None
        if t is not None and u is not None:
            found.append((p, t, u))
    for own, p in ((0.0, a.start), (1.0, a.end)):
        other = _parameter(b, p, tol) if _within(box_b, p, tol) else None
        if other is not None:
            found.append((p, own, other))
    for own, p in ((0.0, b.start), (1.0, b.end)):
        other = _parameter(a, p, tol) if _within(box_a, p, tol) else None
        if other is not None:
            found.append((p, other, own))
    return found


Box = tuple[float, float, float, float]


def _within(box: Box, p: Point, tol: float) -> bool:
    return box[0] - tol <= p[0] <= box[2] + tol and box[1] - tol <= p[1] <= box[3] + tol


def _one_text(a: Piece, b: Piece) -> bool:
    """Outlines of one text only meet at their ends."""
    return LETTER in a.curve and a.curve.split(LETTER)[0] == b.curve.split(LETTER)[0]


def _near(boxes: list[Box], tol: float) -> list[tuple[int, int]]:
    """Pairs of boxes that touch, all compared at once."""
    if len(boxes) < 2:
        return []
    x0, y0, x1, y1 = np.array(boxes).T
    before = (x0[:, None] <= x1 + tol) & (y0[:, None] <= y1 + tol)
    i, j = np.nonzero(np.triu(before & before.T, 1))
    return list(zip(i.tolist(), j.tolist(), strict=True))


def _box(p: Piece) -> tuple[float, float, float, float]:
    if p.path is not None:
        low, high = crossings.box(p)
        return low[0], low[1], high[0], high[1]
    if p.radius > 0:
        (x, y), r = p.centre, p.radius
        return x - r, y - r, x + r, y + r
    return (
        min(p.start[0], p.end[0]),
        min(p.start[1], p.end[1]),
        max(p.start[0], p.end[0]),
        max(p.start[1], p.end[1]),
    )


def _line_line(a: Piece, b: Piece) -> list[Point]:
    (x1, y1), (x2, y2) = a.start, a.end
    (x3, y3), (x4, y4) = b.start, b.end
    d = (x2 - x1) * (y4 - y3) - (y2 - y1) * (x4 - x3)
    if abs(d) < 1e-12 * math.dist(a.start, a.end) * math.dist(b.start, b.end):
        return []  # parallel: overlaps are found by their ends
    t = ((x3 - x1) * (y4 - y3) - (y3 - y1) * (x4 - x3)) / d
    return [a.at(t)]


def _line_circle(a: Piece, c: Piece, tol: float) -> list[Point]:
    length = math.dist(a.start, a.end)
    ux, uy = (a.end[0] - a.start[0]) / length, (a.end[1] - a.start[1]) / length
    px, py = c.centre[0] - a.start[0], c.centre[1] - a.start[1]
    along, across = ux * px + uy * py, ux * py - uy * px
    if abs(abs(across) - c.radius) < tol:
        return [(a.start[0] + along * ux, a.start[1] + along * uy)]
    if abs(across) > c.radius:
        return []
    half = math.sqrt(c.radius**2 - across**2)
    return [(a.start[0] + t * ux, a.start[1] + t * uy) for t in (along - half, along + half)]


def _circle_circle(a: Piece, b: Piece, tol: float) -> list[Point]:
    d = math.dist(a.centre, b.centre)
    if d < tol or d > a.radius + b.radius + tol or d < abs(a.radius - b.radius) - tol:
        return []
    ux, uy = (b.centre[0] - a.centre[0]) / d, (b.centre[1] - a.centre[1]) / d
    if min(abs(d - a.radius - b.radius), abs(d - abs(a.radius - b.radius))) < tol:
        along = a.radius if a.radius >= b.radius or d > a.radius else -a.radius
        return [(a.centre[0] + along * ux, a.centre[1] + along * uy)]
    along = (d * d + a.radius**2 - b.radius**2) / (2 * d)
    half = math.sqrt(max(a.radius**2 - along**2, 0.0))
    x, y = a.centre[0] + along * ux, a.centre[1] + along * uy
    return [(x - half * uy, y + half * ux), (x + half * uy, y - half * ux)]


def _parameter(p: Piece, q: Point, tol: float) -> float | None:
    """Where a point lies along a piece as a fraction, or None when it does not."""
    if p.path is not None:
        t = paths.nearest(p.path, q, *p.span)
        on = math.dist(paths.point(p.path, t), q) <= tol
        return (t - p.span[0]) / (p.span[1] - p.span[0]) if on else None
    if p.straight:
        length = math.dist(p.start, p.end)
        ux, uy = (p.end[0] - p.start[0]) / length, (p.end[1] - p.start[1]) / length
        along = ux * (q[0] - p.start[0]) + uy * (q[1] - p.start[1])
        across = ux * (q[1] - p.start[1]) - uy * (q[0] - p.start[0])
        return along / length if abs(across) <= tol and -tol <= along <= length + tol else None
    if abs(math.dist(p.centre, q) - p.radius) > tol:
        return None
    a0 = math.atan2(p.start[1] - p.centre[1], p.start[0] - p.centre[0])
    a = math.atan2(q[1] - p.centre[1], q[0] - p.centre[0])
    swept = (a - a0) % TAU
    slack = tol / p.radius
    if swept > TAU - slack:
        swept = 0.0
    return swept / p.turn if swept <= p.turn + slack else None
