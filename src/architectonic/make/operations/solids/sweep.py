"""How the operation sweep is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.solids.sweep import SweepInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import sweeps
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import act, frame_of, loops_of, way_of

Made = tuple[list[str], dict[str, Labelled]]


def make(given: SweepInput, shapes: list[Labelled]) -> Made:
    """The bodies that changed or were made.

    Raises:
        MakeFault: the path has a gap or bends too sharply; nothing is cut, or nothing is left.
    """
    try:
        return act(given, shapes, tool(given, shapes))
    except KernelRefusal as refusal:
        raise MakeFault("sweep.refused", str(refusal), "change the path or the region") from None


def tool(given: SweepInput, shapes: list[Labelled]) -> Labelled:
    """What is added or cut.

    Raises:
        KernelRefusal: the path has a gap or bends too sharply.
    """
    return sweeps.sweep(frame_of(given.area.frame), loops_of(given.area), way_of(given.path), given.operation)
