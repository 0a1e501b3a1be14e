"""The canvas of a table: typed like a spreadsheet, with names, units and expressions."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QItemSelectionModel, QMimeData, QModelIndex, QPersistentModelIndex, Qt, QTimer
from PyQt6.QtGui import QColor, QGuiApplication, QKeyEvent, QKeySequence, QPainter
from PyQt6.QtWidgets import (
    QAbstractItemDelegate,
    QAbstractItemView,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.seek import SeekField
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import NameField
from architectonic.desktop.tables.cells import BESIDE, KIND, CellDelegate, GridCell
from architectonic.desktop.tables.gridlook import GridView, grid_view, paint_legend
from architectonic.desktop.tables.model import NEW, OWN_TEXT, TableModel
from architectonic.family import names, scopes, tables
from architectonic.family.scopes import Scope
from architectonic.family.tables import WORDS, Typed
from architectonic.quantities.units import UNITS
from architectonic.session.tables.checks import in_words
from architectonic.session.tables.spreadsheets import type_cells


class TableDelegate(CellDelegate):
    """Edits a value in a field that completes names and shows what the text comes to."""

    def __init__(self, view: TableView, model: TableModel) -> None:
        super().__init__(view)
        self.view, self.grid = view, model

    def createEditor(self, parent: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> QWidget:
        """Words in a plain field, units from the list, values with names."""
        cell: GridCell = index.data(KIND)
        self.view.typed_in = (self.grid.lines[index.row()].id, index.column())
        if cell.key == "unit":
            return NameField("", parent, lambda: list(UNITS), lambda _: "")
        if cell.key in WORDS or cell.kind == "group":
            return QLineEdit(parent)
        field = NameField("", parent, self._names, lambda text: self._value(cell, text))
        if cell.item:
            place = QPersistentModelIndex(index)
            field.textEdited.connect(lambda text: self._foresee(QModelIndex(place), text))
        return field

    def destroyEditor(self, editor: QWidget | None, index: QModelIndex) -> None:
        """Nothing is typed any more."""
        super().destroyEditor(editor, index)
        self.grid.desk.foresight.leave()

    def _foresee(self, index: QModelIndex, text: str) -> None:
        """Look at what a text that is being typed into a cell of a value would do."""
        grid, desk, text = self.grid, self.grid.desk, text.strip()
        line, (column, _), document = grid.lines[index.row()], grid.columns[index.column()], grid.document
        cell = grid.cell(index.row(), index.column())
        if document is None or line.kind != "row" or column in WORDS or not text or text == cell.expression:
            desk.foresight.leave()
            return
        key, typed = document.id, [Typed(line.id, column, text)]

        name = next(p.name for p in document.parameters if p.id == line.id)
        desk.foresight.typing(f"{name} {cell.text} → {text}", lambda f: type_cells(f, key, typed))

    def setEditorData(self, editor: QWidget | None, index: QModelIndex) -> None:
        """What was typed, all chosen."""
        if isinstance(editor, QLineEdit):
            editor.setText(str(index.data(Qt.ItemDataRole.EditRole) or ""))
            editor.selectAll()

    def _names(self) -> list[str]:
        document = self.grid.document
        return names.offered(self.grid.desk.family, document) if document is not None else []

    def _value(self, cell: GridCell, text: str) -> str:
        """What is being typed comes to, or what is wrong with it; for rows that are there."""
        document = self.grid.document
        p = next((p for p in document.parameters if p.id == cell.item), None) if document else None
        if p is None or document is None or not text:
            return ""
        desk, row = self.grid.desk, cell.key or scopes.configurations(self.grid.desk.family, document)[0][0]
        return in_words(desk.family, desk.settled, Scope(document.id, row), text, p.quantity, p.unit)


class TableView(GridView):
    """The grid itself, with the keys of a spreadsheet.

    Attributes:
        typed_in: the line and the column of the last cell that was typed into.
    """

    def __init__(self, model: TableModel) -> None:
        super().__init__()
        self.grid = model
        self.typed_in = ("", 0)
        self._next = QTimer(self, singleShot=True, interval=0, timeout=lambda: self.edit(self.currentIndex()))  # type: ignore[call-arg]
        self.setModel(model)
        grid_view(self)
        self.setItemDelegate(TableDelegate(self, model))
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setAccessibleName("Values")
        horizontal = self.horizontalHeader()
        assert horizontal is not None
        horizontal.setStretchLastSection(True)

    def rows(self) -> list[str]:
        """Ids of the chosen rows."""
        lines = self.grid.lines
        return list(dict.fromkeys(lines[r].id for r, _ in self.chosen() if lines[r].kind == "row"))

    def choose(self, row: str, column: int = 0) -> None:
        """Go to a row."""
        place = next((k for k, line in enumerate(self.grid.lines) if line.id == row), None)
        selection = self.selectionModel()
        if place is not None and selection is not None:
            index = self.grid.index(place, column)
            selection.setCurrentIndex(index, QItemSelectionModel.SelectionFlag.ClearAndSelect)
            self.scrollTo(index)

    # --- typing goes on -------------------------------------------------------------------------------

    def closeEditor(self, editor: QWidget | None, hint: QAbstractItemDelegate.EndEditHint) -> None:
        """Tab goes on to the next value of the row, then to a new row; Enter to the row below, then to a new row."""
        ends = QAbstractItemDelegate.EndEditHint
        super().closeEditor(editor, ends.NoHint)
        lines = self.grid.lines
        row = next((k for k, line in enumerate(lines) if line.id == self.typed_in[0]), len(lines) - 1)
        column = self.typed_in[1]
        if hint == ends.EditPreviousItem:
            self._go(self._values(row, before=column)[-1:])
        elif hint not in (ends.EditNextItem, ends.SubmitModelCache):
            return  # left, or the keyboard went elsewhere
        elif self.typed_in[0] == NEW:
            # its name is typed: its value comes; both are typed: it is a row now, and the next one begins
            self._go([self._new(1 if self.grid.waiting.get("name") else 0)])
        elif hint == ends.EditNextItem:
            self._go(self._values(row, after=column)[:1] or [self._new(0)])
        else:
            below = row + 1 < len(lines) and lines[row + 1].kind == "row"
            self._go([self.grid.index(row + 1, column)] if below else [self._new(0)], typing=False)

    def _values(self, row: int, after: int = -1, before: int = 10_000) -> list[QModelIndex]:
        """The cells of a row that hold values, between two columns."""
        columns = (k for k, (key, _) in enumerate(self.grid.columns) if key not in WORDS and after < k < before)
        return [self.grid.index(row, k) for k in columns]

    def _new(self, column: int) -> QModelIndex:
        """The name (0) or the value (1) of the line that waits for a new row."""
        row = next((k for k, line in enumerate(self.grid.lines) if line.kind == "new"), 0)
        return self.grid.index(row, column)

    def _go(self, places: Sequence[QModelIndex], typing: bool = True) -> None:
        """Go to a cell, and type there."""
        selection = self.selectionModel()
        if places and selection is not None:
            selection.setCurrentIndex(places[0], QItemSelectionModel.SelectionFlag.ClearAndSelect)
            self.scrollTo(places[0])
            if typing:  # once the field of before is gone
                self._next.start()

    def copy(self) -> None:
        """The chosen cells to the clipboard."""
        chosen = self.chosen()
        clipboard = QGuiApplication.clipboard()
        if chosen and clipboard is not None:
            rows, columns = sorted({r for r, _ in chosen}), sorted({c for _, c in chosen})
            figures, typed = self.grid.copied(rows, columns)
            data = QMimeData()
            data.setText(figures)
            data.setData(OWN_TEXT, typed.encode())
            clipboard.setMimeData(data)

    def paste(self) -> None:
        """The clipboard from the first chosen cell on."""
        clipboard = QGuiApplication.clipboard()
        data = clipboard.mimeData() if clipboard is not None else None
        if data is None:
            return
        own = data.hasFormat(OWN_TEXT)
        text = data.data(OWN_TEXT).data().decode() if own else data.text()
        chosen = self.chosen()
        row, column = chosen[0] if chosen else (len(self.grid.lines), 0)
        self.grid.paste(text, row, column, chosen, own)

    def clear_cells(self) -> None:
        """Emptied cells follow the others again."""
        cells = [
            tables.Typed(self.grid.lines[r].id, self.grid.columns[c][0], "")
            for r, c in self.chosen()
            if self.grid.lines[r].kind == "row" and self.grid.columns[c][0] not in ("", "name", "unit")
        ]
        if cells:
            self.grid.put(cells, f"{counted(len(cells), 'cell')} as the others")

    def fill_down(self) -> None:
        """What the first chosen row has, in the rows below it too."""
        chosen, document = self.chosen(), self.grid.document
        rows = self.rows()
        if len(rows) < 2 or document is None:
            return
        columns = list(dict.fromkeys(self.grid.columns[c][0] for _, c in chosen))
        self.grid.desk.apply(
            f"fill down {counted(len(rows) - 1, 'row')}", lambda f: tables.fill_down(f, document.id, rows, columns)
        )

    def move_rows(self, step: int) -> None:
        """The chosen rows one place up or down."""
        rows, document = self.rows(), self.grid.document
        if not rows or document is None:
            return
        order = [p.id for p in document.parameters if p.id not in rows]
        first = next(k for k, p in enumerate(document.parameters) if p.id in rows)
        at = max(0, min(len(order), first + step))
        before = order[at] if at < len(order) else ""
        if self.grid.desk.apply(
            f"move {counted(len(rows), 'row')}", lambda f: tables.move_rows(f, document.id, rows, before)
        ):
            self.grid.refresh()
            self.choose(rows[0])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Copy, paste, fill, clear, move; Enter types into the cell, and after typing goes one down."""
        assert event is not None
        alt = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        if event.matches(QKeySequence.StandardKey.Copy):
            self.copy()
        elif event.matches(QKeySequence.StandardKey.Paste):
            self.paste()
        elif event.key() == Qt.Key.Key_D and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.fill_down()
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.clear_cells()
        elif alt and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.move_rows(1 if event.key() == Qt.Key.Key_Down else -1)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.currentIndex().isValid():
            if self.state() != QAbstractItemView.State.EditingState:  # else it ends the typing
                self.edit(self.currentIndex())
        else:
            super().keyPressEvent(event)


class TableGrid(QWidget):
    """The grid, a field that seeks rows, and how values read."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("canvas")
        self.desk = desk
        self.model = TableModel(desk)
        self.view = TableView(self.model)
        self.seek = SeekField("seek rows", self._on_sought)
        self.counted = QLabel("")
        self.counted.setObjectName("soft")
        self._sized: tuple[str, ...] = ()
        self.model.modelReset.connect(self._on_reset)
        self.model.dataChanged.connect(soon(self, self._size_columns))
        line = QHBoxLayout()
        line.addWidget(self.counted)
        line.addStretch(1)
        line.addWidget(self.seek)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 10, 16, 34)
        layout.setSpacing(6)
        layout.addLayout(line)
        layout.addWidget(self.view)

    def _on_sought(self, text: str) -> None:
        self.model.sought = text
        self.model.refresh()

    def _on_reset(self) -> None:
        self.view.clearSpans()
        for k, line in enumerate(self.model.lines):
            if line.kind == "group":
                self.view.setSpan(k, 0, 1, len(self.model.columns))
        document = self.model.document
        total = len(document.parameters) if document else 0
        rows = sum(line.kind == "row" for line in self.model.lines)
        self.counted.setText(f"{rows} of {total} rows" if self.model.sought else f"{total} rows")
        self._size_columns()

    def _size_columns(self) -> None:
        """As wide as the first rows need; a column never shrinks while its table is shown."""
        kept = tuple(self.model.headers)
        metrics, soft = self.fontMetrics(), 0.92
        for k, header in enumerate(kept):
            widths = [metrics.horizontalAdvance(header) + 22]
            rows = [r for r, line in enumerate(self.model.lines[:60]) if line.kind == "row"]
            for cell in (self.model.cell(r, k) for r in rows):
                beside = int(metrics.horizontalAdvance(cell.beside) * soft) + BESIDE if cell.beside else 0
                widths.append(metrics.horizontalAdvance(cell.text) + beside + 24)
            least = {"Unit": 56, "Name": 120, "Note": 100}.get(header, 78)
            widths = [least] if header == "Note" else widths  # it takes the room that is left
            wide = max(least, min(max(widths), 320))
            self.view.setColumnWidth(k, max(wide, self.view.columnWidth(k)) if kept == self._sized else wide)
        self._sized = kept

    def showEvent(self, event: object) -> None:
        """Catch up with what changed meanwhile."""
        super().showEvent(event)  # type: ignore[arg-type]
        self.model.active = True
        self.model.refresh()

    def hideEvent(self, event: object) -> None:
        """Nobody looks: nothing is read."""
        super().hideEvent(event)  # type: ignore[arg-type]
        self.model.active = False

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Ctrl+F seeks."""
        if event is not None and event.matches(QKeySequence.StandardKey.Find):
            self.seek.begin()
            return
        super().keyPressEvent(event)

    def paintEvent(self, _: object) -> None:
        """The legend."""
        p = QPainter(self)
        p.fillRect(self.rect(), QColor(theme.PAPER))
        paint_legend(p, 26.0, self.height() - 14.0, "□ from a file    Enter types, Del empties")
