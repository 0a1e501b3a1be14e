"""How the operation loft is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.solids.loft import LoftInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import guided, sweeps
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import act, frame_of, loops_of, way_of

Made = tuple[list[str], dict[str, Labelled]]


def make(given: LoftInput, shapes: list[Labelled]) -> Made:
    """The bodies that changed or were made.

    Raises:
        MakeFault: no solid goes through the sections; nothing is cut, or nothing is left.
    """
    try:
        return act(given, shapes, tool(given, shapes))
    except KernelRefusal as refusal:
        raise MakeFault("loft.refused", str(refusal), "change the sections or their order") from None


def tool(given: LoftInput, shapes: list[Labelled]) -> Labelled:
    """What is added or cut.

    Raises:
        KernelRefusal: no solid goes through the sections.
    """
    sections = [(frame_of(a.frame), loops_of(a)[0]) for a in given.sections]
    if given.guides:
        return guided.loft(sections, list(way_of(given.guides)), given.operation)
    return sweeps.loft(sections, given.straight, given.operation)
