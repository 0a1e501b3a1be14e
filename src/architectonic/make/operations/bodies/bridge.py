"""How the operation bridge is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.bodies.bridge import BridgeInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import prisms, sweeps
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import frame_of, loops_of, united

Made = tuple[list[str], dict[str, Labelled]]


def make(given: BridgeInput, shapes: list[Labelled]) -> Made:
    """The first body, joined with the second from face to face.

    Raises:
        MakeFault: no solid goes from one face to the other.
    """
    first, second = shapes
    try:
        sections = [(frame_of(a.frame), loops_of(a)[0]) for a in given.ends]
        between = sweeps.loft(sections, True, given.operation)
        result = prisms.boolean("add", first, united([between, second]))
    except KernelRefusal as refusal:
        raise MakeFault("bridge.refused", str(refusal), "pick other faces") from None
    assert result is not None, "something is left of bodies that are united"
    return [given.body], {given.body: result}
