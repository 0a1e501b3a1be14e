"""How the operation fillet is made with the kernel."""

from __future__ import annotations

from typing import Any

from architectonic.describe.operations.edges.fillet import FilletInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.solids import blends
from architectonic.make.operations.found import each_edge


def make(given: FilletInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """The bodies with their edges rounded.

    Raises:
        MakeFault: an edge is gone (with the nearest candidates), or the radius is too large.
    """

    def along(shape: Labelled, edges: dict[str, Any]) -> Labelled:
        return blends.fillet(shape, edges, given.radius, given.operation, given.last)

    return each_edge(given, shapes, along, "fillet.too_large")
