"""How the operation chamfer is made with the kernel."""

from __future__ import annotations

from typing import Any

from architectonic.describe.operations.edges.chamfer import ChamferInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.solids import blends
from architectonic.make.operations.found import each_edge


def make(given: ChamferInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """The bodies with their edges cut off.

    Raises:
        MakeFault: an edge is gone (with the nearest candidates), or there is no room.
    """
    how = blends.ChamferSize(given.distance, given.second, given.angle)

    def along(shape: Labelled, edges: dict[str, Any]) -> Labelled:
        return blends.chamfer(shape, edges, how, given.flip, given.operation)

    return each_edge(given, shapes, along, "chamfer.too_large")
