"""How the operation thicken is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.solids.thicken import ThickenInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import shells
from architectonic.kernel.surfaces import walls
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import act
from architectonic.make.operations.surface import taken
from architectonic.make.queries import faces_of

Made = tuple[list[str], dict[str, Labelled]]


def make(given: ThickenInput, shapes: list[Labelled]) -> Made:
    """The bodies that changed or were made.

    Raises:
        MakeFault: a face is gone, or curves more sharply than it is thickened.
    """
    try:
        return act(given, shapes, tool(given, shapes))
    except KernelRefusal as refusal:
        raise MakeFault("thicken.refused", str(refusal), "make it thinner") from None


def tool(given: ThickenInput, shapes: list[Labelled]) -> Labelled:
    """What is added or cut.

    Raises:
        MakeFault: a face is gone; KernelRefusal: it curves more sharply than it is thickened.
    """
    if any(not wanted.label for _, wanted in given.faces):
        return walls.thickened(
            taken(given.faces, shapes, given.operation), given.thickness, given.operation, given.both
        )
    faces = [
        (face, wanted.label)
        for number, wanted in given.faces
        for face in faces_of(shapes[number], wanted, "a face it thickens")
    ]
    return shells.thicken(faces, given.thickness, given.operation)
