"""The grid of a range: typed into with names and units, its first columns staying while the others are scrolled."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QAbstractItemModel, QEvent, QModelIndex, QPersistentModelIndex, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QAbstractItemView, QCompleter, QLineEdit, QStyleOptionViewItem, QWidget

from architectonic.desktop.kit import theme
from architectonic.desktop.pane.namefield import NameField
from architectonic.desktop.ranges.model import RangeModel
from architectonic.desktop.tables.cells import KIND, SWITCHES, CellDelegate, GridCell
from architectonic.desktop.tables.gridlook import CellView, grid_view
from architectonic.session.tables.checks import in_words
from architectonic.session.tables.columns import SwitchColumn, ValueColumn


class RangeDelegate(CellDelegate):
    """Edits values and conditions in a field that completes names and shows what the text comes to; words in a plain one."""

    def __init__(self, view: QAbstractItemView, model: RangeModel) -> None:
        super().__init__(view)
        self.of, self._view = model, view
        self._refused: tuple[QPersistentModelIndex, str] | None = None

    def createEditor(self, parent: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> QWidget | None:
        """The field that a cell is typed into."""
        cell: GridCell = index.data(KIND)
        column = self.of.columns[index.column() - 1] if index.column() else None
        if not isinstance(column, (ValueColumn, SwitchColumn)):
            made = QLineEdit(parent)
            made.setPlaceholderText(cell.text if not cell.expression and cell.kind != "ghost" else "")
            if column is not None and column.choices(self.of.desk.family):
                offer = QCompleter(column.choices(self.of.desk.family), made)
                offer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
                offer.setFilterMode(Qt.MatchFlag.MatchContains)
                made.setCompleter(offer)
            return made
        place = QPersistentModelIndex(index)
        row = index.row()
        extra = ["on", "off"] if isinstance(column, SwitchColumn) else []
        field = NameField(
            "", parent, lambda: [*extra, *self.of.offered(row)], lambda text: self._value(column, row, text)
        )
        field.setPlaceholderText(cell.told or cell.text)
        field.textEdited.connect(lambda text: self._foresee(place, text))
        return field

    def _value(self, column: ValueColumn | SwitchColumn, row: int, text: str) -> str:
        """What is being typed comes to, or what is wrong with it."""
        if not isinstance(column, ValueColumn) or row >= len(self.of.rows) or not text:
            return ""
        desk, at = self.of.desk, self.of.at(self.of.rows[row].key)
        return in_words(desk.family, desk.settled, at, text, column.quantity, column.unit, column.sketch)

    def _foresee(self, place: QPersistentModelIndex, text: str) -> None:
        index = QModelIndex(place)
        if index.isValid():
            self.of.foresee(index.row(), index.column(), text.strip())

    def destroyEditor(self, editor: QWidget | None, index: QModelIndex) -> None:
        """Nothing is typed any more."""
        super().destroyEditor(editor, index)
        self.of.desk.foresight.leave()

    def setEditorData(self, editor: QWidget | None, index: QModelIndex) -> None:
        """What was typed, all chosen."""
        if not isinstance(editor, QLineEdit):
            return
        refused, self._refused = self._refused, None
        if refused is not None and refused[0] == QPersistentModelIndex(index):
            editor.setText(refused[1])
            return
        editor.setText(str(index.data(Qt.ItemDataRole.EditRole) or ""))
        editor.selectAll()

    def setModelData(self, editor: QWidget | None, model: QAbstractItemModel | None, index: QModelIndex) -> None:
        """Type it; what cannot be stays in its field, to be put right."""
        if not isinstance(editor, QLineEdit) or model is None:
            return
        text, place = editor.text(), QPersistentModelIndex(index)
        if text.strip() != str(index.data(Qt.ItemDataRole.EditRole) or "") and not model.setData(index, text):
            self._refused = place, text
            again = partial(self._again, place)
            QTimer(self, singleShot=True, interval=0, timeout=again).start()  # type: ignore[call-arg]

    def _again(self, place: QPersistentModelIndex) -> None:
        if place.isValid() and self._refused is not None:
            self._view.setCurrentIndex(QModelIndex(place))
            self._view.edit(QModelIndex(place))


class RangeView(CellView):
    """Cells of a range; a second view over its left edge shows the columns that stay.

    Signals:
        row_moved (int): Alt with an arrow: one up or down.
    """

    row_moved = pyqtSignal(int)

    def __init__(self, model: RangeModel, over: RangeView | None = None) -> None:
        super().__init__(model)
        self.of = model
        grid_view(self)
        self.setItemDelegate(RangeDelegate(self, model))
        self.setSelectionMode(QAbstractItemView.SelectionMode.ContiguousSelection)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setAccessibleName("Configurations")
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.NoContextMenu)
        self.left: RangeView | None = None
        if over is not None:
            self._lie_over(over)
        else:
            self.left = RangeView(model, self)
            self.left.row_deleted.connect(self.row_deleted)

    def _lie_over(self, over: RangeView) -> None:
        """Be the part of another view that stays."""
        self.setParent(over)
        selection = over.selectionModel()
        assert selection is not None
        self.setSelectionModel(selection)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setStyleSheet(f"QTableView {{ border: none; border-right: 1px solid {theme.EDGE}; }}")
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        for a, b in ((self, over), (over, self)):
            bar, other = a.verticalScrollBar(), b.verticalScrollBar()
            assert bar is not None and other is not None
            bar.valueChanged.connect(other.setValue)
        head = over.horizontalHeader()
        assert head is not None
        head.sectionResized.connect(lambda *_: over.lay_left())

    @property
    def fixed(self) -> int:
        """How many columns stay."""
        document = self.of.document
        return 1 + (document.columns.fixed if document is not None else 0)

    def lay_left(self) -> None:
        """The columns that stay, as wide as below them."""
        if self.left is None:
            return
        head, count = self.horizontalHeader(), len(self.of.headers)
        assert head is not None
        wide = 0
        for k in range(count):
            stays = k < self.fixed
            self.left.setColumnHidden(k, not stays)
            if stays:
                self.left.setColumnWidth(k, self.columnWidth(k))
                wide += self.columnWidth(k)
        left_head, port = self.left.horizontalHeader(), self.viewport()
        assert left_head is not None and port is not None
        left_head.setFixedHeight(head.height())
        frame = self.frameWidth()
        self.left.setGeometry(frame, frame, wide + 1, head.height() + port.height())
        self.left.setVisible(bool(count))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The part that stays is as high as this."""
        super().resizeEvent(event)
        self.lay_left()

    def scrollTo(
        self, index: QModelIndex, hint: QAbstractItemView.ScrollHint = QAbstractItemView.ScrollHint.EnsureVisible
    ) -> None:
        """Nothing that is gone to lies under the columns that stay."""
        if self.left is not None and index.column() < self.fixed:
            column = next((c for c in range(self.fixed, len(self.of.headers))), index.column())
            bar = self.horizontalScrollBar()
            kept = bar.value() if bar is not None else 0
            super().scrollTo(self.of.index(index.row(), column), hint)
            if bar is not None:
                bar.setValue(kept)
            return
        super().scrollTo(index, hint)
        bar = self.horizontalScrollBar()
        if self.left is not None and bar is not None:
            hidden = self.left.width() - self.visualRect(index).left()
            if hidden > 0:
                bar.setValue(bar.value() - hidden)

    def edit(self, index: QModelIndex, trigger: object = None, event: QEvent | None = None) -> bool:  # type: ignore[override]
        """A cell that stays is typed into where it is seen."""
        if self.left is not None and index.isValid() and index.column() < self.fixed:
            if trigger is None:
                return bool(self.left.edit(index))
            return self.left.edit(index, trigger, event)
        return bool(super().edit(index)) if trigger is None else bool(super().edit(index, trigger, event))  # type: ignore[call-overload]

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space turns a switch; F2 and what is typed are for the cell."""
        assert event is not None
        index = self.currentIndex()
        if event.key() == Qt.Key.Key_Space and index.isValid() and index.data(KIND).kind in SWITCHES:
            self.of.toggle(index)
            return
        if event.modifiers() & Qt.KeyboardModifier.AltModifier and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.row_moved.emit(1 if event.key() == Qt.Key.Key_Down else -1)
            return
        super().keyPressEvent(event)

    @property
    def row(self) -> str:
        """Id of the configuration in whose row the keyboard is, "" for none."""
        at = self.currentIndex().row()
        return self.of.rows[at].key if 0 <= at < len(self.of.rows) else ""

    def chosen_rows(self) -> list[str]:
        """Ids of the configurations of the chosen cells."""
        return [self.of.rows[r].key for r in dict.fromkeys(r for r, _ in self.chosen()) if r < len(self.of.rows)]

    def choose(self, key: str, column: int = 0) -> None:
        """Go to a row."""
        place = next((k for k, r in enumerate(self.of.rows) if r.key == key), None)
        if place is not None:
            self.setCurrentIndex(self.of.index(place, column))

    def type_new(self) -> None:
        """Type the name of a new row."""
        index = self.of.index(len(self.of.rows), 0)
        self.setCurrentIndex(index)
        QTimer(self, singleShot=True, interval=0, timeout=lambda: self.edit(index)).start()  # type: ignore[call-arg]
