"""Solids swept from planar regions: about an axis, along a path, through sections; with labels.

Every result is compared with what Pappus' theorems or its own history say, as the kernel calls some wrong sweeps valid.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeSolid,
    BRepBuilderAPI_MakeVertex,
    BRepBuilderAPI_MakeWire,
    BRepBuilderAPI_RightCorner,
    BRepBuilderAPI_Sewing,
)
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepGProp import BRepGProp
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakePipe, BRepOffsetAPI_MakePipeShell, BRepOffsetAPI_ThruSections
from OCP.BRepPrimAPI import BRepPrimAPI_MakeRevol
from OCP.gp import gp_Ax1, gp_Ax2, gp_Circ, gp_Dir, gp_Pnt, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopoDS import TopoDS

from architectonic.base import tolerance
from architectonic.kernel.shapes.labelled import Labelled, named
from architectonic.kernel.shapes.outlines import KernelFrame, Loop, Side, Vector, edge_between, planar_face
from architectonic.kernel.shapes.topology import FACE, SHELL, compound, listed, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal, built, rough_volume, sound, volume
from architectonic.kernel.solids.prisms import boolean, until

Areas = list[tuple[Loop, ...]]
SLACK = 1e-6
"""Share by which a sweep's volume may miss what Pappus' theorem says: splines are swept within that."""
LEFT_OPEN = 0.02
"""What is left of a whole turn when something turns up to a face, rad: beyond that it would meet its own start."""
TURN = 1e-4
"""Edges of a path that meet at a larger angle (rad) meet in a corner."""


def _named(solids: list[Any], names: dict[Any, list[str]]) -> Labelled:
    """Solids side by side, every face named."""
    shape = solids[0] if len(solids) == 1 else compound(solids)
    assert all(names.get(f) for f in subshapes(shape, FACE)), "a swept face has no name"
    return named(shape, names)


def _on(face: Any, p: gp_Pnt) -> bool:
    """Whether a point lies on a face."""
    found = BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(p).Vertex(), face)
    return bool(found.IsDone() and found.Value() < 10 * tolerance.MODELLING)


def _middle(edge: Any) -> gp_Pnt:
    c = BRepAdaptor_Curve(edge)
    return c.Value((c.FirstParameter() + c.LastParameter()) / 2)


def _flat(face: Any) -> tuple[float, gp_Pnt]:
    """Area and centroid of a planar face."""
    props = GProp_GProps()
    BRepGProp.SurfaceProperties_s(face, props, tolerance.MEASURE)
    return float(props.Mass()), props.CentreOfMass()


def revolve(
    frame: KernelFrame, areas: Areas, origin: Vector, direction: Vector, start: float, turn: float, operation: str
) -> Labelled:
    """Areas turned about an axis.

    Labels: `<operation>:side:<curve>`; unless it goes all round, `<operation>:start` and `<operation>:end`.

    Args:
        start, turn: rad; from which angle and how far; a whole turn closes.

    Raises:
        KernelRefusal: an area reaches across the axis.
    """
    axis = gp_Ax1(gp_Pnt(*origin), gp_Dir(*direction))
    whole = abs(turn - math.tau) < tolerance.MODELLING
    solids: list[Any] = []
    names: dict[Any, list[str]] = {}
    for loops in areas:
        face, edges = planar_face(frame, loops, 0.0)
        area, centre = _flat(face)
        if start:
            move = BRepPrimAPI_MakeRevol(face, axis, start, False)
            turned = dict(edges)
            face = TopoDS.Face(move.LastShape())
            edges = [(TopoDS.Edge(move.LastShape(edge)), curve) for edge, curve in turned.items()]
        try:
            sweep = BRepPrimAPI_MakeRevol(face, axis) if whole else BRepPrimAPI_MakeRevol(face, axis, turn, False)
            solid = sound(sweep.Shape(), "the region cannot be turned about this axis")
        except Exception:  # the kernel's faults share no base class but Exception
            raise KernelRefusal("the region reaches across the axis or touches it in a point") from None
        away = gp_Vec(gp_Pnt(*origin), centre).Crossed(gp_Vec(*direction)).Magnitude()
        if abs(volume(solid) - area * away * turn) > SLACK * area * away * turn:
            raise KernelRefusal("the region reaches across the axis")
        faces = subshapes(solid, FACE)
        for edge, curve in edges:
            sides = [f for f in listed(sweep.Generated(edge)) if f in faces]
            # about a whole turn the kernel loses rings that stand square to the axis: they are found by where they are
            sides = sides or [f for f in faces if f not in names and whole and _on(f, _middle(edge))]
            for side in sides:
                names.setdefault(side, [f"{operation}:side:{curve}"])
        if not whole:
            names[sweep.FirstShape()] = [f"{operation}:start"]
            names[sweep.LastShape()] = [f"{operation}:end"]
        solids.append(solid)
    return _named(solids, names)


def revolve_until(
    frame: KernelFrame, areas: Areas, origin: Vector, direction: Vector, faces: list[Any], operation: str
) -> Labelled:
    """Areas turned about an axis up to faces, which count as extended; labels as those of `revolve`.

    Raises:
        KernelRefusal: an area reaches across the axis, or the faces do not lie in its way.
    """
    tool = revolve(frame, areas, origin, direction, 0.0, math.tau - LEFT_OPEN, operation)
    return until(tool, faces, f"{operation}:end", f"{operation}:start")


Path = tuple[tuple[KernelFrame, Side], ...]
"""Pieces of a path, end to end; each in its own plane."""


Chain = list[tuple[Any, str]]
"""Edges that meet end to end, with the curves that they come from."""


def chain(path: Path, what: str = "curves") -> tuple[Any, Chain]:
    """A wire along curves, and its edges with the curves that they come from.

    Args:
        what: they are, in words.

    Raises:
        KernelRefusal: they do not meet end to end.
    """
    made = BRepBuilderAPI_MakeWire()
    edges: Chain = []
    for frame, side in path:
        made.Add(edge_between(frame, side))
        if not made.IsDone():
            raise KernelRefusal(f"the {what} do not meet end to end")
        edges.append((made.Edge(), side.curve))
    return made.Wire(), edges


def is_smooth(edges: Chain, closed: bool) -> bool:
    """Whether edges go on into each other without a corner."""
    tangents = []
    for edge, _ in edges:
        c = BRepAdaptor_Curve(edge)
        first, last = gp_Vec(), gp_Vec()
        c.D1(c.FirstParameter(), gp_Pnt(), first)
        c.D1(c.LastParameter(), gp_Pnt(), last)
        tangents.append((last.Reversed(), first.Reversed()) if edge.Orientation() == TopAbs_REVERSED else (first, last))
    pairs = [*pairwise(tangents), *([(tangents[-1], tangents[0])] if closed and len(tangents) > 1 else [])]
    return all(a[1].Angle(b[0]) < TURN for a, b in pairs)


def sweep(frame: KernelFrame, areas: Areas, path: Path, operation: str) -> Labelled:
    """Areas moved along a path; corners of the path are mitred.

    Labels: `<operation>:side:<curve>:<piece of the path>`, and of an open path `<operation>:start`, `<operation>:end`.

    Raises:
        KernelRefusal: the path has a gap, bends more sharply than the area is wide, or the kernel gives up.
    """
    wire, pieces = chain(path, "pieces of the path")
    smooth = is_smooth(pieces, wire.Closed())
    # about a closed curve in space the evenly turning frame does not come back to itself; that of the curve does
    in_space = any(side.heights for _, side in path)
    refused = "it cannot be swept along this path: it bends more sharply than the region is wide"
    solids: list[Any] = []
    names: dict[Any, list[str]] = {}
    for loops in areas:
        turning = not in_space and len({f.normal for f, _ in path}) > 1
        # a ring is sewn from its pieces, and one that is of a single piece is not sewn to itself
        ring = in_space and len(pieces) > 1 and all(map(_is_circle, loops))
        if smooth and wire.Closed() and (turning or ring):
            outer, *holes = [_ring(frame, loop, pieces, operation, refused) for loop in loops]
            for hole in holes:
                outer = _inside_out(outer, hole)
            solids.append(outer.shape)
            names.update({f: list(n) for f, n in zip(outer.face_list, outer.faces, strict=True)})
            continue
        face, edges = planar_face(frame, loops, 0.0)
        if smooth and not in_space:
            algorithm = BRepOffsetAPI_MakePipe(wire, face)
            solid = sound(algorithm.Shape(), refused, crossing=True)
            for edge, curve in edges:
                for piece, way in pieces:
                    for side in _generated(algorithm, piece, edge):
                        names.setdefault(side, [f"{operation}:side:{curve}:{way}"])
            if not wire.Closed():
                names[algorithm.FirstShape()] = [f"{operation}:start"]
                names[algorithm.LastShape()] = [f"{operation}:end"]
            solids.append(solid)
            continue
        outer, *holes = [_mitred(frame, loop, wire, pieces, operation, refused, in_space) for loop in loops]
        for hole in holes:
            rest = boolean("cut", outer, hole)
            if rest is None:
                raise KernelRefusal(refused)
            outer = rest
        solids.append(outer.shape)
        names.update({f: list(n) for f, n in zip(outer.face_list, outer.faces, strict=True)})
    return _named(solids, names)


def _is_circle(loop: Loop) -> bool:
    return len(loop) == 1 and loop[0].start == loop[0].end and loop[0].path is None


def _ring(frame: KernelFrame, loop: Loop, pieces: list[tuple[Any, str]], operation: str, refused: str) -> Labelled:
    """A circle about a closed path in space, piece by piece: what turns with such a path does not come back to itself, which
    matters for everything but a circle.

    Raises:
        KernelRefusal: the loop is no circle about the path, or the path bends too sharply for it.
    """
    if not _is_circle(loop):
        raise KernelRefusal("along a closed path in space only what is round comes back to itself")
    sewing = BRepBuilderAPI_Sewing(10 * tolerance.MODELLING)
    sides: list[tuple[Any, str]] = []
    for edge, way in pieces:
        at, along = _begins(edge)
        circle = gp_Circ(gp_Ax2(at, gp_Dir(along)), loop[0].radius)
        outline = BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(circle).Edge()).Wire()
        pipe = BRepOffsetAPI_MakePipe(BRepBuilderAPI_MakeWire(edge).Wire(), outline).Shape()
        sewing.Add(pipe)
        sides += [(f, f"{operation}:side:{loop[0].curve}:{way}") for f in subshapes(pipe, FACE)]
    if frame.point(*loop[0].centre).Distance(_begins(pieces[0][0])[0]) > 10 * tolerance.MODELLING:
        raise KernelRefusal("along a closed path in space only what is round about it comes back to itself")
    sewing.Perform()
    shells = subshapes(sewing.SewedShape(), SHELL)
    if sewing.NbFreeEdges() or len(shells) != 1:
        raise KernelRefusal(refused)
    solid = BRepBuilderAPI_MakeSolid(shells[0]).Solid()
    if rough_volume(solid) < 0:
        solid = BRepBuilderAPI_MakeSolid(TopoDS.Shell(shells[0].Reversed())).Solid()
    checked = sound(solid, refused, crossing=True)
    return _named([checked], {f: [n] for side, n in sides for f in subshapes(sewing.ModifiedSubShape(side), FACE)})


def _begins(edge: Any) -> tuple[gp_Pnt, gp_Vec]:
    """Where an edge begins on a path, and in which direction."""
    c = BRepAdaptor_Curve(edge)
    back = edge.Orientation() == TopAbs_REVERSED
    at, way = gp_Pnt(), gp_Vec()
    c.D1(c.LastParameter() if back else c.FirstParameter(), at, way)
    return at, way.Reversed() if back else way


def _inside_out(outer: Labelled, hole: Labelled) -> Labelled:
    """A ring with another one taken out of it that touches it nowhere: its shell becomes an inner one."""
    made = BRepBuilderAPI_MakeSolid(TopoDS.Shell(subshapes(outer.shape, SHELL)[0]))
    made.Add(TopoDS.Shell(subshapes(hole.shape, SHELL)[0].Reversed()))
    solid = sound(made.Solid(), "the tube has no wall")
    names = dict(zip([*outer.face_list, *hole.face_list], [*outer.faces, *hole.faces], strict=True))
    return named(solid, {f: list(names[f]) for f in subshapes(solid, FACE)})


def _generated(algorithm: Any, piece: Any, edge: Any) -> list[Any]:
    found = algorithm.Generated(piece, edge)
    return [] if found.IsNull() else subshapes(found, FACE)


def _mitred(
    frame: KernelFrame,
    loop: Loop,
    wire: Any,
    pieces: list[tuple[Any, str]],
    operation: str,
    refused: str,
    in_space: bool,
) -> Labelled:
    """One loop along a path with corners or in space; faces of the same curve are told apart by the piece they lie along."""
    _, edges = planar_face(frame, (loop,), 0.0)
    outline = BRepBuilderAPI_MakeWire()
    for edge, _ in edges:
        outline.Add(edge)
    shell = BRepOffsetAPI_MakePipeShell(wire)
    if in_space:
        shell.SetMode(True)
    else:
        shell.SetTransitionMode(BRepBuilderAPI_RightCorner)
    shell.Add(outline.Wire(), False, False)

    def make() -> Any:
        shell.Build()
        return shell.Shape() if shell.IsDone() and shell.MakeSolid() else None

    solid = built(make, refused)
    names: dict[Any, list[str]] = {}
    faces = subshapes(solid, FACE)
    for edge, curve in edges:
        sides = [f for f in listed(shell.Generated(edge)) if f in faces]
        for side in sides:
            away = [(_apart(side, piece), way) for piece, way in pieces]
            names.setdefault(side, [f"{operation}:side:{curve}:{min(away)[1]}"])
    if not wire.Closed():
        names[shell.FirstShape()] = [f"{operation}:start"]
        names[shell.LastShape()] = [f"{operation}:end"]
    return _named([solid], names)


def _apart(face: Any, piece: Any) -> float:
    """How far the middle of a face lies from a piece of the path."""
    _, centre = _flat(face)
    return float(BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(centre).Vertex(), piece).Value())


def loft(sections: list[tuple[KernelFrame, tuple[Loop, ...]]], straight: bool, operation: str) -> Labelled:
    """A solid through areas one after the other.

    Labels: `<operation>:side:<curve>` with the curves of every section that a face leaves from or arrives at as
    aliases; `<operation>:start`, `<operation>:end`.

    Args:
        straight: ruled between neighbours, with an edge at every section.

    Raises:
        KernelRefusal: fewer than two sections, a section with a hole, or the kernel gives up.
    """
    if len(sections) < 2:
        raise KernelRefusal("a loft needs two sections at least")
    if any(len(loops) > 1 for _, loops in sections):
        raise KernelRefusal("a section has a hole: loft what surrounds it, then cut the hole with a second loft")
    algorithm = BRepOffsetAPI_ThruSections(True, straight, tolerance.MODELLING)
    algorithm.CheckCompatibility(True)
    edges: list[tuple[Any, str]] = []
    for frame, loops in sections:
        _, sides = planar_face(frame, loops, 0.0)
        wire = BRepBuilderAPI_MakeWire()
        for edge, curve in sides:
            wire.Add(edge)
            edges.append((wire.Edge(), curve))
        algorithm.AddWire(wire.Wire())
    refused = "no solid goes through these sections in this order"

    def make() -> Any:
        algorithm.Build()
        return algorithm.Shape()

    solid = built(make, refused)
    faces = subshapes(solid, FACE)
    names: dict[Any, list[str]] = {f: [] for f in faces}
    for edge, curve in edges:
        for side in listed(algorithm.Generated(edge)):
            label = f"{operation}:side:{curve}"
            if side in names and label not in names[side]:
                names[side].append(label)
    names[algorithm.FirstShape()] = [f"{operation}:start"]
    names[algorithm.LastShape()] = [f"{operation}:end"]
    return _named([solid], names)
