"""How round faces are: the smallest radius of curvature everywhere."""

from __future__ import annotations

import numpy as np
from OCP.GeomLProp import GeomLProp_SLProps

from architectonic.kernel.measure.surveys.survey import Survey, cells_of, on_faces, worst
from architectonic.kernel.shapes.labelled import Labelled

FLAT = 1e-7
"""A curvature below this, 1/mm, counts as none."""


def by_radius(body: Labelled) -> Survey:
    """The smallest radius of curvature at each cell, mm, on the exact faces, to whichever side it bends; none where it is flat."""
    cells = cells_of(body, count=1500)
    values, middles = np.full(len(cells.face), np.nan), cells.middles
    for k, foot in enumerate(on_faces(body, cells)):
        if foot is None:
            continue
        here = GeomLProp_SLProps(foot.surface, foot.u, foot.v, 2, 1e-9)
        if here.IsCurvatureDefined():
            most = max(abs(here.MaxCurvature()), abs(here.MinCurvature()))
            values[k] = 1.0 / most if most > FLAT else np.nan
    labels = [body.faces[f][0] for f in cells.face]
    return Survey(worst(values, middles, labels, [""] * len(labels), body), cells.points, cells.triangles, values)
