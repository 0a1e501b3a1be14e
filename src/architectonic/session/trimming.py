"""Trimming a curve to the nearest crossings around a click.

The piece with the curve's start keeps its id, radius and length dimensions; what held a point goes with that point
(docs/decisions/0011). New ends stay on the curve that cut them.
"""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.describe.curves import as_piece
from architectonic.describe.readings import XY
from architectonic.describe.results import SketchResult
from architectonic.family import edits
from architectonic.family.records import Arc, Circle, Line, Trace
from architectonic.session.sketching import Sketching, drawn
from architectonic.sketch.regions import meetings

NEAR = 1e-6
"""Share of a curve from its ends within which a crossing is the end itself."""
Cut = tuple[float, XY, str]
"""Where along a curve (0 to 1; of a circle from its rightmost point), the point, and which curve crosses there."""


def trim(editing: Sketching, key: str, at: XY) -> None:
    """Take away the part of a curve around a place, up to the nearest crossings; all of it when nothing crosses.

    Raises:
        UserFault: the curve is traced or gone.
    """
    sketch = editing.drawing.sketch
    curve = sketch.curves.get(key)
    if curve is None or isinstance(curve, Trace):
        raise UserFault("only curves drawn here can be trimmed", sketch.name, "trim it where it comes from")
    now = drawn(sketch)
    solved = SketchResult({**now.curves, **(editing.drawing.traced or {})}, 0, (), 0.0, ())
    cuts = _cuts(solved, key)
    where = _along(solved, key, at)
    if isinstance(curve, Circle):
        if len(cuts) < 2:
            editing.delete(key)
            return
        last = max((c for c in cuts if c[0] < where), default=cuts[-1])
        first = min((c for c in cuts if c[0] > where), default=cuts[0])
        _replace(editing, key, Arc(centre=curve.centre, start=first[1], end=last[1], helper=curve.helper))
        _stay(editing, f"{key}.start", first)
        _stay(editing, f"{key}.end", last)
        return
    before = max((c for c in cuts if c[0] < where), default=None)
    after = min((c for c in cuts if c[0] > where), default=None)
    if before is None and after is None:
        editing.delete(key)
    elif before is None and after is not None:
        _end(editing, key, "start", after)
    elif after is None and before is not None:
        _end(editing, key, "end", before)
    elif before is not None and after is not None:
        _part(editing, key, before, after)


def _cuts(solved: SketchResult, key: str) -> list[Cut]:
    """Crossings with other curves between the ends, in order along the curve."""
    piece = as_piece(key, solved.curves[key])
    found: list[Cut] = []
    for other, curve in solved.curves.items():
        if other == key or curve.kind == "point":
            continue
        for p in meetings(piece, as_piece(other, curve), tolerance.MODELLING):
            t = _along(solved, key, p)
            if solved.curves[key].kind == "circle" or NEAR < t < 1 - NEAR:
                found.append((t, p, other))
    return sorted(found)


def _along(solved: SketchResult, key: str, p: XY) -> float:
    """How far along a curve the place nearest to a point lies."""
    c = solved.curves[key]
    v = c.values
    if c.kind == "line":
        dx, dy = v[2] - v[0], v[3] - v[1]
        return ((p[0] - v[0]) * dx + (p[1] - v[1]) * dy) / max(dx * dx + dy * dy, tolerance.FEATURE**2)
    turn = math.atan2(p[1] - v[1], p[0] - v[0])
    if c.kind == "circle":
        return (turn % math.tau) / math.tau
    begin, stop = (math.atan2(v[i + 1] - v[1], v[i] - v[0]) for i in (2, 4))
    sweep = (stop - begin) % math.tau
    return ((turn - begin) % math.tau) / sweep


def _replace(editing: Sketching, key: str, curve: Line | Arc) -> None:
    sketch = editing.drawing.sketch
    editing.drawing.sketch = edits.replace(sketch, curves={**sketch.curves, key: curve})


def _stay(editing: Sketching, place: str, cut: Cut) -> None:
    """A new end is joined to the end of what cut it when that lies there, else it stays on the curve."""
    curve = editing.drawing.sketch.curves.get(cut[2])
    for end in ("start", "end"):
        point = getattr(curve, end, None)
        if point is not None and math.dist(point, cut[1]) < tolerance.MODELLING * 10:
            editing.try_constraint("coincident", place, f"{cut[2]}.{end}")
            return
    editing.try_constraint("on_curve", place, cut[2])


def _end(editing: Sketching, key: str, end: str, cut: Cut) -> None:
    """The curve now ends at a cut; what its old end was joined to is let go of."""
    editing.shorten(key, end, cut[1])
    editing.try_constraint("on_curve", f"{key}.{end}", cut[2])


def _part(editing: Sketching, key: str, before: Cut, after: Cut) -> None:
    """The middle goes: the first part keeps the id, a new curve takes the end and what held it."""
    sketch = editing.drawing.sketch
    curve = sketch.curves[key]
    assert isinstance(curve, (Line, Arc))
    if isinstance(curve, Line):
        new = editing.drawing.line(after[1], curve.end, curve.helper)
    else:
        new = editing.drawing.arc(curve.centre, after[1], curve.end, curve.helper)
    sketch = editing.drawing.sketch
    moved = tuple(
        edits.replace(c, of=tuple(f"{new}.end" if p == f"{key}.end" else p for p in c.of)) for c in sketch.constraints
    )
    editing.drawing.sketch = edits.replace(sketch, constraints=moved)
    editing.shorten(key, "end", before[1])
    if isinstance(curve, Line):
        editing.try_constraint("collinear", key, new)
    else:
        editing.try_constraint("concentric", key, new)
        editing.try_constraint("equal", key, new)
    _stay(editing, f"{key}.end", before)
    _stay(editing, f"{new}.start", after)
