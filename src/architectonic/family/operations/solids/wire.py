"""The record of a bent wire or tube."""

from __future__ import annotations

from architectonic.family.operations.base import Solid
from architectonic.family.references import Expression, Reference


class Wire(Solid, tag="wire", tag_field="kind", frozen=True, kw_only=True):
    """A round bar or tube along a path.

    Attributes:
        path: a path in space, or curves and edges that meet end to end.
        diameter: outside; wall: of a tube, None for a bar.
    """

    path: tuple[Reference, ...]
    diameter: Expression
    wall: Expression | None = None
