"""Figures of faces, edges and vertices, and between two of them."""

from __future__ import annotations

import math
from typing import Any, NamedTuple

from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeVertex
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepGProp import BRepGProp
from OCP.GeomAbs import GeomAbs_Circle, GeomAbs_Cylinder, GeomAbs_Line, GeomAbs_Plane, GeomAbs_Sphere, GeomAbs_Torus
from OCP.gp import gp_Dir, gp_Lin, gp_Pln, gp_Pnt
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_REVERSED

from architectonic.base import tolerance
from architectonic.kernel.shapes.curves import axis_of_face, point_of
from architectonic.kernel.shapes.topology import EDGE, FACE, VERTEX, compound, shape_list, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal

Vector = tuple[float, float, float]
FAR = 1e5
"""How far planes and lines without ends are taken to reach, mm."""
_ACCURACY = 1e-9


class Carrier(NamedTuple):
    """What a thing lies on, without ends: a point of it, and of a plane the normal, of a line the direction."""

    kind: str
    origin: Vector
    direction: Vector = (0.0, 0.0, 0.0)


def _v(p: Any) -> Vector:
    return (p.X(), p.Y(), p.Z())


def endless_plane(origin: Vector, normal: Vector) -> Any:
    """A face that stands for a plane."""
    return BRepBuilderAPI_MakeFace(gp_Pln(gp_Pnt(*origin), gp_Dir(*normal)), -FAR, FAR, -FAR, FAR).Face()


def endless_line(origin: Vector, direction: Vector) -> Any:
    """An edge that stands for a line."""
    return BRepBuilderAPI_MakeEdge(gp_Lin(gp_Pnt(*origin), gp_Dir(*direction)), -FAR, FAR).Edge()


def vertex_at(point: Vector) -> Any:
    """A vertex at a point, mm."""
    return BRepBuilderAPI_MakeVertex(gp_Pnt(*point)).Vertex()


def carrier(shape: Any) -> Carrier | None:
    """The plane of a flat face, the line of a straight edge, the axis of a round face or edge, a vertex's point."""
    kind = shape.ShapeType()
    if kind == VERTEX:
        return Carrier("point", point_of(shape))
    if kind == EDGE:
        c = BRepAdaptor_Curve(shape)
        if c.GetType() == GeomAbs_Line:
            return Carrier("line", _v(c.Line().Location()), _v(c.Line().Direction()))
        if c.GetType() == GeomAbs_Circle:
            return Carrier("line", _v(c.Circle().Location()), _v(c.Circle().Axis().Direction()))
        return None
    if kind != FACE:
        return None
    s = BRepAdaptor_Surface(shape)
    if s.GetType() == GeomAbs_Plane:
        normal = s.Plane().Axis().Direction()
        if not s.Plane().Direct():
            normal.Reverse()
        if shape.Orientation() == TopAbs_REVERSED:
            normal.Reverse()
        return Carrier("plane", _v(s.Plane().Location()), _v(normal))
    if s.GetType() == GeomAbs_Sphere:
        return Carrier("point", _v(s.Sphere().Location()))
    turned = axis_of_face(shape)
    return None if turned is None else Carrier("line", turned.origin, turned.direction)


def distance(a: Any, b: Any) -> tuple[float, Vector, Vector]:
    """The shortest way between two shapes, and where it begins and ends.

    Raises:
        KernelRefusal: the kernel finds none.
    """
    found = BRepExtrema_DistShapeShape(a, b)
    if not found.IsDone() or found.NbSolution() == 0:
        raise KernelRefusal("no shortest way between the two was found")
    return float(found.Value()), _v(found.PointOnShape1(1)), _v(found.PointOnShape2(1))


def _dot(a: Vector, b: Vector) -> float:
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def _cross(a: Vector, b: Vector) -> Vector:
    return (a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])


def _plus(p: Vector, d: Vector, t: float) -> Vector:
    return (p[0] + t * d[0], p[1] + t * d[1], p[2] + t * d[2])


def apart(a: Carrier, b: Carrier) -> tuple[float, Vector, Vector]:
    """How far planes, lines and points lie from each other when none of them ends.

    Raises:
        KernelRefusal: they meet: planes or a line and a plane that are not parallel.
    """
    if b.kind == "plane" and a.kind != "plane":
        value, q, p = apart(b, a)
        return value, p, q
    away = _plus(b.origin, a.origin, -1.0)
    if a.kind == "plane":
        slant = _cross(a.direction, b.direction) if b.kind == "plane" else a.direction
        tilt = math.hypot(*slant) if b.kind == "plane" else abs(_dot(a.direction, b.direction))
        if b.kind != "point" and tilt > tolerance.PARALLEL:
            raise KernelRefusal("they are not parallel, so they meet: measure the angle instead")
        height = _dot(away, a.direction)
        return abs(height), _plus(b.origin, a.direction, -height), b.origin
    if a.kind == b.kind == "line":
        return _between_lines(a, b)
    if a.kind == "line":
        foot = _plus(a.origin, a.direction, _dot(away, a.direction))
        return math.dist(foot, b.origin), foot, b.origin
    if b.kind == "line":
        value, q, p = apart(b, a)
        return value, p, q
    return math.dist(a.origin, b.origin), a.origin, b.origin


def _between_lines(a: Carrier, b: Carrier) -> tuple[float, Vector, Vector]:
    """The common perpendicular of two lines."""
    away = _plus(b.origin, a.origin, -1.0)
    c = _dot(a.direction, b.direction)
    if math.hypot(*_cross(a.direction, b.direction)) < tolerance.PARALLEL:
        foot = _plus(a.origin, a.direction, _dot(away, a.direction))
        return math.dist(foot, b.origin), foot, b.origin
    da, db, s = _dot(away, a.direction), _dot(away, b.direction), 1 - c * c
    p = _plus(a.origin, a.direction, (da - c * db) / s)
    q = _plus(b.origin, b.direction, (c * da - db) / s)
    return math.dist(p, q), p, q


def angle(a: Carrier, b: Carrier) -> float:
    """The angle between two planes (between their normals), two lines (at most a right one), or a line and a plane, rad.

    Raises:
        KernelRefusal: a point has no direction.
    """
    if "point" in (a.kind, b.kind):
        raise KernelRefusal("a point has no direction: pick planes, lines or axes")
    turned = math.atan2(math.hypot(*_cross(a.direction, b.direction)), _dot(a.direction, b.direction))
    if a.kind == b.kind == "plane":
        return turned
    small = min(turned, math.pi - turned)
    return small if a.kind == b.kind else math.pi / 2 - small


def radius(shape: Any) -> float:
    """The radius of a round edge, cylinder, sphere, or of the tube of a torus.

    Raises:
        KernelRefusal: it has none.
    """
    if shape.ShapeType() == EDGE:
        c = BRepAdaptor_Curve(shape)
        if c.GetType() == GeomAbs_Circle:
            return float(c.Circle().Radius())
    if shape.ShapeType() == FACE:
        s = BRepAdaptor_Surface(shape)
        if s.GetType() == GeomAbs_Cylinder:
            return float(s.Cylinder().Radius())
        if s.GetType() == GeomAbs_Sphere:
            return float(s.Sphere().Radius())
        if s.GetType() == GeomAbs_Torus:
            return float(s.Torus().MinorRadius())
    raise KernelRefusal("it has no radius: pick a round edge, a cylinder, a ball or a rounded edge")


def length(edges: list[Any]) -> float:
    """How long edges are together."""
    total = 0.0
    for edge in edges:
        props = GProp_GProps()
        BRepGProp.LinearProperties_s(edge, props)
        total += float(props.Mass())
    return total


def area(faces: list[Any]) -> float:
    """How large faces are together."""
    total = 0.0
    for face in faces:
        props = GProp_GProps()
        BRepGProp.SurfaceProperties_s(face, props, _ACCURACY)
        total += float(props.Mass())
    return total


def standing_over(parts: list[Any], faces: list[Any]) -> float:
    """How far some parts of surfaces reach beyond the edges of faces on the same surfaces, mm; 0.0 where they lie within."""
    algorithm = BRepAlgoAPI_Cut()
    algorithm.SetArguments(shape_list(parts))
    algorithm.SetTools(shape_list(faces))
    algorithm.Build()
    if not algorithm.IsDone():
        raise KernelRefusal("whether it lies within the face was not found out")
    within = compound(faces)
    return max((distance(v, within)[0] for v in subshapes(algorithm.Shape(), VERTEX)), default=0.0)
