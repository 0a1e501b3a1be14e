"""Surfaces from curves: pushed, turned, through sections, within a boundary; with labels.

A face is named `<operation>:side:<curve>` after the curve that it comes from; what bounds it is named as the caps of a solid
would be: `<operation>:start` and `<operation>:end` along the curves, `<operation>:first` and `<operation>:last` where an open
chain of curves ends.
"""

from __future__ import annotations

import math
from typing import Any

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeVertex
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepGProp import BRepGProp
from OCP.BRepOffsetAPI import BRepOffsetAPI_ThruSections
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism, BRepPrimAPI_MakeRevol
from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.TopExp import TopExp
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Vertex

from architectonic.base import tolerance
from architectonic.kernel.shapes.labelled import Labelled, is_free
from architectonic.kernel.shapes.outlines import Vector
from architectonic.kernel.shapes.topology import EDGE, FACE, VERTEX, ancestors, listed, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids.sweeps import SLACK, Chain, Path, chain
from architectonic.kernel.surfaces.sheets import area, attempt, sheet, surface


def ends_of(wire: Any) -> list[tuple[Any, str]]:
    """The ends of an open wire with what bounds a surface there is called."""
    if wire.Closed():
        return []
    first, last = TopoDS_Vertex(), TopoDS_Vertex()
    TopExp.Vertices_s(wire, first, last)
    return [(first, "first"), (last, "last")]


def bounds(shape: Any, caps: list[tuple[Any, str]], wire: Any, operation: str) -> dict[Any, str]:
    """What bounds a surface that a chain of curves leaves behind: its caps, and the ways of the ends of an open chain.

    Args:
        caps: shapes along whose edges it starts and ends; the kernel may have put copies of them into the surface.
        wire: the chain as it starts.
    """
    rims: dict[Any, str] = {}
    around = [TopoDS.Edge(e) for e, faces in ancestors(shape, EDGE, FACE) if is_free(e, faces)]
    for cap, role in caps:
        if not cap.IsNull():
            rims.update({e: f"{operation}:{role}" for e in around if e not in rims and _lies_on(e, cap)})
    corners = {e: {_rounded(placed_at(v)) for v in subshapes(e, VERTEX)} for e in around}
    for vertex, role in ends_of(wire):
        reached, grown = {_rounded(placed_at(vertex))}, True
        while grown:
            new = [e for e in around if e not in rims and reached & corners[e]]
            grown = bool(new)
            for edge in new:
                rims[edge] = f"{operation}:{role}"
                reached |= corners[edge]
    return rims


def placed_at(vertex: Any) -> Vector:
    """Where a vertex lies, mm."""
    p = BRep_Tool.Pnt_s(TopoDS.Vertex(vertex))
    return (p.X(), p.Y(), p.Z())


def _rounded(p: Vector) -> Vector:
    return (round(p[0], 4), round(p[1], 4), round(p[2], 4))


def _lies_on(edge: Any, cap: Any) -> bool:
    """Whether an edge is one of those of a shape, or lies along one of them."""
    c = BRepAdaptor_Curve(edge)
    low, high = c.FirstParameter(), c.LastParameter()
    for share in (0.23, 0.71):
        at = BRepBuilderAPI_MakeVertex(c.Value(low + share * (high - low))).Vertex()
        if BRepExtrema_DistShapeShape(at, cap).Value() > 10 * tolerance.MODELLING:
            return False
    return True


def _pushed_names(
    sweep: Any, edges: Chain, wire: Any, operation: str, whole: bool = False
) -> tuple[dict[Any, list[str]], dict[Any, str]]:
    names: dict[Any, list[str]] = {}
    rims: dict[Any, str] = {}
    for edge, curve in edges:
        for face in listed(sweep.Generated(edge)):
            names[face] = [f"{operation}:side:{curve}"]
        if not whole:
            rims[sweep.FirstShape(edge)] = f"{operation}:start"
            rims[sweep.LastShape(edge)] = f"{operation}:end"
    for vertex, role in ends_of(wire):
        for edge in listed(sweep.Generated(vertex)):
            rims[edge] = f"{operation}:{role}"
    return names, rims


def _moved(wire: Any, edges: Chain, move: gp_Trsf) -> tuple[Any, Chain]:
    place = TopLoc_Location(move)
    return TopoDS.Wire(wire.Moved(place)), [(TopoDS.Edge(e.Moved(place)), c) for e, c in edges]


def extruded(path: Path, direction: Vector, start: float, end: float, operation: str) -> Labelled:
    """Curves pushed along a direction.

    Args:
        direction: unit; start, end: mm along it.

    Raises:
        KernelRefusal: the curves do not meet, or run along the direction.
    """
    wire, edges = chain(path)
    if start:
        move = gp_Trsf()
        move.SetTranslation(gp_Vec(*(start * c for c in direction)))
        wire, edges = _moved(wire, edges, move)
    refused = "the curves cannot be pushed along this direction"
    sweep = BRepPrimAPI_MakePrism(wire, gp_Vec(*((end - start) * c for c in direction)))
    shape = attempt(sweep.Shape, refused)
    return surface(shape, *_pushed_names(sweep, edges, wire, operation))


def revolved(path: Path, origin: Vector, direction: Vector, start: float, turn: float, operation: str) -> Labelled:
    """Curves turned about an axis.

    Args:
        start, turn: rad; from which angle and how far; a whole turn closes.

    Raises:
        KernelRefusal: they cross the axis.
    """
    wire, edges = chain(path)
    axis = gp_Ax1(gp_Pnt(*origin), gp_Dir(*direction))
    whole = abs(turn - math.tau) < tolerance.MODELLING
    if start:
        move = gp_Trsf()
        move.SetRotation(axis, start)
        wire, edges = _moved(wire, edges, move)
    refused = "the curves cross the axis that they turn about"
    sweep = BRepPrimAPI_MakeRevol(wire, axis) if whole else BRepPrimAPI_MakeRevol(wire, axis, turn, False)
    shape = attempt(sweep.Shape, refused)
    wanted = turn * sum(_round(e, origin, direction) for e, _ in edges)
    if abs(area(shape) - wanted) > max(SLACK * wanted, 1e-9) and _in_a_plane(edges, origin, direction):
        raise KernelRefusal(refused)  # Pappus: the length times the way of its centroid; less where curves cross over
    return surface(shape, *_pushed_names(sweep, edges, wire, operation, whole))


def _round(edge: Any, origin: Vector, direction: Vector) -> float:
    """Length of an edge times how far its centroid is from an axis."""
    props = GProp_GProps()
    BRepGProp.LinearProperties_s(edge, props)
    away = gp_Vec(gp_Pnt(*origin), props.CentreOfMass()).Crossed(gp_Vec(*direction)).Magnitude()
    return float(props.Mass()) * float(away)


def _in_a_plane(edges: Chain, origin: Vector, direction: Vector) -> bool:
    """Whether curves lie in one plane with an axis: only then Pappus' theorem holds for the area."""
    along = gp_Vec(*direction)
    arms = []
    for edge, _ in edges:
        c = BRepAdaptor_Curve(edge)
        for k in range(9):
            v = gp_Vec(gp_Pnt(*origin), c.Value(c.FirstParameter() + (c.LastParameter() - c.FirstParameter()) * k / 8))
            arms.append(v.Subtracted(along.Multiplied(v.Dot(along))))
    longest = max(arms, key=lambda a: a.Magnitude())
    return all(a.Crossed(longest).Magnitude() <= 1e-9 * (1 + longest.SquareMagnitude()) for a in arms)


def lofted(sections: list[Path], straight: bool, operation: str) -> Labelled:
    """A surface through chains of curves one after the other.

    Labels: `<operation>:side:<curve>` with the curves of every section that a face leaves from or arrives at as aliases.

    Args:
        straight: ruled between neighbours.

    Raises:
        KernelRefusal: fewer than two, or the kernel gives up.
    """
    if len(sections) < 2:
        raise KernelRefusal("a loft needs two sections at least")
    algorithm = BRepOffsetAPI_ThruSections(False, straight, tolerance.MODELLING)
    algorithm.CheckCompatibility(True)
    edges: Chain = []
    wires = []
    for path in sections:
        wire, own = chain(path)
        algorithm.AddWire(wire)
        wires.append(wire)
        edges += own
    if len({w.Closed() for w in wires}) > 1:
        raise KernelRefusal("one section is closed and another is open")

    def make() -> Any:
        algorithm.Build()
        return algorithm.Shape()

    shape = attempt(make, "no surface goes through these sections in this order")
    names: dict[Any, list[str]] = {f: [] for f in subshapes(shape, FACE)}
    for edge, curve in edges:
        for face in listed(algorithm.Generated(edge)):
            label = f"{operation}:side:{curve}"
            if face in names and label not in names[face]:
                names[face].append(label)
    for number, face in enumerate(f for f in names if not names[f]):
        names[face].append(f"{operation}:side:{number + 1}")
    return surface(shape, names, bounds(shape, [(wires[0], "start"), (wires[-1], "end")], wires[0], operation))


def patch(path: Path, operation: str) -> Labelled:
    """A flat surface within closed curves of one plane; labelled `<operation>:patch`.

    Raises:
        KernelRefusal: they are not closed, or lie in no plane.
    """
    wire, edges = chain(path)
    if not wire.Closed():
        raise KernelRefusal("the curves are not closed")
    face = BRepBuilderAPI_MakeFace(wire, True)
    if not face.IsDone():
        raise KernelRefusal("the curves lie in no plane")
    shape = sheet(face.Face(), "the curves cross each other")
    rims = {e: f"{operation}:rim:{curve}" for e, curve in edges}
    return surface(shape, {f: [f"{operation}:patch"] for f in subshapes(shape, FACE)}, rims)
