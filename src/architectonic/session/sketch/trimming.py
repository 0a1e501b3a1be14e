"""Trimming, lengthening and splitting curves at the nearest crossings around a click.

The piece with the curve's start keeps its id, radius and length dimensions; what held a point goes with that point
(docs/decisions/0011). New ends stay on the curve that cut them. A part of a spline is the spline through the points
that it had there and the two where it was cut, with the directions it had: exactly the same curve.
"""

from __future__ import annotations

import math

import numpy as np

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.places import curve_of, point_on
from architectonic.describe.drawn.curves import as_piece, ends_of, path_of
from architectonic.describe.drawn.readings import XY
from architectonic.describe.results import CurveResult, SketchResult
from architectonic.family import edits
from architectonic.family.records import Arc, Circle, Curve, Ellipse, EllipticArc, Line, Spline, Trace
from architectonic.session.sketch.sketching import Sketching, drawn
from architectonic.sketch.curves import paths
from architectonic.sketch.curves.meetings import meetings
from architectonic.sketch.curves.piece import Piece
from architectonic.sketch.curves.piece import line as straight

NEAR = 1e-6
"""Share of a curve from its ends within which a crossing is the end itself."""
Cut = tuple[float, XY, str]
"""Where along a curve (0 to 1; of a closed one from where it begins), the point, and which curve crosses there."""


def _drawn_here(editing: Sketching, key: str, what: str) -> Curve:
    """The record of a curve.

    Raises:
        UserFault: it is traced, gone, a point or a text.
    """
    sketch = editing.drawing.sketch
    curve = sketch.curves.get(key)
    if not key:
        raise UserFault("there is no curve under the click", sketch.name, "click on the curve itself")
    if curve is None or isinstance(curve, Trace):
        raise UserFault(f"only curves drawn here can be {what}", sketch.name, "change it where it comes from")
    if not isinstance(curve, (Line, Circle, Arc, Ellipse, EllipticArc, Spline)):
        raise UserFault(f"this cannot be {what}", sketch.name, "choose a curve")
    return curve


def _now(editing: Sketching) -> SketchResult:
    now = drawn(editing.drawing.sketch)
    return SketchResult({**now.curves, **(editing.drawing.traced or {})}, 0, (), 0.0, ())


def trim(editing: Sketching, key: str, at: XY) -> None:
    """Take away the part of a curve around a place, up to the nearest crossings; all of it when nothing crosses.

    Raises:
        UserFault: the curve is traced or gone.
    """
    curve = _drawn_here(editing, key, "trimmed")
    solved = _now(editing)
    cuts = _cuts(solved, key)
    where = _along(solved, key, at)
    if isinstance(curve, (Circle, Ellipse)):
        if len(cuts) < 2:
            editing.delete(key)
            return
        last = max((c for c in cuts if c[0] < where), default=cuts[-1])
        first = min((c for c in cuts if c[0] > where), default=cuts[0])
        _replace(editing, key, _part_of(curve, solved.curves[key], first[0], last[0] + (last[0] <= first[0])))
        _stay(editing, point_on(key, "start"), first)
        _stay(editing, point_on(key, "end"), last)
        return
    before = max((c for c in cuts if c[0] < where), default=None)
    after = min((c for c in cuts if c[0] > where), default=None)
    if before is None and after is None:
        editing.delete(key)
    elif before is None and after is not None:
        _end(editing, key, "start", after, _part_of(curve, solved.curves[key], after[0], 1.0))
    elif after is None and before is not None:
        _end(editing, key, "end", before, _part_of(curve, solved.curves[key], 0.0, before[0]))
    elif before is not None and after is not None:
        new = _two(editing, key, before[0], after[0])
        _stay(editing, point_on(key, "end"), before)
        _stay(editing, point_on(new, "start"), after)


def split(editing: Sketching, key: str, at: XY, within: float = 0.0) -> str:
    """Part a curve in two that stay joined: at the crossing nearest to a place if one is near, else there.

    Returns:
        The new piece; the one with the start keeps the id.

    Raises:
        UserFault: it is traced, closed, or the place is one of its ends.
    """
    curve = _drawn_here(editing, key, "split")
    sketch = editing.drawing.sketch
    if isinstance(curve, (Circle, Ellipse)):
        raise UserFault("a closed curve has no ends to split between", sketch.name, "trim it at two crossings")
    solved = _now(editing)
    near = [c for c in _cuts(solved, key) if math.dist(c[1], at) <= within]
    cut = min(near, key=lambda c: math.dist(c[1], at), default=None)
    t = cut[0] if cut else _along(solved, key, at)
    if not NEAR < t < 1 - NEAR:
        raise UserFault("there is nothing to split at its end", sketch.name, "click on the curve between its ends")
    new = _two(editing, key, t, t)
    if cut:
        _stay(editing, point_on(key, "end"), cut)
    return new


def extend(editing: Sketching, key: str, at: XY) -> None:
    """Lengthen the end of a line or arc that is nearer to a place, up to the next curve that it meets.

    Raises:
        UserFault: another kind of curve, or nothing lies ahead.
    """
    curve = _drawn_here(editing, key, "lengthened")
    sketch = editing.drawing.sketch
    if not isinstance(curve, (Line, Arc)):
        raise UserFault("lines and arcs can be lengthened", sketch.name, "draw on from its end")
    end = "start" if math.dist(curve.start, at) < math.dist(curve.end, at) else "end"
    solved = _now(editing)
    tip, ahead = getattr(curve, end), _ahead(curve, end, solved)
    found: list[tuple[float, XY, str]] = []
    for other, c in solved.curves.items():
        if other == key or c.kind in ("point", "text"):
            continue
        for p in meetings(ahead, as_piece(other, c), tolerance.MODELLING):
            far = _way(curve, end, p)
            if math.dist(p, tip) > tolerance.FEATURE and far > 0:
                found.append((far, p, other))
    if not found:
        raise UserFault("nothing lies ahead of this end", sketch.name, "draw what it shall end on first")
    _, point, other = min(found)
    on_grid = (tolerance.length(point[0]), tolerance.length(point[1]))
    _end(editing, key, end, (0.0, point, other), edits.replace(curve, **{end: on_grid}))


def _ahead(curve: Line | Arc, end: str, solved: SketchResult) -> Piece:
    """Where a curve would go on to beyond an end: far along the line, or the rest of the circle."""
    if isinstance(curve, Line):
        a, b = (curve.start, curve.end) if end == "end" else (curve.end, curve.start)
        size = math.dist(a, b)
        reach = 10 * max([size, *(abs(v) for c in solved.curves.values() for v in c.values)])
        return straight("", b, (b[0] + (b[0] - a[0]) / size * reach, b[1] + (b[1] - a[1]) / size * reach))
    r = math.dist(curve.centre, curve.start)
    return as_piece("", CurveResult("arc", (*curve.centre, *curve.end, *curve.start, r)))


def _way(curve: Line | Arc, end: str, p: XY) -> float:
    """How far beyond an end a place lies along the curve."""
    tip = getattr(curve, end)
    if isinstance(curve, Line):
        return math.dist(tip, p)
    turns = [math.atan2(q[1] - curve.centre[1], q[0] - curve.centre[0]) for q in (tip, p)]
    return (turns[1] - turns[0] if end == "end" else turns[0] - turns[1]) % math.tau


def _cuts(solved: SketchResult, key: str) -> list[Cut]:
    """Crossings with other curves between the ends, in order along the curve."""
    own = solved.curves[key]
    piece = as_piece(key, own)
    found: list[Cut] = []
    for other, curve in solved.curves.items():
        if other == key or curve.kind in ("point", "text"):
            continue
        for p in meetings(piece, as_piece(other, curve), tolerance.MODELLING):
            t = _along(solved, key, p)
            if own.kind in ("circle", "ellipse") or NEAR < t < 1 - NEAR:
                found.append((t, p, other))
    return sorted(found)


def _along(solved: SketchResult, key: str, p: XY) -> float:
    """How far along a curve the place nearest to a point lies."""
    c = solved.curves[key]
    v = c.values
    if c.kind == "line":
        dx, dy = v[2] - v[0], v[3] - v[1]
        return ((p[0] - v[0]) * dx + (p[1] - v[1]) * dy) / max(dx * dx + dy * dy, tolerance.FEATURE**2)
    if c.kind not in ("circle", "arc"):
        piece = as_piece(key, c)
        assert piece.path is not None
        t = paths.nearest(piece.path, p, *piece.span)
        return (t - piece.span[0]) / (piece.span[1] - piece.span[0])
    turn = math.atan2(p[1] - v[1], p[0] - v[0])
    if c.kind == "circle":
        return (turn % math.tau) / math.tau
    begin, stop = (math.atan2(v[i + 1] - v[1], v[i] - v[0]) for i in (2, 4))
    sweep = (stop - begin) % math.tau
    return ((turn - begin) % math.tau) / sweep


def _part_of(curve: Curve, now: CurveResult, t0: float, t1: float) -> Curve:
    """The part of a curve between two shares of its way."""
    piece = as_piece("", now)
    a, b = ((tolerance.length(x), tolerance.length(y)) for x, y in (piece.at(t0), piece.at(t1)))
    if isinstance(curve, (Line, Arc, EllipticArc)):
        return edits.replace(curve, start=a, end=b)
    if isinstance(curve, Circle):
        return Arc(centre=curve.centre, start=a, end=b, helper=curve.helper)
    if isinstance(curve, Ellipse):
        return EllipticArc(
            centre=curve.centre, along=curve.along, across=curve.across, start=a, end=b, helper=curve.helper
        )
    assert isinstance(curve, Spline)
    path = path_of(now)
    low, high = (piece.span[0] + t * (piece.span[1] - piece.span[0]) for t in (t0, t1))
    inner = [k for k in sorted(set(path.knots)) if low + NEAR < k < high - NEAR]
    marks = np.array([low, *inner, high])
    points, slopes = paths.at(path, marks), paths.at(path, marks[[0, -1]], 1)
    steps = (marks[1] - marks[0], marks[-1] - marks[-2])
    handles = (points[0] + slopes[0] * steps[0] / 3, points[-1] - slopes[1] * steps[1] / 3)
    return Spline(
        points=tuple((tolerance.length(float(x)), tolerance.length(float(y))) for x, y in points),
        handles=tuple((tolerance.length(float(x)), tolerance.length(float(y))) for x, y in handles),
        parameters=tuple(tolerance.ratio(float((m - low) / (high - low))) for m in marks),
        helper=curve.helper,
    )


def _replace(editing: Sketching, key: str, curve: Curve) -> None:
    sketch = editing.drawing.sketch
    editing.drawing.sketch = edits.replace(sketch, curves={**sketch.curves, key: curve})


def _stay(editing: Sketching, place: str, cut: Cut) -> None:
    """A new end is joined to the end of what cut it when that lies there, else it stays on the curve."""
    for end, point in ends_of(editing.drawing.sketch.curves.get(cut[2])):
        if math.dist(point, cut[1]) < tolerance.MODELLING * 10:
            editing.try_constraint("coincident", place, point_on(cut[2], end))
            return
    editing.try_constraint("on_curve", place, cut[2])


def _end(editing: Sketching, key: str, end: str, cut: Cut, shorter: Curve) -> None:
    """The curve now ends at a cut; what its old end was joined to is let go of."""
    editing.let_go(key, end)
    _let_points_go(editing, key, shorter)
    _replace(editing, key, shorter)
    _stay(editing, point_on(key, end), cut)


def _let_points_go(editing: Sketching, key: str, shorter: Curve) -> None:
    """Inner points and handles of a spline are other ones now: what held them is let go of."""
    if not isinstance(shorter, Spline):
        return
    sketch = editing.drawing.sketch
    ends = {key, point_on(key, "start"), point_on(key, "end")}
    kept = tuple(c for c in sketch.constraints if all(curve_of(p) != key or p in ends for p in c.of))
    editing.drawing.sketch = edits.replace(sketch, constraints=kept)


def _two(editing: Sketching, key: str, t0: float, t1: float) -> str:
    """What lies between two shares goes: the first part keeps the id, a new curve takes the end and what held it."""
    sketch = editing.drawing.sketch
    curve, now = sketch.curves[key], _now(editing).curves[key]
    first, last = _part_of(curve, now, 0.0, t0), _part_of(curve, now, t1, 1.0)
    new = editing.drawing.add(last)
    sketch = editing.drawing.sketch
    moved = tuple(
        edits.replace(c, of=tuple(point_on(new, "end") if p == point_on(key, "end") else p for p in c.of))
        for c in sketch.constraints
    )
    editing.drawing.sketch = edits.replace(sketch, constraints=moved)
    editing.let_go(key, "end")
    _let_points_go(editing, key, first)
    _replace(editing, key, first)
    joined = t0 == t1
    if joined:
        editing.try_constraint("coincident", point_on(key, "end"), point_on(new, "start"))
    if isinstance(curve, Line):
        editing.try_constraint(*(("on_curve", point_on(new, "end"), key) if joined else ("collinear", key, new)))
    elif isinstance(curve, (Arc, EllipticArc)):
        editing.try_constraint("concentric", key, new)
    if isinstance(curve, Arc):
        editing.try_constraint("equal", key, new)
    elif isinstance(curve, EllipticArc):
        editing.try_constraint("coincident", point_on(key, "along"), point_on(new, "along"))
        editing.try_constraint("on_curve", point_on(new, "across"), key)
    return new
