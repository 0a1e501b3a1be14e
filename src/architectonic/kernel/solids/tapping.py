"""Threads modelled in tapped holes: the hole is filled to its wall, and a rod with the thread is cut out again.

The basic profile of ISO 68-1: flanks at 60 deg to each other, the root of the nut's thread an eighth of the pitch wide. The
kernel cuts the ridge of a thread out of a wall wrongly in most positions, without a word, as flanks and wall cross at a small
angle all along; a rod whose crest is the wall itself meets nothing but the planes at its ends. Its faces are made straight
from the equation of the helicoid, and what goes is held against the closed form all the same.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeSolid,
    BRepBuilderAPI_MakeWire,
    BRepBuilderAPI_Sewing,
    BRepBuilderAPI_Transform,
)
from OCP.BRepGProp import BRepGProp
from OCP.BRepLib import BRepLib
from OCP.BRepPrimAPI import BRepPrimAPI_MakeCylinder
from OCP.collections import Array1_double, Array1_int, Array2_gp_Pnt
from OCP.Geom import Geom_BSplineSurface
from OCP.Geom2d import Geom2d_Line
from OCP.gp import gp_Ax2, gp_Ax3, gp_Dir, gp_Dir2d, gp_Pln, gp_Pnt, gp_Pnt2d, gp_Trsf
from OCP.GProp import GProp_GProps
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS
from scipy.interpolate import make_interp_spline

from architectonic.base import tolerance
from architectonic.kernel.measure.holes import Bored, bored
from architectonic.kernel.shapes.labelled import Labelled, carry
from architectonic.kernel.shapes.topology import FACE, SOLID, shape_list, subshapes, unwrapped
from architectonic.kernel.shapes.verdict import KernelRefusal, sound, volume
from architectonic.kernel.solids.bores import together
from architectonic.kernel.solids.prisms import boolean

AMISS = 1e-4
"""Share by which what a thread takes away may miss its closed form."""
ROOT = 1 / 16
"""Half the width of the root of a nut's thread, in pitches (ISO 68-1)."""
SLOPE = math.tan(math.pi / 6)
"""Of each flank."""
PER_TURN = 24
"""Points of a helix through which its spline of degree 5 goes: it misses by less than 1e-6 of the radius."""
SEWN = 1e-4
"""How far the edges of neighbouring faces may lie apart, mm."""


class Tap(NamedTuple):
    """A thread as it is cut; mm.

    Attributes:
        diameter: nominal; drill: of the wall that it is cut into; depth: from the mouth of the hole, None for the whole wall.
    """

    diameter: float
    pitch: float
    drill: float
    depth: float | None
    left: bool


def section(tap: Tap) -> tuple[float, float]:
    """Area of the groove in a plane through the axis, mm2, and how far its centroid is from the axis, mm.

    What a groove takes away is its area times the way of its centroid about the axis (Pappus), along a helix too.
    """
    low, high = tap.drill / 2, tap.diameter / 2
    height, outer = high - low, 2 * ROOT * tap.pitch
    inner = outer + 2 * SLOPE * height
    area = height * (inner + outer) / 2
    return area, low + height * (inner + 2 * outer) / (3 * (inner + outer))


def tap(body: Labelled, taps: dict[str, Tap]) -> Labelled:
    """A body with threads in the holes of some operations; flanks have the label of the wall that they are cut into.

    Raises:
        KernelRefusal: a hole was scaled since, a thread is shorter than its pitch, or the kernel cut something else.
    """
    made: dict[tuple[Any, ...], tuple[Any, Any]] = {}
    fillings: list[Labelled] = []
    rods: list[Labelled] = []
    least = most = 0.0
    for hole in bored(body, frozenset(taps)):
        one = taps[hole.operation]
        if abs(hole.diameter - one.drill) > tolerance.FEATURE:
            told = f"the wall is {hole.diameter:.4g} mm wide now and the thread wants {one.drill:g} mm"
            raise KernelRefusal(told)
        end = hole.depth if one.depth is None else min(one.depth, hole.depth)
        length = tolerance.length(end - hole.wall_from)
        if length < one.pitch:
            raise KernelRefusal(f"the thread is {length:.3g} mm long, less than its pitch of {one.pitch:g} mm")
        key = (one, length)
        if key not in made:
            made[key] = (BRepPrimAPI_MakeCylinder(one.drill / 2, length).Shape(), _rod(one, length))
        for shapes, shape in zip((fillings, rods), made[key], strict=True):
            shapes.append(_placed(shape, hole))
        area, radius = section(one)
        expected = area * math.tau * radius * length / one.pitch
        most += expected
        least += expected if _is_tube(hole) else 0.0
    if not rods:
        return body
    result = boolean("cut", _filled(body, together(fillings)), together(rods))
    if result is None:
        raise KernelRefusal("nothing would be left of the body")
    gone = volume(body.shape) - volume(result.shape)
    if not (1 - AMISS) * least <= gone <= (1 + AMISS) * most:
        raise KernelRefusal("the kernel cannot cut it soundly here")
    return result


def _filled(body: Labelled, fillings: Labelled) -> Labelled:
    """A body with its holes closed; what closes them stays apart from the faces around, and goes with the rods."""
    fuse = BRepAlgoAPI_Fuse()
    fuse.SetArguments(shape_list([body.shape]))
    fuse.SetTools(shape_list(subshapes(fillings.shape, SOLID)))
    fuse.Build()
    shape = unwrapped(fuse.Shape()) if fuse.IsDone() else None
    if shape is None:
        raise KernelRefusal("the kernel cannot close the hole again")
    return carry(shape, [body, fillings], fuse, {})


def _is_tube(hole: Bored) -> bool:
    """Whether all of the wall is there, square to its axis at both ends."""
    around = GProp_GProps()
    for wall in hole.walls:
        BRepGProp.SurfaceProperties_s(wall, around)
    whole = math.pi * hole.diameter * (hole.depth - hole.wall_from)
    return abs(float(around.Mass()) - whole) < 1e-6 * whole


def _rod(one: Tap, length: float) -> Any:
    """A rod with the thread about +z, from 0 to a length; its crest is the wall of the drilled hole.

    Raises:
        KernelRefusal: the kernel does not close it.
    """
    low, high, pitch = one.drill / 2, one.diameter / 2, one.pitch
    top = ROOT * pitch
    base = top + SLOPE * (high - low)
    rails = [(low, -base), (high, -top), (high, top), (low, base), (low, pitch - base)]  # a flank, root, flank, crest
    first = math.tau * -rails[-1][1] / pitch - 0.5
    last = math.tau * (length - rails[0][1]) / pitch + 0.5
    turns = np.linspace(first, last, math.ceil((last - first) / math.tau * PER_TURN) + 1)
    helix = make_interp_spline(turns, np.column_stack([np.cos(turns), np.sin(turns), turns * pitch / math.tau]), k=5)
    sewing = BRepBuilderAPI_Sewing(SEWN)
    ends = BRepBuilderAPI_MakeWire(), BRepBuilderAPI_MakeWire()
    for a, b in pairwise(rails):
        surface = _between(helix, a, b)
        corners = [
            (math.tau * (z - rail[1]) / pitch, across)
            for z, rail, across in ((0.0, a, 0.0), (length, a, 0.0), (length, b, 1.0), (0.0, b, 1.0))
        ]
        around = [_straight(surface, p, q) for p, q in pairwise([*corners, corners[0]])]
        ends[0].Add(around[3])
        ends[1].Add(around[1])
        wire = BRepBuilderAPI_MakeWire()
        for edge in around:
            wire.Add(edge)
        sewing.Add(BRepBuilderAPI_MakeFace(surface, wire.Wire(), True).Face())
    for z, end in zip((0.0, length), ends, strict=True):
        loop = end.Wire() if z == 0.0 else TopoDS.Wire(end.Wire().Reversed())  # it runs clockwise there
        sewing.Add(BRepBuilderAPI_MakeFace(gp_Pln(gp_Pnt(0, 0, z), gp_Dir(0, 0, 1)), loop, True).Face())
    sewing.Perform()
    refused = "the kernel cannot make it"
    if sewing.NbFreeEdges():
        raise KernelRefusal(refused)
    solid = BRepBuilderAPI_MakeSolid(TopoDS.Shell(sewing.SewedShape())).Solid()
    BRepLib.OrientClosedSolid_s(solid)
    if one.left:
        mirror = gp_Trsf()
        mirror.SetMirror(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(0, 1, 0)))
        solid = BRepBuilderAPI_Transform(solid, mirror, True).Shape()
    return sound(solid, refused)


def _between(helix: Any, a: tuple[float, float], b: tuple[float, float]) -> Any:
    """The surface ruled between two helices, each by its radius and how far it is put along the axis."""
    poles = Array2_gp_Pnt(1, len(helix.c), 1, 2)
    for j, (radius, shift) in enumerate((a, b), start=1):
        for i, (c, s, z) in enumerate(helix.c, start=1):
            poles.SetValue(i, j, gp_Pnt(radius * c, radius * s, z + shift))
    knots, counts = np.unique(helix.t, return_counts=True)
    along, times = Array1_double(1, len(knots)), Array1_int(1, len(knots))
    for i, (knot, count) in enumerate(zip(knots, counts, strict=True), start=1):
        along.SetValue(i, float(knot))
        times.SetValue(i, int(count))
    across, twice = Array1_double(1, 2), Array1_int(1, 2)
    for i in (1, 2):
        across.SetValue(i, i - 1.0)
        twice.SetValue(i, 2)
    return Geom_BSplineSurface(poles, along, across, times, twice, helix.k, 1)


def _straight(surface: Any, p: tuple[float, float], q: tuple[float, float]) -> Any:
    """An edge that is straight in the parameters of a surface: also where a helicoid meets a plane square to its axis."""
    line = Geom2d_Line(gp_Pnt2d(*p), gp_Dir2d(q[0] - p[0], q[1] - p[1]))
    edge = BRepBuilderAPI_MakeEdge(line, surface, 0.0, math.dist(p, q)).Edge()
    BRepLib.BuildCurves3d_s(edge)
    return edge


def _placed(shape: Any, hole: Bored) -> Labelled:
    """Something about +z put into a hole, from where its wall begins; all its faces are the wall."""
    a, b, c = hole.direction
    beside = gp_Dir(0.0, -c, b) if abs(a) < 0.9 else gp_Dir(c, 0.0, -a)
    origin = gp_Pnt(*(o + hole.wall_from * d for o, d in zip(hole.at, hole.direction, strict=True)))
    move = gp_Trsf()
    move.SetTransformation(gp_Ax3(origin, gp_Dir(a, b, c), beside), gp_Ax3())
    stands = shape.Moved(TopLoc_Location(move))
    return Labelled(stands, tuple((hole.wall,) for _ in subshapes(stands, FACE)))
