"""How the operation that turns curves to a surface is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.surfaces.revolve_surface import RevolveSurfaceInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.surfaces import making
from architectonic.make.operations.solid import way_of
from architectonic.make.operations.surface import Made, surface_of


def make(given: RevolveSurfaceInput, shapes: list[Labelled]) -> Made:
    """The surface.

    Raises:
        MakeFault: the curves cross the axis.
    """
    path, axis = way_of(given.path), given.axis
    return surface_of(
        given.body,
        "revolve_surface.refused",
        lambda: making.revolved(path, axis.origin, axis.direction, given.start, given.turn, given.operation),
        "move the curves or the axis",
    )
