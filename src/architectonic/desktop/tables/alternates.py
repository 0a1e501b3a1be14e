"""The grid of alternates: what fills each place, the pose, values, and what each alternate comes to."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, Qt, QTimer
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCompleter,
    QLineEdit,
    QStyleOptionViewItem,
    QWidget,
)

from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.tables.cellmodel import CellModel, Edit
from architectonic.desktop.tables.cells import KIND, CellDelegate, GridCell
from architectonic.desktop.tables.gridlook import CellGrid, CellView, grid_view, headings
from architectonic.family import edits
from architectonic.family.records import Assembly
from architectonic.family.scopes import Scope
from architectonic.session.assembly import grid
from architectonic.session.joining.replacing import places_found
from architectonic.session.tables.columns import GridColumn, GridRow, states

NEW = "new"
"""The row in which a name makes an alternate."""


class AlternatesModel(CellModel):
    """Rows and columns of the shown assembly."""

    def __init__(self, desk: Desk) -> None:
        self.columns: list[GridColumn] = []
        self.rows: list[GridRow] = []
        self.every = False
        self._states: dict[Scope, str] = {}
        super().__init__(desk)

    def content(self) -> tuple[list[str], list[str]]:
        """Headings; alternates, and the row in which the next one is named."""
        document, at = self.desk.main.document, self.desk.main.at
        if not isinstance(document, Assembly) or at is None:
            self.rows, self.columns = [], []
            return [], []
        self.rows, self.columns = grid.rows(document), grid.columns(document, self.every)
        self._states = states(self.desk.evaluation, [at._replace(alternate=r.key) for r in self.rows], "assembly")
        return ["\nAlternate", *headings(self.columns)], [*(r.key for r in self.rows), NEW]

    def made(self, row: int, column: int) -> GridCell:
        """A cell of an alternate, or of the row in which the next one is named."""
        document, at, desk = self.desk.main.document, self.desk.main.at, self.desk
        assert isinstance(document, Assembly) and at is not None
        if row == len(self.rows):
            hint = "＋ a name makes an alternate" if document.alternates else "＋ a name makes the first alternate"
            return GridCell("" if column else hint, "", "ghost", "" if column else NEW)
        of = self.rows[row]
        there = at._replace(alternate=of.key)
        shown = there == at
        if not column:
            return GridCell(
                of.name, of.name, "name", NEW, of.key, shown=shown, state=self._states[there], depth=of.depth
            )
        what = self.columns[column - 1]
        c = what.shown(desk.family, desk.evaluation, there)
        own = bool(document.alternates) and c.kind in ("own", "computed", "switch") and bool(c.typed)
        left = isinstance(what, (grid.MakeUp, grid.Property))
        return GridCell(c.text, c.typed, c.kind, what.title, of.key, told=c.told, shown=shown, marked=own, left=left)

    def editable(self, row: int, column: int) -> bool:
        """Names, and all that is no result; a plain assembly is renamed as a document."""
        if column == 0:
            return row == len(self.rows) or bool(self.rows[row].key)
        return row < len(self.rows) and super().editable(row, column)

    def typed(self, row: int, column: int, text: str) -> tuple[str, Edit]:
        """A name, or what a cell says."""
        key = self.desk.main.document_id
        if row == len(self.rows):
            parent = self.desk.main.at.alternate if self.desk.main.at is not None else ""
            return f"new alternate {text}", lambda f: edits.add_alternate(f, key, text, parent)[0]
        of = self.rows[row]
        if column == 0:
            return f"{of.name} is now {text}", lambda f: edits.change_alternate(f, key, of.key, name=text)
        what, old = self.columns[column - 1], self.cell(row, column).text
        where = f" of {of.name}" if of.key else ""
        label = f"{what.title}{where} {old} → {text}" if text else f"{what.title}{where} as the others"
        if isinstance(what, grid.MakeUp):  # joints find their places on what comes in
            return label, lambda f: places_found(what.change(f, of.key, text), key, what.key)
        return label, lambda f: what.change(f, of.key, text)

    def toggle(self, index: QModelIndex) -> None:
        """Turn a joint or rule on or off in one alternate."""
        turned = "off" if self.cell(index.row(), index.column()).text == "on" else "on"
        self.desk.apply(*self.typed(index.row(), index.column(), turned))


class FillDelegate(CellDelegate):
    """Offers what a cell can be filled with while it is typed into; anything that is meant the same can be typed."""

    def createEditor(self, parent: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> QWidget | None:
        """A field, with a list under it where there is something to choose from."""
        model = index.model()
        assert isinstance(model, AlternatesModel)
        cell: GridCell = index.data(KIND)
        made = QLineEdit(parent)
        made.setAccessibleName(cell.item)
        made.setPlaceholderText(cell.text if not cell.expression else "")
        offered = model.columns[index.column() - 1].choices(model.desk.family) if index.column() else []
        if offered:
            completer = QCompleter(offered, made)
            completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
            completer.setFilterMode(Qt.MatchFlag.MatchContains)
            made.setCompleter(completer)

            def all_of_it() -> None:
                completer.setCompletionPrefix("")
                completer.complete()

            QTimer(made, singleShot=True, interval=0, timeout=all_of_it).start()  # type: ignore[call-arg]
        return made


class AlternatesGrid(CellGrid):
    """The grid with its legend; the row one works in is the alternate that is shown."""

    def __init__(self, desk: Desk) -> None:
        self.desk, self.model = desk, AlternatesModel(desk)
        self.view = CellView(self.model)
        grid_view(self.view)
        self.view.setItemDelegate(FillDelegate(self.view))
        self.view.setSelectionMode(QAbstractItemView.SelectionMode.ContiguousSelection)
        super().__init__(self.model, self.view, (16, 6, 16, 30), "an emptied cell follows again")
        self.view.setContextMenuPolicy(Qt.ContextMenuPolicy.NoContextMenu)
        selection = self.view.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._on_row)
        self.setMinimumHeight(150)

    @property
    def row(self) -> str:
        """Id of the alternate in whose row the keyboard is, "" for none."""
        at = self.view.currentIndex().row()
        return self.model.rows[at].key if 0 <= at < len(self.model.rows) else ""

    def _on_row(self, current: QModelIndex, _: QModelIndex) -> None:
        key = self.row
        if key and self.desk.main.at is not None and self.desk.main.at.alternate != key and self.view.hasFocus():
            self.desk.show(alternate=key)
