"""Blanks about surfaces: surfaces among the bodies, and pieces of what is trimmed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from architectonic.base.ids import IdSource
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.blanks import Blank, Telling, counted
from architectonic.family.records import Model
from architectonic.family.walk import surfaces_of


class Surfaces(Bodies):
    """Surfaces of the document."""

    @property
    def hint(self) -> str:
        """Several."""
        return "surfaces"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The last two, where the sentence is about them."""
        known = surfaces_of(document)
        return {self.field: known[-2:] if self.field == "acts_on" else ()}


class Trimmed(Surfaces):
    """Surfaces that cut each other."""

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Their names; several cut each other."""
        return f"{super().told(to, operation, value)}{' by each other' if len(value) > 1 else ''}"


@dataclass(frozen=True, repr=False)
class PiecesBlank(Blank):
    """Pieces that stay or go."""

    shape: ClassVar[str] = "pieces"
    several: ClassVar[bool] = True

    @property
    def hint(self) -> str:
        """What is clicked."""
        return "pieces"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """None is decided at first."""
        return {self.field: ()}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """How many stay."""
        kept = sum(1 for p in value if p.keep)
        return f"{counted(kept, 'piece')} of {len(value)}" if value else ""
