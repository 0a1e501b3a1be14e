"""Find or do: actions, documents and values by a few letters of their names."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

Entry = tuple[str, Callable[[], object], tuple[str, ...]]
"""Title, what it does, and other words that it is found by."""


def score(words: str, text: str) -> float:
    """How well typed letters fit a text: 0 for not at all, more for runs and beginnings of words."""
    found, position, total = text.lower(), 0, 0.0
    for letter in words.lower().replace(" ", ""):
        at = found.find(letter, position)
        if at < 0:
            return 0.0
        total += 3.0 if at == position else (2.0 if at == 0 or not found[at - 1].isalnum() else 1.0)
        position = at + 1
    return total / (1 + len(text) / 60)


def _fit(words: str, text: str, also: tuple[str, ...]) -> float:
    """How well a title fits, or one of the other words of the trade for it; anything does while nothing is typed."""
    if not words:
        return 1.0
    others = [score(words, w) for w in also if w.startswith(words.lower())]
    return max(score(words, text), *others) if others else score(words, text)


class FindOrDo(QFrame):
    """A field with a list under it, over the window; Enter does the first, arrows choose, Esc leaves."""

    def __init__(self, parent: QWidget, entries: Callable[[], list[Entry]]) -> None:
        super().__init__(parent)
        self.setStyleSheet("QFrame { background: #FDFCF9; border: 1px solid #B9B1A2; border-radius: 6px; }")
        self._entries = entries
        self._all: list[Entry] = []
        self.field = QLineEdit()
        self.field.setPlaceholderText("An action, a document or a value")
        self.list = QListWidget()
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 8, 8, 8)
        layout.addWidget(self.field)
        layout.addWidget(self.list)
        self.field.textChanged.connect(self._fill)
        self.list.itemClicked.connect(lambda _: self._do())
        self.field.installEventFilter(self)
        self.hide()

    def start(self) -> None:
        """Open over the window, empty."""
        self._all = self._entries()
        self.field.clear()
        self._fill("")
        parent = self.parentWidget()
        assert parent is not None
        self.setGeometry(parent.width() // 2 - 230, 38, 460, 330)
        self.show()
        self.raise_()
        self.field.setFocus()

    def _fill(self, words: str) -> None:
        ranked = [(_fit(words, text, also), k, text, run) for k, (text, run, also) in enumerate(self._all)]
        self.list.clear()
        for _, _, text, run in sorted((r for r in ranked if r[0] > 0), key=lambda r: (-r[0], r[1]))[:40]:
            item = QListWidgetItem(text)
            item.setData(Qt.ItemDataRole.UserRole, run)
            self.list.addItem(item)
        self.list.setCurrentRow(0)

    def _do(self) -> None:
        item = self.list.currentItem()
        self.hide()
        if item is not None:
            item.data(Qt.ItemDataRole.UserRole)()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Arrows move in the list, Enter does what is marked, Esc and leaving close; an open card does not hear of it."""
        if event is not None and event.type() == QEvent.Type.KeyPress:
            assert isinstance(event, QKeyEvent)
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                step = 1 if event.key() == Qt.Key.Key_Down else -1
                self.list.setCurrentRow(max(0, min(self.list.count() - 1, self.list.currentRow() + step)))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._do()
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.hide()
                return True
        if event is not None and event.type() == QEvent.Type.FocusOut:
            self.hide()
        return super().eventFilter(watched, event)
