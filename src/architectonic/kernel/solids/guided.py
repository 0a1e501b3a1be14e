"""Lofts whose sides follow guides: a net of curves filled by one surface a strip (Gordon, J. Math. Mech. 18, 1969)."""

from __future__ import annotations

from typing import Any, NamedTuple

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeSolid, BRepBuilderAPI_Sewing
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepLib import BRepLib
from OCP.collections import Array1_Geom_Curve, HArray1_gp_Pnt
from OCP.GC import GC_MakeSegment
from OCP.Geom import Geom_TrimmedCurve
from OCP.GeomAPI import GeomAPI_Interpolate, GeomAPI_ProjectPointOnCurve
from OCP.GeomConvert import GeomConvert
from OCP.GeomFill import GeomFill_Gordon
from OCP.TopAbs import TopAbs_SHELL
from OCP.TopoDS import TopoDS

from architectonic.kernel.shapes.labelled import Labelled, named
from architectonic.kernel.shapes.outlines import KernelFrame, Loop, Side, edge_between, planar_face
from architectonic.kernel.shapes.topology import FACE, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal, built

TOUCH = 1e-3
"""How far a guide may pass by a section, mm: traced curves are good to less."""
SEWN = 1e-4
"""Within which the strips and the sections are sewn, mm."""
Section = tuple[KernelFrame, tuple[Loop, ...]]


class Cut(NamedTuple):
    """A place on the loop of a section: which edge, at which parameter, and the guide there (-1: a corner)."""

    edge: int
    at: float
    guide: int
    point: Any


def loft(sections: list[Section], guides: list[tuple[KernelFrame, Side]], operation: str) -> Labelled:
    """A solid through sections whose sides run along guides, and elsewhere smoothly from corner to corner.

    Labels: `<operation>:side:<curve of the first section>`, `<operation>:start`, `<operation>:end`.

    Raises:
        KernelRefusal: a guide does not touch a section; between guides the sections have different numbers of corners.
    """
    if any(len(loops) > 1 for _, loops in sections):
        raise KernelRefusal("a section has a hole: loft what surrounds it, then cut the hole with a second loft")
    curves = [bspline_of(edge_between(frame, side)) for frame, side in guides]
    lines = [edge_between(frame, side) for frame, side in guides]
    caps = [planar_face(frame, loops, 0.0) for frame, loops in sections]
    rings = [_cuts([e for e, _ in edges], lines, number) for number, (_, edges) in enumerate(caps, 1)]
    rings = [_from_first_guide(ring) for ring in rings]
    rings = [ring if _same_way(rings[0], ring) else _reversed(ring) for ring in rings]
    if any([c.guide for c in r] != [c.guide for c in rings[0]] for r in rings):
        raise KernelRefusal("between the guides the sections have different numbers of corners: add a guide there")
    count = len(rings[0])
    if count < 2:
        raise KernelRefusal("a round section needs two guides at least")
    ways = [_way(curves, rings, k) for k in range(count)]
    faces: dict[Any, list[str]] = {}
    for k in range(count):
        following = (k + 1) % count
        found = [
            _profile([e for e, _ in edges], ring[k], ring[following])
            for (_, edges), ring in zip(caps, rings, strict=True)
        ]
        face = _strip([profile for _, profile in found], [ways[k], ways[following]])
        faces[face] = [f"{operation}:side:{caps[0][1][found[0][0]][1]}"]
    faces[caps[0][0]] = [f"{operation}:start"]
    faces[caps[-1][0]] = [f"{operation}:end"]
    return _sewn(faces)


def bspline_of(edge: Any) -> Any:
    """The curve of an edge, in the sense that the edge runs."""
    c = BRepAdaptor_Curve(edge)
    found = BRep_Tool.Curve_s(edge, 0.0, 0.0)
    curve = found[0] if isinstance(found, tuple) else found
    made = GeomConvert.CurveToBSplineCurve_s(Geom_TrimmedCurve(curve, c.FirstParameter(), c.LastParameter()))
    if edge.Orientation().name == "TopAbs_REVERSED":
        made.Reverse()
    return made


def _cuts(edges: list[Any], guides: list[Any], number: int) -> list[Cut]:
    """Where guides touch a loop and where it has corners, in the order of the loop."""
    found: list[Cut] = []
    for g, guide in enumerate(guides):
        best: tuple[float, Cut] | None = None
        for k, edge in enumerate(edges):
            gap = BRepExtrema_DistShapeShape(guide, edge)
            if gap.IsDone() and gap.NbSolution() and (best is None or gap.Value() < best[0]):
                point = gap.PointOnShape2(1)
                best = (float(gap.Value()), Cut(k, parameter_of(edge, point), g, point))
        if best is None or best[0] > TOUCH:
            missed = "" if best is None else f" by {best[0]:.3g} mm"
            raise KernelRefusal(f"guide {g + 1} passes section {number}{missed}: it must touch every section")
        found.append(best[1])
    for k, edge in enumerate(edges if len(edges) > 1 else []):
        c = BRepAdaptor_Curve(edge)
        backwards = edge.Orientation().name == "TopAbs_REVERSED"
        at = c.LastParameter() if backwards else c.FirstParameter()
        point = c.Value(at)
        if all(point.Distance(other.point) > TOUCH for other in found):
            found.append(Cut(k, at, -1, point))

    def place(c: Cut) -> tuple[int, float]:
        backwards = edges[c.edge].Orientation().name == "TopAbs_REVERSED"
        return c.edge, -c.at if backwards else c.at

    return sorted(found, key=place)


def parameter_of(edge: Any, point: Any) -> float:
    """Where on an edge's curve a point lies."""
    curve = BRep_Tool.Curve_s(edge, 0.0, 0.0)
    adaptor = BRepAdaptor_Curve(edge)
    found = GeomAPI_ProjectPointOnCurve(
        point, curve[0] if isinstance(curve, tuple) else curve, adaptor.FirstParameter(), adaptor.LastParameter()
    )
    if found.NbPoints():
        return float(found.LowerDistanceParameter())
    ends = (adaptor.FirstParameter(), adaptor.LastParameter())
    return float(min(ends, key=lambda t: adaptor.Value(t).Distance(point)))


def _from_first_guide(ring: list[Cut]) -> list[Cut]:
    k = next(i for i, c in enumerate(ring) if c.guide == 0)
    return [*ring[k:], *ring[:k]]


def _reversed(ring: list[Cut]) -> list[Cut]:
    return [ring[0], *reversed(ring[1:])]


def _same_way(first: list[Cut], ring: list[Cut]) -> bool:
    """Whether two rings meet the guides in the same order; two guides alone tell nothing, and their planes must."""
    order = [c.guide for c in ring if c.guide >= 0]
    return len(order) < 3 or order == [c.guide for c in first if c.guide >= 0]


def _way(guides: list[Any], rings: list[list[Cut]], k: int) -> Any:
    """The curve along one corner of all sections: the guide between them, else smoothly through the corners."""
    points = [ring[k].point for ring in rings]
    g = rings[0][k].guide
    if g >= 0:
        curve = guides[g].Copy()
        ends = [GeomAPI_ProjectPointOnCurve(p, curve).LowerDistanceParameter() for p in (points[0], points[-1])]
        if ends[0] > ends[1]:
            ends = [curve.ReversedParameter(t) for t in ends]
            curve.Reverse()
        curve.Segment(max(ends[0], curve.FirstParameter()), min(ends[1], curve.LastParameter()))
        return curve
    if len(points) == 2:
        return GeomConvert.CurveToBSplineCurve_s(GC_MakeSegment(points[0], points[1]).Value())
    through = HArray1_gp_Pnt(1, len(points))
    for i, p in enumerate(points):
        through.SetValue(i + 1, p)
    smooth = GeomAPI_Interpolate(through, False, SEWN)
    smooth.Perform()
    return smooth.Curve()


def _profile(edges: list[Any], a: Cut, b: Cut) -> tuple[int, Any]:
    """The edge, and its piece, between two neighbouring places of a loop, walked from the first to the second."""
    for k, edge in enumerate(edges):
        adaptor = BRepAdaptor_Curve(edge)
        ends = [adaptor.Value(adaptor.FirstParameter()), adaptor.Value(adaptor.LastParameter())]
        start, end = reversed(ends) if edge.Orientation().name == "TopAbs_REVERSED" else ends
        if len(edges) > 1 and (end.Distance(a.point) < TOUCH or start.Distance(b.point) < TOUCH):
            continue  # it ends where the piece begins, or begins where it ends
        ta, tb = parameter_of(edge, a.point), parameter_of(edge, b.point)
        if adaptor.Value(ta).Distance(a.point) < TOUCH and adaptor.Value(tb).Distance(b.point) < TOUCH:
            return k, _piece(edge, ta, tb, len(edges) == 1)
    raise KernelRefusal("two guides lie on different sides of a corner that the sections do not share")


def _piece(edge: Any, ta: float, tb: float, whole: bool) -> Any:
    curve = BRep_Tool.Curve_s(edge, 0.0, 0.0)
    curve = curve[0] if isinstance(curve, tuple) else curve
    backwards = edge.Orientation().name == "TopAbs_REVERSED"
    if whole:  # a closed curve: on in its own sense
        trimmed = Geom_TrimmedCurve(curve, *((tb, ta) if backwards else (ta, tb)))
    else:
        trimmed = Geom_TrimmedCurve(curve, min(ta, tb), max(ta, tb))
    made = GeomConvert.CurveToBSplineCurve_s(trimmed)
    if backwards if whole else ta > tb:
        made.Reverse()
    return made


def _strip(profiles: list[Any], ways: list[Any]) -> Any:
    """The surface through profiles and along two ways."""
    first, second = Array1_Geom_Curve(1, len(profiles)), Array1_Geom_Curve(1, 2)
    for k, p in enumerate(profiles):
        first.SetValue(k + 1, p)
    for k, w in enumerate(ways):
        second.SetValue(k + 1, w)
    try:
        net = GeomFill_Gordon()
        net.Init(first, second, TOUCH)
        net.Perform()
        if not net.IsDone():
            raise KernelRefusal("no smooth side goes through these sections along these guides")
        made = BRepBuilderAPI_MakeFace(net.Surface(), SEWN)
    except KernelRefusal:
        raise
    except Exception:  # the kernel's faults share no base class but Exception
        raise KernelRefusal("no smooth side goes through these sections along these guides") from None
    return made.Face()


def _sewn(faces: dict[Any, list[str]]) -> Labelled:
    """Faces as a solid."""
    refused = "the sides do not close to a solid between these sections and guides"
    sewing = BRepBuilderAPI_Sewing(SEWN)
    for face in faces:
        sewing.Add(face)
    sewing.Perform()

    def make() -> Any:
        whole = sewing.SewedShape()
        if sewing.NbFreeEdges() or whole.ShapeType() != TopAbs_SHELL:
            return None
        solid = BRepBuilderAPI_MakeSolid(TopoDS.Shell(whole)).Solid()
        BRepLib.OrientClosedSolid_s(solid)
        return solid

    solid = built(make, refused)
    after = {sewing.Modified(f) if sewing.IsModified(f) else f: n for f, n in faces.items()}
    names: dict[Any, list[str]] = {}
    for face in subshapes(solid, FACE):
        found = next((n for f, n in after.items() if f.IsSame(face)), None)
        assert found is not None, "a face of the loft has no name"
        names[face] = found
    return named(solid, names)
