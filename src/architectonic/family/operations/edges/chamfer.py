"""The record of the operation chamfer."""

from __future__ import annotations

from architectonic.family.operations.base import OnEdges
from architectonic.family.references import Expression


class Chamfer(OnEdges, tag="chamfer", tag_field="kind", frozen=True, kw_only=True):
    """Edges cut off flat.

    Attributes:
        distance: on the first face; on the other one it is the same, or
        second, or it follows from
        angle: between the chamfer and the first face.
        flip: the other face counts as the first.
    """

    distance: Expression
    second: Expression | None = None
    angle: Expression | None = None
    flip: bool = False
