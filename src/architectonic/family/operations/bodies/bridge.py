"""The record of the operation bridge."""

from __future__ import annotations

from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Reference


class Bridge(BodyOperation, tag="bridge", tag_field="kind", frozen=True, kw_only=True):
    """Two bodies joined by a solid from a flat face of one to a flat face of the other; the first stays."""

    faces: tuple[Reference, ...]

    @property
    def changes(self) -> tuple[str, ...]:
        """Both bodies."""
        return tuple(dict.fromkeys(f.item for f in self.faces))
