"""How the operation that leads a surface through curves is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.surfaces.loft_surface import LoftSurfaceInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.surfaces import making
from architectonic.make.operations.solid import way_of
from architectonic.make.operations.surface import Made, surface_of


def make(given: LoftSurfaceInput, shapes: list[Labelled]) -> Made:
    """The surface.

    Raises:
        MakeFault: no surface goes through the sections.
    """
    sections = [way_of(s) for s in given.sections]
    return surface_of(
        given.body,
        "loft_surface.refused",
        lambda: making.lofted(sections, given.straight, given.operation),
        "pick the sections in order, all open or all closed",
    )
