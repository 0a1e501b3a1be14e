"""How round faces are: the smallest radius of curvature everywhere."""

from __future__ import annotations

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.GeomAPI import GeomAPI_ProjectPointOnSurf
from OCP.GeomLProp import GeomLProp_SLProps
from OCP.gp import gp_Pnt
from OCP.TopoDS import TopoDS

from architectonic.kernel.measure.surveys.survey import Survey, cells_of, worst
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import is_planar

FLAT = 1e-7
"""A curvature below this, 1/mm, counts as none."""


def by_radius(body: Labelled) -> Survey:
    """The smallest radius of curvature at each cell, mm, on the exact faces, to whichever side it bends; none where it is flat."""
    cells = cells_of(body, count=1500)
    values, middles = np.full(len(cells.face), np.nan), cells.middles
    flat = [is_planar(f) is not None for f in body.face_list]
    surfaces = [BRep_Tool.Surface_s(TopoDS.Face(f)) for f in body.face_list]
    for k, face in enumerate(cells.face):
        if flat[face]:
            continue
        foot = GeomAPI_ProjectPointOnSurf(gp_Pnt(*(float(c) for c in middles[k])), surfaces[face])
        if not foot.NbPoints():
            continue
        here = GeomLProp_SLProps(surfaces[face], *foot.LowerDistanceParameters(), 2, 1e-9)
        if here.IsCurvatureDefined():
            most = max(abs(here.MaxCurvature()), abs(here.MinCurvature()))
            values[k] = 1.0 / most if most > FLAT else np.nan
    labels = [body.faces[f][0] for f in cells.face]
    return Survey(worst(values, middles, labels, [""] * len(labels), body), cells.points, cells.triangles, values)
