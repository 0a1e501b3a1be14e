"""Blanks of marks: a text with properties and values in it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any, ClassVar

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.describe.words.accepts import Accepts, accepting
from architectonic.describe.words.blanks import Blank, Telling
from architectonic.describe.words.sentences import text as shown_text
from architectonic.describe.words.things import One
from architectonic.family import names
from architectonic.family.operations.marks.engrave import TextPiece
from architectonic.family.records import Family, Model, Reference

PROPERTIES = ("number", "name", "size")


@dataclass(frozen=True, repr=False)
class Lettering(Blank):
    """A text; what stands in braces is a property of the document or a value: `{number} {size}`, `Ø{wall}`."""

    shape: ClassVar[str] = "text"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The first text."""
        return {self.field: _plain(self.first)}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """The text as it is typed, in quotation marks."""
        return f"“{shown(to, value)}”"

    def typed(self, family: Family, document: Model, text: str) -> tuple[TextPiece, ...]:
        """The pieces of a text.

        Raises:
            UserFault: nothing is typed, a brace is left open, or a value is not known.
        """
        if not text.strip():
            raise UserFault(
                "there is no text", self.field, "type one; {number}, {name} and {size} stand for themselves"
            )
        if text.count("{") != text.count("}"):
            raise UserFault(f"“{text}” has a brace without its other one", "text", "close it, as in {size}")
        pieces = []
        for part in re.split(r"(\{[^{}]*\})", text):
            inner = part[1:-1].strip()
            if not part:
                continue
            if not part.startswith("{"):
                pieces.append(TextPiece(text=part))
            elif inner in PROPERTIES:
                pieces.append(TextPiece(of=inner))  # type: ignore[arg-type]
            else:
                pieces.append(TextPiece(value=names.bind(family, document, inner, None)))
        return tuple(pieces)


def _plain(first: str) -> tuple[TextPiece, ...]:
    found = [p for p in re.split(r"(\{\w+\})", first) if p]
    return tuple(TextPiece(of=p[1:-1]) if p.startswith("{") else TextPiece(text=p) for p in found)  # type: ignore[arg-type]


def shown(to: Telling, pieces: tuple[TextPiece, ...]) -> str:
    """A text as it is typed."""
    told = ""
    for p in pieces:
        value = shown_text(to.family, to.document, p.value) if p.value is not None else p.of
        told += p.text if not value else f"{{{value}}}"
    return told


class MarkedFace(One):
    """A flat face, or a cylinder."""

    keyword: ClassVar[str] = "face"
    accepts: ClassVar[Accepts] = accepting("face", "", "a flat face or a cylinder")

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """A face that is to be picked."""
        return {self.field: Reference(item="")}

    def candidates(self, of: Any) -> list[tuple[str, Reference]]:
        """Picked faces."""
        return [("the picked face", r) for r in of.picked("face")]


class FlatFace(MarkedFace):
    """A flat face."""

    accepts: ClassVar[Accepts] = accepting("face", "", "a flat face", flat=True)
