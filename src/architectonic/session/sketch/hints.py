"""What an experienced colleague would remark about a sketch, in a sentence each; nothing is wrong, nothing is asked."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.base.places import FIXED, taken_apart
from architectonic.describe.drawn.readings import place_values
from architectonic.describe.results import SketchResult
from architectonic.family.records import Arc, Circle, Constraint, Line, Sketch, Trace

LARGE = 60
"""Own curves beyond which a sketch is hard to take in."""
ROUNDS = 4
"""Rounded corners that are better rounded on the body."""
COPIES = 12
"""Copied curves that are better made as an operation."""


def hints(sketch: Sketch, solved: SketchResult) -> list[str]:
    """Remarks about a sketch, the weightiest first."""
    return [
        h
        for h in (_untied(sketch), *_off_centre(sketch, solved), _large(sketch), _rounds(sketch), _copies(sketch))
        if h
    ]


def _untied(sketch: Sketch) -> str:
    traced = any(isinstance(c, Trace) for c in sketch.curves.values())
    axes = set(FIXED)
    held = any(axes & set(c.of) or c.kind == "fix" for c in sketch.constraints)
    if not sketch.curves or traced or held:
        return ""
    return "Nothing ties this sketch to the origin or to traced geometry: it can be anywhere."


def _large(sketch: Sketch) -> str:
    own = sum(not isinstance(c, Trace) for c in sketch.curves.values())
    return f"{own} curves in one sketch: two sketches would be easier to understand." if own > LARGE else ""


def _rounds(sketch: Sketch) -> str:
    touching: dict[str, int] = {}
    for c in sketch.constraints:
        if c.kind == "tangent" and any(isinstance(sketch.curves.get(p), Line) for p in c.of):
            for p in c.of:
                if isinstance(sketch.curves.get(p), Arc):
                    touching[p] = touching.get(p, 0) + 1
    count = sum(n == 2 for n in touching.values())
    return (
        f"{count} rounded corners: rounding the edges of the body keeps the sketch simple." if count >= ROUNDS else ""
    )


def _copies(sketch: Sketch) -> str:
    count = sum(len(c.of) // 2 for c in sketch.constraints if c.kind in ("mirrored", "shifted", "turned"))
    return f"{count} copied curves: mirrored or repeated bodies would be easier to change." if count >= COPIES else ""


def _off_centre(sketch: Sketch, solved: SketchResult) -> list[str]:
    """Circles in the middle between two parallel lines that are placed by a number from one of them."""
    found = []
    for c in sketch.constraints:
        if c.kind != "distance" or len(c.of) != 2 or c.value is None or c.value.refs:
            continue
        point, line = c.of
        ring, part = taken_apart(point)
        if (
            part != "centre"
            or not isinstance(sketch.curves.get(ring), Circle)
            or not isinstance(sketch.curves.get(line), Line)
        ):
            continue
        if _central(sketch, solved, c):
            name = c.name or f"{c.value.text}"
            found.append(
                f"A hole in the middle is placed by {name} from an edge: it will not stay in the middle when the width changes."
            )
    return found


def _central(sketch: Sketch, solved: SketchResult, c: Constraint) -> bool:
    x, y = place_values(solved, c.of[0])[:2]
    a = place_values(solved, c.of[1])
    own = _away(a, x, y)
    for key, curve in sketch.curves.items():
        if key == c.of[1] or not isinstance(curve, Line) or curve.helper or key not in solved.curves:
            continue
        b = place_values(solved, key)
        cross = (a[2] - a[0]) * (b[3] - b[1]) - (a[3] - a[1]) * (b[2] - b[0])
        parallel = abs(cross) < tolerance.FEATURE * math.dist(a[:2], a[2:]) * math.dist(b[:2], b[2:])
        if parallel and abs(own + _away(b, x, y)) < tolerance.FEATURE * 10 and abs(own) > tolerance.FEATURE:
            return True
        if parallel and abs(own - _away(b, x, y)) < tolerance.FEATURE * 10 and _opposite(a, b):
            return True
    return False


def _away(v: tuple[float, ...], x: float, y: float) -> float:
    """Distance of a point to the left of a line."""
    size = max(math.dist(v[:2], v[2:]), tolerance.FEATURE)
    return ((v[2] - v[0]) * (y - v[1]) - (v[3] - v[1]) * (x - v[0])) / size


def _opposite(a: tuple[float, ...], b: tuple[float, ...]) -> bool:
    """Whether two parallel lines run against each other, as opposite sides of an outline do."""
    return (a[2] - a[0]) * (b[2] - b[0]) + (a[3] - a[1]) * (b[3] - b[1]) < 0
