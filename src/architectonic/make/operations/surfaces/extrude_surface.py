"""How the operation that pushes curves to a surface is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.surfaces.extrude_surface import ExtrudeSurfaceInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.surfaces import making
from architectonic.make.operations.solid import way_of
from architectonic.make.operations.surface import Made, surface_of


def make(given: ExtrudeSurfaceInput, shapes: list[Labelled]) -> Made:
    """The surface.

    Raises:
        MakeFault: the curves do not meet, or run along the direction.
    """
    path = way_of(given.path)
    return surface_of(
        given.body,
        "extrude_surface.refused",
        lambda: making.extruded(path, given.direction, given.start, given.end, given.operation),
        "pick other curves, or another direction",
    )
