"""What holds the blanks of holes and patterns on a card: places, sizes of tables, pairs of values, members left out."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QLineEdit, QToolButton

from architectonic.base.ids import new_id
from architectonic.describe.references.planes import on_plane
from architectonic.describe.results import Frame, Vector
from architectonic.describe.words.blanks import Telling, counted
from architectonic.describe.words.holes import Pair, Places, SizeOf, place_words
from architectonic.describe.words.sentences import text
from architectonic.desktop.kit.listbox import ListBox
from architectonic.desktop.sentences.blanks.fields import Field, mark_active
from architectonic.desktop.sentences.blanks.picks import PickField
from architectonic.family.operations.holes.hole import HolePlace
from architectonic.family.records import Datum, Family, Model, Reference
from architectonic.quantities import units
from architectonic.session.picking.flat import face_frame

ADD = "add all of…"
BY_HAND = "by an expression"


class PlacesField(PickField):
    """Where holes go in; what is picked on a flat face or a plane has a place in it, which is typed beside."""

    def fill(self, value: Any) -> None:
        """The places, those of the last one picked on a face, and what whole sketches and hole sets there are."""
        self._known: dict[tuple[str, str], HolePlace] = {}
        for place in value or ():
            self._known[place.at.item, place.id or place.at.label] = place
        super().fill([p.at for p in value or ()])
        self.whole = ListBox()
        self.whole.setAccessibleName("all points of a sketch, or the holes of another part")
        self.whole.addItem(ADD, None)
        for words, reference in self.blank.candidates(self.desk.main.subject):
            self.whole.addItem(words, reference)
        self.whole.activated.connect(lambda _: self._on_whole())
        self.whole.setVisible(self.whole.count() > 1)
        self.x, self.y = self.typing("", "x on the face"), self.typing("", "y on the face")
        self.widgets.insert(len(self.widgets) - 2, self.whole)
        for label, before in (("at x", self.x), ("y", self.y)):
            word = QLabel(label)
            word.setObjectName("soft")
            self.widgets.insert(self.widgets.index(before), word)
        self.expression = None
        self._say_spot()

    @property
    def picked(self) -> Sequence[Reference]:
        """What was picked for each place."""
        return [p.at for p in self._known.values()]

    def word(self) -> None:
        """The place itself when there is one, else how many."""
        super().word()
        if len(self._known) == 1:
            told = place_words(Telling(self.desk.family, self.document), next(iter(self._known.values())))
            self.button.setText(self.button.fontMetrics().elidedText(told, Qt.TextElideMode.ElideMiddle, 220))

    @property
    def spot(self) -> tuple[tuple[str, str], HolePlace] | None:
        """The last place in a plane, which x and y say."""
        return next(((k, p) for k, p in reversed(self._known.items()) if p.x is not None), None)

    @property
    def first(self) -> QLineEdit | None:
        """Its x, when a place in a plane was picked."""
        return self.x if self.spot is not None else None

    def _on_whole(self) -> None:
        reference = self.whole.currentData()
        self.whole.setCurrentIndex(0)
        if isinstance(reference, Reference):
            self.take(reference)

    def take(self, reference: Reference) -> None:
        """Put a place in, or take it out when it is in; a flat face is given one more place each time."""
        key = (reference.item, reference.label)
        plane = self._plane(reference)
        if plane is not None:
            made = self._on_plane(reference, plane)
            self._known[reference.item, made.id] = made
        elif key in self._known:
            del self._known[key]
        else:
            self._known[key] = HolePlace(at=reference)
        self._say_spot()
        self.word()
        self.changed()

    def drop_last(self) -> None:
        """Take out what was put in last."""
        if self._known:
            self._known.popitem()
            self._say_spot()
            self.word()
            self.changed()

    def _plane(self, reference: Reference) -> Frame | None:
        """The plane of what a place needs x and y in."""
        main = self.desk.main
        record = next((o for o in main.build if o.id == reference.item), None)
        if isinstance(record, Datum):
            found = main.subject.value("frame", record.id)
            return found if isinstance(found, Frame) else None
        seen = reference.witness
        return face_frame(seen) if seen is not None and seen.kind == "plane" else None

    def _on_plane(self, reference: Reference, plane: Frame) -> HolePlace:
        """A place where it was clicked, to the half millimetre."""
        touched = self.desk.main.touched
        at: Vector = touched if touched is not None else plane.origin
        x, y = (units.shown(round(2 * c) / 2, "mm", 3) for c in on_plane(plane, at))
        assert isinstance(self.blank, Places)
        return self.blank.on_face(self.desk.family, self.document, reference, x, y, new_id)

    def _say_spot(self) -> None:
        spot = self.spot
        for field, value in ((self.x, spot[1].x if spot else None), (self.y, spot[1].y if spot else None)):
            shown = "" if value is None else text(self.desk.family, self.document, value)
            if not field.hasFocus():
                field.setText(shown)
        self.show(True)

    def show(self, shown: bool) -> None:
        """x and y only where there is a place in a plane."""
        spot = self.spot is not None
        for widget in self.widgets:
            at_spot = widget in (self.x, self.y) or (isinstance(widget, QLabel) and widget.text() in ("at x", "y"))
            lists = widget is not self.whole or self.whole.count() > 1
            widget.setVisible(shown and lists and (spot or not at_spot))

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The places."""
        spot = self.spot
        if spot is not None:
            key, place = spot
            assert isinstance(self.blank, Places)
            x, y = self.x.text().strip(), self.y.text().strip()
            self._known[key] = self.blank.on_face(family, document, place.at, x, y, new_id, place.id)
        return {self.blank.field: tuple(self._known.values())}


class SizeField(Field):
    """A size of a table: a list to step through, or an expression in its place."""

    def fill(self, value: Any) -> None:
        """The size, or the expression."""
        self.list = ListBox()
        self.list.setAccessibleName(f"size {self.blank.word}")
        for key, name in self.sizes.sizes:
            self.list.addItem(name, key)
        self.list.addItem(BY_HAND, None)
        self.widgets.append(self.list)
        said = value.text if value is not None else self.blank.first
        found = self.list.findData(said)
        self.list.setCurrentIndex(found if found >= 0 else self.list.count() - 1)
        self.field = self.typing(said, "size by an expression")
        self.field.setMinimumWidth(180)
        self.list.currentIndexChanged.connect(lambda _: self._on_choice())

    @property
    def sizes(self) -> SizeOf:
        """Its blank."""
        assert isinstance(self.blank, SizeOf)
        return self.blank

    def _on_choice(self) -> None:
        self.show(True)
        self.changed()

    def show(self, shown: bool) -> None:
        """The field only while no size is chosen."""
        super().show(shown)
        self.field.setVisible(shown and self.list.currentData() is None)

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The size, or the expression."""
        key = self.list.currentData()
        return {self.blank.field: self.sizes.typed(family, document, key or self.field.text().strip())}


class PairField(Field):
    """Two values, such as a diameter and a depth."""

    def fill(self, value: Any) -> None:
        """Both values."""
        parts = self.pair.parts
        shown = [self.blank.first, self.pair.second]
        if value is not None:
            shown = [text(self.desk.family, self.document, getattr(value, p)) for p in parts]
        mark = QLabel("Ø")
        mark.setObjectName("soft")
        self.widgets.append(mark)
        self.one = self.typing(shown[0], f"{self.blank.word}: {parts[0]}")
        then = QLabel(self.pair.then)
        then.setObjectName("soft")
        self.widgets.append(then)
        self.other = self.typing(shown[1], f"{self.blank.word}: {parts[1]}")
        self.expression = None

    @property
    def pair(self) -> Pair:
        """Its blank."""
        assert isinstance(self.blank, Pair)
        return self.blank

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The record of both."""
        made = self.pair.both(family, document, self.one.text().strip(), self.other.text().strip())
        return {self.blank.field: made}


class MembersField(Field):
    """Members that are left out: while it is active, a click on a member's tag in the picture takes it out or in again."""

    def fill(self, value: Any) -> None:
        """A button that says how many there are."""
        self.out: list[str] = list(value or ())
        self.button = QToolButton()
        self.button.setAccessibleName("members that are left out")
        self.button.setToolTip("click the numbered tags in the picture to leave members out, or take them in again")
        self.button.clicked.connect(lambda _=False: self.clear())
        self.widgets.append(self.button)
        self.word()

    def word(self) -> None:
        """How many are left out."""
        told = f"{counted(len(self.out), 'place')} · take all in again" if self.out else "click tags in the picture"
        self.button.setText(told)

    def clear(self) -> None:
        """Take all in again."""
        if self.out:
            self.out = []
            self.word()
            self.changed()

    def turn(self, key: str) -> None:
        """Leave a member out, or take it in again."""
        self.out = [k for k in self.out if k != key] if key in self.out else [*self.out, key]
        self.word()
        self.changed()

    def activate(self, active: bool) -> None:
        """Frame the button."""
        mark_active(self.button, active)

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The keys."""
        return {self.blank.field: tuple(self.out)}
