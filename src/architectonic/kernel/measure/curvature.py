"""How round faces are: principal curvatures, Gaussian and mean, in 1/mm."""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.BRepTools import BRepTools
from OCP.GeomAbs import GeomAbs_Plane
from OCP.GeomLProp import GeomLProp_SLProps
from OCP.gp import gp_Pnt2d
from OCP.TopAbs import TopAbs_IN, TopAbs_ON, TopAbs_REVERSED
from OCP.TopoDS import TopoDS

GRID = 15
"""Points in each direction of a face at which it is looked at."""


class Curved(NamedTuple):
    """At a point of a face, mm: its two principal curvatures, 1/mm, positive where it bends towards its normal."""

    at: tuple[float, float, float]
    largest: float
    smallest: float

    @property
    def gaussian(self) -> float:
        """Their product, 1/mm2."""
        return self.largest * self.smallest

    @property
    def mean(self) -> float:
        """Half their sum, 1/mm."""
        return (self.largest + self.smallest) / 2


def curvatures(face: Any, grid: int = GRID) -> list[Curved]:
    """At points spread over a face, those beside it left out; points where a curvature is not defined too.

    A grid in the face's own coordinates; exact at each point (first and second fundamental form).
    """
    face = TopoDS.Face(face)
    low_u, high_u, low_v, high_v = BRepTools.UVBounds_s(face)
    surface = BRep_Tool.Surface_s(face)
    sign = -1.0 if face.Orientation() == TopAbs_REVERSED else 1.0
    inside = BRepClass_FaceClassifier()
    found = []
    for u in low_u + (high_u - low_u) * (np.arange(grid) + 0.5) / grid:
        for v in low_v + (high_v - low_v) * (np.arange(grid) + 0.5) / grid:
            inside.Perform(face, gp_Pnt2d(float(u), float(v)), 1e-6)
            if inside.State() not in (TopAbs_IN, TopAbs_ON):
                continue
            here = GeomLProp_SLProps(surface, float(u), float(v), 2, 1e-9)
            if here.IsCurvatureDefined():
                a, b = sign * here.MaxCurvature(), sign * here.MinCurvature()
                found.append(Curved(here.Value().Coord(), max(a, b), min(a, b)))
    return found


def smallest_radius(face: Any, before: bool) -> float:
    """The smallest radius of a face, mm, of what bends towards its normal (or, not before, away from it); infinite where
    nothing does."""
    if BRepAdaptor_Surface(TopoDS.Face(face)).GetType() == GeomAbs_Plane:
        return math.inf
    found = curvatures(face)
    most = max((c.largest if before else -c.smallest for c in found), default=0.0)
    return 1.0 / most if most > 1e-12 else math.inf
