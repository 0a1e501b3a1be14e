"""A field that seeks in what stands below it, a moment after something is typed."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QLineEdit

RESTS = 150
"""Milliseconds after the last key."""


class SeekField(QLineEdit):
    """Words to seek; Ctrl+F of what it stands over begins.

    Args:
        hint: what is sought, in words; sought: called with the words.
    """

    def __init__(self, hint: str, sought: Callable[[str], object]) -> None:
        super().__init__()
        self.setPlaceholderText(f"{hint}   Ctrl F")
        self.setFixedWidth(190)
        self.setClearButtonEnabled(True)
        later = QTimer(self, singleShot=True, interval=RESTS, timeout=lambda: sought(self.text().strip()))  # type: ignore[call-arg]
        self.textChanged.connect(lambda _: later.start())

    def begin(self) -> None:
        """Type into it, over what was sought before."""
        self.setFocus()
        self.selectAll()
