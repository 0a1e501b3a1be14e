"""Points in space: what holds between them, as merges and rows of the same system as flat sketches.

A point in space is a curve of kind `spot` (three variables), a fixed plane or line that it is tied to one of kind `facing` or
`ray` (a point and a direction). Rows are scale free or lengths; directions are taken as they stand, whatever their length.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from architectonic.sketch.solving.entities import Constraint, Unknowns
from architectonic.sketch.solving.kernels import Residual

Merge = tuple[int, int, float]
Triple = tuple[float, float, float]
AXES = ("x", "y", "z")
FLAT = 1e-9
"""Below which the sine of an angle counts as none."""


def spot(s: Unknowns, place: str) -> tuple[int, int, int]:
    """Variables of a point in space."""
    i = s.first[place]
    return i, i + 1, i + 2


def merges(s: Unknowns, c: Constraint) -> list[Merge] | None:
    """What says a constraint wholly: equal coordinates, or coordinates a value apart; None when it needs rows."""
    if c.kind == "spots_meet":
        return [(a, b, 0.0) for a, b in zip(spot(s, c.of[0]), spot(s, c.of[1]), strict=True)]
    kind, _, axis = c.kind.partition("_")
    if axis not in AXES:
        return None
    k = AXES.index(axis)
    if kind == "along":  # both other coordinates are equal
        a, b = spot(s, c.of[0]), spot(s, c.of[1])
        return [(a[i], b[i], 0.0) for i in range(3) if i != k]
    if kind == "coordinate":
        return [(spot(s, c.of[0])[k], -1, c.value or 0.0)]
    if kind == "step":
        return [(spot(s, c.of[1])[k], spot(s, c.of[0])[k], c.value or 0.0)]
    return [(spot(s, c.of[1])[k], spot(s, c.of[0])[k], 0.0)]  # level


def rows(s: Unknowns, c: Constraint) -> list[Residual]:
    """The rows of a constraint that elimination cannot take in."""
    at = tuple(i for place in c.of for i in (range(s.first[place], s.first[place] + len(s.curves[place].values))))
    value = c.value or 0.0
    if c.kind == "apart":
        return [Residual(_apart, at, value)]
    if c.kind == "corner":
        return [Residual(_corner, at, value, length=False)]
    if c.kind == "legs_equal":
        return [Residual(_equal, at)]
    if c.kind == "legs_square":
        return [Residual(_square, at, length=False)]
    if c.kind == "legs_parallel":
        first = np.array([s.x[i] for i in at[3:6]]) - np.array([s.x[i] for i in at[:3]])
        return [Residual(_Across(axis), at, length=False) for axis in _square_to(first)]
    if c.kind == "on_facing":
        return [Residual(_height, at, c.branch * value)]
    direction = np.array([s.x[i] for i in at[-3:]])
    if c.kind == "on_ray":
        return [Residual(_Beside(axis), at) for axis in _square_to(direction)]
    assert c.kind == "spots_mirrored"
    return [Residual(_between, at), *(Residual(_Drift(axis), at) for axis in _square_to(direction))]


KINDS: dict[str, tuple[tuple[str, ...], ...]] = {
    "spots_meet": (("spot", "spot"),),
    **{f"along_{a}": (("spot", "spot"),) for a in AXES},
    **{f"level_{a}": (("spot", "spot"),) for a in AXES},
    **{f"coordinate_{a}": (("spot",),) for a in AXES},
    **{f"step_{a}": (("spot", "spot"),) for a in AXES},
    "apart": (("spot", "spot"),),
    "corner": (("spot", "spot", "spot"),),
    "legs_equal": (("spot",) * 4,),
    "legs_square": (("spot",) * 4,),
    "legs_parallel": (("spot",) * 4,),
    "on_facing": (("spot", "facing"),),
    "on_ray": (("spot", "ray"),),
    "spots_mirrored": (("spot", "spot", "facing"),),
}
"""What each takes. Corner: the angle at the second point; legs: from the first to the second point, from the third to the
fourth; on_facing: at a distance from a plane, before it."""


def _square_to(direction: np.ndarray) -> tuple[Triple, Triple]:
    """Two unit directions square to one and to each other."""
    size = float(np.linalg.norm(direction))
    d = direction / size if size > 0 else np.array([0.0, 0.0, 1.0])
    first = np.cross(d, np.eye(3)[int(np.argmin(np.abs(d)))])
    first /= np.linalg.norm(first)
    second = np.cross(d, first)
    return (float(first[0]), float(first[1]), float(first[2])), (float(second[0]), float(second[1]), float(second[2]))


def _minus(v: Sequence[float], a: int, b: int) -> Triple:
    """The point at b of some variables less the one at a."""
    return v[b] - v[a], v[b + 1] - v[a + 1], v[b + 2] - v[a + 2]


def _dot(a: Triple, b: Triple) -> float:
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def _cross(a: Triple, b: Triple) -> Triple:
    return a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]


def _unit(a: Triple) -> tuple[Triple, float]:
    size = math.sqrt(_dot(a, a))
    return ((a[0] / size, a[1] / size, a[2] / size), size) if size > 1e-12 else ((1.0, 0.0, 0.0), 1e-12)


def _times(k: float, a: Triple) -> Triple:
    return k * a[0], k * a[1], k * a[2]


def _less(a: Triple, b: Triple) -> Triple:
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


def _neg(a: Triple) -> Triple:
    return -a[0], -a[1], -a[2]


def _apart(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """|b - a| - value."""
    u, size = _unit(_minus(v, 0, 3))
    return size - value, (*_neg(u), *u)


def _legs(v: Sequence[float], first: tuple[int, int], second: tuple[int, int]) -> tuple[Triple, float, Triple, float]:
    p, a = _unit(_minus(v, *first))
    q, b = _unit(_minus(v, *second))
    return p, a, q, b


def _corner(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """The angle at b between a and c, less value."""
    p, a, q, b = _legs(v, (3, 0), (3, 6))
    c = max(-1.0, min(1.0, _dot(p, q)))
    s = max(math.sqrt(max(0.0, 1.0 - c * c)), FLAT)
    da = _times(-1.0 / (a * s), _less(q, _times(c, p)))
    dc = _times(-1.0 / (b * s), _less(p, _times(c, q)))
    db = _neg((da[0] + dc[0], da[1] + dc[1], da[2] + dc[2]))
    return math.atan2(s, c) - value, (*da, *db, *dc)


def _equal(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """|b - a| - |d - c|."""
    p, a, q, b = _legs(v, (0, 3), (6, 9))
    return a - b, (*_neg(p), *p, *q, *_neg(q))


def _square(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """Cosine between two legs."""
    p, a, q, b = _legs(v, (0, 3), (6, 9))
    c = _dot(p, q)
    dp, dq = _times(1 / a, _less(q, _times(c, p))), _times(1 / b, _less(p, _times(c, q)))
    return c, (*_neg(dp), *dp, *_neg(dq), *dq)


@dataclass(frozen=True)
class _Across:
    """One coordinate of the sine between two legs: along an axis square to them."""

    axis: Triple

    def __call__(self, v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
        p, a, q, b = _legs(v, (0, 3), (6, 9))
        r = _dot(self.axis, _cross(p, q))
        dp = _times(1 / a, _less(_cross(q, self.axis), _times(r, p)))
        dq = _times(1 / b, _less(_cross(self.axis, p), _times(r, q)))
        return r, (*_neg(dp), *dp, *_neg(dq), *dq)


def _height(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """How far a point lies before a plane, less value; the plane stands still."""
    n, _ = _unit((v[6], v[7], v[8]))
    return _dot(n, _minus(v, 3, 0)) - value, (*n, *_neg(n), 0.0, 0.0, 0.0)


@dataclass(frozen=True)
class _Beside:
    """How far a point lies beside a line that stands still, along an axis square to it."""

    axis: Triple

    def __call__(self, v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
        return _dot(self.axis, _minus(v, 3, 0)), (*self.axis, *_neg(self.axis), 0.0, 0.0, 0.0)


def _between(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """How far the middle of two points lies before a plane that stands still."""
    n, _ = _unit((v[9], v[10], v[11]))
    half = _times(0.5, n)
    return 0.5 * (_dot(n, _minus(v, 6, 0)) + _dot(n, _minus(v, 6, 3))), (*half, *half, *_neg(n), 0.0, 0.0, 0.0)


@dataclass(frozen=True)
class _Drift:
    """How far two points drift apart along a plane, along an axis in it."""

    axis: Triple

    def __call__(self, v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
        return _dot(self.axis, _minus(v, 0, 3)), (*_neg(self.axis), *self.axis, *(0.0,) * 6)
