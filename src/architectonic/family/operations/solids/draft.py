"""The record of the operation draft."""

from __future__ import annotations

from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Expression, Reference


class Draft(BodyOperation, tag="draft", tag_field="kind", frozen=True, kw_only=True):
    """Faces tilted about where they meet a plane, so that they lean in along its normal."""

    faces: tuple[Reference, ...]
    plane: Reference
    angle: Expression
    flip: bool = False

    @property
    def changes(self) -> tuple[str, ...]:
        """The bodies of its faces."""
        return tuple(dict.fromkeys(f.item for f in self.faces))
