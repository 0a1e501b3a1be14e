"""What all grids look like: rows, headings, widths of columns, and the legend."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QKeySequence, QPainter, QPen
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView

from architectonic.desktop.kit import theme
from architectonic.desktop.tables.cellmodel import CellModel
from architectonic.desktop.tables.cells import INDENT, ROW_HEIGHT, TYPED, CellDelegate


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
