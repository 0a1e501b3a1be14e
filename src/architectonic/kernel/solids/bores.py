"""Tools that drill: solids of revolution about their axes, and the material that an axis goes through."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any, NamedTuple

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepClass3d import BRepClass3d_SolidClassifier
from OCP.BRepPrimAPI import BRepPrimAPI_MakeRevol
from OCP.gp import gp_Ax1, gp_Ax3, gp_Dir, gp_Lin, gp_Pnt, gp_Trsf
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector
from OCP.IntCurveSurface import IntCurveSurface_In, IntCurveSurface_Out
from OCP.TopAbs import TopAbs_IN
from OCP.TopLoc import TopLoc_Location

from architectonic.base import tolerance
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import KernelFrame, Vector
from architectonic.kernel.shapes.topology import FACE, compound, is_planar, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal

Point = tuple[float, float]
"""(radius, depth) of a corner of a profile, mm."""
Span = tuple[float, float]
"""Where an axis enters material and where it leaves it, mm along it."""


class Segment(NamedTuple):
    """One side of a profile, from the rim at the top down to the axis."""

    role: str
    end: Point


def profile(
    top: float,
    depth: float,
    diameter: float,
    counterbore: tuple[float, float] | None,
    countersink: tuple[float, float] | None,
    step: tuple[float, float] | None,
    tip: float | None,
) -> list[Segment]:
    """The profile of a drill that has gone in.

    Args:
        top: where the tool begins, at or before the mouth of the hole; depth: where its full diameter ends; mm along the axis
            from the mouth.
        counterbore: diameter and depth; countersink: diameter at the mouth and whole angle, rad; step: diameter and depth
            beyond `depth` of a narrower part.
        tip: whole angle of the drill's point, rad; None for a flat end.

    Raises:
        KernelRefusal: a recess is not wider than the hole, deeper than it, or the step not narrower.
    """
    r = diameter / 2
    made = []
    if counterbore is not None:
        wide, deep = counterbore[0] / 2, counterbore[1]
        if wide <= r:
            raise KernelRefusal(
                f"the counterbore of {counterbore[0]:g} mm is not wider than the hole of {diameter:g} mm"
            )
        if deep >= depth:
            raise KernelRefusal(f"the counterbore is {counterbore[1]:g} mm deep and the hole ends before its floor")
        made += [Segment("entry", (wide, top)), Segment("sink", (wide, deep)), Segment("seat", (r, deep))]
    elif countersink is not None:
        wide, half = countersink[0] / 2, countersink[1] / 2
        if wide <= r:
            raise KernelRefusal(
                f"the countersink of {countersink[0]:g} mm is not wider than the hole of {diameter:g} mm"
            )
        deep = (wide - r) / math.tan(half)
        if deep >= depth:
            raise KernelRefusal("the hole ends before its countersink does")
        made.append(Segment("entry", (wide, top)))
        if top < -tolerance.FEATURE:
            made.append(Segment("sink", (wide, 0.0)))
        made.append(Segment("flare", (r, deep)))
    else:
        made.append(Segment("entry", (r, top)))
    made.append(Segment("wall", (r, depth)))
    end, narrow = depth, r
    if step is not None:
        narrow, end = step[0] / 2, depth + step[1]
        if narrow >= r:
            raise KernelRefusal(f"the step of {step[0]:g} mm is not narrower than the hole of {diameter:g} mm")
        made += [Segment("ledge", (narrow, depth)), Segment("step", (narrow, end))]
    made.append(
        Segment("floor", (0.0, end)) if tip is None else Segment("point", (0.0, end + narrow / math.tan(tip / 2)))
    )
    return made


FLAT = ("entry", "seat", "ledge", "floor")
"""Roles of what lies square to the axis."""


class Turned:
    """A tool turned from a profile about +z, which is put in many places.

    Args:
        top: where it begins, mm along the axis.
    """

    def __init__(self, top: float, segments: list[Segment]) -> None:
        wire = BRepBuilderAPI_MakeWire()
        for a, b in pairwise([(0.0, top), *(s.end for s in segments), (0.0, top)]):
            wire.Add(BRepBuilderAPI_MakeEdge(gp_Pnt(a[0], 0.0, a[1]), gp_Pnt(b[0], 0.0, b[1])).Edge())
        face = BRepBuilderAPI_MakeFace(wire.Wire(), True).Face()
        self.shape = BRepPrimAPI_MakeRevol(face, gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1))).Shape()
        self.roles = [
            s.role for s in segments
        ]  # the kernel keeps the order; it has no history of rings square to the axis
        flat = [is_planar(f) is not None for f in subshapes(self.shape, FACE)]
        assert flat == [s.role in FLAT for s in segments], "the sides of a tool are not in the order of its profile"

    def at(self, frame: KernelFrame, operation: str, key: str, within: str = "") -> Labelled:
        """The tool along a frame's normal; its faces are `<operation>:<role>:<key>`, or `<within>:(<that>)`."""
        move = gp_Trsf()
        move.SetTransformation(gp_Ax3(gp_Pnt(*frame.origin), gp_Dir(*frame.normal), gp_Dir(*frame.x)), gp_Ax3())
        names = [f"{operation}:{role}:{key}" for role in self.roles]
        names = [f"{within}:({n})" for n in names] if within else names
        return Labelled(self.shape.Moved(TopLoc_Location(move)), tuple((n,) for n in names))


def together(tools: list[Labelled]) -> Labelled:
    """Tools side by side as one."""
    if len(tools) == 1:
        return tools[0]
    return Labelled(compound([t.shape for t in tools]), tuple(n for t in tools for n in t.faces))


class Probe:
    """Asks what of some bodies lines go through."""

    def __init__(self, bodies: list[Labelled]) -> None:
        self._lines = []
        for body in bodies:
            intersector = IntCurvesFace_ShapeIntersector()
            intersector.Load(body.shape, tolerance.MODELLING)
            self._lines.append((intersector, BRepClass3d_SolidClassifier(body.shape)))

    def through(self, origin: Vector, direction: Vector, far: float) -> list[Span]:
        """The material of each body from a point on: where it begins and ends, mm, by where it begins."""
        found: list[Span] = []
        line = gp_Lin(gp_Pnt(*origin), gp_Dir(*direction))
        for intersector, classifier in self._lines:
            intersector.Perform(line, 0.0, far)
            hits = {intersector.WParameter(k): intersector.Transition(k) for k in range(1, intersector.NbPnt() + 1)}
            marks = sorted({0.0, far, *(w for w in hits if w > tolerance.FEATURE)})
            entered = {w for w, t in hits.items() if t == IntCurveSurface_In}
            left = {w for w, t in hits.items() if t == IntCurveSurface_Out}
            at_start = {w for w in hits if w <= tolerance.FEATURE}
            inside: list[Span] = []
            for a, b in pairwise(marks):
                if b - a < tolerance.FEATURE:
                    continue
                into = a in entered or (a == 0.0 and len(at_start) == 1 and at_start <= entered)
                if into and b in left:  # both ends say so: nothing to ask
                    within = True
                elif a in left and (b in entered or b == far) and len(hits) % 2 == 0:
                    within = False
                else:
                    middle = (a + b) / 2
                    at = gp_Pnt(*(o + middle * d for o, d in zip(origin, direction, strict=True)))
                    classifier.Perform(at, tolerance.MODELLING)
                    within = classifier.State() == TopAbs_IN
                if within:
                    if inside and a - inside[-1][1] < tolerance.FEATURE:
                        inside[-1] = (inside[-1][0], b)
                    else:
                        inside.append((a, b))
            found += inside
        return sorted(found)

    def ring(self, origin: Vector, direction: Vector, x: Vector, radius: float, far: float) -> list[Span]:
        """The same along lines on a ring about a line, for a hole about what is hollow already."""
        y = _cross(direction, x)
        found: list[Span] = []
        for k in range(8):
            c, s = radius * math.cos(k * math.pi / 4), radius * math.sin(k * math.pi / 4)
            start = (origin[0] + c * x[0] + s * y[0], origin[1] + c * x[1] + s * y[1], origin[2] + c * x[2] + s * y[2])
            found += self.through(start, direction, far)
        return sorted(found)


def _cross(a: Vector, b: Vector) -> Vector:
    return (a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])


def meets(face: Any, origin: Vector, direction: Vector, far: float) -> float | None:
    """How far along a line it first meets a face, mm; None when it does not."""
    intersector = IntCurvesFace_ShapeIntersector()
    intersector.Load(face, tolerance.MODELLING)
    intersector.Perform(gp_Lin(gp_Pnt(*origin), gp_Dir(*direction)), 0.0, far)
    found = [intersector.WParameter(k + 1) for k in range(intersector.NbPnt())]
    return min(found) if found else None
