"""Sizes typed while drawing: fields beside the pointer, Tab between them, Enter draws and keeps them as dimensions."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QGridLayout, QLabel, QLineEdit, QWidget

from architectonic.desktop.kit.cards import Card, clear


class SizeFields(Card):
    """One field for each size of a tool; an empty one is left to the pointer."""

    def __init__(self, canvas: QWidget) -> None:
        super().__init__(canvas, "QFrame#card { border: 1px solid #8E2A6B; border-radius: 6px; }")
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(8, 6, 8, 6)
        self.fields: dict[str, QLineEdit] = {}
        self._done: Callable[[dict[str, str]], bool] = lambda _: True

    def start(
        self,
        sizes: Sequence[tuple[str, str]],
        first: str,
        at: QPointF,
        done: Callable[[dict[str, str]], bool],
        field_of: Callable[[str, QWidget, str], QLineEdit],
    ) -> None:
        """Open beside a place, with the first character typed already.

        Args:
            sizes: word and dimension of each.
            done: called with the text of each size, by its word; True closes the fields.
            field_of: makes the field of a text, a parent and a dimension.
        """
        clear(self._grid)
        self._done = done
        self.fields = {}
        for row, (word, kind) in enumerate(sizes):
            name, field = QLabel(word), field_of(first if row == 0 else "", self, kind)
            name.setObjectName("soft")
            field.setAccessibleName(word)
            field.setFixedWidth(150)
            field.setPlaceholderText("by the pointer")
            self._grid.addWidget(name, row, 0)
            self._grid.addWidget(field, row, 1)
            self.fields[word] = field
        hint = QLabel("kept as dimensions; Tab, Enter, Esc")
        hint.setObjectName("soft")
        self._grid.addWidget(hint, len(self.fields), 0, 1, 2)
        self.adjustSize()
        canvas = self.parentWidget()
        if canvas is not None:
            x = min(int(at.x()) + 18, canvas.width() - self.width() - 8)
            y = min(int(at.y()) + 14, canvas.height() - self.height() - 8)
            self.move(max(8, x), max(8, y))
        self.show()
        self.raise_()
        next(iter(self.fields.values())).setFocus()
        next(iter(self.fields.values())).end(False)
        next(iter(self.fields.values())).textEdited.emit(first)  # names are offered from the first letter on

    def keep(self) -> None:
        """Draw."""
        if self._done({word: field.text().strip() for word, field in self.fields.items()}):
            self.leave()

    def leave(self) -> None:
        """Back to the pointer."""
        self.hide()
        canvas = self.parentWidget()
        if canvas is not None:
            canvas.setFocus()
