"""Surfaces carried on beyond the edges that bound them, as they run there."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any, Literal

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeVertex, BRepBuilderAPI_Sewing
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepTools import BRepTools
from OCP.Geom import Geom_RectangularTrimmedSurface
from OCP.GeomConvert import GeomConvert
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopoDS import TopoDS

from architectonic.base import tolerance
from architectonic.base.labels import plain
from architectonic.kernel.shapes.labelled import Labelled, is_seam
from architectonic.kernel.shapes.topology import EDGE, FACE, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.surfaces.sheets import alone, area, sheet, surface
from architectonic.kernel.surfaces.splines import carried_on
from architectonic.kernel.surfaces.trimming import kept, pieces

End = Literal["u0", "u1", "v0", "v1"]
"""Where one of the two coordinates of a face ends."""
UNBOUND = 1e50
ROUND_OFF = 1e-7
REACHES = (1.05, 1.6, 3.0, 6.0)
"""Multiples of the way to what is to be met, by which a surface that may run aslant is carried on."""


def extended(body: Labelled, edges: dict[str, Any], length: float) -> Labelled:
    """A surface carried on beyond some of its free edges by a length; faces and edges keep their labels.

    Planes, cylinders and the like stay what they are; freeform faces go on with their curvature.

    Raises:
        KernelRefusal: an edge is not free, or a face was cut there, so that it has no way of its own to go on.
    """
    free = body.free_edges
    inner = [label for label in edges if label not in free]
    if inner:
        raise KernelRefusal(
            "the edge lies between two faces: only an edge that bounds the surface can be extended", inner
        )
    wanted = set(edges.values())
    faces, names, rims = [], {}, {}
    for face, labels in zip(body.face_list, body.faces, strict=True):
        sides = _sides(face)
        mine = [s for e, s in sides.items() if e in wanted]
        lost = [label for label, e in edges.items() if e in subshapes(face, EDGE) and e not in sides]
        if lost or (mine and not _uncut(face)):
            raise KernelRefusal("the face was cut: extend it before it is trimmed", lost or list(edges))
        made = _longer(face, mine, length) if mine else face
        faces.append(made)
        names[made] = list(labels)
        after = {s: e for e, s in _sides(made).items()} if mine else {}
        for edge in subshapes(face, EDGE):
            rim = body.rim_of.get(edge)
            if rim:
                rims[after.get(sides.get(edge, "u0"), edge) if mine else edge] = rim
    return _sewn(faces, names, rims)


def extended_to(body: Labelled, edges: dict[str, Any], target: Callable[[Labelled], Labelled]) -> Labelled:
    """A surface carried on beyond some of its free edges until it meets something; faces keep their labels, and the new edge
    is named after what it lies on.

    Args:
        target: what it meets, as a sheet that reaches beyond the surface which it is given.

    Raises:
        KernelRefusal: as of `extended`; or it does not meet all of the target there.
    """
    compared = target(body).shape
    far = max(_farthest(edge, compared) for edge in edges.values())
    rims = {plain(body.rim_of[e]) for e in edges.values() if e in body.rim_of}
    curves = [BRepAdaptor_Curve(TopoDS.Edge(e)) for e in edges.values()]
    points = [c.Value((c.FirstParameter() + c.LastParameter()) / 2) for c in curves]  # the surface went on from here
    for share in REACHES:
        longer = extended(body, edges, share * far + tolerance.GAP)
        found = [p for p in pieces([longer], [target(longer)]) if any(_holds(p.shape.shape, q) for q in points)]
        if found and not any(rims & set(p.rims) for p in found):
            return kept([(0, p.shape) for p in found], [longer])[0]
    raise KernelRefusal("carried on from there it does not meet all of what it is to reach", list(edges))


def untrimmed(body: Labelled, operation: str) -> Labelled:
    """A surface of one face as far as its geometry runs by itself: to its own ends where it has some, else as far as what is
    left of it reaches each way. Its face keeps its label; edges that come new are `<operation>:<side>`.

    Raises:
        KernelRefusal: it has several faces.
    """
    if len(body.face_list) != 1:
        raise KernelRefusal(
            f"the surface has {len(body.face_list)} faces: only one that has one face can be made whole"
        )
    face = TopoDS.Face(body.face_list[0])
    geometry = BRep_Tool.Surface_s(face)
    reach = BRepTools.UVBounds_s(face)
    own = geometry.Bounds()
    ends = [o if abs(o) < UNBOUND else r for o, r in zip(own, reach, strict=True)]
    made = _face(geometry, ends, face)
    before = {side: body.rim_of[e] for e, side in _sides(face).items() if e in body.rim_of}
    kept_ends = dict(zip(("u0", "u1", "v0", "v1"), zip(reach, ends, strict=True), strict=True))
    rims = {}
    for edge, side in _sides(made).items():
        was, now = kept_ends[side]
        rims[edge] = before.get(side, "") if abs(was - now) < ROUND_OFF else ""
        rims[edge] = rims[edge] or f"{operation}:{side}"
    return surface(
        sheet(made, "the surface cannot be made whole"), {f: list(body.faces[0]) for f in subshapes(made, FACE)}, rims
    )


def _farthest(edge: Any, shape: Any) -> float:
    """How far the points of an edge lie from a shape at most, mm."""
    c = BRepAdaptor_Curve(TopoDS.Edge(edge))
    at = [c.Value(c.FirstParameter() + k / 8 * (c.LastParameter() - c.FirstParameter())) for k in range(9)]
    return max(float(BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(p).Vertex(), shape).Value()) for p in at)


def _holds(shape: Any, point: Any) -> bool:
    vertex = BRepBuilderAPI_MakeVertex(point).Vertex()
    return bool(BRepExtrema_DistShapeShape(vertex, shape).Value() < tolerance.FEATURE)


def _sewn(faces: list[Any], names: dict[Any, list[str]], rims: dict[Any, str]) -> Labelled:
    """Faces put together again where their edges still meet."""
    sewing = BRepBuilderAPI_Sewing(tolerance.MODELLING * 10)
    for face in faces:
        sewing.Add(face)
    sewing.Perform()
    shape = alone(sheet(sewing.SewedShape(), "the surface cannot be extended so"))
    after = {f: n for face, n in names.items() for f in subshapes(sewing.ModifiedSubShape(face), FACE)}
    kept = {e: r for edge, r in rims.items() for e in subshapes(sewing.ModifiedSubShape(edge), EDGE)}
    return surface(shape, after, kept)


def _sides(face: Any) -> dict[Any, End]:
    """The edges of a face along which one of its coordinates stays at its end."""
    face = TopoDS.Face(face)
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    found: dict[Any, End] = {}
    for edge in subshapes(face, EDGE):
        if is_seam(edge, face):
            continue
        curve = BRep_Tool.CurveOnSurface_s(TopoDS.Edge(edge), face, 0.0, 0.0)
        if isinstance(curve, tuple):
            curve, low, high = curve
        else:
            low, high = BRep_Tool.Range_s(TopoDS.Edge(edge), face)
        points = [curve.Value(low + (high - low) * k / 4) for k in range(5)]
        for side, end, values, reach in (
            ("u0", u0, [p.X() for p in points], u1 - u0),
            ("u1", u1, [p.X() for p in points], u1 - u0),
            ("v0", v0, [p.Y() for p in points], v1 - v0),
            ("v1", v1, [p.Y() for p in points], v1 - v0),
        ):
            if all(abs(v - end) <= 1e-6 * max(1.0, abs(reach)) for v in values):
                found[edge] = side  # type: ignore[assignment]
                break
    return found


def _uncut(face: Any) -> bool:
    """Whether a face is all that lies between the ends of its coordinates."""
    face = TopoDS.Face(face)
    whole = _face(BRep_Tool.Surface_s(face), list(BRepTools.UVBounds_s(face)), face)
    return abs(area(whole) - area(face)) <= 1e-6 * area(whole)


def _face(geometry: Any, ends: list[float], like: Any) -> Any:
    made = BRepBuilderAPI_MakeFace(geometry, *ends, ROUND_OFF)
    if not made.IsDone():
        raise KernelRefusal("the surface cannot be carried on so far")
    return made.Face().Reversed() if like.Orientation() == TopAbs_REVERSED else made.Face()


def _longer(face: Any, sides: list[End], length: float) -> Any:
    """A face carried on beyond some of its sides."""
    face = TopoDS.Face(face)
    geometry = BRep_Tool.Surface_s(face)
    ends = list(BRepTools.UVBounds_s(face))
    for side in sides:
        in_u, after = side[0] == "u", side[1] == "1"
        k = (0 if in_u else 2) + after
        low, high, first, last = geometry.Bounds()
        limit = (low, high, first, last)[k]
        periodic = geometry.IsUPeriodic() if in_u else geometry.IsVPeriodic()
        if abs(limit) > UNBOUND or periodic:
            step = length / _speed(geometry, ends, in_u, after)
            other = ends[k ^ 1]
            wanted = ends[k] + (step if after else -step)
            if periodic and abs(wanted - other) >= math.tau:
                raise KernelRefusal("carried on so far it would meet its own other end")
            ends[k] = wanted
            continue
        cut = Geom_RectangularTrimmedSurface(geometry, *ends, True, True)
        geometry = carried_on(GeomConvert.SurfaceToBSplineSurface_s(cut), in_u, after, length)
        ends = list(geometry.Bounds())
    return _face(geometry, ends, face)


def _speed(geometry: Any, ends: list[float], in_u: bool, after: bool) -> float:
    """How far a surface goes there for a step of its coordinate."""
    u = ends[int(after)] if in_u else (ends[0] + ends[1]) / 2
    v = ends[2 + int(after)] if not in_u else (ends[2] + ends[3]) / 2
    at, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
    geometry.D1(u, v, at, du, dv)
    found = (du if in_u else dv).Magnitude()
    if found < 1e-9:
        raise KernelRefusal("the surface ends in a point there")
    return float(found)
