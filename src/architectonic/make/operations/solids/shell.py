"""How the operation shell is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.solids.shell import ShellInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import shells
from architectonic.make.fault import MakeFault
from architectonic.make.queries import faces_of

Made = tuple[list[str], dict[str, Labelled]]


def make(given: ShellInput, shapes: list[Labelled]) -> Made:
    """The bodies, hollowed.

    Raises:
        MakeFault: a face is gone, or the wall has no room.
    """
    made = {}
    for body, shape, opened, own in zip(given.bodies, shapes, given.open, given.own, strict=True):
        faces = [f for wanted in opened for f in faces_of(shape, wanted, "a face that is left open")]
        walls = [(f, t) for wanted, t in own for f in faces_of(shape, wanted, "a face with a wall of its own")]
        try:
            made[body] = shells.shell(shape, faces, given.thickness, walls, given.operation)
        except KernelRefusal as refusal:
            raise MakeFault(
                "shell.refused", str(refusal), "make it thinner, or hollow the body before it is rounded"
            ) from None
    return list(made), made
