"""Corners of lines, rounded or cut: what was measured to a corner stays measured to the place where the lines met."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Sequence
from itertools import combinations
from typing import NamedTuple

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.places import point_on
from architectonic.family import edits
from architectonic.family.records import Constraint, Line, Sketch
from architectonic.session.sketch.sketching import XY, Sketching

STRAIGHT = 1e-6
"""Sine of an angle below which two lines have one direction."""
WHOLE = ("midpoint", "equal")
"""Constraints that speak of a line from end to end."""


class Corner(NamedTuple):
    """Where two lines meet: the ends of both that do, the place, and their far ends."""

    first: str
    second: str
    ends: tuple[str, str]
    at: XY
    far: tuple[XY, XY]


def corner_of(sketch: Sketch, first: str, second: str, verb: str) -> Corner:
    """The corner of two lines.

    Raises:
        UserFault: they are not two lines that share an end.
    """
    a, b = sketch.curves.get(first), sketch.curves.get(second)
    if not isinstance(a, Line) or not isinstance(b, Line):
        raise UserFault(f"choose two lines to {verb} the corner between", sketch.name)
    for i, p in (("start", a.start), ("end", a.end)):
        for j, q in (("start", b.start), ("end", b.end)):
            if math.dist(p, q) < tolerance.MODELLING:
                far = getattr(a, _other(i)), getattr(b, _other(j))
                return Corner(first, second, (i, j), (p[0], p[1]), far)
    raise UserFault("these lines do not meet at an end", sketch.name, "choose two that share a corner")


def corners_in(sketch: Sketch, chosen: Sequence[str]) -> list[tuple[str, str]]:
    """Pairs of lines whose corners are meant: those at chosen points, and those between chosen lines."""
    meeting: dict[tuple[float, float], list[tuple[str, str]]] = defaultdict(list)
    for key, line in sketch.curves.items():
        if isinstance(line, Line):
            for end, (x, y) in (("start", line.start), ("end", line.end)):
                meeting[tolerance.length(x), tolerance.length(y)].append((key, point_on(key, end)))
    meant, found = set(chosen), dict[tuple[str, str], None]()
    for ends in meeting.values():
        for (first, a), (second, b) in combinations(ends, 2):
            if first != second and ({a, b} & meant or {first, second} <= meant):
                found[first, second] = None
    return list(found)


def round_corners(editing: Sketching, pairs: Sequence[tuple[str, str]], radius: str) -> list[str]:
    """Round several corners; one radius drives them all.

    Raises:
        UserFault: there is no corner, or no room for the radius at one of them.
    """
    made: list[str] = []
    for first, second in pairs:
        arc = round_corner(editing, first, second, "" if made else radius, editing.measure(radius))
        if made:
            editing.constrain("equal", made[0], arc)
        made.append(arc)
    return made


def chamfer_corners(editing: Sketching, pairs: Sequence[tuple[str, str]], distance: str) -> list[str]:
    """Cut several corners, each by the same text.

    Raises:
        UserFault: there is no corner, or no room at one of them.
    """
    return [chamfer_corner(editing, first, second, distance) for first, second in pairs]


def round_corner(editing: Sketching, first: str, second: str, radius: str, size: float | None = None) -> str:
    """A tangent arc of a typed radius in the corner where two lines are joined; the lines end on it.

    Args:
        radius: "" when something else decides it; size: mm, where it is known already.

    Raises:
        UserFault: not two lines that share an end, or no room for the radius.
    """
    sketch = editing.drawing.sketch
    corner = corner_of(sketch, first, second, "round")
    units = [tuple((p[k] - corner.at[k]) / math.dist(p, corner.at) for k in (0, 1)) for p in corner.far]
    cross = units[0][0] * units[1][1] - units[0][1] * units[1][0]
    half = math.acos(max(-1.0, min(1.0, units[0][0] * units[1][0] + units[0][1] * units[1][1]))) / 2
    if abs(cross) < STRAIGHT:
        raise UserFault("these lines lie in one direction: there is no corner", sketch.name)
    r = editing.measure(radius) if size is None else size
    reach = r / math.tan(half)
    if r < tolerance.FEATURE or reach >= min(math.dist(p, corner.at) for p in corner.far):
        raise UserFault(f"there is no room for a radius of {r:g} mm", sketch.name, "make it smaller")
    touch = [(corner.at[0] + reach * u[0], corner.at[1] + reach * u[1]) for u in units]
    middle = ((units[0][0] + units[1][0]) / 2, (units[0][1] + units[1][1]) / 2)
    centre = tuple(corner.at[k] + r / math.sin(half) * middle[k] / math.hypot(*middle) for k in (0, 1))
    _carry_over(editing, corner)
    _shorten(editing, corner, touch)
    ends = touch if cross < 0 else touch[::-1]  # counter-clockwise about the centre
    arc = editing.drawing.arc((centre[0], centre[1]), ends[0], ends[1])
    names = ("start", "end") if cross < 0 else ("end", "start")
    for line, end, name in zip((first, second), corner.ends, names, strict=True):
        editing.constrain("coincident", point_on(line, end), point_on(arc, name))
    editing.constrain("tangent", first, arc)
    editing.constrain("tangent", second, arc)
    if radius:
        editing.constrain("radius", arc, value=radius)
    return arc


def chamfer_corner(editing: Sketching, first: str, second: str, distance: str) -> str:
    """A straight cut across the corner of two lines, equally far along both; the distances are dimensions.

    Raises:
        UserFault: not two lines that share an end, or no room for the cut.
    """
    corner = corner_of(editing.drawing.sketch, first, second, "chamfer")
    d = editing.measure(distance)
    if d < tolerance.FEATURE or d >= min(math.dist(p, corner.at) for p in corner.far):
        raise UserFault(f"there is no room for a chamfer of {d:g} mm", editing.drawing.sketch.name, "make it smaller")
    cuts = [(corner.at[0] + d * (p[0] - corner.at[0]) / math.dist(p, corner.at), corner.at[1] + d * (p[1] - corner.at[1]) / math.dist(p, corner.at)) for p in corner.far]  # fmt: skip
    tip = _carry_over(editing, corner, always=True)
    _shorten(editing, corner, cuts)
    made = editing.drawing.line(cuts[0], cuts[1])
    editing.constrain("coincident", point_on(made, "start"), point_on(first, corner.ends[0]))
    editing.constrain("coincident", point_on(made, "end"), point_on(second, corner.ends[1]))
    editing.constrain("distance", point_on(made, "start"), tip, value=distance)
    editing.constrain("distance", point_on(made, "end"), tip, value=distance)
    return made


def _shorten(editing: Sketching, corner: Corner, to: Sequence[XY]) -> None:
    for line, end, place in zip((corner.first, corner.second), corner.ends, to, strict=True):
        editing.shorten(line, end, place)


def _other(end: str) -> str:
    return "end" if end == "start" else "start"


def _carry_over(editing: Sketching, corner: Corner, always: bool = False) -> str:
    """Let what holds the corner or the whole of its lines hold the place where they met: a point on both of them. What
    speaks of a line from end to end, such as its middle, goes to a helper line that stays as long as the line was.

    Returns:
        The point; "" when nothing needed one, and none was asked for.
    """
    lines = list(zip((corner.first, corner.second), corner.ends, corner.far, strict=True))
    places = [point_on(line, end) for line, end, _ in lines]
    held = {c.id for c in editing.drawing.sketch.constraints if _speaks(c, corner, places)}
    if not held and not always:
        return ""
    tip = editing.drawing.point(corner.at)
    for line, end, far in lines:
        sketch, whole = editing.drawing.sketch, ""
        if any(c.id in held and c.kind in WHOLE and line in c.of for c in sketch.constraints):
            whole = editing.drawing.line(*((corner.at, far) if end == "start" else (far, corner.at)), helper=True)
        place, other = point_on(line, end), point_on(line, _other(end))
        carried = tuple(_moved(c, line, place, other, tip, whole) if c.id in held else c for c in sketch.constraints)
        editing.drawing.sketch = edits.replace(editing.drawing.sketch, constraints=carried)
        if whole:
            editing.drawing.constrain("coincident", point_on(whole, end), tip)
            editing.drawing.constrain("coincident", point_on(whole, _other(end)), other)
    for line in (corner.first, corner.second):
        editing.drawing.constrain("on_curve", tip, line)
    return tip


def _speaks(c: Constraint, corner: Corner, places: Sequence[str]) -> bool:
    """Whether a constraint holds the corner or the whole of one of its lines; that they meet there is none of it."""
    if c.kind == "coincident" and set(c.of) == set(places):
        return False
    if any(p in places for p in c.of):
        return True
    lines = {corner.first, corner.second}
    return (c.kind in WHOLE and bool(lines & set(c.of))) or (
        c.kind == "distance" and len(c.of) == 1 and c.of[0] in lines
    )


def _moved(c: Constraint, line: str, place: str, far: str, tip: str, whole: str) -> Constraint:
    """A constraint with the corner, or the whole line, in place of a line that gets shorter."""
    if c.kind == "distance" and c.of == (line,):
        return edits.replace(c, of=(whole,) if whole else (tip, far) if place.endswith("start") else (far, tip))
    if c.kind in WHOLE and line in c.of and whole:
        return edits.replace(c, of=tuple(whole if p == line else p for p in c.of))
    if place in c.of:
        return edits.replace(c, of=tuple(tip if p == place else p for p in c.of))
    return c
