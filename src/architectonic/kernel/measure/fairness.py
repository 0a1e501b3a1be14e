"""What is looked at to see how fair faces and edges run: normals for stripes, curvatures for combs."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepLProp import BRepLProp_SLProps
from OCP.GeomAbs import GeomAbs_Line
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopLoc import TopLoc_Location

from architectonic.kernel.measure.mesh import facets
from architectonic.kernel.shapes.labelled import Labelled

FINE = 0.06
"""Angle between neighbouring facets, rad: a stripe is seldom narrower on the screen."""
TEETH = 48
"""Of the comb on an edge."""
NONE = 1e-9
"""Less than this is no length, and no curvature, in 1/mm."""


class Comb(NamedTuple):
    """Curvature along an edge: where it was looked at (n, 3) mm, and its curvature there (n, 3) 1/mm, towards its centre."""

    label: str
    at: np.ndarray
    bends: np.ndarray


class Fairness(NamedTuple):
    """Fine facets of a body with exact normals, and the combs of its edges that are not straight.

    Attributes:
        points (n, 3) mm; triangles (m, 3), outward; normals (n, 3), outward, of length 1.
    """

    points: np.ndarray
    triangles: np.ndarray
    normals: np.ndarray
    combs: list[Comb]


def fairness(body: Labelled) -> Fairness:
    """Look closely at how the faces and edges of a body run.

    Normals are those of the exact faces at the corners of their facets, so that a stripe breaks where faces do and nowhere else.
    """
    (points, triangles, _), _ = facets(body.shape, body.face_list, FINE)
    normals = np.concatenate([np.zeros((0, 3)), *(_normals(f) for f in body.face_list)])
    lost = np.linalg.norm(normals, axis=1) < 0.5  # at a pole: as its facets lie
    corners = points[triangles]
    across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    around = np.zeros_like(normals)
    for k in range(3):
        np.add.at(around, triangles[:, k], across)
    around /= np.maximum(np.linalg.norm(around, axis=1), NONE)[:, None]
    normals[lost] = around[lost]
    combs = [Comb(label, *found) for label, edge in body.edges.items() if (found := _comb(edge)) is not None]
    return Fairness(points, triangles, normals, combs)


def _normals(face: Any) -> np.ndarray:
    """At the corners of a face's facets, outward; 0 where the face has none."""
    t = BRep_Tool.Triangulation_s(face, TopLoc_Location())
    if t is None:
        return np.zeros((0, 3))
    props = BRepLProp_SLProps(BRepAdaptor_Surface(face), 1, 1e-9)
    found = np.zeros((t.NbNodes(), 3))
    for k in range(t.NbNodes()):
        at = t.UVNode(k + 1)
        props.SetParameters(at.X(), at.Y())
        if props.IsNormalDefined():
            found[k] = props.Normal().Coord()
    return -found if face.Orientation() == TopAbs_REVERSED else found


def _comb(edge: Any) -> tuple[np.ndarray, np.ndarray] | None:
    """Points of an edge, and its curvature at each: (c' x c'') x c' / |c'|^4 (do Carmo, section 1-5)."""
    curve = BRepAdaptor_Curve(edge)
    if curve.GetType() == GeomAbs_Line:
        return None
    at, bends, p, first, second = [], [], gp_Pnt(), gp_Vec(), gp_Vec()
    for t in np.linspace(curve.FirstParameter(), curve.LastParameter(), TEETH):
        curve.D2(float(t), p, first, second)
        size = first.Magnitude()
        if size < NONE:
            continue
        bend = first.Crossed(second).Crossed(first).Divided(size**4)
        at.append(p.Coord())
        bends.append((bend.X(), bend.Y(), bend.Z()))
    found = np.array(bends).reshape(-1, 3)
    if len(found) == 0 or np.linalg.norm(found, axis=1).max() < NONE:
        return None
    return np.array(at), found
