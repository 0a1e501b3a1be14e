"""What bodies are coloured by: the figures of a survey, or stripes that show how fair their faces run."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from architectonic.render.palette import BANDS, UNKNOWN, rgb

STEPS = (1.0, 1.25, 2.0)
"""Where the bands of a survey end, by its limit."""


class Cells(NamedTuple):
    """What a body is coloured by: triangles of their own, and the figure of each.

    Attributes:
        points (n, 3) float32 mm; triangles (m, 3); values (m,), NaN where there is none; limit: what they should not fall below,
        or, with most, not rise above.
    """

    points: np.ndarray
    triangles: np.ndarray
    values: np.ndarray
    limit: float
    most: bool = False

    def colours(self) -> np.ndarray:
        """Of triangles, (m, 3) uint8."""
        palette = np.array([[round(255 * c) for c in rgb(colour)] for colour in (*BANDS, UNKNOWN)], np.uint8)
        if self.most:  # the worst band is the first one, as ever
            band = np.searchsorted(-self.limit / np.array(STEPS), -self.values, side="left")
        else:
            band = np.searchsorted(np.array(STEPS) * self.limit, self.values, side="right")
        found: np.ndarray = palette[np.where(np.isnan(self.values), len(BANDS), band)]
        return found


class Stripes(NamedTuple):
    """Fine facets with the normals of exact faces, on which lines of light are reflected.

    Attributes:
        points (n, 3), normals (n, 3) float32; triangles (m, 3).
    """

    points: np.ndarray
    normals: np.ndarray
    triangles: np.ndarray
