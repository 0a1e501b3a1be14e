"""How the operation revolve is made with the kernel."""

from __future__ import annotations

from typing import Any

from architectonic.describe.operations.solids.revolve import RevolveInput
from architectonic.describe.recipes import Area, Thing
from architectonic.kernel.measure import gauge
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import sweeps
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import act, frame_of, loops_of, united
from architectonic.make.queries import faces_of

Made = tuple[list[str], dict[str, Labelled]]


def make(given: RevolveInput, shapes: list[Labelled]) -> Made:
    """The bodies that changed or were made.

    Raises:
        MakeFault: a region reaches across the axis; nothing is cut, or nothing is left.
    """
    try:
        return act(given, shapes, tool(given, shapes))
    except KernelRefusal as refusal:
        raise MakeFault("revolve.refused", str(refusal), "move the region or the axis") from None


def tool(given: RevolveInput, shapes: list[Labelled]) -> Labelled:
    """What is added or cut.

    Raises:
        KernelRefusal: a region reaches across the axis.
    """
    o, d = given.axis.origin, given.axis.direction
    faces = [] if given.target is None else _ends(given.target, shapes)

    def turned(a: Area) -> Labelled:
        if given.target is None:
            return sweeps.revolve(frame_of(a.frame), loops_of(a), o, d, given.start, given.turn, given.operation)
        return sweeps.revolve_until(frame_of(a.frame), loops_of(a), o, d, faces, given.operation)

    return united([turned(a) for a in given.areas])


def _ends(target: Thing, shapes: list[Labelled]) -> list[Any]:
    """The faces that something turns up to."""
    if target.frame is not None:
        return [gauge.endless_plane(target.frame.origin, target.frame.normal)]
    assert target.wanted is not None
    return faces_of(shapes[target.shape], target.wanted, "the face it goes up to")
