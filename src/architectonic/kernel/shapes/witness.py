"""What there is to say of a face or edge beside its label: kind, convexity, neighbours, place and size."""

from __future__ import annotations

from typing import Any, NamedTuple

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.GeomAPI import GeomAPI_ProjectPointOnSurf
from OCP.GeomLProp import GeomLProp_SLProps
from OCP.gp import gp_Dir, gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopoDS import TopoDS

from architectonic.kernel.shapes.labelled import Labelled, centre
from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors, subshapes

SMOOTH_ANGLE = 0.02
"""Faces whose normals differ by less (rad) meet smoothly."""


class ShapeFacts(NamedTuple):
    """Of one face or edge; `at` in mm."""

    kind: str
    convex: str
    neighbours: tuple[str, ...]
    at: tuple[float, float, float]


def face_kind(face: Any) -> str:
    """plane, cylinder, cone, sphere, torus, ... (the kernel's word in lower case)."""
    return str(BRepAdaptor_Surface(face).GetType().name.removeprefix("GeomAbs_").lower())


def edge_kind(edge: Any) -> str:
    """line, circle, ellipse, ..."""
    return str(BRepAdaptor_Curve(edge).GetType().name.removeprefix("GeomAbs_").lower())


def face_facts(body: Labelled, face: Any) -> ShapeFacts:
    """Facts of a face."""
    own = body.name_of[face]
    around = {
        body.name_of[f] for _, faces in ancestors(body.shape, EDGE, FACE) if face in faces for f in faces if f != face
    }
    return ShapeFacts(face_kind(face), "", tuple(sorted(around - {own})), centre(face))


def edge_facts(body: Labelled, edge: Any, faces: list[Any]) -> ShapeFacts:
    """Facts of an edge between faces; its neighbours are those."""
    return ShapeFacts(
        edge_kind(edge), convexity(edge, faces), tuple(sorted(body.name_of[f] for f in faces)), centre(edge)
    )


def convexity(edge: Any, faces: list[Any]) -> str:
    """convex, concave or smooth at the middle of an edge; "" where it cannot be told."""
    if len(faces) != 2:
        return ""
    curve = BRepAdaptor_Curve(edge)
    point, tangent = gp_Pnt(), gp_Vec()
    curve.D1((curve.FirstParameter() + curve.LastParameter()) / 2, point, tangent)
    first, second = (normal_at(face, point) for face in faces)
    if first is None or second is None or tangent.Magnitude() < 1e-12:
        return ""
    if first.IsParallel(second, SMOOTH_ANGLE):
        return "smooth"
    own = next((e for e in subshapes(faces[0], EDGE) if e.IsSame(edge)), None)
    if own is None:
        return ""
    if own.Orientation() == TopAbs_REVERSED:
        tangent.Reverse()
    # walking along the edge with the normal up, the first face lies to the left
    inward = gp_Vec(first).Crossed(tangent)
    return "convex" if gp_Vec(second).Dot(inward) < 0 else "concave"


def normal_at(face: Any, point: Any) -> Any:
    """The outward normal of a face near a point."""
    surface = BRep_Tool.Surface_s(TopoDS.Face(face))
    nearest = GeomAPI_ProjectPointOnSurf(point, surface)
    if nearest.NbPoints() == 0:
        return None
    properties = GeomLProp_SLProps(surface, *nearest.LowerDistanceParameters(), 1, 1e-6)
    if not properties.IsNormalDefined():
        return None
    normal: gp_Dir = properties.Normal()
    return normal.Reversed() if face.Orientation() == TopAbs_REVERSED else normal
