"""Triangles and edge lines for pictures, as plain arrays."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.GCPnts import GCPnts_TangentialDeflection
from OCP.GeomAPI import GeomAPI_ProjectPointOnSurf
from OCP.GeomLProp import GeomLProp_SLProps
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS

from architectonic.kernel.labelled import Labelled
from architectonic.kernel.measure import box
from architectonic.kernel.solids import is_planar
from architectonic.kernel.topology import EDGE, FACE, ancestors


def mesh(body: Labelled, angle: float = 0.16) -> dict[str, Any]:
    """Triangulate a body.

    Returns:
        points (n, 3) float32 mm; triangles (m, 3) int32, outward; face (m,) int32 index into faces;
        faces: labels; planes: origin and normal of planar faces or None; lines (k, 3) float32 with
        line_starts (e + 1,) int32, edges: labels and smooth: whether its faces are tangent. Arrays as bytes.
    """
    b = box(body.shape)
    deflection = max(0.01, 0.0006 * math.dist(b[:3], b[3:]))
    BRepMesh_IncrementalMesh(body.shape, deflection, False, angle, False)
    points: list[Any] = []
    triangles: list[Any] = []
    owner: list[int] = []
    for index, face in enumerate(body.face_list):
        location = TopLoc_Location()
        t = BRep_Tool.Triangulation_s(face, location)
        if t is None:
            continue
        move = location.Transformation()
        first = len(points) - 1
        points += [t.Node(i).Transformed(move).Coord() for i in range(1, t.NbNodes() + 1)]
        flip = face.Orientation() == TopAbs_REVERSED
        for i in range(1, t.NbTriangles() + 1):
            a, c, d = t.Triangle(i).Get()
            triangles.append((first + a, first + d, first + c) if flip else (first + a, first + c, first + d))
            owner.append(index)
    around = dict(ancestors(body.shape, EDGE, FACE))
    lines: list[Any] = []
    starts = [0]
    for edge in body.edges.values():
        sampler = GCPnts_TangentialDeflection(BRepAdaptor_Curve(edge), angle / 2, deflection)
        lines += [sampler.Value(i).Coord() for i in range(1, sampler.NbPoints() + 1)]
        starts.append(len(lines))
    return {
        "points": np.asarray(points, np.float32).reshape(-1, 3).tobytes(),
        "triangles": np.asarray(triangles, np.int32).reshape(-1, 3).tobytes(),
        "face": np.asarray(owner, np.int32).tobytes(),
        "faces": [names[0] for names in body.faces],
        "planes": [is_planar(f) for f in body.face_list],
        "lines": np.asarray(lines, np.float32).reshape(-1, 3).tobytes(),
        "line_starts": np.asarray(starts, np.int32).tobytes(),
        "edges": list(body.edges),
        "smooth": [_is_smooth(edge, around[edge]) for edge in body.edges.values()],
    }


def _is_smooth(edge: Any, faces: list[Any]) -> bool:
    """Whether two faces meet tangentially at the middle of an edge; such edges are not drawn."""
    if len(faces) != 2:
        return False
    curve = BRepAdaptor_Curve(edge)
    middle = curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2)
    normals = []
    for face in faces:
        surface = BRep_Tool.Surface_s(TopoDS.Face(face))
        nearest = GeomAPI_ProjectPointOnSurf(middle, surface)
        if nearest.NbPoints() == 0:
            return False
        u, v = nearest.LowerDistanceParameters()
        properties = GeomLProp_SLProps(surface, u, v, 1, 1e-6)
        if not properties.IsNormalDefined():
            return False
        normals.append(properties.Normal())
    return bool(normals[0].IsParallel(normals[1], 0.02))
