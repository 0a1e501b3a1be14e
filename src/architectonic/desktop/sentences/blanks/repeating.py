"""What holds the blanks of patterns on a card: operations that are repeated, a table of places."""

from __future__ import annotations

from typing import Any

from architectonic.base.ids import new_id
from architectonic.base.labels import makers
from architectonic.describe.words.blanks import Telling
from architectonic.describe.words.patterns import PlacesTable
from architectonic.desktop.kit.listbox import ListBox
from architectonic.desktop.sentences.blanks.fields import Field
from architectonic.desktop.sentences.blanks.picks import PickField
from architectonic.family.records import Family, Model, Reference

ADD = "add…"


class RepeatedField(PickField):
    """Operations that are repeated: a click on a face puts in what made it, or a list does."""

    def fill(self, value: Any) -> None:
        """Those that are in, and a list of the others."""
        super().fill(value)
        self.offered = {r.item: words for words, r in self.blank.candidates(self.desk.main.subject)}
        self.list = ListBox()
        self.list.setAccessibleName("operations that can be repeated")
        self.list.addItem(ADD, None)
        for key, words in self.offered.items():
            if key != self.record.id:
                self.list.addItem(words, Reference(item=key, stage="here"))
        self.list.activated.connect(lambda _: self._on_list())
        self.widgets.append(self.list)
        self.word()

    def word(self) -> None:
        """Their names, as long as they are few."""
        super().word()
        names = {o.id: o.name for o in self.document.build}
        if 0 < len(self.picked) <= 3:
            self.button.setText(", ".join(names.get(r.item, "something that is gone") for r in self.picked))

    def _on_list(self) -> None:
        reference = self.list.currentData()
        self.list.setCurrentIndex(0)
        if isinstance(reference, Reference):
            self._turn(reference.item)

    def take(self, reference: Reference) -> None:
        """What made the face that was clicked: the last of those that it is named after which can be repeated."""
        found = next((key for key in makers(reference.label) if key in self.offered), "")
        if not found:
            self.desk.told.emit("What made this face cannot be repeated by itself: repeat its body.", True)
            return
        self._turn(found)

    def _turn(self, key: str) -> None:
        super().take(Reference(item=key, stage="here"))


class TableField(Field):
    """A table of places, typed as one line."""

    def fill(self, value: Any) -> None:
        """The places."""
        self._was = dict(value or {})
        self.field = self.typing(self.table.shown(Telling(self.desk.family, self.document), self._was), "places")
        self.field.setMinimumWidth(300)
        self.field.setToolTip(self.table.hint)
        self.expression = None

    @property
    def table(self) -> PlacesTable:
        """Its blank."""
        assert isinstance(self.blank, PlacesTable)
        return self.blank

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The places; those that are left as they were keep their names."""
        self._was = self.table.rows(family, document, self.field.text(), self._was, new_id)
        return {self.blank.field: self._was}
