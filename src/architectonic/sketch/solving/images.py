"""Rows that keep copies what they are of their originals: offset, mirrored, shifted, turned.

Every point of a copy is said to be the image of the original's point. Of an arc that would be one row too many (both
its ends lie on its radius already): its end is only said to lie in the right direction. Ends of an offset that meet in
a corner are where the offsets meet; smooth or free ends stay square across from the originals' ends.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

from architectonic.base.places import curve_of, point_on
from architectonic.sketch.curves import kinds
from architectonic.sketch.solving import freeform, kernels
from architectonic.sketch.solving.entities import Constraint, Unknowns
from architectonic.sketch.solving.freeform import Freeform
from architectonic.sketch.solving.kernels import Residual

Point = tuple[float, float]


def pairs(c: Constraint) -> list[tuple[str, str]]:
    """Originals and copies of a constraint, as curves."""
    return pairs_of(c.kind, c.of)


def pairs_of(kind: str, of: tuple[str, ...]) -> list[tuple[str, str]]:
    """The same from a kind and its places."""
    rest = of if kind == "offset" else of[1:]
    return list(zip(rest[::2], rest[1::2], strict=True))


def members(of: tuple[str, ...], constraints: Iterable[tuple[str, tuple[str, ...]]]) -> list[dict[str, str]]:
    """The copies of a row or ring in their order, of each by original.

    Args:
        of: what it goes by, then the originals; constraints: kind and places of all that there are, in order.
    """
    guide, originals = of[0], set(of[1:])
    found = (dict(pairs_of(kind, at)) for kind, at in constraints if kind in ("shifted", "turned") and at[0] == guide)
    return [m for m in found if m.keys() <= originals]


def without(absent: set[str], constraints: Iterable[tuple[str, tuple[str, ...]]]) -> set[str]:
    """Curves that are not there, with all that is a copy of one of them."""
    pairs_ = [pair for kind, of in constraints if kind in kinds.IMAGES for pair in pairs_of(kind, of)]
    gone, before = set(absent), -1
    while len(gone) != before:
        before = len(gone)
        gone |= {copy for original, copy in pairs_ if original in gone}
    return gone


def rows(s: Unknowns, c: Constraint) -> list[Residual]:
    """All rows of such a constraint."""
    if c.kind == "offset":
        return _offset(s, c)
    return [row for original, copy in pairs(c) for row in _copied(s, c, original, copy)]


def _copied(s: Unknowns, c: Constraint, original: str, copy: str) -> list[Residual]:
    kind, mirrored = s.kind(original), c.kind == "mirrored"
    source, target = s.points(original), s.points(copy)
    match = {name: name for name in source}
    if mirrored and kind in ("arc", "elliptic_arc"):  # seen in a mirror it runs the other way
        match |= {"start": "end", "end": "start"}
    if kind in ("ellipse", "elliptic_arc"):
        del match["across"]
    if kind == "text":
        del match["over"]
    late = [match.pop("end")] if kind == "arc" else []
    late += [match.pop(k) for k in ("start", "end")] if kind == "elliptic_arc" else []
    found = [row for a, b in match.items() for row in _image(s, c, source[a], target[b])]
    mirror = s.ends(c.of[0]) if mirrored else ()
    value = c.branch * (c.value or 0.0) if c.kind == "turned" else 0.0
    for b in late:
        a = {"start": "end", "end": "start"}[b] if mirrored else b
        at = (*source["centre"], *source[a], *target["centre"], *target[b], *mirror)
        found.append(Residual(Freeform(freeform.aligned, len(at) // 2), at, value, length=False))
    if kind == "circle":
        found.append(Residual(kernels.same, (s.radius(copy), s.radius(original))))
    if kind in ("ellipse", "elliptic_arc"):
        found.append(
            Residual(kernels.equal, (*source["centre"], *source["across"], *target["centre"], *target["across"]))
        )
    return found


def _image(s: Unknowns, c: Constraint, p: tuple[int, int], q: tuple[int, int]) -> list[Residual]:
    """q is the image of p."""
    value = c.branch * (c.value or 0.0)
    if c.kind == "turned":
        centre = s.point(c.of[0])
        return [
            Residual(kernels.turned_x, (*centre, *p, q[0]), value, length=False),
            Residual(kernels.turned_y, (*centre, *p, q[1]), value, length=False),
        ]
    line = s.ends(c.of[0])
    if c.kind == "shifted":
        return [
            Residual(kernels.shifted_x, (*line, p[0], q[0]), value),
            Residual(kernels.shifted_y, (*line, p[1], q[1]), value),
        ]
    return [Residual(kernels.mirror_middle, (*line, *p, *q)), Residual(kernels.mirror_square, (*line, *p, *q))]


def _offset(s: Unknowns, c: Constraint) -> list[Residual]:
    """Offsets at one distance to the left of a chain (branch +1) or to its right."""
    chain = pairs(c)
    ahead = directions(
        [None if s.kind(a) == "circle" else (s.at(point_on(a, "start")), s.at(point_on(a, "end"))) for a, _ in chain]
    )
    value, found = c.branch * (c.value or 0.0), []
    copies = [b for _, b in chain]
    for (original, copy), forward in zip(chain, ahead, strict=True):
        kind, d = s.kind(original), value if forward else -value
        if kind == "line":
            for end in ("start", "end"):
                p = s.point(point_on(copy, end))
                found.append(Residual(kernels.side, (*s.ends(original), *p), d))
                if not _cornered(s, point_on(copy, end), copies):
                    found.append(Residual(kernels.foot, (*s.ends(original), *s.point(point_on(original, end)), *p)))
            continue
        (ax, ay), (bx, by) = s.point(point_on(original, "centre")), s.point(point_on(copy, "centre"))
        found += [Residual(kernels.same, (bx, ax)), Residual(kernels.same, (by, ay))]
        found.append(Residual(kernels.wider, (s.radius(original), s.radius(copy)), -d))
        if kind == "arc":
            for end in ("start", "end"):
                if not _cornered(s, point_on(copy, end), copies):
                    p = s.point(point_on(original, end))
                    at = ((ax, ay), p, (bx, by), s.point(point_on(copy, end)))
                    found.append(Residual(Freeform(freeform.aligned, 4), tuple(i for q in at for i in q), 0.0, False))
    return found


def _cornered(s: Unknowns, place: str, copies: list[str]) -> bool:
    """Whether an end of an offset is joined to an end of another one of the same chain."""
    own = s.point(place)
    return any(
        s.same_point(own, s.point(point_on(other, end)))
        for other in copies
        if other != curve_of(place) and s.kind(other) in ("line", "arc")
        for end in ("start", "end")
    )


def directions(ends: list[tuple[Point, Point] | None]) -> list[bool]:
    """Whether each curve of a chain runs from the first towards the last, as drawn.

    Args:
        ends: start and end of each; None of a circle, which runs along itself.
    """
    found: list[bool] = []
    here: Point | None = None
    for k, own in enumerate(ends):
        if own is None:
            found.append(True)
            continue
        following = ends[k + 1] if k + 1 < len(ends) else None
        if here is not None:
            forward = math.dist(own[0], here) <= math.dist(own[1], here)
        elif following is not None:
            near = [min(math.dist(p, q) for q in following) for p in own]
            forward = near[1] <= near[0]
        else:
            forward = True
        found.append(forward)
        here = own[1] if forward else own[0]
    return found
