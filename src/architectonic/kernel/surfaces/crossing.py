"""Curves in space: where surfaces cross, what two drawings seen from two sides agree on, drawings laid on a surface, iso-lines.

Pieces are labelled by the two faces that they lie on, as an edge between these would be; several of one pair are numbered in
order of their middles.
"""

from __future__ import annotations

import math
from collections import defaultdict
from typing import Any

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Section
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge
from OCP.BRepTools import BRepTools
from OCP.gp import gp_Dir, gp_Lin, gp_Pnt, gp_Vec
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector
from OCP.TopoDS import TopoDS, TopoDS_Face

from architectonic.base import tolerance
from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.shapes.curves import ExactCurve, curve_of
from architectonic.kernel.shapes.labelled import Labelled, centre
from architectonic.kernel.shapes.outlines import Vector
from architectonic.kernel.shapes.topology import EDGE, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import wraps
from architectonic.kernel.solids.sweeps import Path
from architectonic.kernel.surfaces.making import extruded

Named = list[tuple[str, ExactCurve]]
COILS = 200 * math.pi
"""How far around a cylinder a drawing may be wrapped, rad."""


def crossing(a: Labelled, b: Labelled) -> Named:
    """The curves in which two shapes meet.

    Raises:
        KernelRefusal: they do not.
    """
    edges = _edges(a, b)
    if not edges:
        raise KernelRefusal("they do not cross")
    return _numbered(edges)


def _edges(a: Labelled, b: Labelled) -> list[tuple[str, Any]]:
    section = BRepAlgoAPI_Section(a.shape, b.shape, False)
    section.ComputePCurveOn1(False)
    section.Approximation(True)
    section.Build()
    if not section.IsDone():
        raise KernelRefusal("where they cross could not be found")
    found = []
    for edge in subshapes(section.Shape(), EDGE):
        first, second = TopoDS_Face(), TopoDS_Face()
        one = a.name_of.get(first, "") if section.HasAncestorFaceOn1(edge, first) else ""
        other = b.name_of.get(second, "") if section.HasAncestorFaceOn2(edge, second) else ""
        found.append((f"({'|'.join(sorted((one, other)))})", edge))
    return found


def _numbered(edges: list[tuple[str, Any]]) -> Named:
    groups: dict[str, list[Any]] = defaultdict(list)
    for label, edge in edges:
        groups[label].append(edge)
    found: Named = []
    for label in sorted(groups):
        same = sorted(groups[label], key=centre)
        found += [(label if len(same) == 1 else f"{label}#{k + 1}", curve_of(e)) for k, e in enumerate(same)]
    return found


def two_views(first: Path, second: Path) -> Named:
    """The curve that looks like one drawing from before the first plane and like another from before the second.

    Raises:
        KernelRefusal: the planes are parallel, or no curve looks like both.
    """
    a, b = first[0][0].normal, second[0][0].normal
    if gp_Dir(*a).IsParallel(gp_Dir(*b), 1e-6):
        raise KernelRefusal("both drawings are seen from the same side: draw the second one on another plane")
    far = _beyond(first, second)
    made = crossing(extruded(first, a, -far, far, "first"), extruded(second, b, -far, far, "second"))
    return [(label.replace("first:side:", "").replace("second:side:", ""), c) for label, c in made]


def _beyond(*paths: Path) -> float:
    """A length that reaches beyond everything that is drawn, mm."""
    coordinates = [abs(c) for path in paths for f, s in path for c in (*f.origin, *s.start, *s.end, s.radius)]
    return 10.0 + 4 * max(coordinates)


def projected(path: Path, onto: Labelled, direction: Vector) -> Named:
    """A drawing laid on a shape along a direction, where it is met first.

    Raises:
        KernelRefusal: it does not lie under the drawing.
    """
    far = _beyond(path) + 2 * max(abs(c) for c in quick_box(onto.shape))
    wall = extruded(path, direction, -far, far, "drawn")
    rays = IntCurvesFace_ShapeIntersector()
    rays.Load(onto.shape, tolerance.MODELLING)
    origin = path[0][0].origin
    edges = [(label, e) for label, e in _edges(wall, onto) if _first(e, rays, origin, direction)]
    if not edges:
        raise KernelRefusal("the surface does not lie under the drawing")
    return [(label.replace("drawn:side:", ""), c) for label, c in _numbered(edges)]


def wrapped(path: Path, face: Any) -> Named:
    """A drawing wrapped around the cylinder of a face without stretching.

    Raises:
        KernelRefusal: the face is no cylinder, the drawing does not lie along its axis, or goes on without an end.
    """
    drum = wraps.seen_from(wraps.drum_of(face), path[0][0])
    turns = [drum.on(p)[0] for _, side in path for p in (side.start, side.end)]
    if max(turns) - min(turns) > COILS:
        raise KernelRefusal("it would go round more than a hundred times")
    return [(side.curve, curve_of(wraps.edge_around(drum, side))) for _, side in path]


def _first(edge: Any, rays: Any, origin: Vector, direction: Vector) -> bool:
    """Whether nothing of a shape lies nearer to the drawing's plane than the middle of an edge on it."""
    c = BRepAdaptor_Curve(edge)
    at = c.Value(0.47 * c.FirstParameter() + 0.53 * c.LastParameter())
    height = gp_Vec(gp_Pnt(*origin), at).Dot(gp_Vec(*direction))
    rays.Perform(gp_Lin(at, gp_Dir(*direction)), -1e6, 1e6)
    heights = [height + rays.WParameter(k + 1) for k in range(rays.NbPnt())]
    return all(abs(h) >= abs(height) - 1e-4 for h in heights)


def isoline(face: Any, label: str, share: float, across: bool) -> Named:
    """The line of a face along which one of its two coordinates stays, at a share of the way over it.

    Raises:
        KernelRefusal: nothing of the face lies there.
    """
    face = TopoDS.Face(face)
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    surface = BRep_Tool.Surface_s(face)
    if across:
        curve, low, high = surface.VIso(v0 + share * (v1 - v0)), u0, u1
    else:
        curve, low, high = surface.UIso(u0 + share * (u1 - u0)), v0, v1
    made = BRepBuilderAPI_MakeEdge(curve, low, high)
    if not made.IsDone():
        raise KernelRefusal("the face ends in a point there")
    kept = BRepAlgoAPI_Common(made.Edge(), face)
    edges = subshapes(kept.Shape(), EDGE) if kept.IsDone() else []
    if not edges:
        raise KernelRefusal("nothing of the face lies there")
    return _numbered([(f"({label}|iso)", e) for e in edges])
