"""Flat areas wrapped around cylinders, as solids between the cylinder and one about the same axis."""

from __future__ import annotations

import math
from functools import partial
from typing import Any, NamedTuple

from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepLib import BRepLib
from OCP.BRepOffset import BRepOffset_MakeOffset, BRepOffset_Skin
from OCP.BRepTools import BRepTools
from OCP.collections import Array1_double, Array1_gp_Pnt2d, Array1_int
from OCP.ElSLib import ElSLib
from OCP.Geom import Geom_CylindricalSurface
from OCP.Geom2d import Geom2d_BSplineCurve
from OCP.GeomAbs import GeomAbs_Cylinder, GeomAbs_Intersection
from OCP.gp import gp_Ax3, gp_Dir, gp_Pnt, gp_Pnt2d, gp_Vec
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopoDS import TopoDS

from architectonic.kernel.shapes.labelled import Labelled, named
from architectonic.kernel.shapes.outlines import KernelFrame, Loop, Side
from architectonic.kernel.shapes.topology import FACE, compound, listed, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal, built
from architectonic.kernel.solids.shells import ACCURACY, thick

Flat = tuple[float, float]
REFUSED = "the outline cannot be wrapped around the face"
ROUND = 0.98 * math.tau
"""How far around a drum what is laid on it may reach, rad."""
ALONG = 1e-6
"""Cosine below which a plane stands along an axis."""


class Drum(NamedTuple):
    """A cylinder and a plane along it, whose areas are laid around it without stretching.

    Attributes:
        frame: with its origin on the axis; its normal leaves the axis where the areas stand straight up from it.
        radius: mm.
        axis: of the cylinder, in the plane's coordinates.
        shift: what is added to the way around, mm.
        inside: the material lies outside, and what is laid on is read from within.
    """

    frame: KernelFrame
    radius: float
    axis: Flat = (0.0, 1.0)
    shift: float = 0.0
    inside: bool = False

    def surface(self) -> Any:
        """The cylinder; its u is the angle, its v runs along the axis."""
        f, (a, b) = self.frame, self.axis
        up = gp_Dir(*(a * x + b * y for x, y in zip(f.x, f.y, strict=True)))
        return Geom_CylindricalSurface(gp_Ax3(gp_Pnt(*f.origin), up, gp_Dir(*f.normal)), self.radius)

    def on(self, p: Flat) -> Flat:
        """Angle and way along the axis of a point of the plane."""
        (x, y), (a, b) = p, self.axis
        around = (x * b - y * a + self.shift) / self.radius
        return -around if self.inside else around, x * a + y * b


def drum_of(face: Any) -> Drum:
    """The drum of a cylindrical face, with its middle as origin, upwards along its axis; a face that goes all round is seen
    from the front.

    Raises:
        KernelRefusal: it is no cylinder.
    """
    surface = BRepAdaptor_Surface(TopoDS.Face(face))
    if surface.GetType() != GeomAbs_Cylinder:
        raise KernelRefusal("the face is no cylinder")
    cylinder = surface.Cylinder()
    u0, u1, v0, v1 = BRepTools.UVBounds_s(TopoDS.Face(face))
    axis = cylinder.Axis().Direction()
    up = _xyz(axis)
    middle = gp_Vec(axis).Multiplied((v0 + v1) / 2)
    origin = cylinder.Location().Translated(middle)
    if max(up, key=abs) < 0:
        up = (-up[0], -up[1], -up[2])
    out = gp_Vec(ElSLib.Value_s((u0 + u1) / 2, (v0 + v1) / 2, cylinder), origin).Reversed()
    if u1 - u0 > 2 * math.pi - 1e-6:
        front = gp_Vec(0.0, -1.0, 0.0) if abs(up[1]) < 0.9 else gp_Vec(0.0, 0.0, 1.0)
        out = front - gp_Vec(*up).Multiplied(front.Dot(gp_Vec(*up)))
    x = gp_Vec(*up).Crossed(out).Normalized()
    frame = KernelFrame(_xyz(origin), _xyz(x), _xyz(out.Normalized()))
    return Drum(
        frame, cylinder.Radius(), inside=(face.Orientation() == TopAbs_REVERSED) == cylinder.Position().Direct()
    )


def seen_from(drum: Drum, plane: KernelFrame) -> Drum:
    """A drum as areas of a plane along it are laid around: they start where the plane's normal leaves the axis.

    Raises:
        KernelRefusal: the plane does not stand along the axis.
    """
    axis, n = drum.frame.y, plane.normal
    if abs(_dot(axis, n)) > ALONG:
        raise KernelRefusal("its sketch does not lie along the axis of the face")
    along = (_dot(axis, plane.x), _dot(axis, plane.y))
    away = tuple(o - c for o, c in zip(plane.origin, drum.frame.origin, strict=True))
    up = _dot(away, axis)
    foot = tuple(c + up * a for c, a in zip(drum.frame.origin, axis, strict=True))
    around = tuple(along[1] * x - along[0] * y for x, y in zip(plane.x, plane.y, strict=True))
    shift = sum((o - f) * a for o, f, a in zip(plane.origin, foot, around, strict=True))
    return Drum(KernelFrame((foot[0], foot[1], foot[2]), plane.x, n), drum.radius, along, shift, drum.inside)


def _xyz(p: Any) -> tuple[float, float, float]:
    return p.X(), p.Y(), p.Z()


def _dot(a: Any, b: Any) -> float:
    return float(sum(p * q for p, q in zip(a, b, strict=True)))


def wrapped(drum: Drum, areas: list[tuple[Loop, ...]]) -> list[Any]:
    """Faces of areas on a drum.

    Raises:
        KernelRefusal: an outline goes all round, or crosses itself.
    """
    surface, made = drum.surface(), []
    us = [drum.on(s.start)[0] for loops in areas for loop in loops for s in loop]
    if max(us) - min(us) > ROUND:
        told = (
            f"it is {drum.radius * (max(us) - min(us)):.3g} mm long and the face {math.tau * drum.radius:.3g} mm round"
        )
        raise KernelRefusal(told)
    for loops in areas:
        wires = []
        for loop in loops:
            wire = BRepBuilderAPI_MakeWire()
            for side in loop:
                wire.Add(edge_around(drum, side, surface))
                if not wire.IsDone():
                    raise KernelRefusal(REFUSED)
            wires.append(wire.Wire())
        face = BRepBuilderAPI_MakeFace(surface, wires[0], True)
        for hole in wires[1:]:
            face.Add(TopoDS.Wire(hole.Reversed()) if drum.inside else hole)
        if not face.IsDone():
            raise KernelRefusal(REFUSED)
        made.append(face.Face())
    return made


def edge_around(drum: Drum, side: Side, surface: Any = None) -> Any:
    """A piece of a drawing as an edge on a drum."""
    edge = BRepBuilderAPI_MakeEdge(_flat_curve(drum, side), surface or drum.surface()).Edge()
    BRepLib.BuildCurves3d_s(edge)
    return edge


def between(drum: Drum, areas: list[tuple[Loop, ...]], by: float, operation: str) -> Labelled:
    """Solids from a drum outwards, or inwards where `by` is negative.

    Labels: `<operation>:start` on the drum, `<operation>:end`, `<operation>:side:<curve>`.

    Raises:
        KernelRefusal: an area cannot be wrapped, or it is pushed through the axis.
    """
    if by <= -drum.radius:
        raise KernelRefusal(f"it is {-by:g} mm deep and the face has a radius of {drum.radius:g} mm")
    solids: list[Any] = []
    names: dict[Any, list[str]] = {}
    for face, loops in zip(wrapped(drum, areas), areas, strict=True):
        algorithm = BRepOffset_MakeOffset()
        algorithm.Initialize(face, by, ACCURACY, BRepOffset_Skin, False, False, GeomAbs_Intersection, True)
        solid = built(partial(thick, algorithm), REFUSED)
        ends = {f: "start" for f in subshapes(solid, FACE) if f.IsSame(face)}
        ends |= dict.fromkeys(listed(algorithm.Generated(face)), "end")
        curves = [s.curve for loop in loops for s in loop]
        sides = [f for f in subshapes(solid, FACE) if f not in ends]
        names |= {f: [f"{operation}:{role}"] for f, role in ends.items()}
        names |= {f: [f"{operation}:side:{curves[k % len(curves)]}"] for k, f in enumerate(sides)}
        solids.append(solid)
    return named(solids[0] if len(solids) == 1 else compound(solids), names)


def _flat_curve(drum: Drum, side: Side) -> Any:
    """A piece as a curve in the angles and ways of a drum: splines stay splines when they are stretched evenly."""
    if side.path is not None and side.path.kind != "ellipse":
        curve = _spline([drum.on(p) for p in side.path.poles], list(side.path.knots), side.path.degree)
        low, high = min(side.span), max(side.span)
        curve.Segment(low, high)
    elif side.path is not None:
        c, a, b = side.path.poles
        curve = _round(drum, c, a, b, side.span[0], side.span[1])
        return curve
    elif side.radius:
        begin = math.atan2(side.start[1] - side.centre[1], side.start[0] - side.centre[0])
        end = math.atan2(side.end[1] - side.centre[1], side.end[0] - side.centre[0])
        turn = (end - begin) % math.tau or math.tau
        turn = turn if side.ccw else turn - math.tau or -math.tau
        return _round(drum, side.centre, (side.radius, 0.0), (0.0, side.radius), begin, begin + turn)
    else:
        return _spline([drum.on(side.start), drum.on(side.end)], [0.0, 0.0, 1.0, 1.0], 1)
    if side.span[0] > side.span[1]:
        curve.Reverse()
    return curve


def _round(drum: Drum, c: Flat, a: Flat, b: Flat, begin: float, end: float) -> Any:
    """Part of an ellipse as rational quadratic spans of a quarter turn at most (Piegl and Tiller, The NURBS Book, ch. 7)."""
    count = max(1, math.ceil(abs(end - begin) / (math.pi / 2) - 1e-9))
    half = (end - begin) / count / 2

    def at(t: float, k: float = 1.0) -> Flat:
        return c[0] + k * (a[0] * math.cos(t) + b[0] * math.sin(t)), c[1] + k * (
            a[1] * math.cos(t) + b[1] * math.sin(t)
        )

    poles, weights = [at(begin)], [1.0]
    for k in range(count):
        middle = begin + (2 * k + 1) * half
        poles += [at(middle, 1 / math.cos(half)), at(middle + half)]
        weights += [math.cos(half), 1.0]
    knots = [0.0] * 3 + [float(k) for k in range(1, count) for _ in range(2)] + [float(count)] * 3
    return _spline([drum.on(p) for p in poles], knots, 2, weights)


def _spline(poles: list[Flat], knots: list[float], degree: int, weights: list[float] | None = None) -> Any:
    points, shares = Array1_gp_Pnt2d(1, len(poles)), Array1_double(1, len(poles))
    for k, p in enumerate(poles):
        points.SetValue(k + 1, gp_Pnt2d(*p))
        shares.SetValue(k + 1, 1.0 if weights is None else weights[k])
    marks = sorted(set(knots))
    at, counts = Array1_double(1, len(marks)), Array1_int(1, len(marks))
    for k, mark in enumerate(marks):
        at.SetValue(k + 1, mark)
        counts.SetValue(k + 1, knots.count(mark))
    return Geom2d_BSplineCurve(points, shares, at, counts, degree, False)
