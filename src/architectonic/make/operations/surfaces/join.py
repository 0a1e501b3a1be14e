"""How the operation join is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.surfaces.join import JoinInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.surfaces import joining
from architectonic.make.operations.surface import Made, surface_of


def make(given: JoinInput, shapes: list[Labelled]) -> Made:
    """The surfaces as one, or the solid that they close to.

    Raises:
        MakeFault: they do not hang together, or do not close.
    """

    def made() -> Labelled:
        whole = joining.joined(shapes, given.gap)
        return joining.closed(whole, given.gap) if given.close else whole

    return surface_of(given.bodies[0], "join.refused", made, "extend or trim what does not meet, or allow a larger gap")
