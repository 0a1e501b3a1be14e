"""The grid of alternates: what fills each place, the pose, values, and what each alternate comes to."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence
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
from architectonic.desktop.tables.gridlook import CellGrid, CellView, grid_view
from architectonic.family import edits
from architectonic.family.records import Assembly
from architectonic.session.assembly import grid
from architectonic.session.joining.replacing import places_found

NEW = "new"
"""The row in which a name makes an alternate."""


class AlternatesModel(CellModel):
    """Rows and columns of the shown assembly."""

    def __init__(self, desk: Desk) -> None:
        self.columns: list[grid.AlternateColumn] = []
        self.rows: list[grid.AlternateRow] = []
        self.every = False
        super().__init__(desk)

    def content(self) -> tuple[list[str], list[list[GridCell]]]:
        """Headings, alternates, and the row in which the next one is named."""
        document, at, desk = self.desk.main.document, self.desk.main.at, self.desk
        if not isinstance(document, Assembly) or at is None:
            self.rows, self.columns = [], []
            return [], []
        self.rows, self.columns = grid.rows(document), grid.columns(document, self.every)
        groups = [c.group for c in self.columns]
        heads = [
            "\n".join((c.group if k == 0 or groups[k - 1] != c.group else "", f"{c.title} {c.unit}".strip()))
            for k, c in enumerate(self.columns)
        ]
        cells = []
        states = grid.states(desk.evaluation, [at._replace(alternate=r.key) for r in self.rows])
        for row in self.rows:
            there = at._replace(alternate=row.key)
            shown = there == at
            line = [
                GridCell(row.name, row.name, "name", NEW, row.key, shown=shown, state=states[there], depth=row.depth)
            ]
            for column in self.columns:
                c = column.shown(desk.family, desk.evaluation, there)
                own = bool(document.alternates) and c.kind in ("own", "computed", "switch") and bool(c.typed)
                left = isinstance(column, (grid.MakeUp, grid.Property))
                line.append(
                    GridCell(c.text, c.typed, c.kind, column.title, row.key, shown=shown, marked=own, left=left)
                )
            cells.append(line)
        hint = "＋ a name makes an alternate" if document.alternates else "＋ a name makes the first alternate"
        cells.append([GridCell(hint, "", "ghost", NEW), *(GridCell("", "", "ghost") for _ in self.columns)])
        return ["\nAlternate", *heads], cells

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
        what, old = self.columns[column - 1], self.cells[row][column].text
        where = f" of {of.name}" if of.key else ""
        label = f"{what.title}{where} {old} → {text}" if text else f"{what.title}{where} as the others"
        if isinstance(what, grid.MakeUp):  # joints find their places on what comes in
            return label, lambda f: places_found(what.change(f, of.key, text), key, what.key)
        return label, lambda f: what.change(f, of.key, text)

    def toggle(self, index: QModelIndex) -> None:
        """Turn a joint or rule on or off in one alternate."""
        turned = "off" if self.cells[index.row()][index.column()].text == "on" else "on"
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


class AlternatesView(CellView):
    """Cells with spreadsheet habits.

    Signals:
        row_deleted: Delete on the name of a row.
    """

    row_deleted = pyqtSignal()

    def __init__(self, model: AlternatesModel) -> None:
        super().__init__()
        self.of = model
        self.setModel(model)
        grid_view(self)
        self.setItemDelegate(FillDelegate(self))
        self.setSelectionMode(QAbstractItemView.SelectionMode.ContiguousSelection)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Copy and paste as spreadsheets do; Delete empties cells, or deletes the row on its name."""
        assert event is not None
        chosen = [(i.row(), i.column()) for i in self.selectedIndexes()]
        clipboard = QGuiApplication.clipboard()
        if event.matches(QKeySequence.StandardKey.Copy) and clipboard is not None:
            clipboard.setText(self.of.copied(chosen))
        elif event.matches(QKeySequence.StandardKey.Paste) and chosen and clipboard is not None:
            self.of.paste(*min(chosen), clipboard.text())
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and chosen:
            if any(column == 0 for _, column in chosen):
                self.row_deleted.emit()
            else:
                wide = max(c for _, c in chosen) - min(c for _, c in chosen)
                high = max(r for r, _ in chosen) - min(r for r, _ in chosen)
                self.of.paste(*min(chosen), "\n".join("\t" * wide for _ in range(high + 1)))
        else:
            super().keyPressEvent(event)


class AlternatesGrid(CellGrid):
    """The grid with its legend; the row one works in is the alternate that is shown."""

    def __init__(self, desk: Desk) -> None:
        self.desk, self.model = desk, AlternatesModel(desk)
        self.view = AlternatesView(self.model)
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
