"""Triangles and edge lines for pictures, as plain arrays."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.GCPnts import GCPnts_TangentialDeflection
from OCP.IMeshTools import IMeshTools_MeshAlgoType_Delabella, IMeshTools_Parameters
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopLoc import TopLoc_Location

from architectonic.kernel.labelled import Labelled
from architectonic.kernel.measure import box
from architectonic.kernel.solids import is_planar
from architectonic.kernel.topology import EDGE, FACE, ancestors
from architectonic.kernel.witness import convexity, edge_kind, face_kind


def mesh(body: Labelled, angle: float = 0.16) -> dict[str, Any]:
    """Triangulate a body.

    Returns:
        points (n, 3) float32 mm; triangles (m, 3) int32, outward; face (m,) int32 index into faces;
        faces: labels; planes: origin and normal of planar faces or None; lines (k, 3) float32 with
        line_starts (e + 1,) int32, edges: labels, convex: convex, concave, smooth or "" of each; face_kinds and edge_kinds (kernel.witness).
        Arrays as bytes.
    """
    b = box(body.shape)
    deflection = max(0.01, 0.0006 * math.dist(b[:3], b[3:]))
    wanted = IMeshTools_Parameters()
    wanted.Deflection, wanted.Angle, wanted.InParallel = deflection, angle, True
    wanted.MeshAlgo = (
        IMeshTools_MeshAlgoType_Delabella  # five times quicker than the usual one on faces with many holes
    )
    BRepMesh_IncrementalMesh(body.shape, wanted)
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
    convex = [convexity(edge, around[edge]) for edge in body.edges.values()]
    return {
        "points": np.asarray(points, np.float32).reshape(-1, 3).tobytes(),
        "triangles": np.asarray(triangles, np.int32).reshape(-1, 3).tobytes(),
        "face": np.asarray(owner, np.int32).tobytes(),
        "faces": [names[0] for names in body.faces],
        "planes": [is_planar(f) for f in body.face_list],
        "lines": np.asarray(lines, np.float32).reshape(-1, 3).tobytes(),
        "line_starts": np.asarray(starts, np.int32).tobytes(),
        "edges": list(body.edges),
        "convex": convex,
        "face_kinds": [face_kind(f) for f in body.face_list],
        "edge_kinds": [edge_kind(e) for e in body.edges.values()],
    }
