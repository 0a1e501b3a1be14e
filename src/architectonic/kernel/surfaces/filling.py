"""Surfaces within a boundary of edges and curves, square to it or going on smoothly from its neighbours; with labels."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal, NamedTuple

from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeVertex
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeFilling
from OCP.collections import HSequence_TopoDS_Shape
from OCP.GeomAbs import GeomAbs_C0, GeomAbs_G1
from OCP.gp import gp_Pnt
from OCP.ShapeAnalysis import ShapeAnalysis_FreeBounds
from OCP.TopoDS import TopoDS

from architectonic.base import tolerance
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import Vector
from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.surfaces.sheets import attempt, sheet, surface

Continuity = Literal["meets", "smooth"]
"""How a surface goes on from a neighbour: in place only, or in direction too (G0, G1)."""
MISSES = 5e-3
"""How far a filled surface may lie from its boundary, mm, and how much its direction may miss that of its neighbour, rad."""


class Bound(NamedTuple):
    """An edge of the boundary: what it is called, and the face that the surface goes on from there, if any."""

    edge: Any
    called: str
    beside: Any = None


def filled(boundary: list[Bound], points: list[Vector], continuity: Continuity, operation: str) -> Labelled:
    """A surface within a closed boundary, through further points; a flat boundary without these is filled flat.

    Labels: `<operation>:fill`; along each edge of the boundary `<operation>:rim:<what it is called>`.

    Args:
        continuity: to the faces beside the boundary, where there are any.

    Raises:
        KernelRefusal: the boundary is not closed, or the surface misses it.
    """
    if continuity == "meets" and not points:
        flat = _flat(boundary)
        if flat is not None:
            rims = {e: f"{operation}:rim:({b.called})" for e, b in _of(flat, boundary).items()}
            return surface(flat, {f: [f"{operation}:fill"] for f in subshapes(flat, FACE)}, rims)
    bounds = boundary if continuity == "smooth" else [b._replace(beside=None) for b in boundary]
    shape, of = within(bounds, points)
    rims = {e: f"{operation}:rim:({b.called})" for e, b in of.items()}
    return surface(shape, {f: [f"{operation}:fill"] for f in subshapes(shape, FACE)}, rims)


def within(boundary: list[Bound], points: list[Vector], inner: Sequence[Any] = ()) -> tuple[Any, dict[Any, Bound]]:
    """A face within a closed boundary, smooth to the faces beside it, through further points and edges; and what each of
    its edges is of the boundary.

    Raises:
        KernelRefusal: the boundary is not closed, or the surface misses it.
    """
    refused = "no surface fills this boundary"
    algorithm = BRepOffsetAPI_MakeFilling()
    for bound in boundary:
        edge = TopoDS.Edge(bound.edge)
        if bound.beside is None:
            algorithm.Add(edge, GeomAbs_C0, True)
        else:
            algorithm.Add(edge, TopoDS.Face(bound.beside), GeomAbs_G1, True)
    for one in inner:
        algorithm.Add(TopoDS.Edge(one), GeomAbs_C0, False)
    for p in points:
        algorithm.Add(gp_Pnt(*p))

    def make() -> Any:
        algorithm.Build()
        return algorithm.Shape() if algorithm.IsDone() else None

    shape = attempt(make, refused, f"{refused}: its edges do not meet end to end")
    if algorithm.G0Error() > MISSES:
        raise KernelRefusal(f"the surface misses its boundary by {algorithm.G0Error():.3g} mm")
    if any(b.beside is not None for b in boundary) and algorithm.G1Error() > MISSES:
        raise KernelRefusal(f"the surface does not go on smoothly: it is off by {algorithm.G1Error():.3g} rad")
    return shape, _of(shape, boundary)


def _flat(boundary: list[Bound]) -> Any:
    """A flat face within edges that lie in one plane and close; None where they do not."""
    edges, wires = HSequence_TopoDS_Shape(), HSequence_TopoDS_Shape()
    for bound in boundary:
        edges.Append(bound.edge)
    ShapeAnalysis_FreeBounds.ConnectEdgesToWires_s(edges, tolerance.GAP, False, wires)
    if wires.Length() != 1:
        return None
    wire = TopoDS.Wire(wires.Value(1))
    made = BRepBuilderAPI_MakeFace(wire, True) if wire.Closed() else None
    if made is None or not made.IsDone():
        return None
    try:
        return sheet(made.Face(), "")
    except KernelRefusal:
        return None


def _of(shape: Any, boundary: list[Bound]) -> dict[Any, Bound]:
    """Which part of the boundary each edge of a shape is."""
    found = {}
    for edge in subshapes(shape, EDGE):
        away = [
            (_middle_off(edge, b.edge), float(BRepExtrema_DistShapeShape(edge, b.edge).Value()), k)
            for k, b in enumerate(boundary)
        ]
        found[edge] = boundary[min(away)[2]]
    return found


def _middle_off(edge: Any, other: Any) -> float:
    """How far the middle of an edge lies from another one."""
    c = BRepAdaptor_Curve(TopoDS.Edge(edge))
    at = c.Value((c.FirstParameter() + c.LastParameter()) / 2)
    return float(BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(at).Vertex(), other).Value())


def bounds_of(body: Labelled, edges: dict[str, Any]) -> list[Bound]:
    """Edges of a body as a boundary, each with a face beside it."""
    around = dict(ancestors(body.shape, EDGE, FACE))
    return [Bound(e, label, around[e][0]) for label, e in edges.items()]
