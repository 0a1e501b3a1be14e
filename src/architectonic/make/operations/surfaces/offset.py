"""How the operation offset is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.surfaces.offset import OffsetInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.surfaces import walls
from architectonic.make.operations.surface import Made, surface_of, taken


def make(given: OffsetInput, shapes: list[Labelled]) -> Made:
    """The surface.

    Raises:
        MakeFault: a face is gone, or the surface would fold.
    """

    def made() -> Labelled:
        whole = taken(given.faces, shapes, given.operation)
        return walls.moved(whole, given.distance, given.operation) if given.distance else whole

    return surface_of(given.body, "offset.refused", made, "make the distance smaller")
