"""Revolve, sweep, loft, thicken and rib: a solid, then what it does to each body."""

from __future__ import annotations

from typing import Any

from architectonic.describe.recipes import Area, LoftInput, RevolveInput, RibInput, SweepInput, ThickenInput, Thing
from architectonic.kernel.measure import gauge
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import guided, ribs, shells, sweeps
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import act, frame_of, loops_of, side_of, united, way_of
from architectonic.make.queries import faces_of

Made = tuple[list[str], dict[str, Labelled]]


def revolve(given: RevolveInput, shapes: list[Labelled]) -> Made:
    """The bodies that changed or were made.

    Raises:
        MakeFault: a region reaches across the axis; nothing is cut, or nothing is left.
    """
    o, d = given.axis.origin, given.axis.direction

    def turned(a: Area) -> Labelled:
        if given.target is None:
            return sweeps.revolve(frame_of(a.frame), loops_of(a), o, d, given.start, given.turn, given.operation)
        return sweeps.revolve_until(frame_of(a.frame), loops_of(a), o, d, faces, given.operation)

    faces = [] if given.target is None else _ends(given.target, shapes)
    try:
        tool = united([turned(a) for a in given.areas])
        return act(given, shapes, tool)
    except KernelRefusal as refusal:
        raise MakeFault("revolve.refused", str(refusal), "move the region or the axis") from None


def _ends(target: Thing, shapes: list[Labelled]) -> list[Any]:
    """The faces that something turns up to."""
    if target.frame is not None:
        return [gauge.endless_plane(target.frame.origin, target.frame.normal)]
    assert target.wanted is not None
    return faces_of(shapes[target.shape], target.wanted, "the face it goes up to")


def sweep(given: SweepInput, shapes: list[Labelled]) -> Made:
    """The bodies that changed or were made.

    Raises:
        MakeFault: the path has a gap or bends too sharply; nothing is cut, or nothing is left.
    """
    path = way_of(given.path)
    try:
        tool = sweeps.sweep(frame_of(given.area.frame), loops_of(given.area), path, given.operation)
        return act(given, shapes, tool)
    except KernelRefusal as refusal:
        raise MakeFault("sweep.refused", str(refusal), "change the path or the region") from None


def loft(given: LoftInput, shapes: list[Labelled]) -> Made:
    """The bodies that changed or were made.

    Raises:
        MakeFault: no solid goes through the sections; nothing is cut, or nothing is left.
    """
    sections = [(frame_of(a.frame), loops_of(a)[0]) for a in given.sections]
    try:
        if given.guides:
            tool = guided.loft(sections, list(way_of(given.guides)), given.operation)
        else:
            tool = sweeps.loft(sections, given.straight, given.operation)
        return act(given, shapes, tool)
    except KernelRefusal as refusal:
        raise MakeFault("loft.refused", str(refusal), "change the sections or their order") from None


def thicken(given: ThickenInput, shapes: list[Labelled]) -> Made:
    """The bodies that changed or were made.

    Raises:
        MakeFault: a face is gone, or curves more sharply than it is thickened.
    """
    faces = [
        (face, wanted.label)
        for number, wanted in given.faces
        for face in faces_of(shapes[number], wanted, "a face it thickens")
    ]
    try:
        return act(given, shapes, shells.thicken(faces, given.thickness, given.operation))
    except KernelRefusal as refusal:
        raise MakeFault("thicken.refused", str(refusal), "make it thinner") from None


def rib(given: RibInput, shapes: list[Labelled]) -> Made:
    """The bodies with the rib.

    Raises:
        MakeFault: it runs out into the open.
    """
    frame, curves = frame_of(given.frame), [side_of(p) for p in given.curves]
    try:
        tool = ribs.rib(frame, curves, given.thickness, given.flip, shapes, given.operation)
        return act(given, shapes, tool)
    except KernelRefusal as refusal:
        raise MakeFault(
            "rib.refused", str(refusal), "take the other side, or draw the curves to where it closes"
        ) from None
