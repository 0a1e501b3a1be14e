"""How the operation that puts a surface in a face's place is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.solids.replace_face import ReplaceFaceInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import facing
from architectonic.make.fault import MakeFault
from architectonic.make.operations.surface import sheet_of
from architectonic.make.queries import faces_of


def make(given: ReplaceFaceInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """The body with the surface in the face's place.

    Raises:
        MakeFault: the face is gone or not flat, or the surface does not reach all over it.
    """
    body = shapes[0]
    faces = faces_of(body, given.face, "the face")
    try:
        made = facing.replaced(body, faces, sheet_of(given.by, shapes, body), given.operation)
    except KernelRefusal as refusal:
        mend = "pick a flat face, and a surface that reaches all over it"
        raise MakeFault("replace_face.refused", str(refusal), mend) from None
    return [given.body], {given.body: made}
