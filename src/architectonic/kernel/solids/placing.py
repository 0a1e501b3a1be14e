"""Bodies put elsewhere, with labels."""

from __future__ import annotations

from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.gp import gp_Ax1, gp_Ax2, gp_Ax3, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.TopLoc import TopLoc_Location

from architectonic.base import tolerance
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import KernelFrame, Vector
from architectonic.kernel.shapes.topology import EDGE, FACE, SOLID, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal, sound


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


def onto(start: KernelFrame, target: KernelFrame) -> gp_Trsf:
    """The move that lays one frame on another."""
    move = gp_Trsf()
    move.SetDisplacement(_ax3(start), _ax3(target))
    return move


def _ax3(frame: KernelFrame) -> gp_Ax3:
    return gp_Ax3(gp_Pnt(*frame.origin), gp_Dir(*frame.normal), gp_Dir(*frame.x))


def scaled(origin: Vector, factor: float) -> gp_Trsf:
    """A scaling about a point."""
    move = gp_Trsf()
    move.SetScale(gp_Pnt(*origin), factor)
    return move


def mirrored(frame: KernelFrame) -> gp_Trsf:
    """A reflection in a plane."""
    move = gp_Trsf()
    move.SetMirror(gp_Ax2(gp_Pnt(*frame.origin), gp_Dir(*frame.normal)))
    return move


def matrix(m: tuple[float, ...]) -> gp_Trsf:
    """A move as the kernel has it, of sixteen numbers, row-major; a reflection too."""
    move = gp_Trsf()
    move.SetValues(*m[:12])
    return move


def member(tool: Labelled, m: tuple[float, ...], label: str) -> Labelled:
    """A tool put elsewhere as a member of a pattern; its faces are `<label>:(<label of before>)`.

    Its geometry is shared with the first one unless it is mirrored.

    Raises:
        KernelRefusal: it cannot be mirrored so.
    """
    move = matrix(m)
    if not move.IsNegative():
        return _renamed(Labelled(tool.shape.Moved(TopLoc_Location(move)), tool.faces), label)
    return _renamed(placed(tool, move), label)


def _renamed(body: Labelled, label: str) -> Labelled:
    return Labelled(body.shape, tuple(tuple(f"{label}:({n})" for n in own) for own in body.faces))


def placed(body: Labelled, move: gp_Trsf, copy: str = "") -> Labelled:
    """A body put elsewhere; its faces keep their labels, those of a copy are `<copy>:copy:(<label>)`.

    Raises:
        KernelRefusal: it cannot be scaled so.
    """
    if abs(move.ScaleFactor()) < tolerance.FEATURE:
        raise KernelRefusal("nothing of the body would be left")
    algorithm = BRepBuilderAPI_Transform(body.shape, move, True)
    solid = algorithm.Shape()
    if subshapes(body.shape, SOLID):
        solid = sound(solid, "the body cannot be moved so")
    order = subshapes(solid, FACE)
    names = {algorithm.ModifiedShape(f): n for f, n in zip(body.face_list, body.faces, strict=True)}
    labels = [names[f] for f in order]
    if copy:
        labels = [tuple(f"{copy}:copy:({n})" for n in own) for own in labels]
    rims = {algorithm.ModifiedShape(e): rim for e, rim in body.rim_of.items()}
    if copy:
        rims = {e: f"{copy}:copy:({rim})" for e, rim in rims.items()}
    return Labelled(solid, tuple(labels), tuple(rims.get(e, "") for e in subshapes(solid, EDGE)) if rims else ())
