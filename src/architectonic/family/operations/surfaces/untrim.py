"""The record of the operation untrim."""

from __future__ import annotations

from architectonic.family.operations.base import BodyOperation


class Untrim(BodyOperation, tag="untrim", tag_field="kind", frozen=True, kw_only=True):
    """Surfaces of one face each, whole again as far as they run by themselves."""

    acts_on: tuple[str, ...]

    @property
    def changes(self) -> tuple[str, ...]:
        """All of them."""
        return self.acts_on
