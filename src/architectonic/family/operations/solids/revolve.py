"""The record of the operation revolve."""

from __future__ import annotations

from architectonic.family.operations.base import Solid
from architectonic.family.references import Expression, Reference


class Revolve(Solid, tag="revolve", tag_field="kind", frozen=True, kw_only=True):
    """Regions turned about an axis.

    Attributes:
        regions: as of an extrude.
        axis: a line, an axis or a round edge.
        angle: how far, or
        target: the face or plane that it goes up to; None of both: all the way round.
        symmetric: half of the angle either way.
        flip: the other way round.
    """

    regions: tuple[Reference, ...]
    axis: Reference
    angle: Expression | None = None
    target: Reference | None = None
    symmetric: bool = False
    flip: bool = False
