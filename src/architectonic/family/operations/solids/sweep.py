"""The record of the operation sweep."""

from __future__ import annotations

from architectonic.family.operations.base import Solid
from architectonic.family.references import Reference


class Sweep(Solid, tag="sweep", tag_field="kind", frozen=True, kw_only=True):
    """Regions of one plane moved along a path of curves and edges that meet end to end."""

    regions: tuple[Reference, ...]
    path: tuple[Reference, ...]
