"""What all grids look like: rows, headings, widths of columns, and the legend."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QModelIndex, QPointF, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QKeySequence, QPainter, QPen
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView, QVBoxLayout, QWidget

from architectonic.desktop.kit import theme
from architectonic.desktop.tables.cellmodel import CellModel
from architectonic.desktop.tables.cells import INDENT, KIND, ROW_HEIGHT, TYPED, CellDelegate


class CellView(QTableView):
    """A grid with the habits of spreadsheets."""

    def event(self, event: QEvent | None) -> bool:
        """Copy and paste belong to the cells here, whatever they mean to the rest of the window."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            if event.matches(QKeySequence.StandardKey.Copy) or event.matches(QKeySequence.StandardKey.Paste):
                event.accept()
                return True
        return super().event(event)


def grid_view(view: QTableView) -> None:
    """What all grids have in common."""
    view.setItemDelegate(CellDelegate(view))
    view.setShowGrid(False)
    view.setEditTriggers(
        QAbstractItemView.EditTrigger.AnyKeyPressed
        | QAbstractItemView.EditTrigger.DoubleClicked
        | QAbstractItemView.EditTrigger.EditKeyPressed
    )
    vertical, horizontal = view.verticalHeader(), view.horizontalHeader()
    assert vertical is not None and horizontal is not None
    vertical.hide()
    vertical.setDefaultSectionSize(ROW_HEIGHT)
    horizontal.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
    horizontal.setHighlightSections(False)


def paint_legend(p: QPainter, x: float, y: float, last: str) -> None:
    """How the ways of writing a value read, in one line."""
    for sample, italic, word, dotted in (
        ("16.0", True, "common value or its parent's", False),
        ("16.0", False, "its own", False),
        ("16.0", False, "computed", True),
    ):
        p.setFont(theme.font(11, 400, italic))
        p.setPen(QColor(theme.SOFT if italic else theme.INK))
        p.drawText(QPointF(x, y), sample)
        width = p.fontMetrics().horizontalAdvance(sample)
        if dotted:
            p.setPen(QPen(QColor(theme.SOFT), 1, Qt.PenStyle.DotLine))
            p.drawLine(QPointF(x, y + 3), QPointF(x + width, y + 3))
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.SOFT))
        p.drawText(QPointF(x + width + 7, y), word)
        x += width + 7 + p.fontMetrics().horizontalAdvance(word) + 24
    p.drawText(QPointF(x, y), last)


def size_columns(view: QTableView, model: CellModel, grow: bool) -> None:
    """Columns as wide as what stands in them.

    Args:
        grow: they may only become wider: nothing moves under the pointer while values change.
    """
    metrics = view.fontMetrics()
    for k, header in enumerate(model.headers):
        texts = [
            (header, 0),
            *((row[k].text, INDENT * row[k].depth + 16 * bool(row[k].state)) for row in model.cells[:50]),
        ]
        width = (
            max((metrics.horizontalAdvance(part) + more for t, more in texts for part in t.split("\n")), default=60)
            + 22
        )
        value = any(row[k].kind in TYPED for row in model.cells)
        view.setColumnWidth(k, max(74 if value else 56, min(width, 260), view.columnWidth(k) if grow else 0))


class CellGrid(QWidget):
    """A view of cells over a legend; while nobody looks nothing is read.

    Args:
        margins: around the view, the legend below it; last: the last words of the legend.
    """

    def __init__(self, model: CellModel, view: QTableView, margins: tuple[int, int, int, int], last: str) -> None:
        super().__init__()
        self.setObjectName("canvas")
        self._model, self._last, self._foot = model, last, margins[3]
        view.clicked.connect(self._on_clicked)
        model.modelReset.connect(lambda: size_columns(view, model, False))
        model.dataChanged.connect(lambda: size_columns(view, model, True))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(*margins)
        layout.addWidget(view)

    def showEvent(self, event: object) -> None:
        """Catch up with what changed meanwhile."""
        super().showEvent(event)  # type: ignore[arg-type]
        self._model.active = True
        self._model.refresh()

    def hideEvent(self, event: object) -> None:
        """Nobody looks: nothing is read."""
        super().hideEvent(event)  # type: ignore[arg-type]
        self._model.active = False

    def _on_clicked(self, index: QModelIndex) -> None:
        if index.data(KIND).kind in ("switch", "inherited switch"):
            self._model.toggle(index)

    def paintEvent(self, _: object) -> None:
        """The legend: how the ways of writing a value read."""
        p = QPainter(self)
        p.fillRect(self.rect(), QColor(theme.PAPER))
        paint_legend(p, 26.0, self.height() - self._foot / 2 + 4, self._last)
