"""Facets for files: closed, of few points, and as near to the true faces as is asked, which is measured."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any, NamedTuple

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.gp import gp_Pnt
from OCP.ShapeAnalysis import ShapeAnalysis_Surface
from OCP.TopLoc import TopLoc_Location

from architectonic.base import tolerance
from architectonic.kernel.measure import mesh
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import is_planar

SHARES = (1.0, 0.6, 0.35, 0.2, 0.1)
"""Of the chord that is asked for: the kernel keeps to it on average, and on some faces does not."""
BETWEEN = ((1 / 3, 1 / 3, 1 / 3), (0.5, 0.5, 0.0), (0.0, 0.5, 0.5), (0.5, 0.0, 0.5))
"""Places in a facet that lie farthest from its face, by the weights of its corners."""


class Fine(NamedTuple):
    """Facets of a body: points (n, 3) mm, none twice; triangles (m, 3), outward; how far they miss the faces, mm."""

    points: np.ndarray
    triangles: np.ndarray
    misses: float


def fine(body: Labelled, chord: float, angle: float) -> Fine:
    """Facets that lie nowhere farther from the faces than the chord, mm, nor turn by more than the angle, rad."""
    made, misses = None, math.inf
    for share in SHARES:
        made, _ = mesh.facets(body.shape, body.face_list, angle, chord=share * chord)
        misses = max((m for face in body.face_list for m in _missed(face, chord)), default=0.0)
        if misses <= chord:
            break
    assert made is not None
    points, triangles = _welded(made[0], made[1])
    return Fine(points, triangles, misses)


def _welded(points: np.ndarray, triangles: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Points at one place as one, and triangles that are left as triangles."""
    _, first, same = np.unique(np.round(points / tolerance.MODELLING), axis=0, return_index=True, return_inverse=True)
    corners = same.reshape(-1)[triangles]
    real = (corners[:, 0] != corners[:, 1]) & (corners[:, 1] != corners[:, 2]) & (corners[:, 2] != corners[:, 0])
    return points[first], corners[real]


def _missed(face: Any, chord: float) -> Iterator[float]:
    """How far facets of a face lie from it where they are farthest, mm: first by the middle of their parameters, which is
    never too little; where that is too far, by the nearest point."""
    if is_planar(face):
        return
    where = TopLoc_Location()
    t = BRep_Tool.Triangulation_s(face, where)
    if t is None or not t.HasUVNodes():
        return
    nodes = np.array([t.Node(i).Transformed(where.Transformation()).Coord() for i in range(1, t.NbNodes() + 1)])
    uv = np.array([t.UVNode(i).Coord() for i in range(1, t.NbNodes() + 1)])
    corners = np.array([t.Triangle(i).Get() for i in range(1, t.NbTriangles() + 1)]) - 1
    surface = BRepAdaptor_Surface(face)
    exact: Any = None
    for weights in BETWEEN:
        w = np.array(weights)[None, :, None]
        for p, (u, v) in zip((nodes[corners] * w).sum(axis=1), (uv[corners] * w).sum(axis=1), strict=True):
            near = math.dist(p, surface.Value(u, v).Coord())
            if near > chord:
                exact = exact or ShapeAnalysis_Surface(BRep_Tool.Surface_s(face))
                at = exact.ValueOfUV(gp_Pnt(*p), tolerance.MODELLING)
                near = min(near, math.dist(p, surface.Value(at.X(), at.Y()).Coord()))
            yield near
