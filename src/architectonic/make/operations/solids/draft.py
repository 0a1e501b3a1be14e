"""How the operation draft is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.solids.draft import DraftInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import shells
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import frame_of
from architectonic.make.queries import faces_of

Made = tuple[list[str], dict[str, Labelled]]


def make(given: DraftInput, shapes: list[Labelled]) -> Made:
    """The bodies with faces tilted.

    Raises:
        MakeFault: a face is gone, or cannot be tilted so.
    """
    made = {}
    n = given.plane.normal
    pull = (-n[0], -n[1], -n[2]) if given.flip else n
    for (body, wanted), shape in zip(given.faces, shapes, strict=True):
        faces = [f for w in wanted for f in faces_of(shape, w, "a face that is tilted")]
        try:
            made[body] = shells.draft(shape, faces, frame_of(given.plane), pull, given.angle)
        except KernelRefusal as refusal:
            raise MakeFault("draft.refused", str(refusal), "give a smaller angle, or tilt before rounding") from None
    return list(made), made
