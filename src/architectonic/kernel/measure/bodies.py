"""Measurements of a body."""

from __future__ import annotations

import math
from typing import Any

from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepGProp import BRepGProp
from OCP.GeomAbs import (
    GeomAbs_Circle,
    GeomAbs_Cone,
    GeomAbs_Cylinder,
    GeomAbs_Line,
    GeomAbs_Plane,
    GeomAbs_Sphere,
    GeomAbs_Torus,
)
from OCP.GProp import GProp_GProps
from OCP.TopoDS import TopoDS

from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import EDGE, FACE, SOLID, subshapes

_ACCURACY = 1e-9
"""Relative; without it the kernel integrates trimmed faces to 1e-4 only."""
_ROUND = (GeomAbs_Cylinder, GeomAbs_Cone, GeomAbs_Sphere, GeomAbs_Torus)
_EASY = (GeomAbs_Line, GeomAbs_Circle)


def box(shape: Any) -> tuple[float, ...]:
    """Axis-parallel box (x0, y0, z0, x1, y1, z1) in mm, from the geometry and not from a mesh."""
    bounds = Bnd_Box()
    BRepBndLib.AddOptimal_s(shape, bounds, False, False)
    low, high = bounds.CornerMin(), bounds.CornerMax()
    gap = bounds.GetGap()
    return (low.X() + gap, low.Y() + gap, low.Z() + gap, high.X() - gap, high.Y() - gap, high.Z() - gap)


def quick_box(shape: Any) -> tuple[float, ...]:
    """A box that holds a shape and may be larger than needed: a hundred times quicker than the exact one."""
    bounds = Bnd_Box()
    BRepBndLib.Add_s(shape, bounds, False)
    low, high = bounds.CornerMin(), bounds.CornerMax()
    return (low.X(), low.Y(), low.Z(), high.X(), high.Y(), high.Z())


def measure(body: Labelled) -> dict[str, Any]:
    """Volume, area, centre, inertia, box, counts (of free edges too) and validity of a body, in mm; a surface encloses nothing, and its centre is
    that of its area.

    Inertia is that of a body of density 1 about its centre: Ixx, Iyy, Izz, Ixy, Ixz, Iyz in mm5, the products of inertia
    with the sign that they have in the matrix.
    """
    volume, surface = GProp_GProps(), GProp_GProps()
    solids = subshapes(body.shape, SOLID)
    by = () if all(_is_plain(f) for f in subshapes(body.shape, FACE)) else (_ACCURACY,)
    if solids:
        BRepGProp.VolumeProperties_s(body.shape, volume, *by)
    BRepGProp.SurfaceProperties_s(body.shape, surface, *by)
    c = (volume if solids else surface).CentreOfMass()
    return {
        "volume_mm3": volume.Mass() if solids else 0.0,
        "area_mm2": surface.Mass(),
        "centre_mm": (c.X(), c.Y(), c.Z()),
        "inertia_mm5": _inertia(volume) if solids else (0.0,) * 6,
        "box_mm": box(body.shape),
        "faces": len(body.face_list),
        "edges": len(subshapes(body.shape, EDGE)),
        "solids": len(solids),
        "free": 0 if solids else len(body.free_edges),
        "valid": bool(BRepCheck_Analyzer(body.shape).IsValid()),
    }


def _is_plain(face: Any) -> bool:
    """Whether the kernel's quick way integrates a face to the last digits: a flat one, or a round one between lines and circles.

    Where another curve trims a round face, or the face is freeform, it is right to 1e-4 only. Both ways in one body cannot be
    added up: over faces that do not close, the careful one loses the centre.
    """
    kind = BRepAdaptor_Surface(TopoDS.Face(face), False).GetType()
    if kind == GeomAbs_Plane:
        return True
    edges = [TopoDS.Edge(e) for e in subshapes(face, EDGE)]
    return kind in _ROUND and all(BRep_Tool.Degenerated_s(e) or BRepAdaptor_Curve(e).GetType() in _EASY for e in edges)


def shared_volume(a: Any, b: Any) -> float:
    """The volume that two bodies both fill; none when they only touch."""
    both = BRepAlgoAPI_Common(a, b)
    if not both.IsDone() or not subshapes(both.Shape(), SOLID):
        return 0.0
    volume = GProp_GProps()
    BRepGProp.VolumeProperties_s(both.Shape(), volume, _ACCURACY)
    return abs(float(volume.Mass()))


def _inertia(volume: GProp_GProps) -> tuple[float, ...]:
    """Moments and products, to eight digits of the largest: the kernel integrates them to about seven."""
    m = volume.MatrixOfInertia()
    found = [m.Value(i, j) for i, j in ((1, 1), (2, 2), (3, 3), (1, 2), (1, 3), (2, 3))]
    unit = 10.0 ** (math.floor(math.log10(max(found[:3]))) - 7) if max(found[:3]) > 0 else 1.0
    return tuple(round(v / unit) * unit + 0.0 for v in found)
