"""The record of the operation that leads a surface through curves."""

from __future__ import annotations

from typing import Literal

from architectonic.family.operations.base import MakesSurface
from architectonic.family.references import Reference

Leaves = Literal["as it comes", "square", "smooth"]


class LoftSurface(MakesSurface, tag="loft_surface", tag_field="kind", frozen=True, kw_only=True):
    """A surface through sections one after the other; curves of one sketch that meet are one section.

    Attributes:
        straight: ruled from each to the next.
        guides: that its sides and what lies between them follow; each touches all sections.
        begins, ends: how it leaves its first and last section: in any direction, square to the plane of the section, or going
            on smoothly from the face that the section is an edge of.
    """

    curves: tuple[Reference, ...]
    straight: bool = False
    guides: tuple[Reference, ...] = ()
    begins: Leaves = "as it comes"
    ends: Leaves = "as it comes"
