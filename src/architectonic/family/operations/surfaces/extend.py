"""The record of the operation extend."""

from __future__ import annotations

from architectonic.family.operations.base import OnEdges
from architectonic.family.references import Expression


class Extend(OnEdges, tag="extend", tag_field="kind", frozen=True, kw_only=True):
    """Surfaces carried on beyond edges that bound them, as they run there.

    Attributes:
        length: how far.
    """

    length: Expression
