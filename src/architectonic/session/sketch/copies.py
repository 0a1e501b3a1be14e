"""Copies of curves that stay what they are of their originals: offset, mirrored, in a row, in a ring; and loose ones."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

from msgspec.structs import replace

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, point_on, taken_apart
from architectonic.describe.drawn.curves import Move, ends_of, mapped, points_in, start_values
from architectonic.describe.drawn.readings import XY
from architectonic.family.names import free_name, identifier
from architectonic.family.records import Arc, Circle, Curve, EllipticArc, Line, Sketch, Text, Trace
from architectonic.session.sketch.moving import Similarity
from architectonic.session.sketch.sketching import Sketching
from architectonic.sketch.curves.kinds import IMAGES
from architectonic.sketch.solving.images import directions

SMOOTH = 1e-5
"""Sine of the angle between two curves of a chain below which one goes on smoothly into the other."""
MOST = 200
"""Copies of one pattern."""


def _own(editing: Sketching, curves: list[str], what: str) -> dict[str, Curve]:
    """Curves that are drawn here, in the order chosen.

    Raises:
        UserFault: there are none.
    """
    sketch = editing.drawing.sketch
    found: dict[str, Curve] = {
        k: c for k in curves if (c := sketch.curves.get(k)) is not None and not isinstance(c, Trace)
    }
    if not found:
        raise UserFault(f"there is nothing to {what}", sketch.name, "choose curves that are drawn here")
    return found


def _line_at(sketch: Sketch, line: str, what: str) -> tuple[XY, XY]:
    """Two points of a line or axis.

    Raises:
        UserFault: it is neither.
    """
    axes: dict[str, tuple[XY, XY]] = {X_AXIS: ((0.0, 0.0), (1.0, 0.0)), Y_AXIS: ((0.0, 0.0), (0.0, 1.0))}
    record = sketch.curves.get(line)
    if isinstance(record, Line):
        return record.start, record.end
    if line not in axes:
        raise UserFault(what, sketch.name, "choose a line last")
    return axes[line]


def mirror(editing: Sketching, curves: list[str], line: str) -> list[str]:
    """Copies of curves on the other side of a line, which stay so.

    Raises:
        UserFault: the mirror is no line, or there is nothing to mirror.
    """
    sketch = editing.drawing.sketch
    a, b = _line_at(sketch, line, "curves are mirrored at a line")
    own = _own(editing, [k for k in curves if k != line], "mirror")
    turn = 2 * math.atan2(b[1] - a[1], b[0] - a[0])
    c, s = math.cos(turn), math.sin(turn)

    def over(p: XY) -> XY:
        x, y = p[0] - a[0], p[1] - a[1]
        return a[0] + c * x + s * y, a[1] + s * x - c * y

    if any(isinstance(k, Text) for k in own.values()):
        raise UserFault("a text cannot be mirrored", sketch.name, "write it again, or leave it out")
    made = [editing.drawing.add(mapped(curve, over, mirrored=True)) for curve in own.values()]
    editing.constrain("mirrored", line, *_paired(list(own), made))
    return made


def _paired(originals: list[str], made: list[str]) -> list[str]:
    return [k for pair in zip(originals, made, strict=True) for k in pair]


class Pattern(NamedTuple):
    """A pattern as it is asked for: how many with the original, the step between two, what the step is called."""

    pieces: int
    step: str
    name: str = ""


def _repeat(
    editing: Sketching, kind: str, guide: str, own: dict[str, Curve], asked: Pattern, move: Callable[[int], Move]
) -> list[str]:
    """Copies at one, two, ... steps; the first step drives all others."""
    sketch = editing.drawing.sketch
    if not 2 <= asked.pieces <= MOST:
        raise UserFault(f"a pattern has 2 to {MOST} pieces, not {asked.pieces}", sketch.name)
    name = asked.name or free_name("step", [c.name for c in sketch.constraints if c.name], "")
    made: list[str] = []
    for k in range(1, asked.pieces):
        copies = [editing.drawing.add(mapped(c, move(k))) for c in own.values()]
        text = asked.step if k == 1 else f"{k} * {identifier(name)}"
        editing.constrain(kind, guide, *_paired(list(own), copies), value=text, name=name if k == 1 else "", branch=1)
        made += copies
    return made


def in_row(editing: Sketching, curves: list[str], line: str, asked: Pattern) -> list[str]:
    """Copies along the direction of a line or axis, all at one spacing that drives.

    Raises:
        UserFault: nothing to copy, no line, no or too many pieces, or no step.
    """
    sketch = editing.drawing.sketch
    a, b = _line_at(sketch, line, "a row needs a direction")
    own = _own(editing, [k for k in curves if k != line], "repeat")
    step = editing.measure(asked.step)
    if abs(step) < tolerance.FEATURE:
        raise UserFault("a row needs a step above zero", sketch.name)
    size = math.dist(a, b)
    ux, uy = (b[0] - a[0]) / size, (b[1] - a[1]) / size

    return _repeat(editing, "shifted", line, own, asked, lambda k: Similarity(by=(k * step * ux, k * step * uy)).at)


def in_ring(editing: Sketching, curves: list[str], centre: str, asked: Pattern) -> list[str]:
    """Copies turned about a point, all at one angle that drives.

    Raises:
        UserFault: nothing to copy, no centre, no or too many pieces, or no angle.
    """
    sketch = editing.drawing.sketch
    key, part = taken_apart(centre)
    own = _own(editing, [k for k in curves if k != centre], "repeat")
    at: XY = (0.0, 0.0)
    if centre != ORIGIN:
        record = sketch.curves.get(key)
        found = getattr(record, part or "at", None)
        if found is None:
            raise UserFault("a ring needs a point to turn about", sketch.name, "choose its centre last")
        at = found
    step = editing.measure(asked.step, "angle")
    if abs(step) < tolerance.FEATURE:
        raise UserFault("a ring needs an angle above zero", sketch.name)

    return _repeat(editing, "turned", centre, own, asked, lambda k: Similarity(about=at, turn=k * step).at)


# --- offsets --------------------------------------------------------------------------------------------


def chain_of(sketch: Sketch, curves: list[str]) -> list[str]:
    """Chosen curves in the order in which they join, from an open end if there is one.

    Raises:
        UserFault: they do not join into one chain, or one of them cannot be offset.
    """
    records = {k: sketch.curves.get(k) for k in curves}
    for curve in records.values():
        if not isinstance(curve, (Line, Arc, Circle)):
            told = "this curve" if curve is None else f"a {start_or_word(curve)}"
            raise UserFault(f"{told} cannot be offset", sketch.name, f"choose {', '.join(IMAGES['offset'][1])}s")
        if isinstance(curve, Circle) and len(records) > 1:
            raise UserFault("a circle is a chain of its own", sketch.name, "offset it alone")
    if len(records) == 1:
        return list(records)

    near = {a: [b for b in records if b != a and _meet(records[a], records[b])] for a in records}
    if any(len(v) > 2 for v in near.values()):
        raise UserFault("these curves branch", sketch.name, "choose one chain without branches")
    first = next((k for k, v in near.items() if len(v) < 2), next(iter(records)))
    order = [first]
    while True:
        following = [k for k in near[order[-1]] if k not in order]
        if not following:
            break
        order.append(following[0])
    if len(order) < len(records):
        raise UserFault("these curves do not join into one chain", sketch.name, "join their ends first")
    return order


def joined(sketch: Sketch, curves: list[str]) -> list[str]:
    """Curves and all that are joined to them end to end, on and on."""
    found, waiting = list(curves), list(curves)
    while waiting:
        own = sketch.curves.get(waiting.pop())
        for key, other in sketch.curves.items():
            if key not in found and _meet(own, other):
                found.append(key)
                waiting.append(key)
    return found


def start_or_word(curve: Curve) -> str:
    """A word for a kind of curve."""
    return "traced curve" if isinstance(curve, Trace) else start_values(curve)[0].replace("_", " ")


def _ends(curve: Curve | None) -> tuple[XY, XY]:
    assert isinstance(curve, (Line, Arc, EllipticArc))
    return curve.start, curve.end


class _Offset(NamedTuple):
    """The implicit form of an offset curve: a line by point and normal, or a circle."""

    at: XY
    normal: XY
    radius: float

    def off(self, p: XY) -> tuple[float, XY]:
        """How far a point lies from it, and the gradient of that."""
        dx, dy = p[0] - self.at[0], p[1] - self.at[1]
        if not self.radius:
            return dx * self.normal[0] + dy * self.normal[1], self.normal
        size = math.hypot(dx, dy) or 1.0
        return size - self.radius, (dx / size, dy / size)


def _shifted(curve: Curve, left: float, where: str) -> _Offset:
    """The offset of a curve by so much to its own left."""
    if isinstance(curve, Line):
        size = math.dist(curve.start, curve.end)
        n = (-(curve.end[1] - curve.start[1]) / size, (curve.end[0] - curve.start[0]) / size)
        return _Offset((curve.start[0] + left * n[0], curve.start[1] + left * n[1]), n, 0.0)
    assert isinstance(curve, (Arc, Circle))
    radius = (curve.radius if isinstance(curve, Circle) else math.dist(curve.centre, curve.start)) - left
    if radius < tolerance.FEATURE:
        raise UserFault("nothing is left of a round that small", where, "offset by less, or to the other side")
    return _Offset(curve.centre, (0.0, 0.0), radius)


def _foot(curve: Curve, at: XY, left: float) -> XY:
    """The point square across from an end of a curve, so much to its left."""
    if isinstance(curve, Line):
        size = math.dist(curve.start, curve.end)
        return (
            at[0] - left * (curve.end[1] - curve.start[1]) / size,
            at[1] + left * (curve.end[0] - curve.start[0]) / size,
        )
    assert isinstance(curve, Arc)
    radius = math.dist(curve.centre, curve.start)
    share = (radius - left) / radius
    return (
        curve.centre[0] + share * (at[0] - curve.centre[0]),
        curve.centre[1] + share * (at[1] - curve.centre[1]),
    )


def _direction(curve: Curve, at: XY) -> XY:
    """Unit tangent at an end."""
    if isinstance(curve, Line):
        size = math.dist(curve.start, curve.end)
        return (curve.end[0] - curve.start[0]) / size, (curve.end[1] - curve.start[1]) / size
    assert isinstance(curve, Arc)
    size = math.dist(curve.centre, at)
    return -(at[1] - curve.centre[1]) / size, (at[0] - curve.centre[0]) / size


def _meeting(a: _Offset, b: _Offset, near: XY, where: str) -> XY:
    """Where two offsets meet, from a place near it (Newton's method)."""
    p = near
    for _ in range(30):
        (f, (fx, fy)), (g, (gx, gy)) = a.off(p), b.off(p)
        det = fx * gy - fy * gx
        if abs(det) < SMOOTH:
            break
        p = (p[0] - (f * gy - g * fy) / det, p[1] - (fx * g - gx * f) / det)
        if abs(f) + abs(g) < tolerance.MODELLING * tolerance.FEATURE:
            return p
    raise UserFault("the offsets of two neighbours do not meet", where, "offset by less, or to the other side")


def standing(editing: Sketching) -> Sketch:
    """The sketch with curves like its traced ones where they stand, as far as there are such."""
    made: dict[str, Curve] = {}
    for key, c in (editing.drawing.traced or {}).items():
        p = points_in(c.values)
        if c.kind == "line":
            made[key] = Line(start=p[0], end=p[1])
        elif c.kind == "circle":
            made[key] = Circle(centre=p[0], radius=c.values[2])
        elif c.kind == "arc":
            made[key] = Arc(centre=p[0], start=p[1], end=p[2])
    sketch = editing.drawing.sketch
    return replace(sketch, curves={k: made.get(k, c) for k, c in sketch.curves.items()})


def offset(editing: Sketching, curves: list[str], distance: str, side: int) -> list[str]:
    """A chain at one distance from another one, corners kept as corners; it follows every change of the original.

    Args:
        side: +1 to the left of the chain as it runs, -1 to its right; of a closed one see `inward`.

    Raises:
        UserFault: no chain, no distance, or an offset that has no room; names what.
    """
    sketch = standing(editing)
    order = chain_of(sketch, curves)
    value = editing.measure(distance)
    if value < tolerance.FEATURE:
        raise UserFault("an offset needs a distance above zero", sketch.name)
    records = [sketch.curves[k] for k in order]
    ahead = directions([None if isinstance(c, Circle) else _ends(c) for c in records])
    lefts = [side * value * (1 if forward else -1) for forward in ahead]
    shifted = [_shifted(c, d, sketch.name) for c, d in zip(records, lefts, strict=True)]
    made_at: list[list[XY]] = []
    corners: list[tuple[int, str, int, str]] = []
    n = len(records)
    for k, (curve, d) in enumerate(zip(records, lefts, strict=True)):
        ends: list[XY] = []
        for name, at in zip(("start", "end"), () if isinstance(curve, Circle) else _ends(curve), strict=False):
            step = 1 if (name == "end") == ahead[k] else -1
            j = (k + step) % n
            met = [e for e, q in zip(("start", "end"), _ends(records[j]), strict=True) if n > 1 and _near(at, q)]
            foot = _foot(curve, at, d)
            if not met or abs(_cross(_direction(curve, at), _direction(records[j], at))) < SMOOTH:
                ends.append(foot)
                continue
            other = _foot(records[j], at, lefts[j])
            ends.append(
                _meeting(shifted[k], shifted[j], (foot[0] + other[0] - at[0], foot[1] + other[1] - at[1]), sketch.name)
            )
            if step == 1:
                corners.append((k, name, j, met[0]))
        made_at.append(ends)
    made = [
        editing.drawing.add(_drawn(c, s, e, sketch.name)) for c, s, e in zip(records, shifted, made_at, strict=True)
    ]
    for k, end, j, far in corners:
        editing.drawing.constrain("coincident", point_on(made[k], end), point_on(made[j], far))
    editing.constrain("offset", *_paired(order, made), value=distance, branch=side)
    return made


def _meet(a: Curve | None, b: Curve | None) -> bool:
    """Whether an end of one curve stands on an end of the other."""
    return any(_near(p, q) for _, p in ends_of(a) for _, q in ends_of(b))


def _near(p: XY, q: XY) -> bool:
    return math.dist(p, q) < 10 * tolerance.MODELLING


def _cross(a: XY, b: XY) -> float:
    return a[0] * b[1] - a[1] * b[0]


def _drawn(curve: Curve, shifted: _Offset, ends: list[XY], where: str) -> Curve:
    if isinstance(curve, Circle):
        return Circle(centre=curve.centre, radius=tolerance.length(shifted.radius), helper=curve.helper)
    a, b = [(tolerance.length(p[0]), tolerance.length(p[1])) for p in ends]
    if isinstance(curve, Line):
        along = _direction(curve, curve.start)
        if (b[0] - a[0]) * along[0] + (b[1] - a[1]) * along[1] < tolerance.FEATURE:
            raise UserFault("a side of the offset would vanish", where, "offset by less, or to the other side")
        return Line(start=a, end=b, helper=curve.helper)
    assert isinstance(curve, Arc)
    return Arc(centre=curve.centre, start=a, end=b, helper=curve.helper)


def inward(editing: Sketching, curves: list[str]) -> int:
    """The side (+1 left, -1 right) that lies inside a closed chain; 0 of an open one.

    Raises:
        UserFault: they are no chain.
    """
    sketch = standing(editing)
    order = chain_of(sketch, curves)
    records = [sketch.curves[k] for k in order]
    if isinstance(records[0], Circle):
        return 1
    ahead = directions([_ends(c) for c in records])
    points = [_ends(c)[0 if forward else 1] for c, forward in zip(records, ahead, strict=True)]
    last = _ends(records[-1])[1 if ahead[-1] else 0]
    if len(records) == 1 or not _near(last, points[0]):
        return 0
    total = 0.0
    for curve, forward in zip(records, ahead, strict=True):
        (ax, ay), (bx, by) = _ends(curve) if forward else _ends(curve)[::-1]
        total += ax * by - bx * ay
        if isinstance(curve, Arc):
            turns = [math.atan2(p[1] - curve.centre[1], p[0] - curve.centre[0]) for p in _ends(curve)]
            sweep = (turns[1] - turns[0]) % math.tau
            share = math.dist(curve.centre, curve.start) ** 2 * (sweep - math.sin(sweep))
            total += share if forward else -share
    return 1 if total > 0 else -1
