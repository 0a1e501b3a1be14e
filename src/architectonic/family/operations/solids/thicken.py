"""The record of the operation thicken."""

from __future__ import annotations

from architectonic.family.operations.base import Solid
from architectonic.family.references import Expression, Reference


class Thicken(Solid, tag="thicken", tag_field="kind", frozen=True, kw_only=True):
    """A plate on faces: outwards from their body, or inwards when flipped; or a wall of a whole surface.

    Attributes:
        faces: a reference without a label means all of a surface.
        both: half of the thickness on either side.
        keep: a surface that is thickened whole stays; otherwise it is used up.
    """

    faces: tuple[Reference, ...]
    thickness: Expression
    flip: bool = False
    both: bool = False
    keep: bool = False
