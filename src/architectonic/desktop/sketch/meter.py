"""What is left to hold in a sketch, in the caption of its pane; pointing at it shows how the sketch can still move."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QSize
from PyQt6.QtGui import QEnterEvent, QFontMetrics, QResizeEvent
from PyQt6.QtWidgets import QLabel

from architectonic.desktop.kit import theme
from architectonic.desktop.sketch.canvas import LayoutCanvas

PADDING = 4
"""Pixels at both sides of the words."""


class Meter(QLabel):
    """The words of a canvas about its sketch."""

    def __init__(self, canvas: LayoutCanvas) -> None:
        super().__init__()
        self.canvas = canvas
        self.words = self.brief = ""
        self.setObjectName("meter")
        canvas.state_told.connect(self.tell)

    def tell(self, words: str, brief: str, colour: str) -> None:
        """Say it."""
        self.words, self.brief = words, brief
        self.setStyleSheet(f"color: {colour}; font-size: 12px; font-weight: 600; padding: 0 {PADDING}px;")
        self._fit()
        self.updateGeometry()

    def _fit(self) -> None:
        """As much as there is room for: with the name of the sketch, without it, or a word or two."""
        room = self.width() - 2 * PADDING
        state = self.words[self.words.rfind(": ") + 2 :] if ": " in self.words else self.words
        fits = (w for w in (self.words, state, self.brief) if self._wide(w) <= room)
        self.setText(next(fits, ""))
        self.setToolTip(f"{self.words}; what can still move is shown while the pointer is here")

    def _wide(self, words: str) -> int:
        """Pixels of words as the style sheet has them."""
        return QFontMetrics(theme.font(12, 600)).horizontalAdvance(words)

    def sizeHint(self) -> QSize:
        """Room for all the words."""
        return QSize(self._wide(self.words) + 2 * PADDING + 6, super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        """It gives way to the buttons beside it."""
        return QSize(self._wide(self.brief) + 2 * PADDING + 6, super().sizeHint().height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Say as much as there is room for."""
        super().resizeEvent(event)
        self._fit()

    def enterEvent(self, event: QEnterEvent | None) -> None:
        """Show what can move."""
        super().enterEvent(event)
        self.canvas.show_motions(True)

    def leaveEvent(self, event: QEvent | None) -> None:
        """No more."""
        super().leaveEvent(event)
        self.canvas.show_motions(False)
