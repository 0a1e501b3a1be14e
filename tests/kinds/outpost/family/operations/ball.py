"""The record of the operation ball."""

from __future__ import annotations

from architectonic.family.operations.base import Solid
from architectonic.family.references import Expression, Reference


class Ball(Solid, tag="ball", tag_field="kind", frozen=True, kw_only=True):
    """A ball about a point."""

    centre: Reference
    radius: Expression
