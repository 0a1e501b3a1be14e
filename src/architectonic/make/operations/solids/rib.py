"""How the operation rib is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.solids.rib import RibInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import ribs
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import act, frame_of, side_of

Made = tuple[list[str], dict[str, Labelled]]


def make(given: RibInput, shapes: list[Labelled]) -> Made:
    """The bodies with the rib.

    Raises:
        MakeFault: it runs out into the open.
    """
    try:
        return act(given, shapes, tool(given, shapes))
    except KernelRefusal as refusal:
        raise MakeFault(
            "rib.refused", str(refusal), "take the other side, or draw the curves to where it closes"
        ) from None


def tool(given: RibInput, shapes: list[Labelled]) -> Labelled:
    """What is added.

    Raises:
        KernelRefusal: it runs out into the open.
    """
    frame, curves = frame_of(given.frame), [side_of(p) for p in given.curves]
    return ribs.rib(frame, curves, given.thickness, given.flip, shapes, given.operation)
