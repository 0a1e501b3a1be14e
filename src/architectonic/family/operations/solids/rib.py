"""The record of the operation rib."""

from __future__ import annotations

from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Expression, Reference


class Rib(BodyOperation, tag="rib", tag_field="kind", frozen=True, kw_only=True):
    """A wall on one side of an open line of curves in one plane, as far as the bodies that it is added to.

    Attributes:
        curves: end to end; the ends are carried on straight.
        thickness: half of it on either side of the curves' plane.
        flip: the wall lies on the other side of the curves.
    """

    acts_on: tuple[str, ...]
    curves: tuple[Reference, ...]
    thickness: Expression
    flip: bool = False

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return self.acts_on
