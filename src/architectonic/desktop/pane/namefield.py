"""A field for expressions: offers the names that fit what is being typed, shows the value, takes a picked dimension."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QEvent, QPoint, QStringListModel, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QCompleter, QLabel, QLineEdit, QWidget

from architectonic.desktop.kit import theme
from architectonic.desktop.pane.pane import Pane, names_in
from architectonic.quantities.units import UNITS

MEANT = re.compile(r"“([\w.]+)” is not known; did you mean ([\w.]+)\?")
NAME = "_."
"""Characters of names besides letters and figures."""


class Told(QLabel):
    """What a text comes to, or what is wrong with it.

    Signals:
        clicked: it was.
    """

    clicked = pyqtSignal()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A click."""
        self.clicked.emit()


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
        self._known: list[str] = []
        self._model = QStringListModel(self)
        offer = QCompleter(self._model, self)
        offer.setWidget(self)
        offer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        offer.setFilterMode(Qt.MatchFlag.MatchContains)
        offer.activated.connect(self._take)
        self.offer = offer
        self.told = Told(parent)
        self.told.clicked.connect(self._mend)
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
        unit = any(u.startswith(word) for u in UNITS) and text[:begin].rstrip()[-1:].isdigit()
        return begin, word if word[:1].isalpha() and not unit else ""

    def _edited(self) -> None:
        self._later.start()
        _, word = self._word()
        popup = self.offer.popup()
        if not word:
            if popup is not None:
                popup.hide()
            return
        self._known = self._known or self._names()
        self._model.setStringList(
            sorted((n for n in self._known if word.lower() in n.lower()), key=partial(_rank, word))
        )
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

    def _mend(self) -> None:
        """Put the name that was meant in place of the unknown one."""
        found = MEANT.search(self.told.text())
        if found is not None:
            self.setText(re.sub(rf"(?<![\w.]){re.escape(found.group(1))}(?![\w.])", found.group(2), self.text()))
            self.setModified(True)
            self.textEdited.emit(self.text())

    def _show_value(self) -> None:
        told = self._value(self.text().strip())
        self.told.setText(told)
        mends = MEANT.search(told) is not None
        self.told.setToolTip("click to take the name that was meant" if mends else "")
        self.told.setCursor(Qt.CursorShape.PointingHandCursor if mends else Qt.CursorShape.ArrowCursor)
        over = self.window()
        if over is not None:  # whatever holds the field is too small for it
            if self.told.parentWidget() is not over:
                self.told.setParent(over)
            self.told.adjustSize()
            below = self.mapTo(over, QPoint(0, self.height() + 3))
            above = self.mapTo(over, QPoint(0, -self.told.height() - 3))
            self.told.move(below if below.y() < over.height() / 2 else above)
        self.told.setVisible(bool(told) and self.isVisible())
        self.told.raise_()

    def event(self, event: QEvent | None) -> bool:
        """Ctrl+K is Find or do here too; on some desktops a line of text would take it to cut what follows."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            if event.key() == Qt.Key.Key_K and event.modifiers() == Qt.KeyboardModifier.ControlModifier:
                event.ignore()
                return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """While names are offered Enter takes the one that is marked."""
        popup = self.offer.popup()
        keys = (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if popup is not None and popup.isVisible() and event is not None and event.key() in keys:
            marked = popup.currentIndex()
            taken = str(marked.data()) if marked.isValid() else ""
            popup.hide()
            if taken:
                self._take(taken)
                return
        if event is not None and event.key() in (*keys, Qt.Key.Key_Escape):
            self._later.start()  # another text may stand here then
        if event is not None and event.key() == Qt.Key.Key_Escape and self.receivers(self.left):
            self.left.emit()  # it is answered here: what stands behind does not hear it
            return
        super().keyPressEvent(event)
        if event is not None and event.key() in keys and self.receivers(self.returnPressed):
            event.accept()  # a card that opened in answer does not take it for its own

    def focusNextPrevChild(self, forward: bool) -> bool:
        """While names are offered Tab takes the one that is marked, or the first."""
        popup = self.offer.popup()
        if not forward or popup is None or not popup.isVisible():
            return super().focusNextPrevChild(forward)
        marked = popup.currentIndex()
        taken = str(marked.data()) if marked.isValid() else self.offer.currentCompletion()
        popup.hide()
        self._take(taken)
        return True

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """The value goes when another field is gone to; the offered names are a part of this one."""
        super().focusOutEvent(event)
        if event is not None and event.reason() != Qt.FocusReason.PopupFocusReason:
            self._later.stop()
            self.told.hide()

    def hideEvent(self, event: object) -> None:
        """The value goes with the field."""
        self.told.hide()
        super().hideEvent(event)  # type: ignore[arg-type]


def asking(text: str, shown: Pane) -> Callable[[QWidget], NameField]:
    """Makes a field for an expression of a pane's document, with a text in it, on whatever card asks for it."""
    return lambda parent: NameField(text, parent, partial(names_in, shown), lambda _: "")


def _rank(word: str, name: str) -> tuple[bool, bool, int, str]:
    """Names that begin with what is typed first, then those whose last part does; the nearer ones before."""
    low = name.lower()
    return (
        not low.startswith(word.lower()),
        not low[low.rfind(".") + 1 :].startswith(word.lower()),
        name.count("."),
        low,
    )
