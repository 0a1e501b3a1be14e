"""One figure over all rows of a document, as it is and as a mend would make it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from architectonic.check.cells import CheckCell
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.signs import paint_state
from architectonic.desktop.ranges.matrixgrid import MARKS, WORDS

LINE = 22
Rows = list[tuple[str, CheckCell]]


class RowFigures(QWidget):
    """A bead for each row on a line, and the limit of each; beads of what would be are rings."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: Rows = []
        self.after: Rows = []
        self.current = -1
        self.setMinimumWidth(250)

    def show_rows(self, rows: Rows, current: int, after: Rows | None = None) -> None:
        """Those that have figures.

        Args:
            after: the same rows as they would be.
        """
        self.rows, self.current, self.after = rows, current, after or []
        self.setMinimumHeight(LINE * len(rows) + 10)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Names at the left, figures at the right."""
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        figures = [v for _, c in (*self.rows, *self.after) for v in (c.figure, c.limit) if v is not None]
        low, high = (min(figures), max(figures)) if figures else (0.0, 1.0)
        room = (high - low) or abs(high) or 1.0
        low, high = low - 0.08 * room, high + 0.08 * room
        left, right = 110.0, self.width() - (132.0 if self.after else 92.0)

        def x(value: float) -> float:
            return left + (value - low) / (high - low) * (right - left)

        for k, (name, cell) in enumerate(self.rows):
            y = LINE * k + LINE / 2 + 4
            after = self.after[k][1] if k < len(self.after) else None
            p.setFont(theme.font(11, 600 if k == self.current else 400))
            p.setPen(QColor(theme.INK))
            text = p.fontMetrics().elidedText(name, Qt.TextElideMode.ElideMiddle, int(left) - 10)
            p.drawText(
                QRectF(0, y - 10, left - 8, 20), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, text
            )
            p.drawText(
                QRectF(right + 8, y - 10, self.width() - right - 8, 20),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                _told(cell, after),
            )
            if cell.figure is None:
                paint_state(p, MARKS[cell.state], left + 8, y)
                continue
            p.setPen(QPen(QColor(theme.HAIR), 3))
            p.drawLine(QPointF(left, y), QPointF(right, y))
            for limit, ink in ((cell.limit, theme.INK), (after.limit if after is not None else None, theme.PLUM)):
                if limit is not None:
                    p.setPen(QPen(QColor(ink), 2))
                    p.drawLine(QPointF(x(limit), y - 6), QPointF(x(limit), y + 6))
            paint_state(p, MARKS["holds" if cell.state == "near" else cell.state], x(cell.figure), y)
            if after is not None and after.figure is not None and after.figure != cell.figure:
                p.setPen(QPen(QColor(theme.PLUM), 2))
                p.setBrush(QColor(theme.FIELD))
                p.drawEllipse(QPointF(x(after.figure), y), 5, 5)


def _told(cell: CheckCell, after: CheckCell | None) -> str:
    """A figure in words: `335 mm`, `335 → 330 mm`."""
    if cell.figure is None:
        return WORDS[cell.state]
    now = f"{cell.figure:.4g} {cell.unit}".strip()
    if after is None or after.figure is None or after.figure == cell.figure:
        return now
    return f"{cell.figure:.4g} → {after.figure:.4g} {after.unit}".strip()
