"""On which side of a singular position a block of equations stands."""

from __future__ import annotations

import math

import numpy as np

_RANK = 1e-9
"""Singular values below this, relative to the largest, count as zero; solver-facts: a real gap lies 1e-6 higher."""


_PROBES = 3
"""Motions that are sent through the blocks to see what moves; a motion that misses a column has measure zero."""


def side_of(slopes: list[list[float]]) -> float:
    """Sign of a square block's determinant; 0 where it is singular or not square."""
    n = len(slopes)
    if any(len(line) != n for line in slopes):
        return 0.0
    if n == 1:
        a = slopes[0][0]
        return 0.0 if abs(a) < 1e-9 else math.copysign(1.0, a)
    if n == 2:
        (a, b), (c, d) = slopes
        det = a * d - b * c
        return 0.0 if abs(det) < 1e-9 * (abs(a) + abs(b)) * (abs(c) + abs(d)) else math.copysign(1.0, det)
    matrix = np.array(slopes)
    sign, size = np.linalg.slogdet(matrix)
    lengths = float(np.log(np.maximum(np.linalg.norm(matrix, axis=1), 1e-300)).sum())
    return 0.0 if size - lengths < -20.0 * n else float(sign)
