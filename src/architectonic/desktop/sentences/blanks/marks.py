"""What holds the text of a mark on a card."""

from __future__ import annotations

from typing import Any

from architectonic.describe.words.blanks import Telling
from architectonic.describe.words.marks import PROPERTIES, shown
from architectonic.desktop.kit.listbox import ListBox
from architectonic.desktop.sentences.blanks.fields import NamedField, value_field

INSERT = "insert…"


class LetteringField(NamedField):
    """A text, and a list of what can be put into it: properties and values."""

    def fill(self, value: Any) -> None:
        """The text as it is typed."""
        told = shown(Telling(self.desk.family, self.document), value) if value else self.blank.first
        self.field = value_field(told, "text to mark", 150)
        self.field.textEdited.connect(lambda _: self.changed())
        self.insert = ListBox()
        self.insert.setAccessibleName("put a property or a value into the text")
        self.insert.addItem(INSERT, None)
        for name in (*PROPERTIES, *self._names()):
            self.insert.addItem(name, name)
        self.insert.activated.connect(lambda _: self._on_insert())
        self.widgets += [self.field, self.insert]

    def _on_insert(self) -> None:
        name = self.insert.currentData()
        self.insert.setCurrentIndex(0)
        if name:
            self.field.insert(f"{{{name}}}")
            self.changed()
