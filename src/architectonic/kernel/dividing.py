"""Bodies divided, and put elsewhere; with labels."""

from __future__ import annotations

from typing import Any

from OCP.BRepAlgoAPI import BRepAlgoAPI_Splitter
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_Transform
from OCP.BRepGProp import BRepGProp
from OCP.gp import gp_Ax1, gp_Ax2, gp_Ax3, gp_Dir, gp_Pln, gp_Pnt, gp_Trsf, gp_Vec
from OCP.GProp import GProp_GProps

from architectonic.base import tolerance
from architectonic.kernel.labelled import Labelled, history, named
from architectonic.kernel.measure import quick_box
from architectonic.kernel.outlines import Frame, Vector
from architectonic.kernel.topology import FACE, SOLID, compound, shape_list, subshapes
from architectonic.kernel.verdict import KernelRefusal, sound


def halves(body: Labelled, frame: Frame, operation: str) -> tuple[Labelled | None, Labelled | None]:
    """A body cut in two by a plane: what lies before it (where its normal points) and what lies behind.

    Labels: `<operation>:wall` on both sides of the cut.

    Raises:
        KernelRefusal: the kernel gives up.
    """
    size = 1.0 + 2 * sum(abs(c) for c in (*quick_box(body.shape), *frame.origin))
    plane = gp_Pln(gp_Ax3(gp_Pnt(*frame.origin), gp_Dir(*frame.normal), gp_Dir(*frame.x)))
    sheet = BRepBuilderAPI_MakeFace(plane, -size, size, -size, size).Face()
    tool = Labelled(sheet, ((f"{operation}:wall",),))
    algorithm = BRepAlgoAPI_Splitter()
    algorithm.SetArguments(shape_list([body.shape]))
    algorithm.SetTools(shape_list([sheet]))
    algorithm.Build()
    if not algorithm.IsDone():
        raise KernelRefusal("the body cannot be cut in two here")
    whole = compound(subshapes(algorithm.Shape(), SOLID))
    names = history(whole, [body, tool], algorithm, {})
    before: list[Any] = []
    behind: list[Any] = []
    for solid in subshapes(whole, SOLID):
        centre = _centre(solid)
        height = sum(n * (c - o) for n, c, o in zip(frame.normal, centre, frame.origin, strict=True))
        (before if height > 0 else behind).append(solid)
    return _part(before, names), _part(behind, names)


def _centre(solid: Any) -> Vector:
    props = GProp_GProps()
    BRepGProp.VolumeProperties_s(solid, props)
    p = props.CentreOfMass()
    return (p.X(), p.Y(), p.Z())


def _part(solids: list[Any], names: dict[Any, list[str]]) -> Labelled | None:
    """Some of the solids as a body of their own: faces are parted within it alone."""
    if not solids:
        return None
    return named(solids[0] if len(solids) == 1 else compound(solids), names)


def shifted(by: Vector) -> gp_Trsf:
    """A move along a vector, mm."""
    move = gp_Trsf()
    move.SetTranslation(gp_Vec(*by))
    return move


def turned(origin: Vector, direction: Vector, angle: float) -> gp_Trsf:
    """A turn about an axis, rad."""
    move = gp_Trsf()
    move.SetRotation(gp_Ax1(gp_Pnt(*origin), gp_Dir(*direction)), angle)
    return move


def onto(start: Frame, target: Frame) -> gp_Trsf:
    """The move that lays one frame on another."""
    move = gp_Trsf()
    move.SetDisplacement(_ax3(start), _ax3(target))
    return move


def _ax3(frame: Frame) -> gp_Ax3:
    return gp_Ax3(gp_Pnt(*frame.origin), gp_Dir(*frame.normal), gp_Dir(*frame.x))


def scaled(origin: Vector, factor: float) -> gp_Trsf:
    """A scaling about a point."""
    move = gp_Trsf()
    move.SetScale(gp_Pnt(*origin), factor)
    return move


def mirrored(frame: Frame) -> gp_Trsf:
    """A reflection in a plane."""
    move = gp_Trsf()
    move.SetMirror(gp_Ax2(gp_Pnt(*frame.origin), gp_Dir(*frame.normal)))
    return move


def placed(body: Labelled, move: gp_Trsf, copy: str = "") -> Labelled:
    """A body put elsewhere; its faces keep their labels, those of a copy are `<copy>:copy:(<label>)`.

    Raises:
        KernelRefusal: it cannot be scaled so.
    """
    if abs(move.ScaleFactor()) < tolerance.FEATURE:
        raise KernelRefusal("nothing of the body would be left")
    algorithm = BRepBuilderAPI_Transform(body.shape, move, True)
    solid = sound(algorithm.Shape(), "the body cannot be moved so")
    order = subshapes(solid, FACE)
    names = {algorithm.ModifiedShape(f): n for f, n in zip(body.face_list, body.faces, strict=True)}
    labels = [names[f] for f in order]
    if copy:
        labels = [tuple(f"{copy}:copy:({n})" for n in own) for own in labels]
    return Labelled(solid, tuple(labels))
