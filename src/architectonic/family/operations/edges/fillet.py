"""The record of the operation fillet."""

from __future__ import annotations

from architectonic.family.operations.base import OnEdges
from architectonic.family.references import Expression


class Fillet(OnEdges, tag="fillet", tag_field="kind", frozen=True, kw_only=True):
    """Edges rounded with one radius.

    Attributes:
        last: the radius at the end of each edge, when it grows or shrinks along it.
    """

    radius: Expression
    last: Expression | None = None
