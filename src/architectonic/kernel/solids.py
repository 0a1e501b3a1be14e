"""Solids from planar regions, and booleans, with labels."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot, pi
from typing import Any

from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeVertex,
    BRepBuilderAPI_MakeWire,
)
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.collections import Array1_double, Array1_gp_Pnt, Array1_int
from OCP.GC import GC_MakeArcOfCircle
from OCP.Geom import Geom_BSplineCurve, Geom_Ellipse
from OCP.GeomAbs import GeomAbs_Plane
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir, gp_Pln, gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopoDS import TopoDS

from architectonic.kernel.labelled import Labelled, carry, name_pieces
from architectonic.kernel.topology import FACE, compound, listed, shape_list, subshapes, unwrapped
from architectonic.sketch.paths import Path

Vector = tuple[float, float, float]


class KernelRefusal(Exception):
    """The kernel could not do it; the text says why in the user's words."""


@dataclass(frozen=True)
class Frame:
    """A plane in space: origin (mm), unit x and normal; y = normal x x."""

    origin: Vector
    x: Vector
    normal: Vector

    @property
    def y(self) -> Vector:
        """The plane's second axis."""
        (a, b, c), (d, e, f) = self.normal, self.x
        return (b * f - c * e, c * d - a * f, a * e - b * d)

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


Loop = tuple[Side, ...]


def planar_face(frame: Frame, loops: tuple[Loop, ...], height: float) -> tuple[Any, list[tuple[Any, str]]]:
    """A face from loops (outer first, all with the area on their left), and its edges with their curves."""
    edges: list[tuple[Any, str]] = []
    wires = []
    for loop in loops:
        wire = BRepBuilderAPI_MakeWire()
        vertices = [BRepBuilderAPI_MakeVertex(frame.point(*s.start, height)).Vertex() for s in loop]
        for k, side in enumerate(loop):
            edge = _edge(frame, side, height, vertices[k], vertices[(k + 1) % len(loop)])
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


def _edge(frame: Frame, side: Side, height: float, v0: Any, v1: Any) -> Any:
    if side.path is not None:
        return _free_edge(frame, side, side.path, height, v0, v1)
    if side.radius == 0.0:
        return BRepBuilderAPI_MakeEdge(v0, v1).Edge()
    if side.start == side.end:
        axis = gp_Ax2(frame.point(*side.centre, height), gp_Dir(*frame.normal), gp_Dir(*frame.x))
        edge = BRepBuilderAPI_MakeEdge(gp_Circ(axis, side.radius), v0, v0).Edge()
        return edge if side.ccw else TopoDS.Edge(edge.Reversed())
    curve = GC_MakeArcOfCircle(
        frame.point(*side.start, height), frame.point(*side.middle, height), frame.point(*side.end, height)
    )
    return BRepBuilderAPI_MakeEdge(curve.Value(), v0, v1).Edge()


def _free_edge(frame: Frame, side: Side, path: Path, height: float, v0: Any, v1: Any) -> Any:
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
            poles.SetValue(k + 1, frame.point(x, y0, height))
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


Height = tuple[float, float, float]
"""(c, a, b): c + a u + b v over the point (u, v) of a plane."""


def prism(frame: Frame, areas: list[tuple[Loop, ...]], near: Height, far: Height, operation: str) -> Labelled:
    """Areas pushed from one height to another along the normal; a sloping end is cut off a longer prism.

    Labels: `<operation>:side:<curve>`, `<operation>:start` at near, `<operation>:end` at far.

    Raises:
        KernelRefusal: an outline crosses itself.
    """
    sloping = [(h, role) for h, role in ((near, "start"), (far, "end")) if h[1:] != (0.0, 0.0)]
    if not sloping:
        return _straight(frame, areas, near[0], far[0], operation)
    corners = _box(areas)
    up = 1.0 if all(_at(far, c) > _at(near, c) for c in _points(areas)) else -1.0
    beyond = 1.0 + max(abs(_at(h, c)) for h in (near, far) for c in corners)
    body = _straight(
        frame,
        areas,
        near[0] if near[1:] == (0.0, 0.0) else -up * beyond,
        far[0] if far[1:] == (0.0, 0.0) else up * beyond,
        operation,
    )
    for height, role in sloping:
        tool = _slab(frame, corners, height, up * beyond * (3.0 if role == "end" else -3.0), f"{operation}:{role}")
        rest = boolean("cut", body, tool)
        if rest is None:
            raise KernelRefusal("nothing is left between its two ends")
        body = rest
    return body


def _at(height: Height, p: tuple[float, float]) -> float:
    return height[0] + height[1] * p[0] + height[2] * p[1]


def _points(areas: list[tuple[Loop, ...]]) -> list[tuple[float, float]]:
    return [side.start for loops in areas for side in loops[0]]


def _box(areas: list[tuple[Loop, ...]]) -> list[tuple[float, float]]:
    """Corners of a rectangle around areas, with some room."""
    us, vs = [], []
    for side in (s for loops in areas for s in loops[0]):
        reach = [side.start, side.end]
        if side.radius:
            (u, v), r = side.centre, side.radius
            reach += [(u - r, v - r), (u + r, v + r)]
        if side.path is not None:
            (cx, cy), (ax, ay), (bx, by) = (*side.path.poles, *side.path.poles)[:3]
            oval = [(cx + s * ax + t * bx, cy + s * ay + t * by) for s in (-1, 1) for t in (-1, 1)]
            reach += oval if side.path.kind == "ellipse" else side.path.poles
        us += [p[0] for p in reach]
        vs += [p[1] for p in reach]
    room = 1.0 + 0.1 * max(max(us) - min(us), max(vs) - min(vs))
    lo, hi = (min(us) - room, min(vs) - room), (max(us) + room, max(vs) + room)
    return [lo, (hi[0], lo[1]), hi, (lo[0], hi[1])]


def _slab(frame: Frame, corners: list[tuple[float, float]], height: Height, thickness: float, label: str) -> Labelled:
    """Everything on one side of a sloping plane over a rectangle; only the face on that plane has the label."""
    wire = BRepBuilderAPI_MakeWire()
    raised = [frame.point(*c, _at(height, c)) for c in corners]
    for k in range(4):
        wire.Add(BRepBuilderAPI_MakeEdge(raised[k], raised[(k + 1) % 4]).Edge())
    face = BRepBuilderAPI_MakeFace(wire.Wire(), True).Face()
    sweep = BRepPrimAPI_MakePrism(face, gp_Vec(*(c * thickness for c in frame.normal)))
    faces = subshapes(sweep.Shape(), FACE)
    return Labelled(
        sweep.Shape(),
        tuple((label if f.IsSame(sweep.FirstShape()) else f"{label}:away{i}",) for i, f in enumerate(faces)),
    )


def _straight(frame: Frame, areas: list[tuple[Loop, ...]], near: float, far: float, operation: str) -> Labelled:
    solids, names = [], {}
    for loops in areas:
        face, edges = planar_face(frame, loops, near)
        vector = gp_Vec(*(c * (far - near) for c in frame.normal))
        sweep = BRepPrimAPI_MakePrism(face, vector)
        for edge, curve in edges:
            for side in listed(sweep.Generated(edge)):
                names[side] = f"{operation}:side:{curve}"
        names[sweep.FirstShape()] = f"{operation}:start"
        names[sweep.LastShape()] = f"{operation}:end"
        solids.append(sweep.Shape())
    shape = solids[0] if len(solids) == 1 else compound(solids)
    faces = subshapes(shape, FACE)
    return Labelled(shape, name_pieces(shape, faces, [[names[f]] for f in faces]))


_BOOLEANS = {"add": BRepAlgoAPI_Fuse, "cut": BRepAlgoAPI_Cut, "overlap": BRepAlgoAPI_Common}


def boolean(does: str, body: Labelled, tool: Labelled) -> Labelled | None:
    """Add a tool to a body, cut it away, or keep the overlap; None when nothing is left.

    Faces that become one by uniting keep the smallest label, the others as aliases.

    Raises:
        KernelRefusal: the kernel gave up or made an invalid solid.
    """
    algorithm = _BOOLEANS[does]()
    algorithm.SetArguments(shape_list([body.shape]))
    algorithm.SetTools(shape_list([tool.shape]))
    algorithm.Build()
    if not algorithm.IsDone():
        raise KernelRefusal("the two solids could not be combined")
    if does == "add":
        algorithm.SimplifyResult(True, True, 1e-6)
    shape = unwrapped(algorithm.Shape())
    if shape is None:
        return None
    if not BRepCheck_Analyzer(shape).IsValid():
        raise KernelRefusal("combining the two solids gives an invalid one")
    return carry(shape, [body, tool], algorithm, {})


def is_planar(face: Any) -> tuple[Vector, Vector] | None:
    """Origin and outward normal of a planar face, else None."""
    surface = BRepAdaptor_Surface(face)
    if surface.GetType() != GeomAbs_Plane:
        return None
    plane = surface.Plane()
    p, n = plane.Location(), plane.Axis().Direction()
    if not plane.Direct():
        n = n.Reversed()
    sign = -1.0 if face.Orientation() == TopAbs_REVERSED else 1.0
    return (p.X(), p.Y(), p.Z()), (sign * n.X(), sign * n.Y(), sign * n.Z())
