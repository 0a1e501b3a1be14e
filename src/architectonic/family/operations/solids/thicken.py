"""The record of the operation thicken."""

from __future__ import annotations

from architectonic.family.operations.base import Solid
from architectonic.family.references import Expression, Reference


class Thicken(Solid, tag="thicken", tag_field="kind", frozen=True, kw_only=True):
    """A plate on faces: outwards from their body, or inwards when flipped."""

    faces: tuple[Reference, ...]
    thickness: Expression
    flip: bool = False
