"""What a solved sketch measures: places, the points that a length lies between, and the figure of every dimension."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence

from architectonic.base import tolerance
from architectonic.base.places import AXES, FIXED, ORIGIN, X_AXIS, Y_AXIS, curve_of, point_on, taken_apart
from architectonic.describe.drawn.curves import as_piece
from architectonic.describe.results import CurveResult, SketchResult
from architectonic.sketch.curves import kinds, paths

XY = tuple[float, float]
FULL = 1e-9
"""Less than a full turn by so little (rad), an angle is none."""


def measured(solved: SketchResult, kind: str, places: Sequence[str]) -> float:
    """What a dimension would read now: mm, or rad of an angle; 0 where it has no meaning."""
    if kind in ("offset", "shifted", "turned"):
        return _between_images(solved, kind, places)
    at = [place_values(solved, p) for p in places]
    first = at[0]
    if kind in ("radius", "diameter"):
        radius = first[2] if len(first) == 3 else first[6]
        return 2 * radius if kind == "diameter" else radius
    if kind == "arc_length":
        turns = [math.atan2(first[i + 1] - first[1], first[i] - first[0]) for i in (2, 4)]
        return first[6] * ((turns[1] - turns[0]) % math.tau)
    if kind == "angle":
        return abs(math.remainder(_turned(solved, places), math.tau))
    (x0, y0), (x1, y1) = between(solved, places)
    found = {"horizontal_distance": x1 - x0, "vertical_distance": y1 - y0}
    return abs(found.get(kind, math.hypot(x1 - x0, y1 - y0)))


def read_out(solved: SketchResult, kind: str, places: Sequence[str], branch: int) -> float:
    """What a read-out says. Across and up from the origin or an axis have a sign; an angle is turned through from the
    first to the second on the side on which it was made, from an axis always counter-clockwise, from 0 to 360 degrees.
    """
    along = {"horizontal_distance": 0, "vertical_distance": 1}.get(kind)
    if along is not None and len(places) == 2 and any(p in FIXED for p in places):
        ends = between(solved, places)
        first, other = ends if places[0] in FIXED else ends[::-1]
        return other[along] - first[along]
    if kind == "angle":
        turned = _turned(solved, places) * (1 if places[0] in AXES else branch)
        found = turned % math.tau
        return 0.0 if math.tau - found < FULL else found
    return measured(solved, kind, places)


def _turned(solved: SketchResult, places: Sequence[str]) -> float:
    """From the first to the second direction, counter-clockwise, rad."""
    at = [place_values(solved, p) for p in places]
    if len(at) == 3:
        turns = [math.atan2(at[i][1] - at[1][1], at[i][0] - at[1][0]) for i in (0, 2)]
    else:
        turns = [math.atan2(v[3] - v[1], v[2] - v[0]) for v in at]
    return turns[1] - turns[0]


def between(solved: SketchResult, places: Sequence[str]) -> tuple[XY, XY]:
    """The two points that a length lies between: ends of a line, two points, the foot on a line, two rims."""
    at = [place_values(solved, p) for p in places[:2]]
    a = at[0]
    if len(at) == 1:
        return (a[0], a[1]), (a[2], a[3])
    b = at[1]
    if len(a) in (3, 7) and len(b) in (3, 7):
        (ux, uy), apart = (b[0] - a[0], b[1] - a[1]), max(math.dist(a[:2], b[:2]), tolerance.FEATURE)
        if apart <= tolerance.FEATURE:  # one centre: between their rims, at a slant
            share = math.sqrt(0.5)
            return (a[0] + a[-1] * share, a[1] + a[-1] * share), (b[0] + b[-1] * share, b[1] + b[-1] * share)
        ra, rb = a[2 if len(a) == 3 else 6] / apart, b[2 if len(b) == 3 else 6] / apart
        return (a[0] + ra * ux, a[1] + ra * uy), (b[0] - rb * ux, b[1] - rb * uy)
    if len(a) == 4 and len(b) == 4:  # from the second line's start to the first line
        a, b = b[:2], a
    if len(b) == 4:
        dx, dy = b[2] - b[0], b[3] - b[1]
        t = ((a[0] - b[0]) * dx + (a[1] - b[1]) * dy) / max(dx * dx + dy * dy, tolerance.FEATURE**2)
        return (a[0], a[1]), (b[0] + t * dx, b[1] + t * dy)
    return (a[0], a[1]), (b[0], b[1])


def knows(solved: SketchResult, places: Iterable[str]) -> bool:
    """Whether a solution has all of these places: one of before an edit lacks what the edit drew."""
    return all(p in FIXED or curve_of(p) in solved.curves for p in places)


def place_values(solved: SketchResult, place: str) -> tuple[float, ...]:
    """Coordinates of a point, or the values of a curve; axes as lines of unit length."""
    fixed: dict[str, tuple[float, ...]] = {
        ORIGIN: (0.0, 0.0),
        X_AXIS: (0.0, 0.0, 1.0, 0.0),
        Y_AXIS: (0.0, 0.0, 0.0, 1.0),
    }
    if place in fixed:
        return fixed[place]
    key, part = taken_apart(place)
    curve = solved.curves[key]
    if not part:
        return curve.values
    i = kinds.names_of(curve.kind, len(curve.values)).index(f"{part}.x")
    return curve.values[i : i + 2]


def point_values(solved: SketchResult, place: str) -> XY:
    """Coordinates of a point, in the sketch's plane."""
    values = place_values(solved, place)
    return values[0], values[1]


def _between_images(solved: SketchResult, kind: str, places: Sequence[str]) -> float:
    """How far the first copy lies from its original: a distance, a way along a line, or an angle about a point."""
    a, b = (solved.curves[p] for p in (places[:2] if kind == "offset" else places[1:3]))
    if kind == "offset" and a.kind != "line":
        i = 2 if a.kind == "circle" else 6
        return abs(b.values[i] - a.values[i])
    if kind == "offset":
        (x0, y0), (x1, y1) = between(solved, places[:2])
        return math.hypot(x1 - x0, y1 - y0)
    if kind == "shifted":
        return math.dist(a.values[:2], b.values[:2])
    x, y = point_values(solved, places[0])
    # of its points the farthest from the centre tells the angle best
    k = max(range(0, len(a.values) - 1, 2), key=lambda i: math.dist(a.values[i : i + 2], (x, y)))
    turns = [math.atan2(c.values[k + 1] - y, c.values[k] - x) for c in (a, b)]
    return (turns[1] - turns[0]) % math.tau


def middle(curve: CurveResult) -> XY:
    """The middle of a curve, in its plane."""
    v = curve.values
    if curve.kind in ("line", "text"):
        return ((v[0] + v[2]) / 2, (v[1] + v[3]) / 2)
    if curve.kind in kinds.SPLINES:
        return as_piece("", curve).at(0.5)
    return (v[0], v[1])


def extent(curve: CurveResult) -> float | None:
    """Length of a line, radius of a circle or arc, longer half axis of an ellipse; nothing of others."""
    v = curve.values
    if curve.kind == "line":
        return math.hypot(v[2] - v[0], v[3] - v[1])
    if curve.kind in ("ellipse", "elliptic_arc"):
        return max(math.dist(v[:2], v[2:4]), math.dist(v[:2], v[4:6]))
    return {"circle": v[2:3], "arc": v[6:7]}.get(curve.kind, (None,))[0]


def samples(c: CurveResult) -> list[XY]:
    """Points along a curve, close enough for a picture or to tell whether a box crosses it; of a text its box."""
    v = c.values
    if c.kind == "line":
        return [(v[0] + (v[2] - v[0]) * k / 24, v[1] + (v[3] - v[1]) * k / 24) for k in range(25)]
    if c.kind == "point":
        return [(v[0], v[1])]
    if c.kind == "text":
        far = (v[2] + v[4] - v[0], v[3] + v[5] - v[1])
        corners = [(v[0], v[1]), (v[2], v[3]), far, (v[4], v[5]), (v[0], v[1])]
        return [
            (a[0] + (b[0] - a[0]) * k / 8, a[1] + (b[1] - a[1]) * k / 8)
            for a, b in itertools.pairwise(corners)
            for k in range(9)
        ]
    if c.kind not in ("circle", "arc"):
        return as_piece("", c).points()
    r, begin, sweep = (v[2], 0.0, math.tau) if c.kind == "circle" else (v[6], 0.0, 0.0)
    if c.kind == "arc":
        begin = math.atan2(v[3] - v[1], v[2] - v[0])
        sweep = (math.atan2(v[5] - v[1], v[4] - v[0]) - begin) % math.tau
    return [
        (v[0] + r * math.cos(begin + sweep * k / 32), v[1] + r * math.sin(begin + sweep * k / 32)) for k in range(33)
    ]


def foot(c: CurveResult, p: XY) -> XY:
    """The point of a curve that is nearest to a place; of a text the nearest of its box."""
    v = c.values
    if c.kind == "line":
        dx, dy = v[2] - v[0], v[3] - v[1]
        t = ((p[0] - v[0]) * dx + (p[1] - v[1]) * dy) / max(dx * dx + dy * dy, tolerance.FEATURE**2)
        t = max(0.0, min(1.0, t))
        return v[0] + t * dx, v[1] + t * dy
    if c.kind == "point":
        return v[0], v[1]
    if c.kind == "text":
        return min(samples(c), key=lambda q: math.dist(p, q))
    if c.kind in ("circle", "arc"):
        r, away = v[-1], math.dist(p, v[:2])
        if away < tolerance.FEATURE:
            return v[0] + r, v[1]
        q = (v[0] + (p[0] - v[0]) * r / away, v[1] + (p[1] - v[1]) * r / away)
        if c.kind == "arc":
            turns = [math.atan2(y - v[1], x - v[0]) for x, y in (v[2:4], v[4:6], q)]
            if (turns[2] - turns[0]) % math.tau > (turns[1] - turns[0]) % math.tau:
                return min((v[2], v[3]), (v[4], v[5]), key=lambda end: math.dist(end, p))
        return q
    piece = as_piece("", c)
    assert piece.path is not None
    return paths.point(piece.path, paths.nearest(piece.path, p, *piece.span))


def plainly(kind: str, of: Sequence[str], solved: SketchResult) -> tuple[str, tuple[str, ...]]:
    """The dimension between original and first copy that says the same as one of a pattern or offset."""
    if kind == "offset":
        return "distance", tuple(of[:2])
    if kind not in ("shifted", "turned"):
        return kind, tuple(of)
    curve = solved.curves[of[1]]
    part = kinds.names_of(curve.kind, len(curve.values))[0].removesuffix(".x")
    ends = [k if curve.kind == "point" else point_on(k, part) for k in of[1:3]]
    return ("distance", (ends[0], ends[1])) if kind == "shifted" else ("angle", (ends[0], of[0], ends[1]))


def figures(c: CurveResult) -> list[tuple[str, float]]:
    """What one would ask about a curve: its sizes in words, mm."""
    v = c.values
    if c.kind == "line":
        return [("Length", math.dist(v[:2], v[2:]))]
    if c.kind == "circle":
        return [("Diameter", 2 * v[2])]
    if c.kind in ("ellipse", "elliptic_arc"):
        return [("First half axis", math.dist(v[:2], v[2:4])), ("Second half axis", math.dist(v[:2], v[4:6]))]
    if c.kind == "text":
        return [("Height of capitals", math.dist(v[:2], v[4:])), ("Width", math.dist(v[:2], v[2:4]))]
    if c.kind == "point":
        return [("Across", v[0]), ("Up", v[1])]
    length = as_piece("", c).length()
    return [("Radius", v[6]), ("Length", length)] if c.kind == "arc" else [("Length, about", length)]
