"""Directed pieces of curves: lines, arcs, and parts of ellipses and splines."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace

from architectonic.base.tolerance import MODELLING
from architectonic.sketch.curves import paths
from architectonic.sketch.curves.paths import Path

Point = tuple[float, float]
TAU = 2 * math.pi
LETTER = "~"
"""Between the id of a text and the number of a piece of its outlines."""


@dataclass(frozen=True)
class Piece:
    """A directed part of a curve: a line (radius 0), an arc (turn > 0 is counter-clockwise), or a part of a path.

    Attributes:
        curve: id of the curve it is part of; forward: in that curve's own direction.
        start, end: mm, in the sketch's plane. A full circle starts and ends at its rightmost point.
        turn: swept angle in rad, 0 for lines.
        path, span: of an ellipse or spline, and its first and last parameter; the second is the smaller one when the
            piece runs against the path.
    """

    curve: str
    forward: bool
    start: Point
    end: Point
    centre: Point = (0.0, 0.0)
    radius: float = 0.0
    turn: float = 0.0
    path: Path | None = None
    span: tuple[float, float] = (0.0, 0.0)

    @property
    def straight(self) -> bool:
        """Whether it is a line."""
        return self.radius == 0.0 and self.path is None

    def reversed(self) -> Piece:
        """The same piece run the other way."""
        turned = Piece(self.curve, not self.forward, self.end, self.start, self.centre, self.radius, -self.turn)
        return replace(turned, path=self.path, span=self.span[::-1]) if self.path is not None else turned

    def at(self, t: float) -> Point:
        """The point at the fraction t of the way."""
        if self.path is not None:
            return paths.point(self.path, self.span[0] + t * (self.span[1] - self.span[0]))
        if self.radius == 0.0:
            return (
                self.start[0] + t * (self.end[0] - self.start[0]),
                self.start[1] + t * (self.end[1] - self.start[1]),
            )
        a = math.atan2(self.start[1] - self.centre[1], self.start[0] - self.centre[0]) + t * self.turn
        return (self.centre[0] + self.radius * math.cos(a), self.centre[1] + self.radius * math.sin(a))

    def points(self, finer: float = 1.0) -> list[Point]:
        """Points along it, close enough for a picture, of arcs `finer` times as many."""
        if self.path is not None:
            found = paths.at(self.path, paths.grid(self.path, *self.span))
            return [(float(x), float(y)) for x, y in found]
        steps = max(1, math.ceil(abs(self.turn) / 0.2 * finer))
        return [self.at(k / steps) for k in range(steps + 1)]

    def part(self, t0: float, t1: float, start: Point, end: Point) -> Piece:
        """The part between two fractions of the way, with its ends put where they are given."""
        a, d = self.span[0], self.span[1] - self.span[0]
        span = (a + t0 * d, a + t1 * d) if self.path is not None else self.span
        return Piece(
            self.curve, self.forward, start, end, self.centre, self.radius, self.turn * (t1 - t0), self.path, span
        )

    def length(self) -> float:
        """Length along it, mm; of a path to a few percent."""
        if self.path is not None:
            return sum(math.dist(a, b) for a, b in itertools.pairwise(self.points()))
        return self.radius * abs(self.turn) if self.radius else math.dist(self.start, self.end)

    def departure(self) -> tuple[float, float]:
        """Direction at the start (rad, rounded so that tangent pieces compare equal) and signed curvature."""
        if self.path is not None:
            return self._leaves(self.path)
        if self.radius == 0.0:
            a = math.atan2(self.end[1] - self.start[1], self.end[0] - self.start[0])
            return _wrap(a), 0.0
        a = math.atan2(self.start[1] - self.centre[1], self.start[0] - self.centre[0])
        return _wrap(a + math.copysign(math.pi / 2, self.turn)), math.copysign(1 / self.radius, self.turn)

    def _leaves(self, path: Path) -> tuple[float, float]:
        t, sign = self.span[0], math.copysign(1.0, self.span[1] - self.span[0])
        (dx, dy), (ex, ey) = paths.point(path, t, 1), paths.point(path, t, 2)
        speed = math.hypot(dx, dy)
        if speed < MODELLING:  # a handle on its own end: the direction is that of a little later
            x, y = self.at(1e-4)
            return _wrap(math.atan2(y - self.start[1], x - self.start[0])), 0.0
        return _wrap(math.atan2(sign * dy, sign * dx)), sign * (dx * ey - dy * ex) / speed**3

    def area(self) -> float:
        """Its share of the signed area of a loop (Green's theorem; segment area r^2/2 (turn - sin turn))."""
        if self.path is not None:
            return paths.area(self.path, *self.span)
        (x0, y0), (x1, y1) = self.start, self.end
        return (x0 * y1 - x1 * y0) / 2 + self.radius**2 / 2 * (self.turn - math.sin(self.turn))


def _wrap(angle: float) -> float:
    value = round(angle % TAU, 6)
    return 0.0 if value >= round(TAU, 6) else value


def line(curve: str, start: Point, end: Point) -> Piece:
    """A straight curve as one piece."""
    return Piece(curve, True, start, end)


def arc(curve: str, centre: Point, start: Point, end: Point) -> Piece:
    """A counter-clockwise arc as one piece."""
    a0 = math.atan2(start[1] - centre[1], start[0] - centre[0])
    a1 = math.atan2(end[1] - centre[1], end[0] - centre[0])
    turn = (a1 - a0) % TAU or TAU
    return Piece(curve, True, start, end, centre, math.dist(centre, start), turn)


def circle(curve: str, centre: Point, radius: float) -> Piece:
    """A full circle as one piece, run counter-clockwise from its rightmost point."""
    right = (centre[0] + radius, centre[1])
    return Piece(curve, True, right, right, centre, radius, TAU)


def along(curve: str, path: Path) -> Piece:
    """A whole ellipse or spline as one piece."""
    t0, t1 = paths.span(path)
    start = paths.point(path, t0)
    end = start if path.kind == "ellipse" else paths.point(path, t1)
    return Piece(curve, True, start, end, path=path, span=(t0, t1))


def elliptic_arc(curve: str, path: Path, start: Point, end: Point) -> Piece:
    """A part of an ellipse, counter-clockwise from start to end."""
    t0, t1 = (paths.nearest(path, p, 0.0, math.tau) for p in (start, end))
    return Piece(curve, True, start, end, path=path, span=(t0, t1 if t1 > t0 + 1e-9 else t1 + TAU))
