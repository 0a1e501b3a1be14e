"""The record of the operation engrave."""

from __future__ import annotations

from typing import Literal

from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Expression, Record, Reference

Property = Literal["", "number", "name", "size"]


class TextPiece(Record, frozen=True, kw_only=True):
    """A part of a text: as it stands, a property, or a value.

    Attributes:
        of: number (of the part item, else of the document), name of the document, or the size or row that it is in.
    """

    text: str = ""
    of: Property = ""
    value: Expression | None = None


class Words(Record, tag="words", tag_field="kind", frozen=True, kw_only=True):
    """A line of text over the middle of a face.

    Attributes:
        height: of a capital letter.
        x, y: from the middle of the face; around and along the axis of a round one.
        turn: from the face's x, counter-clockwise.
        mirrored: it reads right in a mirror, as a mould is marked.
    """

    text: tuple[TextPiece, ...]
    height: Expression
    x: Expression | None = None
    y: Expression | None = None
    turn: Expression | None = None
    mirrored: bool = False


class Areas(Record, tag="areas", tag_field="kind", frozen=True, kw_only=True):
    """Regions of sketches as they are seen on a flat face, or laid around a round one."""

    regions: tuple[Reference, ...]


class Engrave(BodyOperation, tag="engrave", tag_field="kind", frozen=True, kw_only=True):
    """A mark cut into a face, or raised on it.

    Attributes:
        face: flat or cylindrical.
        raised: it stands out of the face.
    """

    acts_on: tuple[str, ...]
    face: Reference
    by: Words | Areas
    depth: Expression
    raised: bool = False

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return self.acts_on


def is_text(operation: object) -> bool:
    """Whether an operation marks something with a text."""
    return isinstance(operation, Engrave) and isinstance(operation.by, Words)
