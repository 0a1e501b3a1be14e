"""Paths in space as they are made of legs and bends: exact lines and arcs, their length, and the table to bend them by.

Plain geometry: no records and no solver.
"""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np

from architectonic.base import tolerance
from architectonic.describe.results import CurveResult, Frame, PlacedCurve, Value, Vector

STRAIGHT = 1e-9
"""Legs that turn by less, rad, go straight on."""


class Bend(Value, frozen=True):
    """One step of bending a wire: how far it is fed straight, turned about itself, and bent.

    Attributes:
        feed: mm, from the end of the bend before; turn: rad, right-handed about the feed direction, from the plane of the bend
            before; bend: rad, that the direction changes by; bent: rad, that the tool bends by, so that this is left.
        radius: of the centre line, mm; point: id of the corner; "" for what is fed after the last bend.
    """

    feed: float
    turn: float
    bend: float
    bent: float
    radius: float
    point: str = ""


class Led(Value, frozen=True):
    """A path in space.

    Attributes:
        curves: lines, arcs or a spline, end to end; labels: of each.
        points: by id, mm; freedoms: how many are left; free: points that can move.
        length: along its centre line, mm; bends: () of a smooth one.
    """

    curves: tuple[PlacedCurve, ...]
    labels: tuple[str, ...]
    points: dict[str, Vector]
    order: tuple[str, ...]
    closed: bool
    length: float
    freedoms: int = 0
    free: tuple[str, ...] = ()
    bends: tuple[Bend, ...] = ()


class LeadCorner(NamedTuple):
    """A point that a path turns at: its id, where it is, the radius there (0: sharp)."""

    key: str
    at: np.ndarray
    radius: float


class LeadFault(Exception):
    """The path cannot be made; `mend` says what would help."""

    def __init__(self, what: str, mend: str) -> None:
        super().__init__(what)
        self.what, self.mend = what, mend


def _vector(v: np.ndarray) -> Vector:
    return (tolerance.length(float(v[0])), tolerance.length(float(v[1])), tolerance.length(float(v[2])))


def _ratios(v: np.ndarray) -> Vector:
    return (tolerance.ratio(float(v[0])), tolerance.ratio(float(v[1])), tolerance.ratio(float(v[2])))


def _unit(v: np.ndarray) -> np.ndarray:
    found: np.ndarray = v / np.linalg.norm(v)
    return found


def line_between(a: np.ndarray, b: np.ndarray) -> PlacedCurve:
    """A line from one point to another, in a plane of its own."""
    x = _unit(b - a)
    normal = _unit(np.cross(x, np.eye(3)[int(np.argmin(np.abs(x)))]))
    long = tolerance.length(float(np.linalg.norm(b - a)))
    return PlacedCurve(Frame(_vector(a), _ratios(x), _ratios(normal)), CurveResult("line", (0.0, 0.0, long, 0.0)))


def arc_between(centre: np.ndarray, a: np.ndarray, b: np.ndarray) -> PlacedCurve:
    """An arc from one point to another, the shorter way round."""
    x, to = _unit(a - centre), _unit(b - centre)
    normal = _unit(np.cross(x, to))
    radius = float(np.linalg.norm(a - centre))
    angle = math.atan2(float(np.cross(x, to) @ normal), float(x @ to))
    end = (tolerance.length(radius * math.cos(angle)), tolerance.length(radius * math.sin(angle)))
    r = tolerance.length(radius)
    return PlacedCurve(
        Frame(_vector(centre), _ratios(x), _ratios(normal)), CurveResult("arc", (0.0, 0.0, r, 0.0, *end, r))
    )


def bent(
    corners: list[LeadCorner], closed: bool, tool: float, over: dict[str, float]
) -> tuple[list[tuple[str, PlacedCurve]], float, list[Bend]]:
    """Legs and bends of a path, its length, and how to bend it.

    Length: straights and r times the angle of each bend (centre line). The table starts at the first point, of a closed path
    after its bend.

    Args:
        tool: the smallest radius, mm; 0 for any.
        over: rad that is bent at a corner for what is wanted; of corners that are not in it the same.

    Raises:
        LeadFault: too few points, two at one place, a leg too short for its bends, a radius below the tool's, a path that
            turns back on itself.
    """
    n = len(corners)
    if n < (3 if closed else 2):
        raise LeadFault("a path needs more points", "draw on")
    at = [c.at for c in corners]
    legs = [at[(k + 1) % n] - at[k] for k in range(n if closed else n - 1)]
    sizes = [float(np.linalg.norm(leg)) for leg in legs]
    for k, size in enumerate(sizes):
        if size < tolerance.FEATURE:
            raise LeadFault(
                f"points {k + 1} and {(k + 1) % n + 1} are at one place", "move one of them, or take it out"
            )
    ways = [leg / size for leg, size in zip(legs, sizes, strict=True)]
    turns: dict[
        int, tuple[float, float]
    ] = {}  # at each corner: how much it turns, and how far before it the bend begins
    for k in range(n):
        if not closed and k in (0, n - 1):
            continue
        before, after = ways[k - 1], ways[k % len(ways)]
        angle = math.atan2(float(np.linalg.norm(np.cross(before, after))), float(before @ after))
        radius = corners[k].radius
        if angle > math.pi - 1e-6:
            raise LeadFault(f"the path turns back on itself at point {k + 1}", "move the next point aside")
        if angle > STRAIGHT and 0 < radius < tool - tolerance.MODELLING:
            raise LeadFault(
                f"the bend at point {k + 1} has a radius of {radius:g} mm, the tool needs {tool:g} mm", "make it larger"
            )
        turns[k] = (angle, radius * math.tan(angle / 2) if angle > STRAIGHT else 0.0)
    for k, size in enumerate(sizes):
        taken = turns.get(k, (0.0, 0.0))[1] + turns.get((k + 1) % n, (0.0, 0.0))[1]
        if taken > size + tolerance.MODELLING:
            told = f"the leg from point {k + 1} to point {(k + 1) % n + 1} is {taken - size:.3g} mm too short for its bends"
            raise LeadFault(told, "make it longer, or a bend smaller")
    found: list[tuple[str, PlacedCurve]] = []
    length = 0.0
    for k in range(len(legs)):
        start, end = turns.get(k, (0.0, 0.0))[1], turns.get((k + 1) % n, (0.0, 0.0))[1]
        a, b = at[k] + start * ways[k], at[(k + 1) % n] - end * ways[k]
        straight = float(np.linalg.norm(b - a)) if sizes[k] - start - end > tolerance.MODELLING else 0.0
        if straight:
            found.append((f"leg:{corners[k].key}", line_between(a, b)))
            length += straight
        there = (k + 1) % n
        angle, back = turns.get(there, (0.0, 0.0))
        if back > 0:
            ahead = ways[there % len(ways)]
            after = at[there] + back * ahead
            inward = _unit(ahead - ways[k])
            centre = at[there] + inward * (corners[there].radius / math.cos(angle / 2))
            found.append((f"bend:{corners[there].key}", arc_between(centre, b, after)))
            length += corners[there].radius * angle
    return found, length, _table(corners, closed, ways, sizes, turns, over)


def _table(
    corners: list[LeadCorner],
    closed: bool,
    ways: list[np.ndarray],
    sizes: list[float],
    turns: dict[int, tuple[float, float]],
    over: dict[str, float],
) -> list[Bend]:
    """Feed, turn and bend of each corner in order."""
    n = len(corners)
    order = [k for k in (*range(1, n), *((0,) if closed else ())) if turns.get(k, (0.0, 0.0))[0] > STRAIGHT]
    rows: list[Bend] = []
    axis: np.ndarray | None = None
    fed = 0.0
    for k in range(1, n + (1 if closed else 0)):
        here = k % n
        leg = k - 1
        angle, back = turns.get(here, (0.0, 0.0))
        fed += sizes[leg] - turns.get(leg % n, (0.0, 0.0))[1] - back
        if here not in order:
            continue
        own = _unit(np.cross(ways[leg], ways[here % len(ways)]))
        turn = 0.0
        if axis is not None:
            turn = math.atan2(float(np.cross(axis, own) @ ways[leg]), float(axis @ own))
        corner = corners[here]
        rows.append(
            Bend(
                tolerance.length(fed),
                tolerance.ratio(turn),
                tolerance.ratio(angle),
                tolerance.ratio(over.get(corner.key, angle)),
                tolerance.length(corner.radius),
                corner.key,
            )
        )
        axis, fed = own, 0.0
    if fed > tolerance.MODELLING:
        rows.append(Bend(tolerance.length(fed), 0.0, 0.0, 0.0, 0.0))
    return rows


def smoothed(corners: list[LeadCorner], closed: bool) -> tuple[PlacedCurve, float]:
    """A smooth curve through points, curvature going over evenly (a cubic spline over the chords), and its length.

    Raises:
        LeadFault: too few points, or two at one place.
    """
    from scipy.interpolate import make_interp_spline

    n = len(corners)
    if n < 3:
        raise LeadFault("a smooth path needs three points at least", "draw on")
    points = np.array([c.at for c in corners])
    if closed:
        points = np.vstack([points, points[:1]])
    steps = np.linalg.norm(np.diff(points, axis=0), axis=1)
    if float(steps.min()) < tolerance.FEATURE:
        raise LeadFault("two points of the path are at one place", "move one of them, or take it out")
    marks = np.concatenate([[0.0], np.cumsum(steps)]) / float(steps.sum())
    if n == 3 and not closed:  # one more point on the parabola through them, so that it is a cubic as all others are
        quadratic = make_interp_spline(marks, points, k=2)
        marks = np.insert(marks, 2, (marks[1] + marks[2]) / 2)
        points = quadratic(marks)
    spline = make_interp_spline(marks, points, k=3, bc_type="periodic" if closed else None)
    clamped = _clamped(spline)
    knots, poles = clamped
    frame = Frame(_vector(points[0]), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    flat = [c for p in poles for c in (p[0] - points[0][0], p[1] - points[0][1])]
    heights = tuple(tolerance.length(float(p[2] - points[0][2])) for p in poles)
    curve = CurveResult(
        "controlled",
        tuple(tolerance.length(float(c)) for c in flat),
        data=tuple(tolerance.ratio(float(k)) for k in knots),
    )
    fine = spline(np.linspace(0.0, 1.0, 4097))
    return PlacedCurve(frame, curve, heights), float(np.linalg.norm(np.diff(fine, axis=0), axis=1).sum())


def _clamped(spline: Any) -> tuple[np.ndarray, np.ndarray]:
    """Knots and poles of a cubic spline from 0 to 1 that begins and ends at its first and last pole."""
    from scipy.interpolate import BSpline, insert

    t, c, k = np.asarray(spline.t, float), np.asarray(spline.c, float), 3
    made = BSpline(t, c, k)
    for end in (0.0, 1.0):
        missing = k - int(np.sum(np.abs(made.t - end) < 1e-14))
        for _ in range(max(0, missing)):
            made = insert(end, made)
    inside = (made.t > -1e-14) & (made.t < 1 + 1e-14)
    first = int(np.argmax(inside))
    knots = made.t[inside]
    knots = np.concatenate(
        [
            [0.0] * max(0, 4 - int(np.sum(np.abs(knots) < 1e-14))),
            knots,
            [1.0] * max(0, 4 - int(np.sum(np.abs(knots - 1) < 1e-14))),
        ]
    )
    count = len(knots) - 4
    return knots, made.c[max(first - 1, 0) : max(first - 1, 0) + count]
