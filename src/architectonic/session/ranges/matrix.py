"""The check matrix of a document: its rows against all that is asked of it and of what drives it."""

from __future__ import annotations

from collections import Counter
from typing import NamedTuple

from architectonic.check.cells import WORST, Ask, CheckCell, CheckReader, State, asks, drivers, seen_from
from architectonic.family import scopes
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.ranges.rows import rows
from architectonic.session.tables.columns import GridRow

EVERY = "In every alternate"


class MatrixColumn(NamedTuple):
    """An ask, in one alternate of the document or in all of them.

    Attributes:
        alternate: its id; "" for what does not depend on it. heading: what it stands under.
    """

    ask: Ask
    alternate: str
    heading: str


class Matrix:
    """Rows and columns, and the cells of one evaluation.

    Attributes:
        rows, columns: in their order.
    """

    def __init__(self, family: Family, evaluation: Evaluation, document: str) -> None:
        self.family, self.evaluation = family, evaluation
        found = family.documents[document]
        self.document = found
        self.rows: list[GridRow] = rows(family, found)
        alternates = scopes.alternates(found)
        self.columns: list[MatrixColumn] = []
        order = ("Rules", "Guards", "Checks")
        every = [a for d in drivers(family, found) if d.id != document or not alternates for a in asks(d)]
        every = [
            a for a in every if a.document == document or a.what != "builds"
        ]  # what drives it and fails, fails here
        heading = EVERY if alternates else ""
        self.columns += [MatrixColumn(a, "", heading) for a in sorted(every, key=lambda a: order.index(a.group))]
        for alternate in alternates:
            self.columns += [MatrixColumn(a, alternate.id, alternate.name) for a in asks(found)]
        self._reader = CheckReader(evaluation)
        self._cells: dict[tuple[int, int], CheckCell] = {}
        self._counts: dict[int, Counter[State]] = {}
        shared = Counter(c.ask.name for c in self.columns if not c.alternate)
        self._alike = {name for name, n in shared.items() if n > 1}

    def title(self, column: MatrixColumn) -> str:
        """What an ask is called: with its document where two are called alike."""
        if column.ask.name in self._alike and not column.alternate:
            return f"{self.family.documents[column.ask.document].name}: {column.ask.name}"
        return column.ask.name

    def at(self, row: int, column: int) -> Scope:
        """Where an ask is asked for a row."""
        of = self.columns[column]
        own = Scope(self.document.id, self.rows[row].key, of.alternate or scopes.alternate_of(self.document))
        return seen_from(self.family, own, of.ask.document)

    def cell(self, row: int, column: int) -> CheckCell:
        """What comes of it."""
        found = self._cells.get((row, column))
        if found is None:
            found = self._reader.cell(self.columns[column].ask, self.at(row, column))
            self._cells[row, column] = found
        return found

    def in_row(self, row: int) -> Counter[State]:
        """How many cells of a row are in each state."""
        if row not in self._counts:
            self._counts[row] = Counter(self.cell(row, c).state for c in range(len(self.columns)))
        return self._counts[row]

    def in_column(self, column: int) -> int:
        """In how many rows an ask does not hold."""
        return sum(self.cell(r, column).state in ("out of rule", "failing") for r in range(len(self.rows)))

    def bad(self) -> list[tuple[int, int]]:
        """Cells that do not hold, the worst first, then by rows."""
        places = [(r, c) for r in range(len(self.rows)) for c in range(len(self.columns))]
        wrong = [p for p in places if self.cell(*p).state in ("out of rule", "failing")]
        return sorted(wrong, key=lambda p: WORST.index(self.cell(*p).state))

    def causes(self) -> list[tuple[CheckCell, list[str]]]:
        """What is wrong by its root: a cell of each, and the names of the rows."""
        found: dict[tuple[str, str, str], tuple[CheckCell, list[str]]] = {}
        for r, c in self.bad():
            one = self.cell(r, c)
            _, names = found.setdefault((one.ask.document, one.ask.item or one.ask.what, one.at.alternate), (one, []))
            if self.rows[r].name not in names:
                names.append(self.rows[r].name)
        return list(found.values())

    def along(self, column: int) -> list[tuple[str, CheckCell]]:
        """An ask over all rows."""
        return [(row.name, self.cell(r, column)) for r, row in enumerate(self.rows)]
