"""The record of the operation that fills a boundary with a surface."""

from __future__ import annotations

from typing import Literal

from architectonic.family.operations.base import MakesSurface
from architectonic.family.references import Reference

Continuity = Literal["meets", "smooth"]


class FillSurface(MakesSurface, tag="fill", tag_field="kind", frozen=True, kw_only=True):
    """A surface within edges and curves that close.

    Attributes:
        edges: of bodies, and curves of sketches.
        continuity: how it goes on from the faces beside it: meeting them, or smoothly.
        points: that it goes through.
    """

    edges: tuple[Reference, ...]
    continuity: Continuity = "meets"
    points: tuple[Reference, ...] = ()
