"""How the operation fill is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.surfaces.fill import FillInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import edge_between
from architectonic.kernel.surfaces import filling
from architectonic.make.operations.found import edges_of
from architectonic.make.operations.solid import way_of
from architectonic.make.operations.surface import Made, surface_of


def make(given: FillInput, shapes: list[Labelled]) -> Made:
    """The surface.

    Raises:
        MakeFault: an edge is gone, the boundary is not closed, or no surface fills it.
    """
    boundary = [filling.Bound(edge_between(frame, side), side.curve) for frame, side in way_of(given.curves)]
    for number, wanted in given.edges:
        boundary += filling.bounds_of(shapes[number], edges_of(shapes[number], wanted))
    return surface_of(
        given.body,
        "fill.refused",
        lambda: filling.filled(boundary, list(given.points), given.continuity, given.operation),
        "pick edges that close, or let it only meet its neighbours",
    )
