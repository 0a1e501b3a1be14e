"""A card that holds a sentence: its heading and the fields of its blanks, in order."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QWidget

from architectonic.describe.words.blanks import Blank
from architectonic.describe.words.spoken import value_in
from architectonic.desktop.kit.cards import WrappedCard, clear
from architectonic.desktop.kit.theme import down_arrow
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sentences.blanks.fields import Field
from architectonic.desktop.sentences.blanks.kinds import field_for
from architectonic.family.records import Family, Model

MORE = (
    "QComboBox { background: #FDFCF9; border: 1px solid #B9B1A2; border-radius: 4px; padding: 3px 8px; font-size: 13px; }"
    "QComboBox::drop-down { border: none; width: 20px; }"
    f"QComboBox::down-arrow {{ image: url({down_arrow()}); width: 10px; height: 10px; }}"
    'QComboBox[active="true"] { background: #F0E2EA; border-color: #8E2A6B; color: #6E1C52; }'
    "QToolButton:checked, QPushButton:checked { background: #F0E2EA; border-color: #8E2A6B; color: #6E1C52; }"
)


def heading(words: str) -> QLabel:
    """The first words of a sentence."""
    head = QLabel(words)
    head.setStyleSheet("font-size: 14px; font-weight: 600;")
    return head


class BlankCard(WrappedCard):
    """Holds the blanks of one sentence.

    Attributes:
        blanks: what holds each, by field of the record.
    """

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent)
        self.setStyleSheet(self.styleSheet() + MORE)
        self.desk = desk
        self.blanks: dict[str, Field] = {}

    @property
    def untouched(self) -> bool:
        """Whether nothing would be lost if it were left."""
        return False

    def showEvent(self, event: QShowEvent | None) -> None:
        """Another sentence that says nothing yet gives way."""
        super().showEvent(event)
        dock = self.parentWidget()
        for other in dock.findChildren(BlankCard) if dock is not None else ():
            if other is not self and other.isVisible() and other.untouched:
                other.leave()

    def begin(self, words: str = "") -> None:
        """An empty sentence, with its first words."""
        clear(self.line)
        self.blanks = {}
        if words:
            self.add(heading(words))

    def add(self, widget: QWidget) -> None:
        """The next word or field."""
        self.line.addWidget(widget)
        widget.show()

    def add_blank(self, record: Any, blank: Blank, is_new: bool) -> Field:
        """The next blank, filled as the record has it."""
        value = value_in(record, blank.field)
        made = field_for(self.desk, blank, record, value, is_new, partial(self.on_changed, blank.field))
        self.blanks[blank.field] = made
        for widget in made.widgets:
            self.add(widget)
            if blank.accepts and not isinstance(widget, (QLabel, QLineEdit)):
                widget.installEventFilter(self)
        return made

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """What the blanks say, by field of the record.

        Raises:
            UserFault: a blank cannot be used; says which.
        """
        given: dict[str, Any] = {}
        for blank in self.blanks.values():
            given |= blank.read(family, document)
        return given

    def on_changed(self, field: str) -> None:
        """What a field says has changed."""

    def turn_to(self, field: str) -> None:
        """A field that clicks fill has the keyboard."""

    def eventFilter(self, widget: QObject | None, event: QEvent | None) -> bool:
        """The list that has the keyboard is the blank that clicks in the canvas fill."""
        if event is not None and event.type() == QEvent.Type.FocusIn and isinstance(widget, QComboBox):
            found = next((f for f, b in self.blanks.items() if widget in b.widgets), "")
            if found:
                self.turn_to(found)
        return super().eventFilter(widget, event)
