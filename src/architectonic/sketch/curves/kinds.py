"""Kinds of curves and constraints: which variables a curve has, and between which kinds of places a constraint holds."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache

from architectonic.base.places import AXES, ORIGIN, taken_apart

ROUNDS = ("circle", "arc")
OVALS = ("ellipse", "elliptic_arc")
SHAPES: dict[str, tuple[str, ...]] = {
    "point": ("at.x", "at.y"),
    "line": ("start.x", "start.y", "end.x", "end.y"),
    "circle": ("centre.x", "centre.y", "radius"),
    "arc": ("centre.x", "centre.y", "start.x", "start.y", "end.x", "end.y", "radius"),
    "ellipse": ("centre.x", "centre.y", "along.x", "along.y", "across.x", "across.y"),
    "elliptic_arc": (
        "centre.x", "centre.y", "along.x", "along.y", "across.x", "across.y", "start.x", "start.y", "end.x", "end.y",
    ),
    "text": ("at.x", "at.y", "along.x", "along.y", "over.x", "over.y"),
    "spot": ("at.u", "at.v", "at.w"),
    "facing": ("at.u", "at.v", "at.w", "to.u", "to.v", "to.w"),
    "ray": ("at.u", "at.v", "at.w", "to.u", "to.v", "to.w"),
}  # fmt: skip
"""Variables of each kind of curve, in the order of its tuple of values; those of splines: see `names_of`.
Points in space, and planes and lines there, have coordinates u, v, w."""
SPLINES = ("spline", "controlled")
"""Through points, with two end handles; by control points."""
ENDED = ("line", "arc", "elliptic_arc", *SPLINES)
"""Curves with a start and an end."""


@lru_cache(maxsize=256)
def names_of(kind: str, count: int) -> tuple[str, ...]:
    """Variables of a curve with so many values.

    Of splines: start, inner points p1, p2, ..., end; then the handles from and to of one that passes through points.
    """
    if kind not in SPLINES:
        return SHAPES[kind]
    handles = ("from", "to") if kind == "spline" else ()
    inner = count // 2 - 2 - len(handles)
    points = ("start", *(f"p{k + 1}" for k in range(inner)), "end", *handles)
    return tuple(f"{p}.{c}" for p in points for c in "xy")


_CURVED: list[tuple[str, ...]] = [(a, b) for a in ROUNDS for b in ROUNDS]
_MET = [(a, b) for a in (*ROUNDS, *OVALS, *SPLINES) for b in ("line", *ROUNDS, *OVALS, *SPLINES)]
_EVERY = ("line", *ROUNDS, *OVALS, *SPLINES)
ACCEPTS: dict[str, list[tuple[str, ...]]] = {
    "coincident": [("point", "point")],
    "horizontal": [("line",), ("point", "point")],
    "vertical": [("line",), ("point", "point")],
    "parallel": [("line", "line")],
    "perpendicular": [("line", "line")],
    "equal": [("line", "line"), *_CURVED],
    "tangent": [*_MET, *(("line", b) for a, b in _MET if b != "line")],
    "smooth": [(a, b) for a in SPLINES for b in ("line", *ROUNDS, *SPLINES)],
    "on_curve": [("point", kind) for kind in _EVERY],
    "collinear": [("line", "line")],
    "concentric": [(a, b) for a in (*ROUNDS, *OVALS) for b in (*ROUNDS, *OVALS)],
    "midpoint": [("point", "line")],
    "symmetric": [("point", "point", "line"), ("point", "point", "point")],
    "distance": [("line",), ("point", "point"), ("point", "line"), ("line", "line"), *_CURVED],
    "arc_length": [("arc",)],
    "horizontal_distance": [("line",), ("point", "point")],
    "vertical_distance": [("line",), ("point", "point")],
    "angle": [("line", "line"), ("point", "point", "point")],
    "radius": [("circle",), ("arc",)],
    "diameter": [("circle",), ("arc",)],
    "fix": [("point",), ("line",), *((k,) for k in (*ROUNDS, *OVALS, *SPLINES, "text"))],
}
"""Which kinds of places each constraint takes, in its order; axes are lines."""
COPIED = ("line", "circle", "arc", "ellipse", "elliptic_arc", "spline", "controlled", "point", "text")
IMAGES: dict[str, tuple[str, tuple[str, ...]]] = {
    "offset": ("", ("line", "circle", "arc")),
    "mirrored": ("line", tuple(k for k in COPIED if k != "text")),
    "shifted": ("line", COPIED),
    "turned": ("point", COPIED),
}
"""Constraints between originals and copies: what stands first (nothing of an offset), then pairs of one such kind."""
COUNT = "count"
"""How many copies there are: what a row or ring goes by, then the originals (sketch.solving.images)."""


def accepted(kind: str, kinds: tuple[str, ...]) -> bool:
    """Whether a constraint can hold between places of these kinds."""
    if kind == COUNT:
        return len(kinds) > 1 and kinds[0] in ("line", "point") and set(kinds[1:]) <= set(COPIED)
    if kind not in IMAGES:
        return kinds in ACCEPTS[kind]
    first, copied = IMAGES[kind]
    rest = kinds[1:] if first else kinds
    pairs = list(zip(rest[::2], rest[1::2], strict=False))
    return (
        len(rest) % 2 == 0
        and bool(pairs)
        and kinds[0] == (first or kinds[0])
        and all(a == b and a in copied for a, b in pairs)
    )


def place_kind(kinds: Mapping[str, str], place: str) -> str:
    """What a place is: a point or a kind of curve; "" when its curve is gone or has no such point.

    Args:
        kinds: kind of every curve by id, the origin and axes left out.
    """
    curve, part = taken_apart(place)
    kind = "point" if curve == ORIGIN else "line" if curve in AXES else kinds.get(curve, "")
    if not part or not kind:
        return kind
    if kind in SPLINES:
        inner = part[:1] == "p" and part[1:].isdigit()
        return "point" if part in ("start", "end") or inner or (kind == "spline" and part in ("from", "to")) else ""
    return "point" if f"{part}.x" in SHAPES[kind] else ""
