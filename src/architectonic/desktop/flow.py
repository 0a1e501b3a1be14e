"""Buttons side by side, in a further row where they do not fit."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QSize
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget

MARGIN, GAP = 5, 2


class Flow(QLayout):
    """A layout of rows.

    Attributes:
        room: the width that a row may take, in pixels.
    """

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
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

    def _run(self, rect: QRect | None) -> QSize:
        x = y = MARGIN
        height = widest = 0
        for item in self._items:
            size = item.sizeHint()
            if x > MARGIN and x + size.width() + MARGIN > self.room:
                x, y, height = MARGIN, y + height + GAP, 0
            if rect is not None:
                item.setGeometry(QRect(rect.x() + x, rect.y() + y, size.width(), size.height()))
            x += size.width() + GAP
            height, widest = max(height, size.height()), max(widest, x)
        return QSize(widest - GAP + MARGIN, y + height + MARGIN)
