"""Tolerances and the rounding grid, all in one place.

Values are rounded when they leave their node and when an edit stores them (docs/decisions/0005), so that
equal models give equal digests and files show a readable difference.
"""

from __future__ import annotations

import math

GRID_DECIMALS_LENGTH = 9
"""Lengths are rounded to 1e-9 mm."""
GRID_DECIMALS_ANGLE = 12
"""Angles, ratios and direction cosines are rounded to 1e-12."""
MODELLING = 1e-6
"""Two points nearer than this, in mm, are one to sketches and solids (the kernel's own limit is 1e-7)."""
SOLVER = 1e-10
"""Largest residual, in mm, that a solved sketch may show."""
PARALLEL = 1e-9
"""Directions that differ by less, in rad, are parallel."""
MEASURE = 1e-9
"""Measurements of shapes agree to this, relatively; a smaller difference is no change."""
FEATURE = 1e-4
"""A length below this, in mm, is refused as a size of an operation."""

GAP = 0.01
"""Edges of surfaces that lie nearer to each other than this, in mm, are joined unless another limit is given (common
practice for parts of this size: a tenth of the finest sheet)."""


def length(value: float) -> float:
    """Round a length in mm to the grid; negative zero becomes zero."""
    return round(value, GRID_DECIMALS_LENGTH) + 0.0


def ratio(value: float) -> float:
    """Round an angle in rad, a ratio or a direction cosine to the grid."""
    return round(value, GRID_DECIMALS_ANGLE) + 0.0


def finite(value: float) -> bool:
    """True for ordinary numbers; NaN and infinity never enter a document."""
    return math.isfinite(value)
