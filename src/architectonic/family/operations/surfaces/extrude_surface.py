"""The record of the operation that pushes curves to a surface."""

from __future__ import annotations

from architectonic.family.operations.base import MakesSurface
from architectonic.family.references import Expression, Reference


class ExtrudeSurface(MakesSurface, tag="extrude_surface", tag_field="kind", frozen=True, kw_only=True):
    """Curves that meet end to end pushed along the normal of their plane, or along a line.

    Attributes:
        length: how far; before: from how far before their plane.
        symmetric: half of the length either way.
        along: a line to go along instead.
        flip: the other way.
    """

    curves: tuple[Reference, ...]
    length: Expression
    before: Expression | None = None
    symmetric: bool = False
    along: Reference | None = None
    flip: bool = False
