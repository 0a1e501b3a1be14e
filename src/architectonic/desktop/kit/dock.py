"""Where cards are docked: below the canvases, which they push up; nothing of a picture is ever covered."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QFrame, QVBoxLayout, QWidget

from architectonic.desktop.kit.cards import Card

LINE = 60
"""Pixels that a card of one line takes, or by which one grows that gets another line: canvases keep still."""


class Dock(QFrame):
    """Cards, one under the other; without height while none is open.

    Signals:
        crowded: a list has opened, which takes much of the height.
    """

    crowded = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("dock")
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(0)

    def hold(self, card: Card) -> None:
        """A card has its place here."""
        self._column.addWidget(card)

    def has_room(self) -> bool:
        """Whether no list is open."""
        return self.height() <= 2 * LINE

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Open cards wrap for the room there is."""
        super().resizeEvent(event)
        if self.height() > 2 * LINE:
            self.crowded.emit()
        if event is not None and event.size().width() != event.oldSize().width():
            for card in self.findChildren(Card):
                if card.isVisible():
                    card.place()
