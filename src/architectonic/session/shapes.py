"""Shapes of several curves, drawn at once with the constraints that make them what they are."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.family.records import Arc, Circle, Line, Point
from architectonic.session.sketching import XY, Sketching, Snapped

STRAIGHT = 1e-6
"""Sine of an angle below which two lines have one direction."""


def slot(editing: Sketching, first: Snapped, second: Snapped, side: XY) -> tuple[str, str, str, str]:
    """Two half circles about two centres, and the lines that touch both; `side` lies on the outline.

    Raises:
        UserFault: no length or no width.
    """
    (ax, ay), (bx, by) = first.at, second.at
    length = math.dist(first.at, second.at)
    if length < tolerance.FEATURE:
        raise UserFault("a slot needs two different centres", editing.drawing.sketch.name)
    ux, uy = (bx - ax) / length, (by - ay) / length
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
        editing.try_constraint("coincident", f"{a}.end", f"{b}.start")
    for line, arc in ((low, end), (high, end), (high, start), (low, start)):
        editing.try_constraint("tangent", line, arc)
    editing.try_constraint("equal", end, start)
    editing.join(f"{start}.centre", first)
    editing.join(f"{end}.centre", second)
    return low, end, high, start


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
    editing.join(f"{ring}.centre", centre)
    lines = [editing.drawing.line(points[k], points[(k + 1) % sides]) for k in range(sides)]
    for k, line in enumerate(lines):
        editing.try_constraint("coincident", f"{line}.end", f"{lines[(k + 1) % sides]}.start")
        editing.try_constraint("on_curve", f"{line}.start", ring)
    for line in lines[1:]:
        editing.try_constraint("equal", lines[0], line)
    editing.join(f"{lines[0]}.start", corner)
    return lines


def circle_through(editing: Sketching, points: list[Snapped]) -> str:
    """The circle through three points; it stays on those that it snapped to.

    Raises:
        UserFault: the points lie in a line.
    """
    (ax, ay), (bx, by), (cx, cy) = (p.at for p in points)
    double = 2 * ((bx - ax) * (cy - ay) - (by - ay) * (cx - ax))
    if abs(double) < tolerance.FEATURE * max(math.dist((ax, ay), (bx, by)), math.dist((ax, ay), (cx, cy))):
        raise UserFault("three points in a line have no circle", editing.drawing.sketch.name, "move one of them")
    b2, c2 = (bx - ax) ** 2 + (by - ay) ** 2, (cx - ax) ** 2 + (cy - ay) ** 2
    ux, uy = ((cy - ay) * b2 - (by - ay) * c2) / double, ((bx - ax) * c2 - (cx - ax) * b2) / double
    key = editing.drawing.circle((ax + ux, ay + uy), math.hypot(ux, uy))
    for p in points:
        if p.place:
            editing.try_constraint("on_curve", p.place, key)
    return key


def round_corner(editing: Sketching, first: str, second: str, radius: str) -> str:
    """A tangent arc of a typed radius in the corner where two lines are joined; the lines end on it.

    Raises:
        UserFault: not two lines that share an end, or no room for the radius.
    """
    sketch = editing.drawing.sketch
    a, b = sketch.curves.get(first), sketch.curves.get(second)
    if not isinstance(a, Line) or not isinstance(b, Line):
        raise UserFault("choose two lines to round the corner between", sketch.name)
    joints = [
        (i, j)
        for i, p in (("start", a.start), ("end", a.end))
        for j, q in (("start", b.start), ("end", b.end))
        if math.dist(p, q) < tolerance.MODELLING
    ]
    if not joints:
        raise UserFault("these lines do not meet at an end", sketch.name, "choose two that share a corner")
    i, j = joints[0]
    corner = getattr(a, i)
    far = [getattr(line, "end" if end == "start" else "start") for line, end in ((a, i), (b, j))]
    units = [((p[0] - corner[0]) / math.dist(p, corner), (p[1] - corner[1]) / math.dist(p, corner)) for p in far]
    cross = units[0][0] * units[1][1] - units[0][1] * units[1][0]
    half = math.acos(max(-1.0, min(1.0, units[0][0] * units[1][0] + units[0][1] * units[1][1]))) / 2
    if abs(cross) < STRAIGHT:
        raise UserFault("these lines lie in one direction: there is no corner", sketch.name)
    r = editing.measure(radius)
    reach = r / math.tan(half)
    if r < tolerance.FEATURE or reach >= min(math.dist(p, corner) for p in far):
        raise UserFault(f"there is no room for a radius of {r:g} mm", sketch.name, "make it smaller")
    touch = [(corner[0] + reach * u[0], corner[1] + reach * u[1]) for u in units]
    middle = ((units[0][0] + units[1][0]) / 2, (units[0][1] + units[1][1]) / 2)
    size = math.hypot(*middle)
    centre = tuple(corner[k] + r / math.sin(half) * middle[k] / size for k in (0, 1))
    editing.shorten(first, i, touch[0])
    editing.shorten(second, j, touch[1])
    ends = touch if cross < 0 else touch[::-1]  # counter-clockwise about the centre
    arc = editing.drawing.arc((centre[0], centre[1]), ends[0], ends[1])
    names = ("start", "end") if cross < 0 else ("end", "start")
    editing.constrain("coincident", f"{first}.{i}", f"{arc}.{names[0]}")
    editing.constrain("coincident", f"{second}.{j}", f"{arc}.{names[1]}")
    editing.constrain("tangent", first, arc)
    editing.constrain("tangent", second, arc)
    editing.constrain("radius", arc, value=radius)
    return arc


def mirror(editing: Sketching, curves: list[str], line: str) -> list[str]:
    """Copies of curves on the other side of a line; every point stays symmetric to its original.

    Raises:
        UserFault: the mirror is no line, or there is nothing to mirror.
    """
    sketch = editing.drawing.sketch
    axis = (0.0, 0.0, 1.0, 0.0) if line == "x_axis" else (0.0, 0.0, 0.0, 1.0)
    record = sketch.curves.get(line)
    if isinstance(record, Line):
        axis = (*record.start, *record.end)
    elif line not in ("x_axis", "y_axis"):
        raise UserFault("curves are mirrored at a line", sketch.name, "choose the mirror line last")
    turn = 2 * math.atan2(axis[3] - axis[1], axis[2] - axis[0])
    c, s = math.cos(turn), math.sin(turn)

    def over(p: XY) -> XY:
        x, y = p[0] - axis[0], p[1] - axis[1]
        return axis[0] + c * x + s * y, axis[1] + s * x - c * y

    d, made, places = editing.drawing, [], []
    for key in curves:
        curve = sketch.curves.get(key)
        if isinstance(curve, Line):
            new = d.line(over(curve.start), over(curve.end), curve.helper)
            pairs = [("start", "start"), ("end", "end")]
        elif isinstance(curve, Arc):  # seen in a mirror it runs the other way
            new = d.arc(over(curve.centre), over(curve.end), over(curve.start), curve.helper)
            pairs = [("start", "end"), ("end", "start")]  # the centre follows from these and the radius
        elif isinstance(curve, Circle):
            new = d.circle(over(curve.centre), curve.radius, curve.helper)
            pairs = [("centre", "centre")]
        elif isinstance(curve, Point):
            new = d.point(over(curve.at))
            pairs = [("", "")]
        else:
            continue
        made.append(new)
        places += [(f"{key}.{a}".rstrip("."), f"{new}.{b}".rstrip(".")) for a, b in pairs]
        if isinstance(curve, (Circle, Arc)):
            editing.try_constraint("equal", key, new)
    if not made:
        raise UserFault("there is nothing to mirror", sketch.name, "choose curves, then the mirror line")
    for old, new in places:
        editing.try_constraint("symmetric", old, new, line)
    return made
