"""How the operation round over is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.edges.round_over import RoundOverInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import ribs
from architectonic.make.fault import MakeFault
from architectonic.make.queries import faces_of


def make(given: RoundOverInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """The bodies with narrow faces rounded over.

    Raises:
        MakeFault: a face is gone, or no round fits there.
    """
    made = {}
    for (body, wanted), shape in zip(given.faces, shapes, strict=True):
        for one in wanted:
            for face in faces_of(shape, one, "the face that is rounded over"):
                try:
                    shape = ribs.round_over(shape, face, given.operation)
                except KernelRefusal as refusal:
                    raise MakeFault(
                        "round_over.refused", str(refusal), "pick a narrow face between flat ones"
                    ) from None
        made[body] = shape
    return list(made), made
