"""Cards over the canvas: one look, Enter keeps and Esc leaves, wherever the keyboard is."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLayout, QWidget

LOOK = "QFrame#card { background: #FDFCF9; border: 1px solid #CFC8BA; border-radius: 6px; }"


class Card(QFrame):
    """A card that asks for something and is kept or left; hidden until it starts."""

    def __init__(self, parent: QWidget, more: str = "") -> None:
        super().__init__(parent)
        self.setObjectName("card")
        self.setStyleSheet(LOOK + more)
        self.hide()

    def keep(self) -> None:
        """Carry out what the card says."""
        raise NotImplementedError

    def leave(self) -> None:
        """Close; everything is as it was."""
        self.hide()

    def answer(self, event: QKeyEvent | None) -> bool:
        """Take a key as the answer; False when it is none, or the card is not open (a field may have kept it already)."""
        if event is None or not self.isVisible():
            return False
        if event.key() == Qt.Key.Key_Escape:
            self.leave()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.keep()
        else:
            return False
        return True

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter keeps, Esc leaves."""
        if not self.answer(event):
            super().keyPressEvent(event)


def clear(layout: QLayout) -> None:
    """Take every widget out of a layout and let it go."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()
