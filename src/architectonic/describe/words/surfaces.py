"""Blanks about surfaces: surfaces among the bodies, and pieces of what is trimmed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from architectonic.base.ids import IdSource
from architectonic.describe.words import candidates
from architectonic.describe.words.accepts import Accepts, accepting
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.blanks import Blank, Telling, counted
from architectonic.describe.words.candidates import Choosing, Named
from architectonic.describe.words.things import One
from architectonic.family.records import Model, Reference
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


class Sheet(One):
    """A surface, a face, or a plane: a click on a face of a surface means all of it."""

    keyword: ClassVar[str] = "surface"
    accepts: ClassVar[Accepts] = accepting("face", "plane sketch", "a surface, a face or a plane")

    @property
    def hint(self) -> str:
        """What it may be."""
        return "a surface, a face or a plane"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The last surfaces; where there is none, the front plane until something is picked."""
        known = surfaces_of(document)
        first = self.field.endswith(("first", "onto", "face"))
        if len(known) > 1 or (known and first):
            return {self.field: Reference(item=known[-1 if first else -2], stage="here")}
        return {self.field: Reference(item="front")}

    def candidates(self, of: Choosing) -> Named:
        """Surfaces by name, then everything flat and what is picked."""
        document = of.document
        if not isinstance(document, Model):
            return []
        whole = [(document.bodies[b].name, Reference(item=b, stage="here")) for b in surfaces_of(document)]
        return [*whole, *candidates.curved_faces(of), *candidates.planes(of)]


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
