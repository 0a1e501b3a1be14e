"""The record of the operation take out."""

from __future__ import annotations

from architectonic.family.operations.base import BodyOperation


class TakeOut(BodyOperation, tag="take_out", tag_field="kind", frozen=True, kw_only=True):
    """Bodies left out of the result; their history stays, and switching this off brings them back."""

    acts_on: tuple[str, ...]

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return self.acts_on
