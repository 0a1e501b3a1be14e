"""How the operation that moves curves along a path to a surface is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.surfaces.sweep_surface import SweepSurfaceInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.surfaces import sweeping
from architectonic.make.operations.solid import way_of
from architectonic.make.operations.surface import Made, surface_of


def make(given: SweepSurfaceInput, shapes: list[Labelled]) -> Made:
    """The surface.

    Raises:
        MakeFault: the path has a gap, a corner or bends too sharply, or the rail is not met.
    """
    section, path, rail = way_of(given.section), way_of(given.path), way_of(given.rail)
    return surface_of(
        given.body,
        "sweep_surface.refused",
        lambda: sweeping.swept(section, path, rail, given.operation, given.twist, given.scale),
        "change the path, the rail or the curves",
    )
