"""Blanks of patterns: what is repeated, a table of places, a condition on the number of a member."""

from __future__ import annotations

import re
from typing import Any, ClassVar

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.describe.words import candidates
from architectonic.describe.words.accepts import Accepts, accepting
from architectonic.describe.words.blanks import Blank, Telling, counted
from architectonic.describe.words.candidates import Choosing, Named
from architectonic.describe.words.sentences import text
from architectonic.describe.words.things import Picked
from architectonic.family import names
from architectonic.family.operations.patterns.pattern import TableRow
from architectonic.family.records import Expression, Family, Model
from architectonic.quantities.compiled import TRUTH

NUMBER_OF = "n"
"""What a condition calls the number of a member, the first one being 1."""


class Repeated(Picked):
    """Operations that are done again; a click on a face means what made it."""

    shape: ClassVar[str] = "repeated"
    noun: ClassVar[str] = "operation"
    accepts: ClassVar[Accepts] = accepting("face", "", "a face of what is to be repeated")

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Their names."""
        known = {o.id: o.name for o in to.document.build}
        return ", ".join(known.get(r.item, "something that is gone") for r in value)

    def candidates(self, of: Choosing) -> Named:
        """Earlier operations that can be repeated."""
        return candidates.repeatable(of)


class PlacesTable(Blank):
    """A table of places: `20 mm, 0; 40 mm, 5 mm, 0, 30 deg`."""

    shape: ClassVar[str] = "table"

    @property
    def hint(self) -> str:
        """How one is written."""
        return "x, y, z and an angle; places parted by semicolons"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """One place beside the first."""
        zero = Expression(text="0 mm")
        return {self.field: {make_id(): TableRow(x=Expression(text="20 mm"), y=zero, z=zero)}}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """How many there are."""
        return counted(len(value), "place")

    def shown(self, to: Telling, rows: dict[str, TableRow]) -> str:
        """The table as it is typed."""
        return "; ".join(
            ", ".join(text(to.family, to.document, e) for e in (r.x, r.y, r.z, r.angle) if e is not None)
            for r in rows.values()
        )

    def rows(
        self, family: Family, document: Model, typed: str, was: dict[str, TableRow], make_id: IdSource
    ) -> dict[str, TableRow]:
        """The table of a text; a place that says what one said before keeps its id, others one in its turn.

        Raises:
            UserFault: a place cannot be used; says which.
        """
        made: list[TableRow] = []
        for number, place in enumerate(p for p in re.split(r"[;\n]", typed) if p.strip()):
            parts = _parted(place)
            if not 1 <= len(parts) <= 4:
                raise UserFault(f"place {number + 1} has {len(parts)} values", self.field, "write x, y, z and an angle")
            parts += ["0"] * (3 - len(parts))
            try:
                x, y, z = (names.bind_quantity(family, document, p, "length", "mm") for p in parts[:3])
                angle = names.bind_quantity(family, document, parts[3], "angle", "deg") if len(parts) > 3 else None
            except UserFault as fault:
                raise UserFault(f"place {number + 1}: {fault.what}", self.field, fault.mend) from None
            made.append(TableRow(x=x, y=y, z=z, angle=angle))
        kept = {k: r for k, r in was.items() if r in made}
        free = [k for k in was if k not in kept]
        taken = dict(kept)
        found: dict[str, TableRow] = {}
        for row in made:
            key = next((k for k, r in taken.items() if r == row), None)
            if key is not None:
                del taken[key]
            else:
                key = free.pop(0) if free else make_id()
            found[key] = row
        return found


def _parted(place: str) -> list[str]:
    """The values of a place, parted by commas outside brackets."""
    parts, depth = [""], 0
    for char in place:
        depth += (char == "(") - (char == ")")
        if char == "," and depth == 0:
            parts.append("")
        else:
            parts[-1] += char
    return [p.strip() for p in parts]


class Condition(Blank):
    """A comparison with the number `n` of a member: `n != 3`, `n <= count - 1`."""

    shape: ClassVar[str] = "value"
    keyword: ClassVar[str] = "text"

    @property
    def hint(self) -> str:
        """One."""
        return "n != 3"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """None."""
        return {}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """The comparison with the names of now."""
        return text(to.family, to.document, value)

    def typed(self, family: Family, document: Model, text: str) -> Any:
        """The comparison.

        Raises:
            UserFault: it is none.
        """
        return names.bind(family, document, text or self.hint, TRUTH, own=(NUMBER_OF,))
