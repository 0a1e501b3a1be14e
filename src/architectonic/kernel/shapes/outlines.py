"""Planar faces and wires from the pieces of sketches, which keep the names of their curves."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import hypot, pi
from typing import Any

from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeVertex,
    BRepBuilderAPI_MakeWire,
)
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.collections import Array1_double, Array1_gp_Pnt, Array1_int
from OCP.GC import GC_MakeArcOfCircle
from OCP.Geom import Geom_BSplineCurve, Geom_Ellipse
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir, gp_Pln, gp_Pnt
from OCP.TopoDS import TopoDS

from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.sketch.curves import paths
from architectonic.sketch.curves.paths import Path

Vector = tuple[float, float, float]


@dataclass(frozen=True)
class KernelFrame:
    """A plane in space: origin (mm), unit x and normal; y = normal x x."""

    origin: Vector
    x: Vector
    normal: Vector

    @property
    def y(self) -> Vector:
        """The plane's second axis."""
        (a, b, c), (d, e, f) = self.normal, self.x
        return (b * f - c * e, c * d - a * f, a * e - b * d)

    def point_at(self, w: float) -> Vector:
        """A point over the origin."""
        (a, b, c), (d, e, f) = self.origin, self.normal
        return (a + w * d, b + w * e, c + w * f)

    def point(self, u: float, v: float, w: float = 0.0) -> gp_Pnt:
        """A point given in the plane's coordinates."""
        y = self.y
        return gp_Pnt(*(self.origin[i] + u * self.x[i] + v * y[i] + w * self.normal[i] for i in range(3)))


@dataclass(frozen=True)
class Side:
    """One piece of a loop: a line (radius 0), an arc through `middle`, or a part of a path, named by its curve."""

    curve: str
    start: tuple[float, float]
    end: tuple[float, float]
    centre: tuple[float, float] = (0.0, 0.0)
    radius: float = 0.0
    middle: tuple[float, float] = (0.0, 0.0)
    ccw: bool = True
    path: Path | None = None
    span: tuple[float, float] = (0.0, 0.0)
    heights: tuple[float, ...] = ()

    def end_heights(self) -> tuple[float, float]:
        """How far its start and end stand over the plane: those of the first and last control point it runs between."""
        if not self.heights:
            return 0.0, 0.0
        first, last = self.heights[0], self.heights[-1]
        return (first, last) if self.span[0] <= self.span[1] else (last, first)


Loop = tuple[Side, ...]


def turned(s: Side) -> Side:
    """A piece walked the other way."""
    return replace(s, start=s.end, end=s.start, ccw=not s.ccw, span=(s.span[1], s.span[0]))


def carried_on(curves: list[Side], far: float) -> list[Side]:
    """Curves with their first and last end carried on straight."""
    first, last = curves[0], curves[-1]
    before, after = _out(first, True), _out(last, False)
    start = (first.start[0] + far * before[0], first.start[1] + far * before[1])
    end = (last.end[0] + far * after[0], last.end[1] + far * after[1])
    out = list(curves)
    if _straight(first):
        out[0] = replace(first, start=start)
    else:
        out.insert(0, Side(first.curve, start, first.start))
    if _straight(last):
        out[-1] = replace(out[-1], end=end)
    else:
        out.append(Side(last.curve, last.end, end))
    return out


def _straight(s: Side) -> bool:
    return s.radius == 0.0 and s.path is None


def _out(s: Side, at_start: bool) -> tuple[float, float]:
    """The unit direction that leads out of a piece at one of its ends."""
    if _straight(s):
        way = (
            (s.start[0] - s.end[0], s.start[1] - s.end[1])
            if at_start
            else (s.end[0] - s.start[0], s.end[1] - s.start[1])
        )
    elif s.path is None:
        x, y = s.start if at_start else s.end
        way = (
            y - s.centre[1],
            s.centre[0] - x,
        )  # clockwise on; that leads out of the start of an arc run the other way
        if s.ccw != at_start:
            way = (-way[0], -way[1])
    else:
        t, sign = (s.span[0], -1.0) if at_start else (s.span[1], 1.0)
        way = paths.point(s.path, t, 1)
        if (s.span[1] < s.span[0]) == (sign > 0):
            way = (-way[0], -way[1])
    size = hypot(*way)
    return way[0] / size, way[1] / size


def planar_face(frame: KernelFrame, loops: tuple[Loop, ...], height: float) -> tuple[Any, list[tuple[Any, str]]]:
    """A face from loops (outer first, all with the area on their left), and its edges with their curves."""
    edges: list[tuple[Any, str]] = []
    wires = []
    for loop in loops:
        wire = BRepBuilderAPI_MakeWire()
        vertices = [BRepBuilderAPI_MakeVertex(frame.point(*s.start, height)).Vertex() for s in loop]
        for k, side in enumerate(loop):
            edge = edge_of(frame, side, height, vertices[k], vertices[(k + 1) % len(loop)])
            wire.Add(edge)
            if not wire.IsDone():
                raise KernelRefusal("the outline of the region is not closed")
            edges.append((wire.Edge(), side.curve))
        wires.append(wire.Wire())
    plane = gp_Pln(frame.point(0, 0, height), gp_Dir(*frame.normal))
    face = BRepBuilderAPI_MakeFace(plane, wires[0], True)
    for hole in wires[1:]:
        face.Add(hole)
    if not face.IsDone() or not BRepCheck_Analyzer(face.Face()).IsValid():
        raise KernelRefusal("the outline of the region crosses itself")
    return face.Face(), edges


def edge_of(frame: KernelFrame, side: Side, height: float, v0: Any, v1: Any) -> Any:
    """The edge of a piece between two vertices."""
    if side.path is not None:
        return _free_edge(frame, side, side.path, height, v0, v1)
    if side.radius == 0.0:
        return BRepBuilderAPI_MakeEdge(v0, v1).Edge()
    if side.start == side.end:
        axis = gp_Ax2(frame.point(*side.centre, height), gp_Dir(*frame.normal), gp_Dir(*frame.x))
        edge = BRepBuilderAPI_MakeEdge(gp_Circ(axis, side.radius), v0, v0).Edge()
        return edge if side.ccw else TopoDS.Edge(edge.Reversed())
    # on the circle about the plane's own normal: an axis found through three points is off by more than the kernel
    # allows, and the side of a prism would be no cylinder to it
    axis = gp_Ax2(frame.point(*side.centre, height), gp_Dir(*frame.normal), gp_Dir(*frame.x))
    ends = (v0, v1) if side.ccw else (v1, v0)
    made = BRepBuilderAPI_MakeEdge(gp_Circ(axis, side.radius), *ends)
    if made.IsDone():
        return made.Edge() if side.ccw else TopoDS.Edge(made.Edge().Reversed())
    curve = GC_MakeArcOfCircle(
        frame.point(*side.start, height), frame.point(*side.middle, height), frame.point(*side.end, height)
    )
    return BRepBuilderAPI_MakeEdge(curve.Value(), v0, v1).Edge()


def edge_between(frame: KernelFrame, side: Side) -> Any:
    """The edge of a piece, with vertices of its own."""
    low, high = side.end_heights()
    first = BRepBuilderAPI_MakeVertex(frame.point(*side.start, low)).Vertex()
    if side.start == side.end and low == high:
        return edge_of(frame, side, 0.0, first, first)
    return edge_of(frame, side, 0.0, first, BRepBuilderAPI_MakeVertex(frame.point(*side.end, high)).Vertex())


def _free_edge(frame: KernelFrame, side: Side, path: Path, height: float, v0: Any, v1: Any) -> Any:
    """An edge along part of an ellipse or spline."""
    (t0, t1), swap = side.span, side.span[0] > side.span[1]
    if swap:
        v0, v1, t0, t1 = v1, v0, t1, t0
    if path.kind == "ellipse":
        (cx, cy), (ax, ay), (bx, by) = path.poles
        major, minor = hypot(ax, ay), hypot(bx, by)
        if major < minor:  # the kernel counts from the longer half axis
            (ax, ay), major, minor, t0, t1 = (bx, by), minor, major, t0 - pi / 2, t1 - pi / 2
        y = frame.y
        direction = gp_Dir(*(ax * frame.x[i] + ay * y[i] for i in range(3)))
        curve: Any = Geom_Ellipse(gp_Ax2(frame.point(cx, cy, height), gp_Dir(*frame.normal), direction), major, minor)
    else:
        poles = Array1_gp_Pnt(1, len(path.poles))
        for k, (x, y0) in enumerate(path.poles):
            poles.SetValue(k + 1, frame.point(x, y0, height + (side.heights[k] if side.heights else 0.0)))
        marks = sorted(set(path.knots))
        knots, counts = Array1_double(1, len(marks)), Array1_int(1, len(marks))
        for k, mark in enumerate(marks):
            knots.SetValue(k + 1, mark)
            counts.SetValue(k + 1, path.knots.count(mark))
        curve = Geom_BSplineCurve(poles, knots, counts, path.degree, False)
    maker = BRepBuilderAPI_MakeEdge(curve, v0, v1, t0, t1)
    if not maker.IsDone():
        raise KernelRefusal("a curve of the outline is too short or does not meet its neighbours")
    return TopoDS.Edge(maker.Edge().Reversed()) if swap else maker.Edge()
