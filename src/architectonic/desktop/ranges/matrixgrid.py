"""The check matrix as a grid: marks by shape and colour, upright headings, margins that count."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QStyledItemDelegate, QStyleOptionViewItem, QTableView

from architectonic.check.cells import CheckCell, State
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.signs import paint_state
from architectonic.session.ranges.matrix import Matrix

ROW, COLUMN, COUNTED = 26, 36, 34
HEAD, GROUPS = 168, 40
MARKS: dict[State, str] = {
    "holds": "current", "near": "near", "out of rule": "out of rule", "failing": "failing", "updating": "updating", "off": "off",
}  # fmt: skip
COUNTS: tuple[State, ...] = ("holds", "near", "out of rule", "failing")
WORDS: dict[State, str] = {
    "holds": "holds", "near": "near its limit", "out of rule": "out of rule", "failing": "cannot be worked out",
    "updating": "being worked out", "off": "not asked here",
}  # fmt: skip
CELL = Qt.ItemDataRole.UserRole


class MatrixModel(QAbstractTableModel):
    """Rows and asks, then how many of each row are in each state; the last row counts what does not hold."""

    def __init__(self) -> None:
        super().__init__()
        self.matrix: Matrix | None = None

    def show(self, matrix: Matrix | None) -> None:
        """Follow an evaluation; the shape stays where it can."""
        old, self.matrix = self.matrix, matrix
        same = old is not None and matrix is not None and (old.rows, old.columns) == (matrix.rows, matrix.columns)
        if same and self.rowCount():
            self.dataChanged.emit(self.index(0, 0), self.index(self.rowCount() - 1, self.columnCount() - 1))
            return
        self.beginResetModel()
        self.endResetModel()

    @property
    def asked(self) -> int:
        """Columns before those that count."""
        return len(self.matrix.columns) if self.matrix is not None else 0

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        """Rows, and that of the counts."""
        return 0 if parent.isValid() or self.matrix is None else len(self.matrix.rows) + 1

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        """Asks, and the counts."""
        return 0 if parent.isValid() or self.matrix is None else self.asked + len(COUNTS)

    def cell(self, index: QModelIndex) -> CheckCell | None:
        """What comes of an ask in a row; None in the margins."""
        inside = self.matrix is not None and index.isValid() and index.column() < self.asked
        if not inside or self.matrix is None or index.row() >= len(self.matrix.rows):
            return None
        return self.matrix.cell(index.row(), index.column())

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        """The cell for the delegate, and in words what a pointer rests on."""
        if self.matrix is None or not index.isValid():
            return None
        found = self.cell(index)
        if role == CELL:
            return found
        if found is not None:
            if role == Qt.ItemDataRole.ToolTipRole:
                told = f": {found.told}" if found.told else ""
                return f"{self.matrix.rows[index.row()].name}, {found.ask.name}: {WORDS[found.state]}{told}"
            return WORDS[found.state] if role == Qt.ItemDataRole.AccessibleTextRole else None
        if role == Qt.ItemDataRole.DisplayRole:
            count = self._count(index.row(), index.column())
            return str(count) if count else "–"
        return None

    def _count(self, row: int, column: int) -> int:
        assert self.matrix is not None
        last = row >= len(self.matrix.rows)
        if column < self.asked:
            return self.matrix.in_column(column)
        state = COUNTS[column - self.asked]
        rows = range(len(self.matrix.rows)) if last else (row,)
        return sum(self.matrix.in_row(r)[state] for r in rows)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        """Names of rows; the headings of columns are painted upright."""
        if self.matrix is None or role != Qt.ItemDataRole.DisplayRole:
            return None
        if orientation == Qt.Orientation.Horizontal:
            return ""
        if section >= len(self.matrix.rows):
            return f"Do not hold, of {len(self.matrix.rows)}"
        row = self.matrix.rows[section]
        return f"{'     ' * row.depth}{'└ ' if row.depth else ''}{row.name}"


class UprightHeader(QHeaderView):
    """Headings that are read from below, under the alternate and the group that they belong to."""

    def __init__(self, model: MatrixModel, view: QTableView) -> None:
        super().__init__(Qt.Orientation.Horizontal, view)
        self.of, self.view = model, view
        self.setSectionsClickable(False)

    def sizeHint(self) -> QSize:
        """As high as the longest heading may be."""
        return QSize(super().sizeHint().width(), HEAD + GROUPS)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """All headings."""
        p, port, matrix = QPainter(self.viewport()), self.viewport(), self.of.matrix
        assert port is not None
        p.fillRect(port.rect(), QColor(theme.PAPER))
        if matrix is None:
            return
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = self.view.currentIndex().column()
        high = self.height()
        heading = group = ""
        for k, column in enumerate(matrix.columns):
            x, wide = self.sectionViewportPosition(k), self.sectionSize(k)
            if k == chosen:
                p.fillRect(QRectF(x, GROUPS, wide, high - GROUPS), QColor(theme.PLUM_TINT))
            if (column.heading, column.ask.group) != (heading, group):
                p.setPen(QPen(QColor(theme.EDGE if column.heading != heading else theme.HAIR), 1))
                p.drawLine(x, 0 if column.heading != heading else 20, x, high)
                if column.heading != heading:
                    self._words(p, x + 4, 0, column.heading, 600)
                self._words(p, x + 3, 18, column.ask.group, 400)
                heading, group = column.heading, column.ask.group
            p.save()
            p.translate(x + wide / 2 + 4, high - 8)
            p.rotate(-90)
            p.setFont(theme.font(11, 600 if k == chosen else 400))
            p.setPen(QColor(theme.PLUM if k == chosen else theme.INK))
            text, limit = matrix.title(column), column.ask.limit if column.ask.group == "Rules" else ""
            if limit and p.fontMetrics().horizontalAdvance(f"{text} {limit}") < HEAD - 12:
                text = f"{text} {limit}"
            text = p.fontMetrics().elidedText(text, Qt.TextElideMode.ElideMiddle, HEAD - 12)
            p.drawText(0, 0, text)
            p.restore()
        x = self.sectionViewportPosition(self.of.asked)
        p.setPen(QPen(QColor(theme.EDGE), 1))
        p.drawLine(x, 0, x, high)
        self._words(p, x + 6, 0, "Cells of the row", 400)
        for k, state in enumerate(COUNTS):
            middle = self.sectionViewportPosition(self.of.asked + k) + COUNTED / 2
            paint_state(p, MARKS[state], middle, high - 14)

    def _words(self, p: QPainter, x: float, y: float, text: str, weight: int) -> None:
        p.setFont(theme.font(10, weight))
        p.setPen(QColor(theme.INK if weight > 400 else theme.SOFT))
        p.drawText(QRectF(x, y, 180, 20), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, text)


class MarkDelegate(QStyledItemDelegate):
    """Paints the mark of a cell, or a count."""

    def __init__(self, model: MatrixModel, view: QTableView) -> None:
        super().__init__(view)
        self.of, self.view = model, view

    def paint(self, p: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """One cell."""
        if p is None or self.of.matrix is None:
            return
        r, cell, now = QRectF(option.rect), index.data(CELL), self.view.currentIndex()
        p.save()
        if index.row() == now.row() or (cell is not None and index.column() == now.column()):
            p.fillRect(r, QColor(theme.PLUM_TINT))
        columns = self.of.matrix.columns
        if 0 < index.column() <= len(columns):
            before = columns[index.column() - 1]
            here = columns[index.column()] if index.column() < len(columns) else None
            if here is None or (before.heading, before.ask.group) != (here.heading, here.ask.group):
                p.setPen(QPen(QColor(theme.EDGE if here is None or before.heading != here.heading else theme.HAIR), 1))
                p.drawLine(r.topLeft(), r.bottomLeft())
        p.setPen(QPen(QColor(theme.HAIR), 1))
        p.drawLine(r.bottomLeft(), r.bottomRight())
        if cell is not None:
            paint_state(p, MARKS[cell.state], r.center().x(), r.center().y())
        else:
            self._count(p, r, index)
        if index == now and cell is not None:
            p.setPen(QPen(QColor(theme.PLUM), 2))
            p.drawRect(r.adjusted(1, 1, -1, -1))
        p.restore()

    def _count(self, p: QPainter, r: QRectF, index: QModelIndex) -> None:
        text = str(index.data(Qt.ItemDataRole.DisplayRole))
        state = COUNTS[index.column() - self.of.asked] if index.column() >= self.of.asked else "out of rule"
        bad = text != "–" and state in ("out of rule", "failing")
        p.setFont(theme.font(12, 600 if bad else 400))
        ink = (
            theme.RED_TEXT
            if bad and state == "failing"
            else theme.OCHRE
            if bad
            else theme.SOFT
            if text == "–"
            else theme.INK
        )
        p.setPen(QColor(ink))
        p.drawText(r, Qt.AlignmentFlag.AlignCenter, text)


class MatrixView(QTableView):
    """The matrix; arrows move, Enter goes where a cell leads, N to the next that does not hold.

    Attributes:
        first: is offered every key first, and says whether it took it.

    Signals:
        opened: Enter or a double-click on the current cell.
    """

    opened = pyqtSignal()
    first: Callable[[Qt.Key], bool] | None = None

    def __init__(self, model: MatrixModel) -> None:
        super().__init__()
        self.of = model
        self.setModel(model)
        self.setHorizontalHeader(UprightHeader(model, self))
        self.setItemDelegate(MarkDelegate(model, self))
        self.setShowGrid(False)
        self.setSelectionMode(QAbstractItemView.SelectionMode.NoSelection)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setAccessibleName("Check matrix")
        self.setCornerButtonEnabled(False)
        self.setStyleSheet(f"QTableCornerButton::section {{ background: {theme.PAPER}; border: none; }}")
        horizontal, vertical = self.horizontalHeader(), self.verticalHeader()
        assert horizontal is not None
        horizontal.setMinimumSectionSize(24)
        assert vertical is not None
        vertical.setDefaultSectionSize(ROW)
        vertical.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        vertical.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        vertical.setMinimumWidth(132)
        model.modelReset.connect(self._size)
        self.doubleClicked.connect(lambda _: self.opened.emit())

    def _size(self) -> None:
        for k in range(self.of.columnCount()):
            self.setColumnWidth(k, COLUMN if k < self.of.asked else COUNTED)

    def currentChanged(self, current: QModelIndex, previous: QModelIndex) -> None:
        """The row, the column and its heading are lit."""
        super().currentChanged(current, previous)
        for widget in (self.viewport(), self.horizontalHeader()):
            if widget is not None:
                widget.update()
        header = self.horizontalHeader()
        if header is not None and (port := header.viewport()) is not None:
            port.update()

    def next_bad(self) -> bool:
        """Go to the next cell that does not hold, row by row and round; whether there is one."""
        matrix, now = self.of.matrix, self.currentIndex()
        places = sorted(matrix.bad()) if matrix is not None else []
        if not places:
            return False
        here = (now.row(), now.column())
        row, column = next((p for p in places if p > here), places[0])
        self.setCurrentIndex(self.of.index(row, column))
        return True

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """N for the next; Enter opens."""
        if event is not None and not event.modifiers() and self.first is not None and self.first(Qt.Key(event.key())):
            return
        if event is not None and event.key() == Qt.Key.Key_N and not event.modifiers():
            self.next_bad()
        elif event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit()
        else:
            super().keyPressEvent(event)
