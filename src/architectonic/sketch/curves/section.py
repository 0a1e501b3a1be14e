"""Properties of plane areas: area, centre and second moments of area, by Green's theorem around their loops.

Integrals of polynomials over an area become integrals along its boundary (e.g. E. Kreyszig, Advanced Engineering
Mathematics, section 10.4; cited from memory). Along each piece they are integrated by Gauss-Legendre quadrature, which is
exact for lines and good to rounding for arcs and smooth paths.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from architectonic.base import tolerance
from architectonic.sketch.curves import paths
from architectonic.sketch.curves.piece import Piece

_NODES = 12
STEPS = 16
"""A curved piece is integrated in so many parts for a whole turn, at least four."""


class Section(NamedTuple):
    """Properties of an area.

    Attributes:
        area: mm2; centre: mm.
        ixx, iyy, ixy: second moments about axes through the centre, mm4: of y squared, of x squared, of x times y.
    """

    area: float
    centre: tuple[float, float]
    ixx: float
    iyy: float
    ixy: float

    @property
    def principal(self) -> tuple[float, float, float]:
        """Largest and smallest second moment, mm4, and the angle of the axis of the largest from x, rad."""
        middle, half = (self.ixx + self.iyy) / 2, math.hypot((self.ixx - self.iyy) / 2, self.ixy)
        return middle + half, middle - half, math.atan2(-2 * self.ixy, self.ixx - self.iyy) / 2


def section_of(loops: tuple[tuple[Piece, ...], ...]) -> Section:
    """Properties of an area from its loops, the outer one counter-clockwise, holes clockwise."""
    points, weights = np.polynomial.legendre.leggauss(_NODES)
    sums = np.zeros(6)
    for loop in loops:
        for piece in loop:
            parts = 1 if piece.straight else max(4, math.ceil(abs(piece.turn) / math.tau * STEPS))
            for k in range(parts):
                at = (k + (points + 1) / 2) / parts
                x, y = np.array([piece.at(float(t)) for t in at]).T
                sums += _along(piece, at, x, y, weights / 2 / parts)
    area, mx, my, ixx, iyy, ixy = (float(s) for s in sums)
    cx, cy = mx / area, my / area
    moments = (ixx - area * cy * cy, iyy - area * cx * cx, ixy - area * cx * cy)
    unit = 1e-12 * max(abs(m) for m in moments)  # beyond lies the rounding of the sums
    return Section(area, (tolerance.length(cx), tolerance.length(cy)), *(_plain(m, unit) for m in moments))


def _plain(value: float, unit: float) -> float:
    return round(value / unit) * unit + 0.0 if unit else value


def _along(piece: Piece, at: np.ndarray, x: np.ndarray, y: np.ndarray, weights: np.ndarray) -> np.ndarray:
    """Shares of a part of a piece: area, its moments about both axes, and the second moments about the origin.

    Of a homogeneous polynomial p of degree n, the integral over the area is that of p (x dy - y dx) / (n + 2) around it.
    """
    if piece.straight:
        dx, dy = np.array(piece.end) - np.array(piece.start)
    elif piece.path is None:
        dx, dy = -(y - piece.centre[1]) * piece.turn, (x - piece.centre[0]) * piece.turn
    else:
        reach = piece.span[1] - piece.span[0]
        slopes = np.array([paths.point(piece.path, piece.span[0] + float(t) * reach, 1) for t in at])
        dx, dy = slopes.T * reach
    across = x * dy - y * dx
    terms = (across / 2, x * across / 3, y * across / 3, y * y * across / 4, x * x * across / 4, x * y * across / 4)
    return np.array([float((weights * term).sum()) for term in terms])
