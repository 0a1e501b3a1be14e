"""A field for expressions: offers the names that fit what is being typed, shows the value, takes a picked dimension."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QStringListModel, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QCompleter, QLabel, QLineEdit, QWidget

from architectonic.desktop.kit import theme

NAME = "_."
"""Characters of names besides letters and figures."""


class NameField(QLineEdit):
    """A line of text whose last name is completed from a list; the arrow keys choose, Tab or Enter takes.

    Args:
        names: all that an expression may name here, asked when typing begins.
        value: the value of a text in words, "" for none; raises nothing.

    Signals:
        left: Esc was pressed.
    """

    left = pyqtSignal()

    def __init__(
        self, text: str, parent: QWidget | None, names: Callable[[], list[str]], value: Callable[[str], str]
    ) -> None:
        super().__init__(text, parent)
        self._names, self._value = names, value
        self._model = QStringListModel(self)
        offer = QCompleter(self._model, self)
        offer.setWidget(self)
        offer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        offer.setFilterMode(Qt.MatchFlag.MatchContains)
        offer.activated.connect(self._take)
        self.offer = offer
        self.told = QLabel("", parent)
        self.told.setStyleSheet(
            f"background: {theme.FIELD}; border: 1px solid {theme.LINE}; border-radius: 3px;"
            f" padding: 1px 6px; color: {theme.SOFT}; font-size: 11px;"
        )
        self.told.hide()
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(120)
        self._later.timeout.connect(self._show_value)
        self.textEdited.connect(self._edited)
        self.destroyed.connect(self.told.deleteLater)

    def insert_name(self, name: str) -> None:
        """Put a name where the cursor is, or in place of what is selected."""
        self.insert(name)
        self.setFocus()
        self._later.start()

    def _word(self) -> tuple[int, str]:
        """Where the name under the cursor begins, and how far it is typed."""
        text, end = self.text(), self.cursorPosition()
        begin = end
        while begin > 0 and (text[begin - 1].isalnum() or text[begin - 1] in NAME):
            begin -= 1
        word = text[begin:end]
        return begin, word if word[:1].isalpha() else ""

    def _edited(self) -> None:
        self._later.start()
        _, word = self._word()
        popup = self.offer.popup()
        if not word:
            if popup is not None:
                popup.hide()
            return
        if not self._model.stringList():
            self._model.setStringList(sorted(self._names()))
        self.offer.setCompletionPrefix(word)
        count = self.offer.completionCount()
        if popup is not None and (count == 0 or (count == 1 and self.offer.currentCompletion() == word)):
            popup.hide()
        elif count:
            self.offer.complete()

    def _take(self, name: str) -> None:
        begin, word = self._word()
        text = self.text()
        self.setText(text[:begin] + name + text[begin + len(word) :])
        self.setCursorPosition(begin + len(name))
        self._later.start()

    def _show_value(self) -> None:
        told = self._value(self.text().strip())
        self.told.setText(told)
        self.told.adjustSize()
        parent = self.told.parentWidget()
        if parent is not None:
            below = self.mapTo(parent, QPoint(0, self.height() + 3))
            above = self.mapTo(parent, QPoint(0, -self.told.height() - 3))
            room = below.y() + self.told.height() < parent.height()
            self.told.move(below if room else above)
        self.told.setVisible(bool(told) and self.isVisible())
        self.told.raise_()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """While names are offered Tab and Enter take the one that is marked."""
        popup = self.offer.popup()
        keys = (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Tab)
        if popup is not None and popup.isVisible() and event is not None and event.key() in keys:
            marked = popup.currentIndex()
            if marked.isValid():
                self._take(str(marked.data()))
                popup.hide()
                return
            popup.hide()
        if event is not None and event.key() == Qt.Key.Key_Escape and self.receivers(self.left):
            self.left.emit()  # it is answered here: what stands behind does not hear it
            return
        super().keyPressEvent(event)

    def hideEvent(self, event: object) -> None:
        """The value goes with the field."""
        self.told.hide()
        super().hideEvent(event)  # type: ignore[arg-type]
