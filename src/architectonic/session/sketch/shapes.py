"""Shapes of several curves, drawn at once with the constraints that make them what they are."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.places import AXES, point_on, taken_apart
from architectonic.describe.drawn.curves import as_piece, drawn_result
from architectonic.family.records import Arc, EllipticArc, Line, Spline
from architectonic.session.sketch.sketching import XY, Sketching
from architectonic.session.sketch.snapping import Snapped

STRAIGHT = 1e-6
"""Sine of an angle below which two lines have one direction."""


def slot(editing: Sketching, first: Snapped, second: Snapped, side: XY) -> tuple[str, str, str, str]:
    """Two half circles about two centres, and the lines that touch both; `side` lies on the outline.

    Raises:
        UserFault: no length or no width.
    """
    (ax, ay), (bx, by) = first.at, second.at
    ux, uy = _heading(editing, first.at, second.at, "a slot needs two different centres")
    r = abs(ux * (side[1] - ay) - uy * (side[0] - ax))
    if r < tolerance.FEATURE:
        raise UserFault("a slot needs a width", editing.drawing.sketch.name)
    nx, ny = -uy * r, ux * r
    d = editing.drawing
    low = d.line((ax - nx, ay - ny), (bx - nx, by - ny))
    end = d.arc(second.at, (bx - nx, by - ny), (bx + nx, by + ny))
    high = d.line((bx + nx, by + ny), (ax + nx, ay + ny))
    start = d.arc(first.at, (ax + nx, ay + ny), (ax - nx, ay - ny))
    for a, b in ((low, end), (end, high), (high, start), (start, low)):
        editing.try_constraint("coincident", point_on(a, "end"), point_on(b, "start"))
    for line, arc in ((low, end), (high, end), (high, start), (low, start)):
        editing.try_constraint("tangent", line, arc)
    editing.try_constraint("equal", end, start)
    editing.join(point_on(start, "centre"), first)
    editing.join(point_on(end, "centre"), second)
    return low, end, high, start


def _heading(editing: Sketching, a: XY, b: XY, refusal: str) -> XY:
    """Unit direction from one place to another.

    Raises:
        UserFault: they are one place.
    """
    length = math.dist(a, b)
    if length < tolerance.FEATURE:
        raise UserFault(refusal, editing.drawing.sketch.name)
    return (b[0] - a[0]) / length, (b[1] - a[1]) / length


def polygon(editing: Sketching, centre: Snapped, corner: Snapped, sides: int) -> list[str]:
    """A regular polygon: equal sides with their corners on a helper circle.

    Raises:
        UserFault: fewer than three sides, more than 64, or no size.
    """
    r = math.dist(centre.at, corner.at)
    if not 3 <= sides <= 64:
        raise UserFault(f"a polygon has 3 to 64 sides, not {sides}", editing.drawing.sketch.name)
    if r < tolerance.FEATURE:
        raise UserFault("a polygon needs a corner away from its centre", editing.drawing.sketch.name)
    (cx, cy), begin = centre.at, math.atan2(corner.at[1] - centre.at[1], corner.at[0] - centre.at[0])
    turns = [begin + math.tau * k / sides for k in range(sides)]
    points = [(cx + r * math.cos(t), cy + r * math.sin(t)) for t in turns]
    ring = editing.drawing.circle(centre.at, r, helper=True)
    editing.join(point_on(ring, "centre"), centre)
    lines = [editing.drawing.line(points[k], points[(k + 1) % sides]) for k in range(sides)]
    for k, line in enumerate(lines):
        editing.try_constraint("coincident", point_on(line, "end"), point_on(lines[(k + 1) % sides], "start"))
        editing.try_constraint("on_curve", point_on(line, "start"), ring)
    for line in lines[1:]:
        editing.try_constraint("equal", lines[0], line)
    editing.join(point_on(lines[0], "start"), corner)
    return lines


def pass_through(editing: Sketching, curve: str, snapped: Snapped) -> None:
    """A new curve stays on the point that a click on its outline snapped to."""
    if snapped.place:
        editing.try_constraint("on_curve", snapped.place, curve)


def circle_through(editing: Sketching, points: list[Snapped]) -> str:
    """The circle through three points; it stays on those that it snapped to.

    Raises:
        UserFault: the points lie in a line.
    """
    centre, r = _circumcircle(editing, *(p.at for p in points))
    key = editing.drawing.circle(centre, r)
    for p in points:
        pass_through(editing, key, p)
    return key


# --- round ones -----------------------------------------------------------------------------------------


def arc_through(editing: Sketching, start: Snapped, end: Snapped, middle: Snapped) -> str:
    """The arc between two points that passes through a third.

    Raises:
        UserFault: the points lie in a line.
    """
    centre, _ = _circumcircle(editing, start.at, end.at, middle.at)
    turns = [math.atan2(p.at[1] - centre[1], p.at[0] - centre[0]) for p in (start, middle, end)]
    first, last = (start, end) if (turns[1] - turns[0]) % math.tau < (turns[2] - turns[0]) % math.tau else (end, start)
    key = editing.drawing.arc(centre, first.at, last.at)
    editing.join(point_on(key, "start"), first)
    editing.join(point_on(key, "end"), last)
    pass_through(editing, key, middle)
    return key


def arc_onwards(editing: Sketching, start: Snapped, end: Snapped) -> str:
    """An arc that goes on smoothly from the end of another curve, to a point.

    Raises:
        UserFault: it does not begin at an end of a line, arc or spline, or runs straight on.
    """
    sketch = editing.drawing.sketch
    key, part = taken_apart(start.place)
    curve = sketch.curves.get(key)
    if part not in ("start", "end") or not isinstance(curve, (Line, Arc, EllipticArc, Spline)):
        raise UserFault("this arc begins at the end of another curve", sketch.name, "begin it at an end")
    piece = as_piece(key, drawn_result(curve))
    heading = (piece.reversed() if part == "end" else piece).departure()[0] + math.pi
    ux, uy = math.cos(heading), math.sin(heading)
    dx, dy = end.at[0] - start.at[0], end.at[1] - start.at[1]
    across = ux * dy - uy * dx
    if abs(across) < STRAIGHT * max(math.hypot(dx, dy), tolerance.FEATURE):
        raise UserFault("straight on there is no arc", sketch.name, "draw a line, or pick a point to one side")
    r = (dx * dx + dy * dy) / (2 * across)  # of the circle through both points with this tangent
    centre = (start.at[0] - uy * r, start.at[1] + ux * r)
    first, last = (start, end) if r > 0 else (end, start)
    made = editing.drawing.arc(centre, first.at, last.at)
    editing.join(point_on(made, "start"), first)
    editing.join(point_on(made, "end"), last)
    editing.try_constraint("tangent", *((key, made) if isinstance(curve, (Line, Arc)) else (made, key)))
    return made


def circle_touching(editing: Sketching, clicks: list[Snapped]) -> str:
    """A circle that touches the curves that were clicked, and passes through clicks that were on none.

    Raises:
        UserFault: the three places lie in a line.
    """
    centre, r = _circumcircle(editing, *(c.at for c in clicks))
    key = editing.drawing.circle(centre, r)
    for click in clicks:
        if click.under:
            line = _is_line(editing, click.under)
            editing.try_constraint("tangent", *((click.under, key) if line else (key, click.under)))
        else:
            pass_through(editing, key, click)
    return key


def _is_line(editing: Sketching, curve: str) -> bool:
    return curve in AXES or isinstance(editing.drawing.sketch.curves.get(curve), Line)


def ellipse(editing: Sketching, centre: Snapped, along: Snapped, across: Snapped) -> str:
    """An ellipse by its centre, an end of one half axis, and how far it reaches across."""
    key = editing.drawing.ellipse(centre.at, along.at, across.at)
    editing.join(point_on(key, "centre"), centre)
    editing.join(point_on(key, "along"), along)
    pass_through(editing, key, across)
    return key


def elliptic_arc(editing: Sketching, clicks: list[Snapped]) -> str:
    """The same, and from where to where of it, counter-clockwise."""
    centre, along, across, start, end = clicks
    key = editing.drawing.elliptic_arc(centre.at, along.at, across.at, start.at, end.at)
    editing.join(point_on(key, "centre"), centre)
    editing.join(point_on(key, "along"), along)
    for name, at in (("start", start), ("end", end)):
        editing.join(point_on(key, name), at)
    return key


def spline(editing: Sketching, clicks: list[Snapped], through: bool) -> str:
    """A smooth curve through points, or by control points; its points join what they snapped to."""
    key = editing.drawing.spline([c.at for c in clicks], through)
    names = ["start", *(f"p{k}" for k in range(1, len(clicks) - 1)), "end"]
    for name, click in zip(names, clicks, strict=True):
        editing.join(point_on(key, name), click)
    return key


def text(editing: Sketching, at: Snapped, words: str, height: str) -> str:
    """A line of text with a driving height, level."""
    key = editing.drawing.text(words, at.at, editing.measure(height))
    editing.join(point_on(key, "at"), at)
    editing.try_constraint("horizontal", point_on(key, "at"), point_on(key, "along"))
    editing.constrain("distance", point_on(key, "at"), point_on(key, "over"), value=height)
    return key


def rectangle_about(editing: Sketching, centre: Snapped, corner: Snapped) -> tuple[str, str, str, str]:
    """A rectangle about its centre: a point that stays in the middle of its helper diagonal."""
    (cx, cy), (x, y) = centre.at, corner.at
    sides = editing.rectangle(Snapped((2 * cx - x, 2 * cy - y)), corner)
    diagonal = editing.drawing.line((2 * cx - x, 2 * cy - y), (x, y), helper=True)
    editing.try_constraint("coincident", point_on(diagonal, "start"), point_on(sides[0], "start"))
    editing.try_constraint("coincident", point_on(diagonal, "end"), point_on(sides[2], "start"))
    middle = centre.place or editing.drawing.point(centre.at)
    editing.try_constraint("midpoint", middle, diagonal)
    return sides


def rectangle_along(editing: Sketching, start: Snapped, end: Snapped, side: Snapped) -> tuple[str, ...]:
    """A rectangle on a slant: two ends of one side, and a point that the opposite one passes through.

    Raises:
        UserFault: no length or no width.
    """
    (ax, ay), (bx, by) = start.at, end.at
    ux, uy = _heading(editing, start.at, end.at, "a rectangle needs two different corners")
    w = ux * (side.at[1] - ay) - uy * (side.at[0] - ax)
    if abs(w) < tolerance.FEATURE:
        raise UserFault("a rectangle needs a width", editing.drawing.sketch.name)
    p = [start.at, end.at, (bx - uy * w, by + ux * w), (ax - uy * w, ay + ux * w)]
    lines = [editing.drawing.line(p[k], p[(k + 1) % 4]) for k in range(4)]
    for k in range(4):
        editing.try_constraint("coincident", point_on(lines[k], "end"), point_on(lines[(k + 1) % 4], "start"))
    for k in range(3):
        editing.try_constraint("perpendicular", lines[k], lines[k + 1])
    editing.join(point_on(lines[0], "start"), start)
    editing.join(point_on(lines[0], "end"), end)
    pass_through(editing, lines[2], side)
    return tuple(lines)


def curved_slot(editing: Sketching, centre: Snapped, start: Snapped, end: Snapped, side: XY) -> tuple[str, ...]:
    """A slot along an arc, counter-clockwise from start to end; `side` lies on its outline.

    Raises:
        UserFault: no radius, or a width that does not leave an inner side.
    """
    where = editing.drawing.sketch.name
    radius = math.dist(centre.at, start.at)
    w = abs(math.dist(centre.at, side) - radius)
    if w < tolerance.FEATURE or radius - w < tolerance.FEATURE:
        raise UserFault("the width of a curved slot lies between nothing and its radius", where, "pick nearer to it")
    turns = [math.atan2(p[1] - centre.at[1], p[0] - centre.at[0]) for p in (start.at, end.at)]

    def at(turn: float, r: float) -> XY:
        return centre.at[0] + r * math.cos(turn), centre.at[1] + r * math.sin(turn)

    d = editing.drawing
    outer = d.arc(centre.at, at(turns[0], radius + w), at(turns[1], radius + w))
    inner = d.arc(centre.at, at(turns[0], radius - w), at(turns[1], radius - w))
    first = d.arc(at(turns[0], radius), at(turns[0], radius - w), at(turns[0], radius + w))
    last = d.arc(at(turns[1], radius), at(turns[1], radius + w), at(turns[1], radius - w))
    joints = (
        (outer, "start", first, "end"),
        (outer, "end", last, "start"),
        (inner, "start", first, "start"),
        (inner, "end", last, "end"),
    )
    editing.try_constraint("concentric", outer, inner)
    for a, i, b, j in joints:
        editing.try_constraint("coincident", point_on(a, i), point_on(b, j))
    for a, _, b, _ in joints[:3]:
        editing.try_constraint("tangent", a, b)
    editing.try_constraint("tangent", inner, last)
    editing.try_constraint("equal", first, last)
    editing.join(point_on(outer, "centre"), centre)
    editing.join(point_on(first, "centre"), start)
    if end.place:
        editing.join(point_on(last, "centre"), end)
    return outer, inner, first, last


def _circumcircle(editing: Sketching, a: XY, b: XY, c: XY) -> tuple[XY, float]:
    (ax, ay), (bx, by), (cx, cy) = a, b, c
    double = 2 * ((bx - ax) * (cy - ay) - (by - ay) * (cx - ax))
    if abs(double) < tolerance.FEATURE * max(math.dist(a, b), math.dist(a, c)):
        raise UserFault("three points in a line have no circle", editing.drawing.sketch.name, "move one of them")
    b2, c2 = (bx - ax) ** 2 + (by - ay) ** 2, (cx - ax) ** 2 + (cy - ay) ** 2
    ux, uy = ((cy - ay) * b2 - (by - ay) * c2) / double, ((bx - ax) * c2 - (cx - ax) * b2) / double
    return (ax + ux, ay + uy), math.hypot(ux, uy)
