"""A list in a sentence: as wide as what it says now, its popup as wide as what it offers."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtWidgets import QComboBox

ROOM = 44
"""Pixels beside the words: margins and the arrow."""
LEAST = 64


class ListBox(QComboBox):
    """A combo box that does not take the room of its longest entry."""

    def __init__(self) -> None:
        super().__init__()
        self.currentIndexChanged.connect(lambda _: self.updateGeometry())

    def sizeHint(self) -> QSize:
        """Of the current entry."""
        wide = self.fontMetrics().horizontalAdvance(self.currentText()) + ROOM
        return QSize(max(LEAST, wide), super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        """The same: the words are never cut."""
        return self.sizeHint()

    def showPopup(self) -> None:
        """Every entry can be read."""
        view = self.view()
        if view is not None:
            view.setMinimumWidth(view.sizeHintForColumn(0) + ROOM // 2)
        super().showPopup()
