"""Ranges from and to spreadsheets: a row a configuration, what can be typed as it is typed; compared before it is taken."""

from __future__ import annotations

from typing import NamedTuple

from architectonic.base.errors import UserFault
from architectonic.exchange.spreadsheet import Grid
from architectonic.family import edits, names, scopes
from architectonic.family.records import AnyDocument, Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units
from architectonic.session.ranges.columns import shown_columns
from architectonic.session.ranges.rows import rows
from architectonic.session.tables.columns import GridColumn, ValueColumn

NAME, PARENT = "Configuration", "Child of"
NAMES = (NAME.casefold(), "name", "row", "size")


class SheetChange(NamedTuple):
    """A cell that a file says otherwise: its row by name, the key and title of its column, and both texts."""

    row: str
    column: str
    title: str
    before: str
    after: str


class RangeDifference(NamedTuple):
    """What a file would change.

    Attributes:
        changes: cells. fresh: rows that are new, each with the name of its parent, "" for none.
        faults: cells that cannot be used: where in the file, and why. only_here: rows that the file does not have; they stay.
        passed: headings that mean no column that can be typed into.
    """

    changes: tuple[SheetChange, ...]
    fresh: tuple[tuple[str, str], ...]
    faults: tuple[tuple[str, str], ...]
    only_here: tuple[str, ...]
    passed: tuple[str, ...]


def _heading(column: GridColumn) -> str:
    return f"{column.title} {column.unit}".strip()


def sheet_of_range(family: Family, evaluation: Evaluation | None, document: AnyDocument) -> list[list[str | float]]:
    """The range as rows of a spreadsheet, that `compare` finds no difference with: cells that follow others are blank, results
    are as they came out."""
    columns = shown_columns(family, document)
    known = dict(scopes.configurations(family, document))
    index = scopes.row_index(document)
    found: list[list[str | float]] = [[NAME, PARENT, *(_heading(c) for c in columns)]]
    for row in rows(family, document):
        at = Scope(document.id, row.key, scopes.alternate_of(document))
        record = index.by_id.get(row.key)
        parent = index.for_size.get(record.parent, record.parent) if record is not None else ""
        cells = [(c, c.shown(family, evaluation, at)) for c in columns]
        texts = [_written(c, s.text if c.is_result else s.typed) for c, s in cells]
        found.append([row.name, known.get(parent, ""), *texts])
    return found


def _written(column: GridColumn, text: str) -> str | float:
    number, _, unit = text.partition(" ")
    if unit == column.unit or (column.is_result and not unit):
        try:
            return float(number)
        except ValueError:
            return text
    return text


class _Compared:
    """A sheet being compared: which column means what, and what is found so far."""

    def __init__(self, family: Family, document: AnyDocument, grid: Grid) -> None:
        self.family, self.document, self.grid = family, document, grid
        every = shown_columns(family, document, True)
        by_heading = {h.casefold(): c for c in reversed(every) for h in (c.title, _heading(c))}
        folded = [h.casefold().strip() for h in grid.headings]
        self.place = next((k for k, h in enumerate(folded) if h in NAMES), 0)
        self.of = folded.index(PARENT.casefold()) if PARENT.casefold() in folded else -1
        others = {k: by_heading.get(h) for k, h in enumerate(folded) if h and k not in (self.place, self.of)}
        self.passed = tuple(grid.headings[k] for k, c in others.items() if c is None)
        self.columns: dict[int, GridColumn] = {}
        for k, column in others.items():
            if column is not None and not column.is_result and column not in self.columns.values():
                self.columns[k] = column
        if not self.columns:
            known = ", ".join(_heading(c) for c in every if not c.is_result)
            raise UserFault("no column of it is one of the range", grid.name, f"head columns by {known}")
        self.known = {names.identifier(n).casefold(): (k, n) for k, n in scopes.configurations(family, document)}
        self.changes: list[SheetChange] = []
        self.fresh: list[tuple[str, str]] = []
        self.faults: list[tuple[str, str]] = []
        self.seen: dict[str, str] = {}

    def row(self, number: int) -> None:
        """One row: what it changes, or why it cannot be used."""
        cells, where = self.grid.rows[number], self.grid.where(number, self.place)
        name = cells[self.place].text
        folded = names.identifier(name).casefold()
        if cells[self.place].fault:
            self.faults.append((where, cells[self.place].fault))
        elif not name:
            self.faults += [(where, "this row has no name")] if any(c.text for c in cells) else []
        elif folded in self.seen:
            self.faults.append((where, f"“{name}” stands in {self.seen[folded]} too"))
        else:
            self.seen[folded] = where
            if folded in self.known or self._new(number, name):
                self._cells(number, name, self.known[folded][0] if folded in self.known else "")

    def _new(self, number: int, name: str) -> bool:
        """A row that is not there yet; whether it can be made."""
        parent = self.grid.rows[number][self.of].text if self.of >= 0 else ""
        if parent and names.identifier(parent).casefold() not in {*self.known, *self.seen}:
            told = f"there is no configuration “{parent}” to be the child of"
            self.faults.append((self.grid.where(number, self.of), told))
            return False
        self.fresh.append((name, parent))
        return True

    def _cells(self, number: int, name: str, key: str) -> None:
        for k, column in self.columns.items():
            cell = self.grid.rows[number][k]
            if cell.fault:
                self.faults.append((self.grid.where(number, k), cell.fault))
                continue
            after = _typed(column, cell.text)
            before = column.shown(self.family, None, Scope(self.document.id, key)).typed if key else ""
            if not _same(column, before, after):
                self.changes.append(SheetChange(name, column.key, column.title, before, after))


def compare(family: Family, document_id: str, grid: Grid) -> RangeDifference:
    """What taking a sheet into a range would change; rows with names that are not known are new.

    Raises:
        UserFault: the sheet has no column that can be typed into.
    """
    sheet = _Compared(family, edits.document(family, document_id), grid)
    for number in range(len(grid.rows)):
        sheet.row(number)
    only = tuple(n for folded, (_, n) in sheet.known.items() if folded not in sheet.seen)
    return RangeDifference(tuple(sheet.changes), tuple(sheet.fresh), tuple(sheet.faults), only, sheet.passed)


def _typed(column: GridColumn, text: str) -> str:
    """A bare number in a column with a unit carries it."""
    try:
        float(text.replace("−", "-"))
    except ValueError:
        return text
    return f"{text} {column.unit}" if column.unit in units.UNITS else text


def _same(column: GridColumn, before: str, after: str) -> bool:
    if " ".join(before.split()) == " ".join(after.split()):
        return True
    if isinstance(column, ValueColumn) and before and after:
        (a, _, unit), (b, _, other) = before.partition(" "), after.partition(" ")
        try:
            return unit == other and float(a) == float(b)
        except ValueError:
            return False
    return False


def take(family: Family, document_id: str, difference: RangeDifference) -> Family:
    """The family with a difference taken, all of it.

    Raises:
        UserFault: a cell of it cannot be used; says which.
    """
    for name, parent in difference.fresh:
        rows_now = _by_name(family, document_id)
        family, _ = edits.add_configuration(
            family, document_id, name, rows_now.get(names.identifier(parent).casefold(), "") if parent else ""
        )
    rows_now = _by_name(family, document_id)
    typed: dict[str, list[tuple[str, str]]] = {}
    for change in difference.changes:
        typed.setdefault(change.column, []).append((rows_now[names.identifier(change.row).casefold()], change.after))
    for key, cells in typed.items():
        column = next(c for c in shown_columns(family, edits.document(family, document_id), True) if c.key == key)
        family = column.change_many(family, cells)
    return family


def _by_name(family: Family, document_id: str) -> dict[str, str]:
    rows_now = scopes.configurations(family, edits.document(family, document_id))
    return {names.identifier(n).casefold(): k for k, n in rows_now}
