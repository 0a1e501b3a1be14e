"""The record of the operation loft."""

from __future__ import annotations

from architectonic.family.operations.base import Solid
from architectonic.family.references import Reference


class Loft(Solid, tag="loft", tag_field="kind", frozen=True, kw_only=True):
    """A solid through regions, one after the other.

    Attributes:
        straight: ruled from each to the next.
        guides: curves that touch every section, and that its sides follow.
    """

    regions: tuple[Reference, ...]
    straight: bool = False
    guides: tuple[Reference, ...] = ()
