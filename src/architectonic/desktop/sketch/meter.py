"""What is left to hold in a sketch, in the caption of its pane; pointing at it shows how the sketch can still move."""

from __future__ import annotations

from PyQt6.QtCore import QEvent
from PyQt6.QtGui import QEnterEvent
from PyQt6.QtWidgets import QLabel

from architectonic.desktop.sketch.canvas import LayoutCanvas


class Meter(QLabel):
    """The words of a canvas about its sketch."""

    def __init__(self, canvas: LayoutCanvas) -> None:
        super().__init__()
        self.canvas = canvas
        self.setObjectName("meter")
        self.setToolTip("what can still move is shown while the pointer is here")
        canvas.state_told.connect(self.tell)

    def tell(self, words: str, colour: str) -> None:
        """Say it."""
        self.setText(words)
        self.setStyleSheet(f"color: {colour}; font-size: 12px; font-weight: 600; padding: 0 4px;")

    def enterEvent(self, event: QEnterEvent | None) -> None:
        """Show what can move."""
        super().enterEvent(event)
        self.canvas.show_motions(True)

    def leaveEvent(self, event: QEvent | None) -> None:
        """No more."""
        super().leaveEvent(event)
        self.canvas.show_motions(False)
