"""The range of a document: its configurations against what drives it, its own values, switches, properties and results."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QModelIndex

from architectonic.check.cells import built
from architectonic.describe.words.blanks import counted
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.tables.cellmodel import CellModel, Edit
from architectonic.desktop.tables.cells import GridCell
from architectonic.desktop.tables.gridlook import headings
from architectonic.family import edits, names, scopes
from architectonic.family.records import AnyDocument, Family
from architectonic.family.scopes import Scope
from architectonic.session.ranges import rows as ranged
from architectonic.session.ranges.columns import SaidColumn, shown_columns
from architectonic.session.tables.columns import GridColumn, GridRow, states

NEW = "new"
"""The row in which a name makes a configuration."""
HINT = "＋ a new one: its name"


class RangeModel(CellModel):
    """Rows and columns of the shown document, as they are sorted and sought.

    Attributes:
        sought: words that a row must hold; only: what some columns must show, by key.
        sorted_by: key of the column that orders the rows, and whether backwards; "" for the order of the document.
    """

    def __init__(self, desk: Desk) -> None:
        self.columns: list[GridColumn] = []
        self.rows: list[GridRow] = []
        self.total = 0
        self.sought = ""
        self.only: dict[str, str] = {}
        self.sorted_by: tuple[str, bool] = ("", False)
        self._states: dict[Scope, str] = {}
        self._shown = self._alternate = ""
        self._now: Scope | None = None
        super().__init__(desk)

    @property
    def document(self) -> AnyDocument | None:
        """What it is the range of."""
        return self.desk.main.document

    def content(self) -> tuple[list[str], list[str]]:
        """Headings; configurations, and the row in which the next one is named."""
        document, family = self.document, self.desk.family
        if document is None:
            self.rows, self.columns = [], []
            return [], []
        if self._shown != document.id:
            self._shown, self.sought, self.only, self.sorted_by = document.id, "", {}, ("", False)
        shown = self.desk.main.at
        self._alternate, self._now = (shown.alternate, shown) if shown is not None else ("", None)
        self.columns = shown_columns(family, document)
        every = ranged.rows(family, document)
        self.total = len(every)
        self._states = states(self.desk.evaluation, [self.at(r.key) for r in every], built(family, document.id))
        only = [(c, self.only[c.key]) for c in self.columns if c.key in self.only]
        self.rows = self._ordered([r for r in every if self._meets(r, only)])
        order = self.columns.index(self._by) if self._by is not None else -1
        heads = [
            f"{h} {'↓' if self.sorted_by[1] else '↑'}" if k == order else h
            for k, h in enumerate(headings(self.columns))
        ]
        return ["\nConfiguration", *heads], [*(r.key for r in self.rows), NEW]

    def at(self, key: str) -> Scope:
        """A row of the shown document, in the alternate that is shown of it."""
        return Scope(self._shown, key, self._alternate)

    def _text(self, column: GridColumn, row: GridRow) -> str:
        return column.shown(self.desk.family, self.desk.evaluation, self.at(row.key)).text

    def _meets(self, row: GridRow, only: Sequence[tuple[GridColumn, str]]) -> bool:
        """Whether a row is among those that are sought, and shows in some columns what it must."""
        if any(self._text(column, row) != text for column, text in only):
            return False
        sought = self.sought.casefold()
        return (
            not sought
            or sought in row.name.casefold()
            or any(sought in self._text(c, row).casefold() for c in self.columns)
        )

    @property
    def _by(self) -> GridColumn | None:
        return next((c for c in self.columns if c.key == self.sorted_by[0]), None)

    def _ordered(self, found: list[GridRow]) -> list[GridRow]:
        """Rows sorted by a column, what is no number after what is one; then nobody stands under its parent."""
        by = self._by
        if by is None:
            return found

        def order(row: GridRow) -> tuple[bool, float, str]:
            text = self._text(by, row)
            try:
                return False, float(text), ""
            except ValueError:
                return True, 0.0, text.casefold()

        return [r._replace(depth=0) for r in sorted(found, key=order, reverse=self.sorted_by[1])]

    def made(self, row: int, column: int) -> GridCell:
        """A cell of a configuration, or of the row in which the next one is named."""
        if row == len(self.rows):
            return GridCell("" if column else HINT, "", "ghost", "" if column else NEW)
        of = self.rows[row]
        there = self.at(of.key)
        shown = there == self._now
        if not column:
            state = self._states.get(there, "updating")
            return GridCell(of.name, of.name, "name", NEW, of.key, shown=shown, state=state, depth=of.depth)
        what = self.columns[column - 1]
        c = what.shown(self.desk.family, self.desk.evaluation, there)
        left = isinstance(what, SaidColumn)
        told = c.told or (c.typed if c.typed != c.text else "")
        return GridCell(c.text, c.typed, c.kind, what.key, of.key, told=told, shown=shown, marked=c.differs, left=left)

    # --- edits ----------------------------------------------------------------------------------------

    def editable(self, row: int, column: int) -> bool:
        """Names, and all that is no result."""
        if column == 0:
            return True
        return row < len(self.rows) and super().editable(row, column)

    def typed(self, row: int, column: int, text: str) -> tuple[str, Edit]:
        """A name, or what a cell says."""
        key = self.desk.main.document_id
        if row == len(self.rows):
            return f"new configuration {text}", lambda f: edits.add_configuration(f, key, text)[0]
        of = self.rows[row]
        if column == 0:
            return f"{of.name} is now {text}", lambda f: edits.rename_configuration(f, key, of.key, text)
        what, old = self.columns[column - 1], self.cell(row, column).text
        follows = "its parent" if what.follows(self.desk.family, self.at(of.key)) else "the others"
        label = f"{what.title} of {of.name} {old} → {text}" if text else f"{what.title} of {of.name} as {follows}"
        return label, lambda f: what.change_many(f, [(of.key, text)])  # which says where, when it cannot be

    def toggle(self, index: QModelIndex) -> None:
        """Turn a switch on or off in one configuration."""
        turned = "off" if self.cell(index.row(), index.column()).text == "on" else "on"
        self.desk.apply(*self.typed(index.row(), index.column(), turned))

    def put(self, cells: Sequence[tuple[int, int, str]], verb: str = "type into") -> bool:
        """Texts into cells as one edit, all or nothing; those of a column go in together."""
        key = self.desk.main.document_id
        if not cells:
            return False
        if len(cells) == 1:
            return self.desk.apply(*self.typed(*cells[0]))
        by_column: dict[int, list[tuple[str, str]]] = {}
        for row, column, text in cells:
            by_column.setdefault(column, []).append((self.keys[row], text))
        columns = dict(enumerate(self.columns, 1))

        def edit(family: Family) -> Family:
            for column, typed in by_column.items():
                if column:
                    family = columns[column].change_many(family, typed)
                    continue
                for row, text in typed:
                    family = edits.rename_configuration(family, key, row, text)
            return family

        return self.desk.apply(f"{verb} {counted(len(cells), 'cell')}", edit)

    def put_rows(self, column: int, block: Sequence[Sequence[str]]) -> bool:
        """Rows that are not there yet, from a spreadsheet: the first text of each is its name."""
        if column:
            self.desk.told.emit("New rows begin with their names: paste into the first column.", True)
            return False
        key, columns = self.desk.main.document_id, list(self.columns)

        def edit(family: Family) -> Family:
            made = []
            for line in block:
                family, row = edits.add_configuration(family, key, line[0].strip())
                made.append(row)
            for j, what in enumerate(columns, 1):
                typed = [(row, line[j].strip()) for row, line in zip(made, block, strict=True) if j < len(line)]
                typed = [(row, text) for row, text in typed if text]
                if typed and not what.is_result:
                    family = what.change_many(family, typed)
            return family

        return self.desk.apply(f"{counted(len(block), 'configuration')} pasted", edit)

    def place(self, block: list[list[str]], row: int, column: int) -> bool:
        """A block of texts from a cell on; what runs past the last row makes new ones."""
        fits = max(0, len(self.rows) - row)
        if fits < len(block):
            if fits:
                self.desk.told.emit("This runs past the last row: paste new rows into the last line alone.", True)
                return False
            return self.put_rows(column, block)
        return super().place(block, row, column)

    # --- names for what is typed ----------------------------------------------------------------------

    def offered(self, row: int) -> list[str]:
        """Names that an expression in a row may use."""
        document = self.document
        if document is None:
            return []
        found = names.offered(self.desk.family, document)
        if row < len(self.rows) and scopes.parent_of(self.desk.family, self.at(self.rows[row].key)) is not None:
            found += [f"parent.{names.identifier(p.name)}" for p in document.parameters]
        return found

    def foresee(self, row: int, column: int, text: str) -> None:
        """Look at what a text that is being typed would do."""
        if not text or row >= len(self.rows) or column == 0:
            self.desk.foresight.leave()
            return
        self.desk.foresight.typing(*self.typed(row, column, text))
