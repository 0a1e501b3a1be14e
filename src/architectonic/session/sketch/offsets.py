"""Chains of curves, and offsets of them that stay at their distance."""

from __future__ import annotations

import itertools
import math
from typing import NamedTuple

from msgspec.structs import replace

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.places import point_on
from architectonic.describe.drawn.curves import drawn_result, ends_of, points_in, start_values
from architectonic.describe.drawn.readings import XY, samples
from architectonic.family.records import Arc, Circle, Curve, EllipticArc, Line, Sketch, Trace
from architectonic.quantities.syntax import name_and_value
from architectonic.session.sketch.copies import paired
from architectonic.session.sketch.sketching import Sketching
from architectonic.sketch.curves.kinds import IMAGES
from architectonic.sketch.solving.images import directions

SMOOTH = 1e-5
"""Sine of the angle between two curves of a chain below which one goes on smoothly into the other."""


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


def chains_of(sketch: Sketch, curves: list[str]) -> list[list[str]]:
    """Chosen curves as the chains that they join into, each in its order.

    Raises:
        UserFault: one of them branches, or cannot be offset.
    """
    rest, found = list(curves), []
    while rest:
        group, waiting = [rest[0]], [rest[0]]
        while waiting:
            own = sketch.curves.get(waiting.pop())
            near = [k for k in rest if k not in group and _meet(own, sketch.curves.get(k))]
            group += near
            waiting += near
        found.append(chain_of(sketch, group))
        rest = [k for k in rest if k not in group]
    return found


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
        distance: as typed; `gap = 3 mm` gives it a name.
        side: +1 to the left of the chain as it runs, -1 to its right; of a closed one see `inward`.

    Raises:
        UserFault: no chain, no distance, or an offset that has no room; names what.
    """
    sketch = standing(editing)
    order = chain_of(sketch, curves)
    called, distance = name_and_value(distance)
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
    editing.constrain("offset", *paired(order, made), value=distance, name=called, branch=side)
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


def offset_all(editing: Sketching, curves: list[str], distance: str, inside: bool) -> list[str]:
    """Offsets of all chains that some curves join into, to the inside or outside of what they bound together.

    Of closed chains in each other the inside lies between them (even-odd rule); of an open one it is on its left.

    Raises:
        UserFault: as `offset` does.
    """
    sketch = standing(editing)
    chains = chains_of(sketch, curves)
    sides = [inward(editing, c) for c in chains]
    loops = {k: _outline(sketch, c) for k, (c, side) in enumerate(zip(chains, sides, strict=True)) if side}
    made: list[str] = []
    for k, (chain, side) in enumerate(zip(chains, sides, strict=True)):
        around = sum(_winds(loop, loops[k][0]) for n, loop in loops.items() if n != k) if side else 0
        way = (side or 1) * (-1 if around % 2 else 1)
        made += offset(editing, chain, distance, way if inside else -way)
        distance = name_and_value(distance)[0] or distance  # the others keep the distance that has a name now
    return made


def _outline(sketch: Sketch, chain: list[str]) -> list[XY]:
    """Points along a closed chain, in its order."""
    records = [sketch.curves[k] for k in chain]
    ahead = directions([None if isinstance(c, Circle) else _ends(c) for c in records])
    found: list[XY] = []
    for curve, forward in zip(records, ahead, strict=True):
        points = samples(drawn_result(curve))
        found += points if forward else points[::-1]
    return found


def _winds(loop: list[XY], q: XY) -> bool:
    """Whether a loop goes around a point (its winding number)."""
    turns = [math.atan2(y - q[1], x - q[0]) for x, y in (*loop, loop[0])]
    total = sum((b - a + math.pi) % math.tau - math.pi for a, b in itertools.pairwise(turns))
    return abs(total) > math.pi
