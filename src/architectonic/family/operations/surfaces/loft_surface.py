"""The record of the operation that leads a surface through curves."""

from __future__ import annotations

from architectonic.family.operations.base import MakesSurface
from architectonic.family.references import Reference


class LoftSurface(MakesSurface, tag="loft_surface", tag_field="kind", frozen=True, kw_only=True):
    """A surface through sections one after the other; curves of one sketch that meet are one section.

    Attributes:
        straight: ruled from each to the next.
    """

    curves: tuple[Reference, ...]
    straight: bool = False
