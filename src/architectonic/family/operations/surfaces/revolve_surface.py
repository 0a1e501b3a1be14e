"""The record of the operation that turns curves to a surface."""

from __future__ import annotations

from architectonic.family.operations.base import MakesSurface
from architectonic.family.references import Expression, Reference


class RevolveSurface(MakesSurface, tag="revolve_surface", tag_field="kind", frozen=True, kw_only=True):
    """Curves that meet end to end turned about an axis.

    Attributes:
        angle: how far; None all the way round.
        symmetric: half of it either way; flip: the other way round.
    """

    curves: tuple[Reference, ...]
    axis: Reference
    angle: Expression | None = None
    symmetric: bool = False
    flip: bool = False
