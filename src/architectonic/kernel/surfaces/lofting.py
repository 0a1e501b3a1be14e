"""Surfaces through open sections that follow guides, and that leave their first and last one square or smoothly."""

from __future__ import annotations

import math
from typing import Any, Literal, NamedTuple

from OCP.BRepAdaptor import BRepAdaptor_CompCurve, BRepAdaptor_Curve
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_FindPlane,
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeVertex,
    BRepBuilderAPI_MakeWire,
)
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.collections import HArray1_gp_Pnt
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.GeomAPI import GeomAPI_Interpolate, GeomAPI_ProjectPointOnCurve
from OCP.GeomConvert import GeomConvert_CompCurveToBSplineCurve
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopoDS import TopoDS

from architectonic.base import tolerance
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import EDGE, FACE, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.shapes.witness import normal_at
from architectonic.kernel.solids.guided import TOUCH, bspline_of, parameter_of
from architectonic.kernel.solids.sweeps import Chain, Path, chain
from architectonic.kernel.surfaces.filling import Bound, within
from architectonic.kernel.surfaces.sheets import surface

Leaves = Literal["as it comes", "square", "smooth"]
"""How a surface leaves a section: in any direction, square to the section's plane, or as a face beside it goes on."""


class Leaving(NamedTuple):
    """How the surface leaves its first or last section; with the faces beside that, where it goes on from them."""

    leaves: Leaves = "as it comes"
    faces: tuple[Any, ...] = ()


BETWEEN = (1 / 6, 1 / 3, 1 / 2, 2 / 3, 5 / 6)
"""Shares of the length of sections at which the surface is led where no guide does it."""


class _Section(NamedTuple):
    """A chain of curves; backwards when the one before runs the other way."""

    wire: Any
    edges: Chain
    backwards: bool = False

    def at(self, share: float) -> Any:
        """The point after a share of its length."""
        curve = BRepAdaptor_CompCurve(self.wire)
        low, high = curve.FirstParameter(), curve.LastParameter()
        share = 1.0 - share if self.backwards else share
        far = share * float(GCPnts_AbscissaPoint.Length_s(curve))
        return (
            curve.Value(GCPnts_AbscissaPoint(curve, far, low).Parameter())
            if 0 < share < 1
            else curve.Value(low if share == 0 else high)
        )


def led(sections: list[Path], guides: list[Path], ends: tuple[Leaving, Leaving], operation: str) -> Labelled:
    """A surface through open sections, along guides that touch them all; a side without a guide runs smoothly.

    Labels as of a plain loft: `<operation>:side:<curve>`, and `start`, `end`, `first`, `last` around it.

    Raises:
        KernelRefusal: a section is closed, a guide passes one by, or no surface does all this; says by how much it misses.
    """
    rows = [_section(path, k) for k, path in enumerate(sections, 1)]
    for k in range(1, len(rows)):
        a, b = ([row.at(0.0), row.at(1.0)] for row in rows[k - 1 : k + 1])
        if a[0].Distance(b[0]) + a[1].Distance(b[1]) > a[0].Distance(b[1]) + a[1].Distance(b[0]):
            rows[k] = rows[k]._replace(backwards=True)
    curves = [_whole(path) for path in guides]
    touches = [[_touch(c, row, g, k) for k, row in enumerate(rows, 1)] for g, c in enumerate(curves, 1)]
    sides, used = [], set()
    for share in (0.0, 1.0):
        points = [row.at(share) for row in rows]
        found = next((k for k, c in enumerate(curves) if all(_away(c, p) < TOUCH for p in points)), None)
        used |= {found} if found is not None else set()
        sides.append(_between(curves[found], points) if found is not None else _smooth(points, rows, ends))
    inner = [e for row in rows[1:-1] for e, _ in row.edges]
    inner += [_between(c, touches[k]) for k, c in enumerate(curves) if k not in used]
    if len(used) == len(curves):
        inner += [_smooth([row.at(share) for row in rows], rows, ends) for share in BETWEEN]
    boundary = []
    for row, end, role in ((rows[0], ends[0], "start"), (rows[-1], ends[1], "end")):
        for edge, _ in row.edges:
            on, face = _beside(edge, row, end)
            boundary.append(Bound(on, f"{operation}:{role}", face))
    boundary += [Bound(e, f"{operation}:{role}") for e, role in zip(sides, ("first", "last"), strict=True)]
    shape, of = within(boundary, [], inner)
    labels = [f"{operation}:side:{curve}" for row in rows for _, curve in row.edges]
    names = {f: list(dict.fromkeys(labels)) for f in subshapes(shape, FACE)}
    return surface(shape, names, {e: b.called for e, b in of.items()})


def _section(path: Path, number: int) -> _Section:
    wire, edges = chain(path)
    if wire.Closed():
        raise KernelRefusal(f"section {number} is closed: guides and ends of a surface are for open ones")
    return _Section(wire, edges)


def _whole(path: Path) -> Any:
    """A guide as one curve."""
    _, edges = chain(path, "curves of a guide")
    joined = GeomConvert_CompCurveToBSplineCurve(bspline_of(edges[0][0]))
    for edge, _ in edges[1:]:
        joined.Add(bspline_of(edge), TOUCH, True)
    return joined.BSplineCurve()


def _away(curve: Any, point: Any) -> float:
    ends = [curve.StartPoint().Distance(point), curve.EndPoint().Distance(point)]
    found = GeomAPI_ProjectPointOnCurve(point, curve)
    return float(min([*ends, found.LowerDistance()] if found.NbPoints() else ends))


def _touch(curve: Any, row: _Section, guide: int, section: int) -> Any:
    """Where a guide touches a section."""
    gap = BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeEdge(curve).Edge(), row.wire)
    if gap.Value() > TOUCH:
        told = f"guide {guide} passes section {section} by {gap.Value():.3g} mm"
        raise KernelRefusal(f"{told}: it must touch every section")
    return gap.PointOnShape1(1)


def _between(curve: Any, points: list[Any]) -> Any:
    """The piece of a guide from the first section to the last."""
    at = []
    for p in (points[0], points[-1]):
        found = GeomAPI_ProjectPointOnCurve(p, curve)
        if curve.StartPoint().Distance(p) < TOUCH:
            at.append(curve.FirstParameter())
        elif curve.EndPoint().Distance(p) < TOUCH:
            at.append(curve.LastParameter())
        else:
            at.append(found.LowerDistanceParameter())
    return BRepBuilderAPI_MakeEdge(curve, min(at), max(at)).Edge()


def _smooth(points: list[Any], rows: list[_Section], ends: tuple[Leaving, Leaving]) -> Any:
    """A way that no guide leads: through a point of each section, leaving the outer ones as the surface does."""
    through = HArray1_gp_Pnt(1, len(points))
    for k, p in enumerate(points):
        through.SetValue(k + 1, p)
    curve = GeomAPI_Interpolate(through, False, tolerance.MODELLING)
    ways = [_way(rows[0], ends[0], points[0], points[1]), _way(rows[-1], ends[1], points[-1], points[-2])]
    if any(w is not None for w in ways):
        chord = gp_Vec(points[0], points[1]), gp_Vec(points[-1], points[-2])
        first, last = (w or c for w, c in zip(ways, chord, strict=True))
        curve.Load(first, last.Reversed(), True)
    curve.Perform()
    if not curve.IsDone():
        raise KernelRefusal("no side goes through the ends of these sections")
    return BRepBuilderAPI_MakeEdge(curve.Curve()).Edge()


def _way(row: _Section, end: Leaving, at: Any, on: Any) -> gp_Vec | None:
    """The direction in which the surface leaves a section at a point of it; None for any."""
    if end.leaves == "square":
        normal = _normal(row)
        return normal if normal.Dot(gp_Vec(at, on)) > 0 else normal.Reversed()
    if end.leaves == "as it comes":
        return None
    edge = min((e for e, _ in row.edges), key=lambda e: _off(e, at))
    curve = BRepAdaptor_Curve(edge)
    along, p, t = gp_Vec(), gp_Pnt(), parameter_of(edge, at)
    curve.D1(t, p, along)
    face = min(end.faces, key=lambda f: float(BRepExtrema_DistShapeShape(edge, f).Value()))
    normal = normal_at(face, at)
    if normal is None:
        return None
    across = gp_Vec(normal).Crossed(along)
    across.Normalize()
    step = math.sqrt(tolerance.FEATURE)
    off = [_off(face, at.Translated(across.Multiplied(s))) for s in (step, -step)]
    return across if off[0] > off[1] else across.Reversed()


def _off(shape: Any, point: Any) -> float:
    return float(BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(point).Vertex(), shape).Value())


def _normal(row: _Section) -> gp_Vec:
    """Of the plane that a section lies in."""
    made = BRepBuilderAPI_MakeWire()
    for edge, _ in row.edges:
        made.Add(edge)
    plane = BRepBuilderAPI_FindPlane(made.Wire(), tolerance.FEATURE)
    if not plane.Found():
        raise KernelRefusal("a section that is straight, or lies in no plane, has nothing to stand square to")
    return gp_Vec(plane.Plane().Position().Direction())


def _beside(edge: Any, row: _Section, end: Leaving) -> tuple[Any, Any]:
    """An edge of the boundary, and the face that the surface goes on from there."""
    if end.leaves == "as it comes":
        return edge, None
    if end.leaves == "square":
        wall = BRepPrimAPI_MakePrism(edge, _normal(row)).Shape()
        own = next(e for e in subshapes(wall, EDGE) if _same(TopoDS.Edge(e), edge))
        return own, subshapes(wall, FACE)[0]
    best = [(_middle_off(e, edge), e, f) for f in end.faces for e in subshapes(f, EDGE)]
    away, own, face = min(best, key=lambda b: b[0])
    if away > TOUCH:
        raise KernelRefusal("no face lies beside a section that the surface is to go on from smoothly")
    return own, face


def _same(a: Any, b: Any) -> bool:
    return bool(a.IsSame(b)) or _middle_off(a, b) < tolerance.MODELLING


def _middle_off(edge: Any, other: Any) -> float:
    c = BRepAdaptor_Curve(TopoDS.Edge(edge))
    middles = [c.Value(c.FirstParameter() + s * (c.LastParameter() - c.FirstParameter())) for s in (0.3, 0.7)]
    return max(_off(other, m) for m in middles)
