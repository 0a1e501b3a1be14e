"""Residuals of constraints with their derivatives, on plain numbers: one function for each kind of row.

A kernel takes the values of its variables in order, and one constant; it gives the residual and the derivative by
each variable. Lengths may be in any unit, angles are rad. Each kernel is held against central differences by a test.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import NamedTuple

Kernel = Callable[[Sequence[float], float], tuple[float, tuple[float, ...]]]
TINY = 1e-12
"""Below this a length counts as none; its gradient then points along x, so that it can grow."""


class Residual(NamedTuple):
    """One equation: kernel, variables, constant; `length` says whether the constant is a length, `turn` whether the
    residual is an angle."""

    kernel: Kernel
    at: tuple[int, ...]
    value: float = 0.0
    length: bool = True
    turn: bool = False


def same(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """a - b - value."""
    return v[0] - v[1] - value, (1.0, -1.0)


def held(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """a - value."""
    return v[0] - value, (1.0,)


def distance(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """|b - a| - value; a, b points."""
    dx, dy = v[2] - v[0], v[3] - v[1]
    d = math.hypot(dx, dy)
    ux, uy = (dx / d, dy / d) if d > TINY else (1.0, 0.0)
    return d - value, (-ux, -uy, ux, uy)


def on_round(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """|p - centre| - radius; centre, p, radius."""
    r, g = distance(v, v[4])
    return r, (*g, -1.0)


def outside(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """|b - a| - ra - rb; centres a, b and radii: circles that touch from outside."""
    r, g = distance(v, v[4] + v[5])
    return r, (*g, -1.0, -1.0)


def second_inside(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """|b - a| - ra + rb: the second circle touches from within the first."""
    r, g = distance(v, v[4] - v[5])
    return r, (*g, -1.0, 1.0)


def first_inside(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """|b - a| + ra - rb: the first circle touches from within the second."""
    r, g = distance(v, v[5] - v[4])
    return r, (*g, 1.0, -1.0)


def turn(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """Angle from line 1 to line 2, less value, in (-pi, pi]: one root per turn, no jump at it."""
    ax, ay, bx, by = v[2] - v[0], v[3] - v[1], v[6] - v[4], v[7] - v[5]
    cross, dot = ax * by - ay * bx, ax * bx + ay * by
    s, c = math.sin(value), math.cos(value)
    a2, b2 = max(ax * ax + ay * ay, TINY * TINY), max(bx * bx + by * by, TINY * TINY)
    return math.atan2(c * cross - s * dot, c * dot + s * cross), (
        -ay / a2, ax / a2, ay / a2, -ax / a2, by / b2, -bx / b2, -by / b2, bx / b2,
    )  # fmt: skip


def side(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """Distance of a point to the left of a line, less value; line, point."""
    dx, dy = v[2] - v[0], v[3] - v[1]
    length = max(math.hypot(dx, dy), TINY)
    ux, uy = dx / length, dy / length
    px, py = v[4] - v[0], v[5] - v[1]
    t = (ux * px + uy * py) / length
    return ux * py - uy * px - value, (uy * (1 - t), -ux * (1 - t), uy * t, -ux * t, -uy, ux)


def beside(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """Distance of a centre to the left of a line, less value (+1 or -1) radii; line, centre, radius."""
    r, g = side(v, value * v[6])
    return r, (*g, -value)


def square_at(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """Direction of a line times the radius at a joint; line, joint, centre: tangency as a simple root."""
    dx, dy = v[2] - v[0], v[3] - v[1]
    length = max(math.hypot(dx, dy), TINY)
    ux, uy = dx / length, dy / length
    rx, ry = v[4] - v[6], v[5] - v[7]
    across = (ux * ry - uy * rx) / length
    return ux * rx + uy * ry, (uy * across, -ux * across, -uy * across, ux * across, ux, uy, -ux, -uy)


def equal(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """Length of line 1 less that of line 2."""
    a, g = distance(v[:4], 0.0)
    b, h = distance(v[4:], 0.0)
    return a - b, (*g, -h[0], -h[1], -h[2], -h[3])


def middle(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """p - (a + b) / 2, one coordinate."""
    return v[2] - (v[0] + v[1]) / 2, (-0.5, -0.5, 1.0)


def mirror_middle(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """Distance of the middle of a and b to the left of a line; line, a, b."""
    r, g = side((*v[:4], (v[4] + v[6]) / 2, (v[5] + v[7]) / 2), 0.0)
    return r, (*g[:4], g[4] / 2, g[5] / 2, g[4] / 2, g[5] / 2)


def mirror_square(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """Direction of a line times the way from a to b; line, a, b: square to it when zero."""
    dx, dy = v[2] - v[0], v[3] - v[1]
    length = max(math.hypot(dx, dy), TINY)
    ux, uy = dx / length, dy / length
    wx, wy = v[6] - v[4], v[7] - v[5]
    across = (ux * wy - uy * wx) / length
    return ux * wx + uy * wy, (uy * across, -ux * across, -uy * across, ux * across, -ux, -uy, ux, uy)


def gap(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """|b - a| - ra - rb - value: the gap between two circles; centres, radii."""
    r, g = outside(v, 0.0)
    return r - value, g


def arc_length(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """Radius times the counter-clockwise sweep from start to end, less value; centre, start, end, radius."""
    ax, ay, bx, by, r = v[2] - v[0], v[3] - v[1], v[4] - v[0], v[5] - v[1], v[6]
    sweep = (math.atan2(by, bx) - math.atan2(ay, ax)) % math.tau
    a2, b2 = max(ax * ax + ay * ay, TINY * TINY), max(bx * bx + by * by, TINY * TINY)
    sx, sy, ex, ey = ay / a2, -ax / a2, -by / b2, bx / b2
    slopes = (-r * (sx + ex), -r * (sy + ey), r * sx, r * sy, r * ex, r * ey, sweep)
    return r * sweep - value, slopes


def turned_x(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """x of q less that of p turned about a centre by value; centre, p, x of q."""
    c, s = math.cos(value), math.sin(value)
    return v[4] - v[0] - c * (v[2] - v[0]) + s * (v[3] - v[1]), (c - 1.0, -s, -c, s, 1.0)


def turned_y(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """y of q less that of p turned about a centre by value; centre, p, y of q."""
    c, s = math.cos(value), math.sin(value)
    return v[4] - v[1] - s * (v[2] - v[0]) - c * (v[3] - v[1]), (s, c - 1.0, -s, -c, 1.0)


def shifted_x(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """x of q less that of p moved by value along a line; line, x of p, x of q."""
    dx, dy = v[2] - v[0], v[3] - v[1]
    length = max(math.hypot(dx, dy), TINY)
    ux, uy = dx / length, dy / length
    gx, gy = value * uy * uy / length, -value * ux * uy / length
    return v[5] - v[4] - value * ux, (gx, gy, -gx, -gy, -1.0, 1.0)


def shifted_y(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """The same for y; line, y of p, y of q."""
    r, (a, b, c, d, e, f) = shifted_x((v[1], v[0], v[3], v[2], v[4], v[5]), value)
    return r, (b, a, d, c, e, f)


def upright_x(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """x of the upper corner of a text box, `value` times its width to the left of its base line; at, along, over."""
    return v[4] - v[0] + value * (v[3] - v[1]), (-1.0, -value, 0.0, value, 1.0, 0.0)


def upright_y(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """y of the upper corner of a text box, `value` times its width to the left of its base line; at, along, over."""
    return v[5] - v[1] - value * (v[2] - v[0]), (value, -1.0, -value, 0.0, 0.0, 1.0)


def wider(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """Radius of the second circle less that of the first, less value."""
    return v[1] - v[0] - value, (-1.0, 1.0)


def foot(v: Sequence[float], value: float) -> tuple[float, tuple[float, ...]]:
    """How far along a line a point lies from a place on it; line, place, point: square across when zero."""
    r, g = square_at((*v[:4], *v[6:8], *v[4:6]), value)
    return r, (*g[:4], g[6], g[7], g[4], g[5])
