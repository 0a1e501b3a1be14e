"""Where something stands: rotations and shifts as matrices, 4 x 4, row-major, mm.

Plain numbers: they stand in records, travel to workers and are written into reports as they are.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

Rigid = tuple[float, ...]
"""Sixteen numbers; the upper left 3 x 3 turns, the right column shifts, the last row is 0 0 0 1."""
Vector = tuple[float, float, float]

IDENTITY: Rigid = (1.0, 0.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0, 1.0)
SQUARE = 1e-9
"""How far rows may be from unit length and from each other's normal."""


def is_rigid(m: Rigid) -> bool:
    """Whether numbers say where something stands: sixteen of them, turning without stretching or mirroring."""
    if len(m) != 16 or not all(math.isfinite(c) for c in m) or m[12:] != (0.0, 0.0, 0.0, 1.0):
        return False
    rows = [m[0:3], m[4:7], m[8:11]]
    products = [sum(a * b for a, b in zip(rows[i], rows[j], strict=True)) for i in range(3) for j in range(3)]
    square = all(abs(p - (k % 4 == 0)) < SQUARE for k, p in enumerate(products))
    (a, b, c), (d, e, f), (g, h, i) = rows
    return square and a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g) > 0


def times(first: Rigid, then: Rigid) -> Rigid:
    """Where something stands in the outer frame that stands at `then` in an inner one that stands at `first`."""
    return tuple(sum(first[4 * i + k] * then[4 * k + j] for k in range(4)) for i in range(4) for j in range(4))


def inverse(m: Rigid) -> Rigid:
    """What takes it back."""
    back = tuple(m[4 * (j) + i] if j < 3 and i < 3 else 0.0 for i in range(4) for j in range(4))
    x, y, z = turned(back, (m[3], m[7], m[11]))
    return (*back[0:3], -x, *back[4:7], -y, *back[8:11], -z, 0.0, 0.0, 0.0, 1.0)


def moved(m: Rigid, point: Iterable[float]) -> Vector:
    """A point taken along."""
    x, y, z = point
    a, b, c = (m[i] * x + m[i + 1] * y + m[i + 2] * z + m[i + 3] for i in (0, 4, 8))
    return a, b, c


def turned(m: Rigid, direction: Iterable[float]) -> Vector:
    """A direction taken along."""
    x, y, z = direction
    a, b, c = (m[i] * x + m[i + 1] * y + m[i + 2] * z for i in (0, 4, 8))
    return a, b, c


def shifts_only(m: Rigid) -> bool:
    """Whether nothing is turned."""
    return all(m[4 * i + j] == (1.0 if i == j else 0.0) for i in range(3) for j in range(3))


def shift(x: float, y: float, z: float) -> Rigid:
    """A shift alone."""
    return (1.0, 0.0, 0.0, x, 0.0, 1.0, 0.0, y, 0.0, 0.0, 1.0, z, 0.0, 0.0, 0.0, 1.0)


def about_z(angle: float) -> Rigid:
    """A turn about the z axis, rad."""
    return about((0.0, 0.0, 1.0), angle)


def about(axis: Vector, angle: float, through: Vector = (0.0, 0.0, 0.0)) -> Rigid:
    """A turn about a unit axis through a point, the origin by default, rad (Rodrigues)."""
    c, s = math.cos(angle), math.sin(angle)
    x, y, z = axis
    k = 1 - c
    rows = (
        (c + x * x * k, x * y * k - z * s, x * z * k + y * s),
        (y * x * k + z * s, c + y * y * k, y * z * k - x * s),
        (z * x * k - y * s, z * y * k + x * s, c + z * z * k),
    )
    off = [p - sum(r * q for r, q in zip(row, through, strict=True)) for p, row in zip(through, rows, strict=True)]
    return (*rows[0], off[0], *rows[1], off[1], *rows[2], off[2], 0.0, 0.0, 0.0, 1.0)
