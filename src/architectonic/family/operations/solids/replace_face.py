"""The record of the operation that puts a surface in a face's place."""

from __future__ import annotations

from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Reference


class ReplaceFace(BodyOperation, tag="replace_face", tag_field="kind", frozen=True, kw_only=True):
    """A flat face of a solid carried on, or cut back, to a surface, a face or a plane, whose shape it takes.

    Attributes:
        by: without a label all of a surface.
    """

    face: Reference
    by: Reference

    @property
    def changes(self) -> tuple[str, ...]:
        """The body of the face."""
        return (self.face.item,)
