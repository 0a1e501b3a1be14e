"""How the operation that leads a surface through curves is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.surfaces.loft_surface import LoftSurfaceInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors
from architectonic.kernel.surfaces import lofting, making
from architectonic.make.operations.found import edges_of
from architectonic.make.operations.solid import way_of
from architectonic.make.operations.surface import Made, surface_of


def make(given: LoftSurfaceInput, shapes: list[Labelled]) -> Made:
    """The surface.

    Raises:
        MakeFault: no surface goes through the sections; an edge that it goes on from is gone.
    """
    sections, guides = ([way_of(w) for w in ways] for ways in (given.sections, given.guides))
    if not guides and given.begins == given.ends == "as it comes":
        mend = "pick the sections in order, all open or all closed"
        return surface_of(
            given.body,
            "loft_surface.refused",
            lambda: making.lofted(sections, given.straight, given.operation),
            mend,
        )
    ends = []
    for leaves, beside in ((given.begins, given.first), (given.ends, given.last)):
        faces = []
        for number, wanted in beside:
            around = dict(ancestors(shapes[number].shape, EDGE, FACE))
            faces += [f for e in edges_of(shapes[number], wanted).values() for f in around[e]]
        ends.append(lofting.Leaving(leaves, tuple(faces)))
    return surface_of(
        given.body,
        "loft_surface.refused",
        lambda: lofting.led(sections, guides, (ends[0], ends[1]), given.operation),
        "let guides touch every section, or leave the sections as it comes",
    )
