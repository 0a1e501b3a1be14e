"""Edges, vertices and round faces as exact curves, points and axes; sections by a plane."""

from __future__ import annotations

import math
from typing import Any, NamedTuple

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepAlgoAPI import BRepAlgoAPI_Section
from OCP.BRepTools import BRepTools, BRepTools_WireExplorer
from OCP.Geom import Geom_TrimmedCurve
from OCP.GeomAbs import (
    GeomAbs_C2,
    GeomAbs_Circle,
    GeomAbs_Cone,
    GeomAbs_Cylinder,
    GeomAbs_Ellipse,
    GeomAbs_Line,
    GeomAbs_Sphere,
    GeomAbs_Torus,
)
from OCP.GeomConvert import GeomConvert, GeomConvert_ApproxCurve
from OCP.gp import gp_Ax3, gp_Dir, gp_Pln, gp_Pnt
from OCP.TopoDS import TopoDS_Face

from architectonic.base.labels import plain
from architectonic.kernel.shapes.labelled import Labelled, centre
from architectonic.kernel.shapes.topology import EDGE, WIRE, subshapes

Vector = tuple[float, float, float]
APPROXIMATED = 1e-6
"""How far a rational or high-degree curve may lie from the polynomial one of degree 3 that stands for it, mm."""


class ExactCurve(NamedTuple):
    """A curve in a plane, or by control points standing over it.

    Attributes:
        origin, x, normal: the plane; its y is normal x x.
        kind, values: as sketch.kinds.names_of has them, in the plane; knots: of a spline by control points.
        heights: of a spline in no plane.
    """

    origin: Vector
    x: Vector
    normal: Vector
    kind: str
    values: tuple[float, ...]
    knots: tuple[float, ...] = ()
    heights: tuple[float, ...] = ()


class Round(NamedTuple):
    """The axis of a round face or edge: a point of it, its direction, the radius there, and how a cone's grows."""

    origin: Vector
    direction: Vector
    radius: float
    slope: float = 0.0


def _v(p: Any) -> Vector:
    return (p.X(), p.Y(), p.Z())


def curve_of(edge: Any) -> ExactCurve:
    """An edge as an exact curve; curves of higher degree within APPROXIMATED."""
    c = BRepAdaptor_Curve(edge)
    first, last = c.FirstParameter(), c.LastParameter()
    kind = c.GetType()
    if kind == GeomAbs_Line:
        return _line(_v(c.Value(first)), _v(c.Value(last)))
    if kind in (GeomAbs_Circle, GeomAbs_Ellipse):
        return _round(c, kind == GeomAbs_Circle, first, last)
    return _spline(edge)


def _line(start: Vector, end: Vector) -> ExactCurve:
    length = math.dist(start, end)
    x = tuple((b - a) / length for a, b in zip(start, end, strict=True))
    beside = gp_Dir(0, 0, 1) if abs(x[2]) < 0.9 else gp_Dir(1, 0, 0)
    along = gp_Dir(*x)
    normal = along.Crossed(beside.Crossed(along))
    return ExactCurve(start, (x[0], x[1], x[2]), _v(normal), "line", (0.0, 0.0, length, 0.0))


def _round(c: Any, circle: bool, first: float, last: float) -> ExactCurve:
    conic = c.Circle() if circle else c.Ellipse()
    a, b = (conic.Radius(),) * 2 if circle else (conic.MajorRadius(), conic.MinorRadius())
    frame = (_v(conic.Location()), _v(conic.XAxis().Direction()), _v(conic.Axis().Direction()))
    whole = abs(last - first) > 2 * math.pi - 1e-9
    ends = tuple(v for t in (first, last) for v in (a * math.cos(t), b * math.sin(t)))
    if circle:
        values = (0.0, 0.0, a) if whole else (0.0, 0.0, *ends, a)
        return ExactCurve(*frame, "circle" if whole else "arc", values)
    axes = (0.0, 0.0, a, 0.0, 0.0, b)
    return ExactCurve(*frame, "ellipse" if whole else "elliptic_arc", axes if whole else (*axes, *ends))


def _spline(edge: Any) -> ExactCurve:
    """A spline by control points over the plane z = 0, of degree 3 at most."""
    found = BRep_Tool.Curve_s(edge, 0.0, 0.0)
    curve, first, last = found if isinstance(found, tuple) else (found, *_range(edge))
    made = GeomConvert.CurveToBSplineCurve_s(Geom_TrimmedCurve(curve, first, last))
    if made.IsRational() or made.Degree() > 3:
        made = GeomConvert_ApproxCurve(made, APPROXIMATED, GeomAbs_C2, 200, 3).Curve()
    if made.IsPeriodic():
        made.SetNotPeriodic()
    poles = [_v(made.Pole(i)) for i in range(1, made.NbPoles() + 1)]
    low, high = made.Knot(1), made.Knot(made.NbKnots())
    knots = tuple(
        (made.Knot(i) - low) / (high - low) for i in range(1, made.NbKnots() + 1) for _ in range(made.Multiplicity(i))
    )
    flat = tuple(c for x, y, _ in poles for c in (x, y))
    frame = ((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    return ExactCurve(*frame, "controlled", flat, knots, tuple(z for _, _, z in poles))


def _range(edge: Any) -> tuple[float, float]:
    c = BRepAdaptor_Curve(edge)
    return c.FirstParameter(), c.LastParameter()


def point_of(vertex: Any) -> Vector:
    """Where a vertex is."""
    return _v(BRep_Tool.Pnt_s(vertex))


def axis_of_face(face: Any) -> Round | None:
    """The axis of a cylinder, cone, sphere or torus; None of other faces."""
    s = BRepAdaptor_Surface(face)
    kind = s.GetType()
    if kind == GeomAbs_Cylinder:
        q = s.Cylinder()
        return Round(_v(q.Location()), _v(q.Axis().Direction()), q.Radius())
    if kind == GeomAbs_Cone:
        q = s.Cone()
        return Round(_v(q.Location()), _v(q.Axis().Direction()), q.RefRadius(), math.tan(q.SemiAngle()))
    if kind == GeomAbs_Torus:
        q = s.Torus()
        return Round(_v(q.Location()), _v(q.Axis().Direction()), 0.0)
    if kind == GeomAbs_Sphere:
        q = s.Sphere()
        return Round(_v(q.Location()), _v(q.Position().Direction()), 0.0)
    return None


def section(body: Labelled, origin: Vector, x: Vector, normal: Vector) -> list[tuple[str, ExactCurve]]:
    """The curves in which a plane cuts a body, with the label of the face that each lies on, in a stable order."""
    plane = gp_Pln(gp_Ax3(gp_Pnt(*origin), gp_Dir(*normal), gp_Dir(*x)))
    cut = BRepAlgoAPI_Section(body.shape, plane, False)
    cut.ComputePCurveOn1(False)
    cut.Approximation(False)
    cut.Build()
    found = []
    for edge in subshapes(cut.Shape(), EDGE):
        owner = TopoDS_Face()
        if cut.HasAncestorFaceOn1(edge, owner):
            label = next((n for f, n in body.name_of.items() if f.IsSame(owner)), "")
        else:
            label = ""
        found.append((label, centre(edge), curve_of(edge)))
    found.sort(key=lambda e: (e[0], e[1]))
    return [(label, curve) for label, _, curve in found]


def edges_around(body: Labelled, face: Any) -> list[list[tuple[str, Any]]]:
    """The edges of each loop around a face in order, the outer loop first, with their labels."""
    labels = {e: n for n, e in body.edges.items()}
    outer = BRepTools.OuterWire_s(face)
    loops = []
    for wire in sorted(subshapes(face, WIRE), key=lambda w: not w.IsSame(outer)):
        explorer = BRepTools_WireExplorer(wire, face)
        loop = []
        while explorer.More():
            edge = explorer.Current()
            loop.append((plain(labels[edge]), edge))
            explorer.Next()
        loops.append(loop)
    return loops
