"""The record of the operation round over."""

from __future__ import annotations

from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Reference


class RoundOver(BodyOperation, tag="round_over", tag_field="kind", frozen=True, kw_only=True):
    """Narrow flat faces replaced by a round that runs into the faces on both sides of them."""

    faces: tuple[Reference, ...]

    @property
    def changes(self) -> tuple[str, ...]:
        """The bodies of its faces."""
        return tuple(dict.fromkeys(f.item for f in self.faces))
