"""Revolve, sweep, loft and thicken: a solid, then what it does to each body."""

from __future__ import annotations

from architectonic.describe.recipes import LoftInput, RevolveInput, SweepInput, ThickenInput
from architectonic.kernel import shells, sweeps
from architectonic.kernel.labelled import Labelled
from architectonic.kernel.verdict import KernelRefusal
from architectonic.make.fault import MakeFault
from architectonic.make.queries import faces_of
from architectonic.make.solid import act, frame_of, loops_of, side_of, united

Made = tuple[list[str], dict[str, Labelled]]


def revolve(given: RevolveInput, shapes: list[Labelled]) -> Made:
    """The bodies that changed or were made.

    Raises:
        MakeFault: a region reaches across the axis; nothing is cut, or nothing is left.
    """
    o, d = given.axis.origin, given.axis.direction
    try:
        tool = united(
            [
                sweeps.revolve(frame_of(a.frame), loops_of(a), o, d, given.start, given.turn, given.operation)
                for a in given.areas
            ]
        )
        return act(given, shapes, tool)
    except KernelRefusal as refusal:
        raise MakeFault("revolve.refused", str(refusal), "move the region or the axis") from None


def sweep(given: SweepInput, shapes: list[Labelled]) -> Made:
    """The bodies that changed or were made.

    Raises:
        MakeFault: the path has a gap or bends too sharply; nothing is cut, or nothing is left.
    """
    path = tuple((frame_of(frame), side_of(piece)) for frame, piece in given.path)
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
        return act(given, shapes, sweeps.loft(sections, given.straight, given.operation))
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
