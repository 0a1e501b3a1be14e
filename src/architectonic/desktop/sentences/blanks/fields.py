"""What holds a blank on a card: fields, buttons, lists, ends; one class for each shape of blank."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QToolButton, QWidget

from architectonic.base.ids import IdSource
from architectonic.describe.words.acting import End, OneBody
from architectonic.describe.words.blanks import Blank, Choice, Flag
from architectonic.describe.words.sentences import target, text
from architectonic.desktop.kit.listbox import ListBox
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import NameField
from architectonic.family import edits, names, tables
from architectonic.family.records import Expression, Family, Model, Reference, Sketch
from architectonic.quantities.syntax import split_named

NOTHING = "nothing"
"""What a list says that may stay empty."""


def value_field(shown: str, name: str, wide: int = 96) -> QLineEdit:
    """A field for a name."""
    return _sized(QLineEdit(shown), name, wide)


def _sized(made: QLineEdit, name: str, wide: int) -> QLineEdit:
    made.setFixedHeight(26)
    made.setMinimumWidth(wide)
    made.setAccessibleName(name)
    return made


def chosen(box: QComboBox) -> list[Reference]:
    """What a list stands on, when it was picked."""
    data = box.currentData()
    return [data] if isinstance(data, Reference) else []


def choose(box: QComboBox, reference: Reference, words: str) -> None:
    """Let a list stand on something picked, which is put in when it is not there."""
    found = next((i for i in range(box.count()) if box.itemData(i) == reference), -1)
    if found < 0:
        box.addItem(words, reference)
        found = box.count() - 1
    box.setCurrentIndex(found)


def mark_active(widget: QWidget, active: bool) -> None:
    """Frame a widget in plum while clicks in the canvas go to it."""
    widget.setProperty("active", active)
    style = widget.style()
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)


class Field(ABC):
    """A blank of an open sentence: its widgets, in order, and what they say.

    Args:
        record: that the sentence says; value: what it has in the blank.
        is_new: it is not stored yet.
        changed: called when what the field says changes.
    """

    def __init__(
        self, desk: Desk, blank: Blank, record: Any, value: Any, is_new: bool, changed: Callable[[], object]
    ) -> None:
        self.desk, self.blank, self.record, self.is_new, self.changed = desk, blank, record, is_new, changed
        self.widgets: list[QWidget] = []
        self.expression: QLineEdit | None = None
        if blank.word and not isinstance(blank, Flag):
            word = QLabel(blank.word)
            word.setObjectName("soft")
            self.widgets.append(word)
        self.fill(value)

    @abstractmethod
    def fill(self, value: Any) -> None:
        """Make the widgets, as the record has it."""

    @property
    def document(self) -> Model:
        """The document that the sentence stands in."""
        found = self.desk.main.document
        assert isinstance(found, Model)
        return found

    @abstractmethod
    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """Fields of the record as they stand.

        Raises:
            UserFault: what is typed or chosen cannot be used.
        """

    @property
    def picked(self) -> Sequence[Reference]:
        """What clicks have filled it with."""
        return ()

    @property
    def wants(self) -> str:
        """What must be clicked before it says anything; "" for nothing."""
        return ""

    @property
    def first(self) -> QLineEdit | None:
        """The field that the keyboard may start in."""
        return None

    def activate(self, active: bool) -> None:
        """Show whether clicks in the canvas go to it; a field that takes none has nothing to show."""
        return

    def take(self, reference: Reference) -> None:
        """Something was clicked in the canvas while it is active; a field that takes no clicks lets it pass."""
        return

    def show(self, shown: bool) -> None:
        """Let it be seen, or not."""
        for widget in self.widgets:
            widget.setVisible(shown)

    def typing(self, shown: str, name: str) -> QLineEdit:
        """A field for an expression that offers names and tells of changes."""
        made = _sized(NameField(shown, None, self._names, lambda _: ""), name, 150 if self.blank.inside else 96)
        made.textEdited.connect(lambda _: self.changed())
        self.widgets.append(made)
        self.expression = made
        return made

    def _split(self) -> tuple[str, str]:
        """Name and value of `wall = 3 mm`; the text itself as both of anything else."""
        typed = self.expression.text().strip() if self.expression is not None else ""
        return split_named(typed) or (typed, typed)

    @property
    def said(self) -> str:
        """What the sentence says: what is typed, or the name that it is given there."""
        return self._split()[0]

    @property
    def worth(self) -> str:
        """The value that is typed, without its name."""
        return self._split()[1]

    def named(self, family: Family, document_id: str, make_id: IdSource) -> Family:
        """The family in which `wall = 3 mm`, typed here, is a value of the document's own.

        Raises:
            UserFault: the name is taken, or the value cannot be used.
        """
        name, value = self._split()
        if name == value:
            return family
        quantity = tables.quantity_of_text(value)
        return edits.add_parameter(family, document_id, name, value, quantity, new_id=make_id)

    def _names(self) -> list[str]:
        """All that an expression may name here."""
        main = self.desk.main
        inside = (o for o in main.build if self.blank.inside and o.id == main.operation and isinstance(o, Sketch))
        return names.offered(self.desk.family, self.document, next(inside, None))


class ValueField(Field):
    """An expression."""

    def fill(self, value: Any) -> None:
        """The expression with the names of now."""
        if isinstance(value, Expression):
            shown = text(self.desk.family, self.document, value)
        else:
            shown = value or self.blank.first
        self.field = self.typing(shown, self.blank.word or self.blank.field)
        if self.blank.optional:
            self.field.setPlaceholderText("none")

    @property
    def first(self) -> QLineEdit | None:
        """It itself, unless it stands in a further clause."""
        return None if self.blank.clause else self.field

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The expression; one of a sketch keeps the name that it is given, which becomes one of the sketch's."""
        typed = self.field.text().strip() if self.blank.inside else self.said
        return {self.blank.field: self.blank.typed(family, document, typed)}


class NamedField(Field):
    """A name."""

    def fill(self, value: Any) -> None:
        """The name of now."""
        self.field = value_field(value, "name", 130)
        self.field.textEdited.connect(lambda _: self.changed())
        self.widgets.append(self.field)

    @property
    def first(self) -> QLineEdit | None:
        """It itself."""
        return self.field

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The name."""
        return {self.blank.field: self.blank.typed(family, document, self.field.text().strip())}


class FlagField(Field):
    """A button that is in or out.

    Attributes:
        by_hand: a person has pressed it; until then what is likely may be inferred.
    """

    def fill(self, value: Any) -> None:
        """In or out."""
        self.button = QToolButton()
        self.button.setText(self.blank.word[0].upper() + self.blank.word[1:])
        self.button.setCheckable(True)
        self.button.setChecked(bool(value))
        self._was = value
        self.by_hand = False
        self.button.toggled.connect(lambda _: self.changed())
        self.button.pressed.connect(self._on_hand)  # before it is toggled
        self.widgets.append(self.button)

    def _on_hand(self) -> None:
        self.by_hand = True

    def turn(self, by_hand: bool = True) -> None:
        """Take it in, or out; what a person has said stays said."""
        self.by_hand = self.by_hand or by_hand
        self.button.setChecked(not self.button.isChecked())

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """In or out, as the record holds it."""
        assert isinstance(self.blank, Flag)
        return {self.blank.field: self.blank.stored(self.button.isChecked(), self._was)}


class ListField(Field):
    """One of a list: a choice, a body, a plane, a line or a point."""

    def fill(self, value: Any) -> None:
        """What can be chosen, the present one among it."""
        self.list = ListBox()
        self.list.setAccessibleName(self.blank.word or self.blank.field)
        for data, words in self.offered():
            self.list.addItem(words, data)
        wanted = value[0] if isinstance(value, tuple) and value else value
        found = next((i for i in range(self.list.count()) if self.list.itemData(i) == wanted), -1)
        if found < 0 and isinstance(wanted, Reference):
            self.list.addItem(target(self.desk.family, self.document, wanted), wanted)
            found = self.list.count() - 1
        self.list.setCurrentIndex(max(found, 0))
        self.list.currentIndexChanged.connect(lambda _: self.changed())
        self.widgets.append(self.list)

    def offered(self) -> list[tuple[Any, str]]:
        """What can be chosen now: value and words."""
        blank = self.blank
        if isinstance(blank, Choice):
            return list(blank.choices)
        if isinstance(blank, OneBody):
            return [(k, b.name) for k, b in self.document.bodies.items() if not b.backdrop_only]
        found = [(reference, words) for words, reference in blank.candidates(self.desk.main.subject)]
        return [(None, NOTHING), *found] if blank.optional else found

    @property
    def picked(self) -> Sequence[Reference]:
        """What is chosen."""
        return chosen(self.list)

    def activate(self, active: bool) -> None:
        """Frame the list."""
        mark_active(self.list, active)

    def take(self, reference: Reference) -> None:
        """What was clicked becomes the choice."""
        choose(self.list, reference, target(self.desk.family, self.document, reference))

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """What is chosen."""
        data = self.list.currentData()
        return {self.blank.field: (data,) if isinstance(self.blank, OneBody) else data}


class EndField(Field):
    """One end of something that is pushed: words of its own first, then what it can reach; and a field for its length."""

    def fill(self, value: Any) -> None:
        """The end as the record has it."""
        blank = self.end
        self.choice = ListBox()
        self.choice.setAccessibleName(f"{'where it starts' if blank.near else 'where it ends'}: which end")
        for word, data in blank.words:
            self.choice.addItem(word, data)
        now, length = blank.shown(self.record)
        for called, reference in self._targets(now):
            self.choice.addItem(f"{blank.towards} {called}", reference)
        found = (i for i in range(self.choice.count()) if self.choice.itemData(i) == now)
        self.choice.setCurrentIndex(next(found, 0))
        first = "" if blank.near or isinstance(now, Reference) else blank.first
        shown = text(self.desk.family, self.document, length) if length is not None else first
        self.widgets.append(self.choice)
        self.field = self.typing(shown, blank.called)
        self.field.setPlaceholderText("offset, if any")
        self._offset = isinstance(now, Reference)
        self._typed = {self._offset: shown}
        self.choice.currentIndexChanged.connect(lambda _: self._on_choice())

    @property
    def end(self) -> End:
        """Its blank."""
        assert isinstance(self.blank, End)
        return self.blank

    @property
    def first(self) -> QLineEdit | None:
        """The length of the far end."""
        return None if self.end.near else self.field

    def named(self, family: Family, document_id: str, make_id: IdSource) -> Family:
        """Only what is used: an end that goes through all has no length."""
        return family if self._wordless() else super().named(family, document_id, make_id)

    def _wordless(self) -> bool:
        """Whether the chosen end takes no distance or offset."""
        return self.choice.currentData() in (None, "through", "next", "plane", "outside")

    def _targets(self, now: Any) -> list[tuple[str, Reference]]:
        """What an end can reach, its present one among it."""
        found = self.blank.candidates(self.desk.main.subject)
        if isinstance(now, Reference) and all(now != r for _, r in found):
            found = [*found, (target(self.desk.family, self.document, now), now)]
        return found

    def _on_choice(self) -> None:
        """A distance that was typed is no offset from a face that is chosen then, nor the other way round."""
        self._typed[self._offset] = self.field.text()
        self._offset = isinstance(self.choice.currentData(), Reference)
        self.field.setText(self._typed.get(self._offset, "" if self._offset or self.end.near else self.blank.first))
        self.show(True)
        self.changed()

    def show(self, shown: bool) -> None:
        """The field only where a distance or an offset has a meaning."""
        self.choice.setVisible(shown)
        self.field.setVisible(shown and not self._wordless())

    @property
    def picked(self) -> Sequence[Reference]:
        """The face, plane or point that it ends on."""
        return chosen(self.choice)

    def activate(self, active: bool) -> None:
        """Frame the list."""
        mark_active(self.choice, active)

    def take(self, reference: Reference) -> None:
        """What was clicked becomes the end."""
        choose(self.choice, reference, f"{self.end.towards} {target(self.desk.family, self.document, reference)}")

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The end."""
        return self.end.stored(family, document, self.choice.currentData(), self.said)
