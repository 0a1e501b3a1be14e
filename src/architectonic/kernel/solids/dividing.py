"""Bodies divided by planes, faces and lines; with labels."""

from __future__ import annotations

from typing import Any

from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepAlgoAPI import BRepAlgoAPI_Splitter
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeVertex, BRepBuilderAPI_MakeWire
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepGProp import BRepGProp
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.gp import gp_Ax3, gp_Dir, gp_Pln, gp_Pnt, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopoDS import TopoDS

from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.shapes.labelled import Labelled, history, named
from architectonic.kernel.shapes.outlines import KernelFrame, Side, carried_on, edge_of
from architectonic.kernel.shapes.topology import EDGE, FACE, SOLID, compound, listed, shape_list, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.shapes.witness import normal_at
from architectonic.kernel.solids.prisms import extended


def plane(frame: KernelFrame, body: Labelled, operation: str) -> Labelled:
    """A plane as a sheet that reaches beyond a body; labelled `<operation>:wall`."""
    size = _beyond(body, frame)
    flat = gp_Pln(gp_Ax3(gp_Pnt(*frame.origin), gp_Dir(*frame.normal), gp_Dir(*frame.x)))
    return Labelled(BRepBuilderAPI_MakeFace(flat, -size, size, -size, size).Face(), ((f"{operation}:wall",),))


def extensions(faces: list[Any], body: Labelled, operation: str) -> Labelled:
    """Faces as a sheet, extended where their surface has a natural extension; labelled `<operation>:wall`."""
    sheets = []
    for face in faces:
        sheet, at = extended(face, body.shape), _on_edge(face)
        own, made = normal_at(face, at), normal_at(sheet, at)
        sheets.append(sheet.Reversed() if own is not None and made is not None and own.Dot(made) < 0 else sheet)
    whole = sheets[0] if len(sheets) == 1 else compound(sheets)
    return Labelled(whole, tuple((f"{operation}:wall",) for _ in subshapes(whole, FACE)))


def walls(frame: KernelFrame, chains: list[list[Side]], body: Labelled, operation: str) -> Labelled:
    """Lines carried on straight as walls square to their plane; labelled `<operation>:wall:<curve>`.

    Their normals point to the left of the lines.
    """
    size = _beyond(body, frame) + sum(abs(c) for chain in chains for s in chain for c in (*s.start, *s.end))
    sheets, names = [], {}
    for chain in chains:
        closed = chain[0].start == chain[-1].end
        sides = chain if closed else carried_on(chain, size)
        corners = [BRepBuilderAPI_MakeVertex(frame.point(*s.start, -size)).Vertex() for s in sides]
        corners.append(corners[0] if closed else BRepBuilderAPI_MakeVertex(frame.point(*sides[-1].end, -size)).Vertex())
        wire = BRepBuilderAPI_MakeWire()
        edges = []
        for k, side in enumerate(sides):
            wire.Add(edge_of(frame, side, -size, corners[k], corners[k + 1]))
            if not wire.IsDone():
                raise KernelRefusal("the lines do not meet end to end")
            edges.append((wire.Edge(), side.curve))
        sweep = BRepPrimAPI_MakePrism(wire.Wire(), gp_Vec(*(2 * size * c for c in frame.normal)))
        for edge, curve in edges:
            for face in listed(sweep.Generated(edge)):
                sheets.append(TopoDS.Face(face if _points_left(face, edge, frame) else face.Reversed()))
                names[face] = f"{operation}:wall:{curve}"
    whole = compound(sheets)
    return Labelled(whole, tuple((names[f],) for f in subshapes(whole, FACE)))


def _points_left(wall: Any, edge: Any, frame: KernelFrame) -> bool:
    """Whether the normal of a wall points to the left of the edge that it stands on."""
    curve = BRepAdaptor_Curve(edge)
    at, way = gp_Pnt(), gp_Vec()
    curve.D1((curve.FirstParameter() + curve.LastParameter()) / 2, at, way)
    if edge.Orientation() == TopAbs_REVERSED:
        way.Reverse()
    left = gp_Vec(*frame.normal).Crossed(way)
    normal = normal_at(wall, at)
    return normal is None or gp_Vec(normal).Dot(left) > 0


def _beyond(body: Labelled, frame: KernelFrame) -> float:
    """A length that reaches from a plane's origin beyond a body in every direction, mm."""
    return 1.0 + 2 * sum(abs(c) for c in (*quick_box(body.shape), *frame.origin))


def halves(body: Labelled, sheet: Labelled) -> tuple[Labelled | None, Labelled | None]:
    """A body cut in two by a sheet: what lies before it, where its normals point, and what lies behind.

    What lies between two parts of a sheet, before the one and behind the other, counts as behind.

    Raises:
        KernelRefusal: the kernel gives up.
    """
    algorithm = BRepAlgoAPI_Splitter()
    algorithm.SetArguments(shape_list([body.shape]))
    algorithm.SetTools(shape_list(sheet.face_list))
    algorithm.Build()
    if not algorithm.IsDone():
        raise KernelRefusal("the body cannot be cut in two here")
    whole = compound(subshapes(algorithm.Shape(), SOLID))
    names = history(whole, [body, sheet], algorithm, {})
    images = {image: face for face in sheet.face_list for image in (listed(algorithm.Modified(face)) or [face])}
    before: list[Any] = []
    behind: list[Any] = []
    for solid in subshapes(whole, SOLID):
        sides = [_side(face, images[face]) for face in subshapes(solid, FACE) if face in images]
        first = all(s > 0 for s in sides) if sides else _lies_before(solid, sheet)
        (before if first else behind).append(solid)
    return _part(before, names), _part(behind, names)


def _side(face: Any, sheet: Any) -> float:
    """Above zero when the solid that a face bounds lies where the sheet's normal points."""
    at = _on_edge(face)
    out, up = normal_at(face, at), normal_at(sheet, at)
    return 0.0 if out is None or up is None else -float(out.Dot(up))


def _on_edge(face: Any) -> gp_Pnt:
    """The middle of an edge of a face: a point that lies on it, which the centre of a curved one does not."""
    curve = BRepAdaptor_Curve(subshapes(face, EDGE)[0])
    return curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2)


def _lies_before(solid: Any, sheet: Labelled) -> bool:
    """Where a piece lies that the sheet does not touch: by its nearest point of the sheet."""
    props = GProp_GProps()
    BRepGProp.VolumeProperties_s(solid, props)
    centre = props.CentreOfMass()
    nearest = []
    for face in sheet.face_list:
        gap = BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(centre).Vertex(), face)
        if gap.NbSolution():
            nearest.append((gap.Value(), gap.PointOnShape2(1), face))
    if not nearest:
        return True
    _, foot, face = min(nearest, key=lambda n: n[0])
    normal = normal_at(face, foot)
    return normal is None or gp_Vec(foot, centre).Dot(gp_Vec(normal)) > 0


def _part(solids: list[Any], names: dict[Any, list[str]]) -> Labelled | None:
    """Some of the solids as a body of their own: faces are parted within it alone."""
    if not solids:
        return None
    return named(solids[0] if len(solids) == 1 else compound(solids), names)
