"""How the operation untrim is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.surfaces.untrim import UntrimInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.surfaces import extending
from architectonic.make.fault import MakeFault
from architectonic.make.operations.surface import Made


def make(given: UntrimInput, shapes: list[Labelled]) -> Made:
    """The surfaces, whole.

    Raises:
        MakeFault: one has several faces.
    """
    try:
        made = {b: extending.untrimmed(s, given.operation) for b, s in zip(given.bodies, shapes, strict=True)}
    except KernelRefusal as refusal:
        raise MakeFault(
            "untrim.refused", str(refusal), "take that surface out, or copy one of its faces first"
        ) from None
    return list(made), made
