"""What fills the blanks of a sentence: fields, lists, things picked in the canvas, bodies, ends of extrusions."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QIcon, QKeyEvent, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QToolButton, QWidget

from architectonic.base.errors import UserFault
from architectonic.base.ids import new_id
from architectonic.describe.words.clauses import COUNTED, Blank
from architectonic.describe.words.sentences import target, text
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.listbox import ListBox
from architectonic.desktop.pane.desk import Desk
from architectonic.family import edits, names
from architectonic.family.names import free_name
from architectonic.family.records import (
    STANDARD_PLANES,
    BodyOperation,
    Distance,
    Expression,
    Family,
    Model,
    OwnWall,
    Reference,
    Symmetric,
    Through,
    ToFace,
    ToNext,
)
from architectonic.quantities.units import DEFAULT_UNIT
from architectonic.render.palette import colour_of
from architectonic.session.model import building
from architectonic.session.picking import choices

VERBS = {"make": "Make", "add": "Add to", "cut": "Cut from", "overlap": "Keep the overlap with"}
GATHERS = {
    "regions": "region", "faces": "face", "edges": "edge", "path": "path", "walls": "face", "plane": "plane",
    "line": "line", "point": "point", "place": "place", "near": "end", "far": "end", "divider": "divider",
}  # fmt: skip
"""What clicks in the canvas a blank takes (describe.words.accepts.ACCEPTS)."""


def value_field(shown: str, name: str, wide: int = 96) -> QLineEdit:
    """A field for an expression."""
    made = QLineEdit(shown)
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


def mark_active(widget: QWidget, active: bool) -> None:
    """Frame a widget in plum while clicks in the canvas go to it."""
    widget.setProperty("active", active)
    style = widget.style()
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)


class Filled:
    """A blank of an open sentence: its widgets, in order, and what they say.

    Args:
        changed: called when what it says changes.
    """

    def __init__(self, desk: Desk, blank: Blank, changed: Callable[[], object]) -> None:
        self.desk, self.blank, self.changed = desk, blank, changed
        self.widgets: list[QWidget] = []
        if blank.word and blank.takes != "flag":
            word = QLabel(blank.word)
            word.setObjectName("soft")
            self.widgets.append(word)

    @property
    def document(self) -> Model:
        """The document that the sentence stands in."""
        found = self.desk.main.document
        assert isinstance(found, Model)
        return found

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """Fields of the record as they stand.

        Raises:
            UserFault: what is typed or chosen cannot be used.
        """
        return {}

    @property
    def picked(self) -> Sequence[Reference]:
        """What clicks have filled it with."""
        return ()

    def activate(self, active: bool) -> None:
        """Show whether clicks in the canvas go to it."""

    def take(self, reference: Reference) -> None:
        """Something was clicked in the canvas while it is active."""

    def show(self, shown: bool) -> None:
        """Let it be seen, or not."""
        for widget in self.widgets:
            widget.setVisible(shown)


class ValueBlank(Filled):
    """A field for an expression."""

    def __init__(self, desk: Desk, blank: Blank, changed: Callable[[], object], value: Any) -> None:
        super().__init__(desk, blank, changed)
        shown = text(desk.family, self.document, value) if isinstance(value, Expression) else blank.first
        self.field = value_field(shown, blank.word or blank.field)
        self.field.textEdited.connect(lambda _: changed())
        self.widgets.append(self.field)

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The expression."""
        takes = self.blank.takes
        bound = names.bind_quantity(family, document, self.field.text().strip(), takes, DEFAULT_UNIT.get(takes, ""))
        if takes in ("length", "number") and not self.blank.field.startswith("by.") and self.blank.field != "clearance":
            edits.refuse_not_positive(bound, takes, self.blank.field)
        return {self.blank.field: bound}


class FlagBlank(Filled):
    """A button that is in or out.

    Attributes:
        by_hand: a person has pressed it; until then what is likely may be inferred.
    """

    def __init__(self, desk: Desk, blank: Blank, changed: Callable[[], object], value: Any) -> None:
        super().__init__(desk, blank, changed)
        self.button = QToolButton()
        self.button.setText(blank.word[0].upper() + blank.word[1:])
        self.button.setCheckable(True)
        self.button.setChecked(bool(value))
        self._was = value
        self.by_hand = False
        self.button.toggled.connect(lambda _: changed())
        self.button.pressed.connect(self._on_hand)  # before it is toggled
        self.widgets.append(self.button)

    def _on_hand(self) -> None:
        self.by_hand = True

    def turn(self, by_hand: bool = True) -> None:
        """Take it in, or out; what a person has said stays said."""
        self.by_hand = self.by_hand or by_hand
        self.button.setChecked(not self.button.isChecked())

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """In or out; of copies the bodies are kept that are there, and made when it is stored."""
        on = self.button.isChecked()
        if self.blank.field == "copies":
            return {"copies": (self._was or {"": ""}) if on else {}}
        return {self.blank.field: on}


class ListBlank(Filled):
    """One of a list: a choice, a body, a plane, a line or a point."""

    def __init__(self, desk: Desk, blank: Blank, changed: Callable[[], object], value: Any) -> None:
        super().__init__(desk, blank, changed)
        self.list = ListBox()
        self.list.setAccessibleName(blank.word or blank.field)
        for data, words in self.offered():
            self.list.addItem(words, data)
        wanted = value[0] if isinstance(value, tuple) and value else value
        found = next((i for i in range(self.list.count()) if self.list.itemData(i) == wanted), -1)
        if found < 0 and isinstance(wanted, Reference):
            self.list.addItem(target(desk.family, self.document, wanted), wanted)
            found = self.list.count() - 1
        self.list.setCurrentIndex(max(found, 0))
        self.list.currentIndexChanged.connect(lambda _: changed())
        self.widgets.append(self.list)

    def offered(self) -> list[tuple[Any, str]]:
        """What can be chosen now: value and words."""
        takes, main = self.blank.takes, self.desk.main
        if takes == "choice":
            return list(self.blank.choices)
        if takes == "body":
            return [(k, b.name) for k, b in self.document.bodies.items() if not b.backdrop_only]
        if takes == "move":
            return [(Reference(item=o.id, stage="here"), o.name) for o in building.moves(self.document)]
        lists = {
            "plane": choices.planes,
            "line": choices.lines,
            "point": choices.points,
            "place": choices.places,
            "divider": choices.dividers,
        }
        found = lists[takes](main.subject)
        return [(reference, words) for words, reference in found]

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
        return {self.blank.field: (data,) if self.blank.takes == "body" else data}


class PickBlank(Filled):
    """Things picked in the canvas: while it is active, every click there puts one in or takes it out."""

    def __init__(self, desk: Desk, blank: Blank, changed: Callable[[], object], value: Any) -> None:
        super().__init__(desk, blank, changed)
        self._picked: list[Reference] = list(value or ())
        self.button = _Button(self)
        self.button.setCheckable(True)
        self.button.setAccessibleName(f"{blank.takes} that are picked")
        self.button.toggled.connect(lambda _: changed())
        self.widgets.append(self.button)
        self.word()

    def word(self) -> None:
        """Say how many there are, and of what."""
        one = COUNTED.get(self.blank.takes, "face")
        count = len(self.picked)
        self.button.setText(f"{count} {one}{'s' if count != 1 else ''}" if count else f"pick {one}s")
        each = [target(self.desk.family, self.document, r) for r in self.picked]
        self.button.setToolTip("\n".join([*each, "Active: clicks in the canvas put one in or take it out. Delete takes out the last."]))  # fmt: skip

    @property
    def picked(self) -> Sequence[Reference]:
        """What is in."""
        return self._picked

    def activate(self, active: bool) -> None:
        """The button is pressed while clicks go to it."""
        self.button.setChecked(active)

    def take(self, reference: Reference) -> None:
        """Put something in, or take it out when it is in."""
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


class WallsBlank(PickBlank):
    """Faces with a wall of their own, and how thick it is; walls of other thicknesses are left as they are."""

    def __init__(self, desk: Desk, blank: Blank, changed: Callable[[], object], value: Any) -> None:
        walls = value or ()
        first = walls[0].thickness if walls else None
        self.others = tuple(w for w in walls if w.thickness != first)
        super().__init__(desk, blank, changed, [w.face for w in walls if w.thickness == first])
        shown = text(desk.family, self.document, first) if first is not None else blank.first
        self.field = value_field(shown, "thickness of these walls")
        self.field.textEdited.connect(lambda _: changed())
        self.widgets.insert(1, self.field)

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The walls."""
        bound = names.bind_quantity(family, document, self.field.text().strip(), "length", "mm")
        edits.refuse_not_positive(bound, "length", "thickness of a wall")
        walls = tuple(OwnWall(face=r, thickness=bound) for r in self.picked)
        return {self.blank.field: (*walls, *self.others)}


class _Button(QToolButton):
    """The button of things that are picked; Delete takes the last one out."""

    def __init__(self, of: PickBlank) -> None:
        super().__init__()
        self.of = of

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Delete and Backspace take out the last."""
        if event is not None and event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.of.drop_last()
        else:
            super().keyPressEvent(event)


class BodiesBlank(Filled):
    """Bodies of the document, each a button."""

    def __init__(self, desk: Desk, blank: Blank, changed: Callable[[], object], value: Any) -> None:
        super().__init__(desk, blank, changed)
        self.buttons: dict[str, QToolButton] = {}
        for key, body in self.document.bodies.items():
            if body.backdrop_only:
                continue
            button = QToolButton()
            button.setText(body.name)
            button.setCheckable(True)
            button.setChecked(key in (value or ()))
            button.setToolTip("acts on it, or not")
            button.setIcon(swatch(colour_of(self.document, key)))
            button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
            button.toggled.connect(lambda _: changed())
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


class DoesBlank(BodiesBlank):
    """What something solid does, to which bodies, or the name of the body that it makes."""

    def __init__(self, desk: Desk, blank: Blank, changed: Callable[[], object], record: Any, is_new: bool) -> None:
        super().__init__(desk, blank, changed, record.acts_on)
        self.record, self.is_new = record, is_new
        self._own = record.acts_on[0] if record.does == "make" else new_id()
        self.verb = ListBox()
        for key, word in VERBS.items():
            self.verb.addItem(word, key)
        self.verb.setCurrentIndex(list(VERBS).index(record.does))
        self.verb.setEnabled(is_new or record.does != "make")
        self.verb.currentIndexChanged.connect(lambda _: self._on_verb())
        taken = [b.name for b in self.document.bodies.values()]
        self.body_name = value_field(free_name("Body", taken), "name of the new body", 80)
        self.body_name.textEdited.connect(lambda _: changed())
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


class EndBlank(Filled):
    """One end of an extrusion: words of its own first, then every plane and point; and a field for its distance."""

    def __init__(self, desk: Desk, blank: Blank, changed: Callable[[], object], record: Any) -> None:
        super().__init__(desk, blank, changed)
        self.near = blank.takes == "near"
        self.choice = ListBox()
        self.choice.setAccessibleName(f"{'where it starts' if self.near else 'where it ends'}: which end")
        words = (
            (("from its plane", None), ("from before it by", "distance"), ("from before all", "through"))
            if self.near
            else (("by", "distance"), ("both ways by", "both"), ("through all", "through"), ("up to the next", "next"))
        )
        for word, data in words:
            self.choice.addItem(word, data)
        end = getattr(record, blank.takes)
        for reference, called in self._targets(end):
            self.choice.addItem(f"{'from' if self.near else 'up to'} {called}", reference)
        document, shown = self.document, "" if self.near else blank.first
        if isinstance(end, Distance):
            both = not self.near and isinstance(record.near, Symmetric)
            self._choose("both" if both else "distance")
            shown = text(desk.family, document, end.value)
        elif isinstance(end, (Through, ToNext)):
            self._choose("through" if isinstance(end, Through) else "next")
        elif isinstance(end, ToFace):
            self._choose(end.target)
            shown = text(desk.family, document, end.offset) if end.offset is not None else ""
        self.field = value_field(shown, "where it starts" if self.near else "distance or offset")
        self.field.setPlaceholderText("offset, if any")
        self._offset, self._typed = isinstance(end, ToFace), {isinstance(end, ToFace): shown}
        self.field.textEdited.connect(lambda _: changed())
        self.choice.currentIndexChanged.connect(lambda _: self._on_choice())
        self.widgets = [self.choice, self.field]

    def _choose(self, data: object) -> None:
        found = (i for i in range(self.choice.count()) if self.choice.itemData(i) == data)
        self.choice.setCurrentIndex(next(found, 0))

    def _targets(self, end: object) -> list[tuple[Reference, str]]:
        """Planes, faces and points an end can reach, the standard ones last, its present one among them."""
        main = self.desk.main
        known = [*choices.planes(main.subject), *choices.curved_faces(main.subject)]
        found = [(r, name) for name, r in known if r.item not in STANDARD_PLANES]
        found += [(r, name) for name, r in choices.points(main.subject) if name != "the origin"]
        found += [(r, f"the {name} plane") for name, r in known if r.item in STANDARD_PLANES]
        if isinstance(end, ToFace) and all(end.target != r for r, _ in found):
            found.append((end.target, target(self.desk.family, self.document, end.target)))
        return found

    def _on_choice(self) -> None:
        """A distance that was typed is no offset from a face that is chosen then, nor the other way round."""
        self._typed[self._offset] = self.field.text()
        self._offset = isinstance(self.choice.currentData(), Reference)
        self.field.setText(self._typed.get(self._offset, "" if self._offset or self.near else self.blank.first))
        self.show(True)
        self.changed()

    def show(self, shown: bool) -> None:
        """The field only where a distance or an offset has a meaning."""
        self.choice.setVisible(shown)
        self.field.setVisible(shown and self.choice.currentData() not in (None, "through", "next"))

    @property
    def picked(self) -> Sequence[Reference]:
        """The face, plane or point that it ends on."""
        return chosen(self.choice)

    def activate(self, active: bool) -> None:
        """Frame the list."""
        mark_active(self.choice, active)

    def take(self, reference: Reference) -> None:
        """What was clicked becomes the end."""
        words = target(self.desk.family, self.document, reference)
        choose(self.choice, reference, f"{'from' if self.near else 'up to'} {words}")

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """The end; "both ways" is said by the near one."""
        data, typed = self.choice.currentData(), self.field.text().strip()
        if data is None:
            return {}
        if data in ("through", "next"):
            return {self.blank.takes: Through() if data == "through" else ToNext()}
        if isinstance(data, Reference):
            offset = names.bind_quantity(family, document, typed, "length", "mm") if typed else None
            return {self.blank.takes: ToFace(target=data, offset=offset)}
        value = names.bind_quantity(family, document, typed, "length", "mm")
        edits.refuse_not_positive(value, "length", "where it starts" if self.near else "distance")
        made: dict[str, Any] = {self.blank.takes: Distance(value=value)}
        return {**made, "near": Symmetric()} if data == "both" else made


def filled(
    desk: Desk, blank: Blank, changed: Callable[[], object], record: BodyOperation, value: Any, is_new: bool
) -> Filled:
    """The widgets for a blank, filled as the record has it."""
    if blank.takes == "does":
        return DoesBlank(desk, blank, changed, record, is_new)
    if blank.takes in ("near", "far"):
        return EndBlank(desk, blank, changed, record)
    if blank.takes == "walls":
        return WallsBlank(desk, blank, changed, value)
    if blank.takes in ("regions", "faces", "edges", "path"):
        return PickBlank(desk, blank, changed, value)
    if blank.takes == "bodies":
        return BodiesBlank(desk, blank, changed, value)
    if blank.takes == "flag":
        return FlagBlank(desk, blank, changed, value)
    if blank.takes in ("length", "angle", "number"):
        return ValueBlank(desk, blank, changed, value)
    return ListBlank(desk, blank, changed, value)
