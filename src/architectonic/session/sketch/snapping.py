"""Where a click lands: on points, middles, quadrants, crossings and curves, on the axes, on a grid, or just there.

What it snapped to is kept as what it *means*: the constraints that will hold it there.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from architectonic.base import tolerance
from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, curve_of, point_of, point_on, taken_apart
from architectonic.describe.drawn.curves import as_piece
from architectonic.describe.drawn.readings import foot
from architectonic.describe.results import CurveResult, SketchResult
from architectonic.family.records import Arc, Line, Sketch
from architectonic.sketch.curves import kinds
from architectonic.sketch.curves.meetings import meetings

XY = tuple[float, float]
SNAP_ANGLE = math.radians(3.0)
"""A line within this of a direction is meant to have it."""
Ways = tuple[tuple[str, str], ...]
"""Constraints of the new point, each with the place that it names."""
_CROSSING = 12
"""Curves near a click among which crossings are looked for."""


class Snapped(NamedTuple):
    """Where a click landed.

    Attributes:
        place: the point that it is ("" for none).
        ways: what holds a point there when it is no such point.
        told: in words, "" for nothing.
        under: the curve that was clicked on, "" for none.
    """

    at: XY
    place: str = ""
    ways: Ways = ()
    told: str = ""
    under: str = ""

    @property
    def holds(self) -> Ways:
        """Constraints that keep a point where it landed."""
        return (("coincident", self.place),) if self.place else self.ways


def snap_points(solved: SketchResult) -> dict[str, XY]:
    """Every point of a sketch, by place: ends, centres, points, and the origin."""
    found: dict[str, XY] = {ORIGIN: (0.0, 0.0)}
    for key, curve in solved.curves.items():
        for i, name in enumerate(kinds.names_of(curve.kind, len(curve.values))):
            if name.endswith(".x"):
                part = name.removesuffix(".x")
                place = key if curve.kind == "point" else point_on(key, part)
                found[place] = (curve.values[i], curve.values[i + 1])
    return found


def snap(
    solved: SketchResult, at: XY, within: float, grid: float = 0.0, without: frozenset[str] = frozenset()
) -> Snapped:
    """What a click near a place means.

    Args:
        within: how near counts, mm.
        grid: spacing of the grid, 0 for none; it is the last that counts.
        without: curves that are not snapped to.
    """
    points = {p: q for p, q in snap_points(solved).items() if curve_of(p) not in without}
    place = min(points, key=lambda k: math.dist(points[k], at), default="")
    if place and math.dist(points[place], at) <= within:
        return Snapped(points[place], place, (), _named(solved, place))
    curves = {k: c for k, c in solved.curves.items() if k not in without}
    near = sorted((math.dist(foot(c, at), at), k) for k, c in curves.items() if c.kind not in ("point", "text"))
    close = [k for d, k in near if d <= within][:_CROSSING]
    special = [s for k in close for s in _special(k, curves[k])] + _crossings(curves, close)
    best = min(special, key=lambda s: math.dist(s.at, at), default=None)
    if best is not None and math.dist(best.at, at) <= within:
        return best
    if close:
        return Snapped(_grid(foot(curves[close[0]], at)), "", (("on_curve", close[0]),), "on the curve")
    for axis, distance, on in ((Y_AXIS, abs(at[0]), (0.0, at[1])), (X_AXIS, abs(at[1]), (at[0], 0.0))):
        if distance <= within / 2:
            return Snapped(_grid(on), "", (("on_curve", axis),), "on the axis")
    if grid:
        return Snapped((round(at[0] / grid) * grid, round(at[1] / grid) * grid), "", (), "on the grid")
    return Snapped(_grid(at))


def inferred(sketch: Sketch, start: Snapped, end: Snapped) -> tuple[str, ...] | None:
    """What a line between two clicks is meant to be besides: a kind of constraint, and the curve it refers to."""
    if start.place and end.place:
        return None
    a, b = start.at, end.at
    turn = math.atan2(b[1] - a[1], b[0] - a[0])
    curve, part = taken_apart(start.place)
    before = sketch.curves.get(curve)
    if isinstance(before, Arc) and part in ("start", "end"):
        x, y = getattr(before, part)
        across = math.atan2(y - before.centre[1], x - before.centre[0]) + math.pi / 2
        if abs(math.remainder(turn - across, math.pi)) < SNAP_ANGLE:
            return "tangent", curve
    if abs(math.remainder(turn, math.pi)) < SNAP_ANGLE:
        return ("horizontal",)
    if abs(math.remainder(turn - math.pi / 2, math.pi)) < SNAP_ANGLE:
        return ("vertical",)
    if isinstance(before, Line) and part in ("start", "end"):
        along = math.atan2(before.end[1] - before.start[1], before.end[0] - before.start[0])
        if abs(math.remainder(turn - along - math.pi / 2, math.pi)) < SNAP_ANGLE:
            return "perpendicular", curve
    return None


def _grid(p: XY) -> XY:
    return tolerance.length(p[0]), tolerance.length(p[1])


def _named(solved: SketchResult, place: str) -> str:
    if place == ORIGIN:
        return ORIGIN
    part = point_of(place)
    words = {"start": "end", "end": "end", "centre": "centre", "": "point", "at": "start of the text"}
    return words.get(part, "point")


def _special(key: str, c: CurveResult) -> list[Snapped]:
    """The middle of a line, the four quadrants of a round one."""
    v = c.values
    if c.kind == "line":
        return [Snapped(_grid(((v[0] + v[2]) / 2, (v[1] + v[3]) / 2)), "", (("midpoint", key),), "middle")]
    if c.kind in ("circle", "arc"):
        r, found = v[-1], []
        for dx, dy, level in (
            (r, 0.0, "horizontal"),
            (-r, 0.0, "horizontal"),
            (0.0, r, "vertical"),
            (0.0, -r, "vertical"),
        ):
            q = (v[0] + dx, v[1] + dy)
            if math.dist(foot(c, q), q) <= tolerance.MODELLING:
                found.append(Snapped(_grid(q), "", (("on_curve", key), (level, point_on(key, "centre"))), "quadrant"))
        return found
    return []


def _crossings(curves: dict[str, CurveResult], close: list[str]) -> list[Snapped]:
    pieces = {k: as_piece(k, curves[k]) for k in close}
    return [
        Snapped(_grid(p), "", (("on_curve", a), ("on_curve", b)), "crossing")
        for i, a in enumerate(close)
        for b in close[i + 1 :]
        for p in meetings(pieces[a], pieces[b], tolerance.MODELLING)
    ]
