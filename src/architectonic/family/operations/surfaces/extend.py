"""The record of the operation extend."""

from __future__ import annotations

from architectonic.family.operations.base import OnEdges
from architectonic.family.references import Expression, Record, Reference


class ExtendBy(Record, tag="length", tag_field="kind", frozen=True, kw_only=True):
    """By a length."""

    length: Expression


class ExtendTo(Record, tag="target", tag_field="kind", frozen=True, kw_only=True):
    """Up to a plane or a face, which counts as extended."""

    target: Reference


class Extend(OnEdges, tag="extend", tag_field="kind", frozen=True, kw_only=True):
    """Surfaces carried on beyond edges that bound them, as they run there.

    Attributes:
        by: how far.
    """

    by: ExtendBy | ExtendTo
