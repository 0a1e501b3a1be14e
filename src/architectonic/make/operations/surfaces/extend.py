"""How the operation extend is made with the kernel."""

from __future__ import annotations

from typing import Any

from architectonic.describe.operations.surfaces.extend import ExtendInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.surfaces import extending
from architectonic.make.operations.found import each_edge
from architectonic.make.operations.surface import Made, cutter


def make(given: ExtendInput, shapes: list[Labelled]) -> Made:
    """The surfaces that go on.

    Raises:
        MakeFault: an edge is gone, lies between faces, or a face was cut there; what it is to reach is not met.
    """

    def along(surface: Labelled, edges: dict[str, Any]) -> Labelled:
        upto, others = given.upto, shapes[len(given.edges) :]
        if upto is None:
            return extending.extended(surface, edges, given.length)
        return extending.extended_to(surface, edges, lambda s: cutter(upto, others, [s], given.operation))

    mend = "make it smaller" if given.upto is None else "choose another plane or face, or extend by a length"
    return each_edge(given, shapes, along, "extend.refused", mend)
