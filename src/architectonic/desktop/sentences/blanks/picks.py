"""What holds blanks of many things on a card: what is picked in the canvas, and bodies."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QIcon, QKeyEvent, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import QLabel, QToolButton

from architectonic.base.errors import UserFault
from architectonic.base.ids import new_id
from architectonic.describe.words.acting import DOES
from architectonic.describe.words.blanks import Telling, counted
from architectonic.describe.words.sentences import target, text
from architectonic.describe.words.things import Picked, Walls
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.listbox import ListBox
from architectonic.desktop.sentences.blanks.fields import (
    Field,
    value_field,
)
from architectonic.family.names import free_name
from architectonic.family.records import Family, Model, Reference
from architectonic.family.walk import made_after
from architectonic.render.palette import colour_of


def swatch(colour: str) -> QIcon:
    """A small square in the colour of a body."""
    square = QPixmap(20, 20)
    square.fill(QColor(0, 0, 0, 0))
    p = QPainter(square)
    p.setPen(QPen(QColor(theme.SOFT), 1))
    p.setBrush(QColor(colour))
    p.drawRoundedRect(2, 2, 16, 16, 3, 3)
    p.end()
    square.setDevicePixelRatio(2)
    return QIcon(square)


class PickField(Field):
    """Things picked in the canvas: while it is active, every click there puts one in or takes it out."""

    def fill(self, value: Any) -> None:
        """A button that says how many there are."""
        self._picked: list[Reference] = list(value or ())
        self.button = _Button(self)
        self.button.setCheckable(True)
        self.button.setAccessibleName(f"{self.noun}s that are picked")
        self.button.toggled.connect(lambda _: self.changed())
        self.widgets.append(self.button)
        self.word()

    @property
    def noun(self) -> str:
        """What each of the things is."""
        assert isinstance(self.blank, Picked)
        return self.blank.noun

    def word(self) -> None:
        """Say how many there are, and of what."""
        count = len(self.picked)
        self.button.setText(counted(count, self.noun) if count else f"pick {self.noun}s")
        each = [target(self.desk.family, self.document, r) for r in self.picked]
        self.button.setToolTip("\n".join([*each, "Active: clicks in the canvas put one in or take it out. Delete takes out the last."]))  # fmt: skip

    @property
    def picked(self) -> Sequence[Reference]:
        """What is in."""
        return self._picked

    @property
    def wants(self) -> str:
        """Something to be picked, unless it may stay empty."""
        return "" if self.blank.optional or self.picked else f"click {self.blank.accepts.says} in the canvas"

    def activate(self, active: bool) -> None:
        """The button is pressed while clicks go to it."""
        self.button.setChecked(active)

    def take(self, reference: Reference) -> None:
        """Put something in, or take it out when it is in."""
        assert isinstance(self.blank, Picked)
        reference = self.blank.meant(self.document, reference)
        same = [r for r in self._picked if (r.item, r.label) == (reference.item, reference.label)]
        if same:
            self._picked.remove(same[0])
        else:
            self._picked.append(reference)
        self.word()
        self.changed()

    def drop_last(self) -> None:
        """Take out what was put in last."""
        if self._picked:
            self._picked.pop()
            self.word()
            self.changed()

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The references."""
        return {self.blank.field: tuple(self.picked)}


class WallsField(PickField):
    """Faces with a wall of their own, and how thick it is; walls of other thicknesses are left as they are."""

    def fill(self, value: Any) -> None:
        """The walls of the first thickness, and the thickness."""
        walls = value or ()
        first = walls[0].thickness if walls else None
        self.others = tuple(w for w in walls if w.thickness != first)
        at = len(self.widgets)
        super().fill([w.face for w in walls if w.thickness == first])
        shown = text(self.desk.family, self.document, first) if first is not None else self.blank.first
        self.field = self.typing(shown, "thickness of these walls")
        self.widgets.insert(at, self.widgets.pop())

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The walls."""
        assert isinstance(self.blank, Walls)
        thickness = self.blank.typed(family, document, self.said)
        return {self.blank.field: (*self.blank.stored(tuple(self.picked), thickness), *self.others)}


class OfferedField(Field):
    """Things that the canvas offers: what is clicked there is told here."""

    def fill(self, value: Any) -> None:
        """A mark that says how many there are."""
        self.things: tuple[Any, ...] = tuple(value)
        self.button = QToolButton()
        self.button.setAccessibleName("what is chosen")
        self.button.setCheckable(True)
        self.button.setChecked(True)
        self.button.setEnabled(False)  # clicks go to it as long as the sentence is open
        self.widgets.append(self.button)
        self.hold((), "")

    def hold(self, things: Sequence[Any], told: str) -> None:
        """What is chosen now, and what that is in words."""
        self.things = tuple(things)
        self.button.setText(told or "nothing yet")

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The things."""
        return {self.blank.field: self.things}


class _Button(QToolButton):
    """The button of things that are picked; Delete takes the last one out."""

    def __init__(self, of: PickField) -> None:
        super().__init__()
        self.of = of

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Delete and Backspace take out the last."""
        if event is not None and event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.of.drop_last()
        else:
            super().keyPressEvent(event)


class BodiesField(Field):
    """Bodies of the document, each a button."""

    def fill(self, value: Any) -> None:
        """Those that the record has are in; what is made after it is not there to be acted on."""
        self.buttons: dict[str, QToolButton] = {}
        later = made_after(self.document, self.record.id) - set(value or ())
        for key, body in self.document.bodies.items():
            if body.backdrop_only or key in later:
                continue
            button = QToolButton()
            button.setText(body.name)
            button.setCheckable(True)
            button.setChecked(key in (value or ()))
            button.setToolTip("acts on it, or not")
            button.setIcon(swatch(colour_of(self.document, key)))
            button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
            button.toggled.connect(lambda _: self.changed())
            self.buttons[key] = button
            self.widgets.append(button)
        groups = dict.fromkeys(b.group for b in self.document.bodies.values() if b.group)
        self.groups = [self._whole_group(group) for group in groups]
        self.widgets += self.groups

    def _whole_group(self, group: str) -> QToolButton:
        """A button that takes all bodies of a group in."""
        button = QToolButton()
        button.setText(f"all of {group}")
        button.setToolTip("takes in every body that is in the group now; one made later is not included")
        members = [k for k, b in self.document.bodies.items() if b.group == group and k in self.buttons]

        def take() -> None:
            for key in members:
                self.buttons[key].setChecked(True)

        button.clicked.connect(lambda _=False: take())
        return button

    def chosen(self) -> tuple[str, ...]:
        """Ids of those that are in."""
        return tuple(k for k, b in self.buttons.items() if b.isChecked())

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """Those that are in."""
        return {self.blank.field: self.chosen()}


class DoesField(BodiesField):
    """What something solid does, to which bodies, or the name of the body that it makes."""

    def fill(self, value: Any) -> None:
        """The verb, then the bodies, or the name."""
        record = self.record
        self._own = record.acts_on[0] if record.does == "make" else new_id()
        self.verb = ListBox()
        for key, word in DOES.items():
            if key != "make" or self.document.makes_bodies:
                self.verb.addItem(word[0].upper() + word[1:], key)
        self.verb.setCurrentIndex(self.verb.findData(record.does))
        self.verb.setEnabled(self.is_new or record.does != "make")
        self.verb.currentIndexChanged.connect(lambda _: self._on_verb())
        super().fill(value)
        taken = [b.name for b in self.document.bodies.values()]
        self.body_name = value_field(free_name("Body", taken), "name of the new body", 80)
        self.body_name.textEdited.connect(lambda _: self.changed())
        self.widgets = [self.verb, *self.buttons.values(), *self.groups, self.body_name]

    def show(self, shown: bool) -> None:
        """The bodies it acts on, or the name of its own."""
        makes = self.verb.currentData() == "make"
        self.verb.setVisible(shown)
        self.body_name.setVisible(shown and makes and self.is_new)
        for button in (*self.buttons.values(), *self.groups):
            button.setVisible(shown and not makes)

    def _on_verb(self) -> None:
        self.show(True)
        self.changed()

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The verb and the bodies."""
        does = self.verb.currentData()
        if does == "make":
            return {"does": does, "acts_on": (self._own,)}
        if not self.chosen():
            raise UserFault("it acts on no body", self.record.name, "choose at least one")
        return {"does": does, "acts_on": self.chosen()}


class ToldField(Field):
    """What is told, and is not changed here."""

    def fill(self, value: Any) -> None:
        """Its words."""
        told = self.blank.told(Telling(self.desk.family, self.document), self.record, value)
        self.widgets.append(QLabel(told))

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """Nothing: it stays as it is."""
        return {}
