"""Blanks of paths in space: the points that they go through, what is bent for what is wanted."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from architectonic.base.ids import IdSource
from architectonic.describe.words.accepts import Accepts, accepting
from architectonic.describe.words.blanks import Blank, Telling, counted
from architectonic.describe.words.sentences import text
from architectonic.family import names
from architectonic.family.records import Expression, Family, Model
from architectonic.quantities.units import NUMBER

BEND = "bend"
"""What an expression calls the angle that is wanted, in degrees."""


@dataclass(frozen=True, repr=False)
class LedPoints(Blank):
    """Points in space, in order."""

    shape: ClassVar[str] = "led"
    several: ClassVar[bool] = True
    accepts: ClassVar[Accepts] = accepting(
        "vertex edge", "point end", "points: vertices, ends, centres; or type where they are"
    )

    @property
    def hint(self) -> str:
        """What they are."""
        return "points"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """None at first."""
        return {}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """How many."""
        return counted(len(value), "point") if value else ""


@dataclass(frozen=True, repr=False)
class SpringBack(Blank):
    """The degrees that a tool bends by for a bend of `bend` degrees: `1.02 * bend + 0.5`."""

    shape: ClassVar[str] = "value"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The first text."""
        return {self.field: Expression(text=self.first)}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """The expression."""
        return text(to.family, to.document, value)

    def typed(self, family: Family, document: Model, text: str) -> Expression:
        """The expression, with `bend` in it."""
        return names.bind(family, document, text, NUMBER, own=(BEND,))
