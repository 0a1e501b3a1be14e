"""Outlines of flat faces, and ways that run beside them."""

from __future__ import annotations

from typing import Any

from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeOffset
from OCP.BRepTools import BRepTools_WireExplorer
from OCP.GeomAbs import GeomAbs_Arc

from architectonic.kernel.shapes.topology import WIRE, subshapes


def beside(face: Any, distance: float) -> list[list[Any]]:
    """The edges of each loop around a flat face, so far outside of its material, mm; round about its corners.

    Loops that the distance closes are left out.
    """
    maker = BRepOffsetAPI_MakeOffset(face, GeomAbs_Arc)
    maker.Perform(distance)
    found = []
    for wire in subshapes(maker.Shape(), WIRE):
        explorer = BRepTools_WireExplorer(wire)
        edges = []
        while explorer.More():
            edges.append(explorer.Current())
            explorer.Next()
        found.append(edges)
    return found
