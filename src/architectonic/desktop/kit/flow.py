"""Buttons side by side, in a further row where they do not fit."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QSize
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget

MARGIN, GAP = 5, 2


class Flow(QLayout):
    """A layout of rows.

    Attributes:
        room: the width that a row may take, in pixels; margin: around all; gap: between two.
    """

    def __init__(self, parent: QWidget, margin: int = MARGIN, gap: int = GAP) -> None:
        super().__init__(parent)
        self.margin, self.gap = margin, gap
        self.room = 10_000
        self._items: list[QLayoutItem] = []

    def addItem(self, item: QLayoutItem | None) -> None:
        """One more at the end."""
        if item is not None:
            self._items.append(item)

    def count(self) -> int:
        """How many."""
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        """By place."""
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        """Take one out."""
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def sizeHint(self) -> QSize:
        """As wide as the longest row."""
        return self._run(None)

    def minimumSize(self) -> QSize:
        """The same."""
        return self._run(None)

    def setGeometry(self, rect: QRect) -> None:
        """Place the rows."""
        super().setGeometry(rect)
        self._run(rect)

    def _rows(self) -> list[list[QLayoutItem]]:
        """Items that are shown, as many in a row as fit."""
        rows: list[list[QLayoutItem]] = [[]]
        x = self.margin
        for item in (i for i in self._items if not i.isEmpty()):
            wide = item.sizeHint().width()
            if rows[-1] and x + wide + self.margin > self.room:
                rows.append([])
                x = self.margin
            rows[-1].append(item)
            x += wide + self.gap
        return rows

    def _run(self, rect: QRect | None) -> QSize:
        y, widest = self.margin, 0
        for row in self._rows():
            sizes = [item.sizeHint() for item in row]
            x, height = self.margin, max((s.height() for s in sizes), default=0)
            for item, size in zip(row, sizes, strict=True):
                if rect is not None:
                    top = rect.y() + y + (height - size.height()) // 2
                    item.setGeometry(QRect(rect.x() + x, top, size.width(), size.height()))
                x += size.width() + self.gap
            widest, y = max(widest, x), y + height + self.gap
        return QSize(widest - self.gap + self.margin, y - self.gap + self.margin)
