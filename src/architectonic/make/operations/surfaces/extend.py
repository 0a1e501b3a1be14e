"""How the operation extend is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.surfaces.extend import ExtendInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.surfaces import extending
from architectonic.make.operations.found import each_edge
from architectonic.make.operations.surface import Made


def make(given: ExtendInput, shapes: list[Labelled]) -> Made:
    """The surfaces that go on.

    Raises:
        MakeFault: an edge is gone, lies between faces, or a face was cut there.
    """
    return each_edge(given, shapes, lambda s, edges: extending.extended(s, edges, given.length), "extend.refused")
