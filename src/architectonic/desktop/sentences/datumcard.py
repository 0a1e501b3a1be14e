"""Datums as one sentence with blanks: planes, axes and points, by what they are placed by."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QWidget

from architectonic.base.errors import UserFault
from architectonic.base.ids import new_id
from architectonic.describe.results import Node
from architectonic.describe.words.sentences import text
from architectonic.desktop.kit.cards import WrappedCard, clear
from architectonic.desktop.kit.listbox import ListBox
from architectonic.desktop.pane.desk import Desk
from architectonic.family import edits, names
from architectonic.family.names import free_name
from architectonic.family.records import (
    AnyAxis,
    AnyPlane,
    AnyPoint,
    CrossingAxis,
    Datum,
    Expression,
    Family,
    FrameAt,
    LineAxis,
    LinePlane,
    MidPlane,
    Model,
    OffsetPlane,
    PointAt,
    PointCrossing,
    PointHere,
    PointsAxis,
    PointsPlane,
    Reference,
    SquareAxis,
    SquarePlane,
    TangentPlane,
)
from architectonic.quantities.units import DEFAULT_UNIT
from architectonic.session.picking import choices


class Blank(NamedTuple):
    """One blank: the word before it, what fills it (plane, line, point, face, or a quantity), and a first text."""

    word: str
    takes: str
    first: str = ""
    field: str = ""
    optional: bool = False


class How(NamedTuple):
    """A way to place a datum: its words, its record, its blanks."""

    gives: str
    words: str
    record: type
    blanks: tuple[Blank, ...]


HOWS = (
    How("Plane", "beside a plane", OffsetPlane, (Blank("beside", "plane", field="plane"), Blank("at", "length", "10 mm", "distance"))),
    How("Plane", "through a line, turned", LinePlane, (
        Blank("through", "line", field="line"), Blank("by", "angle", "45 deg", "angle"), Blank("from", "plane", field="base", optional=True))),
    How("Plane", "square to a curve", SquarePlane, (Blank("square to", "line", field="line"), Blank("at the share", "number", "0", "share"))),
    How("Plane", "midway between two", MidPlane, (Blank("between", "plane", field="first"), Blank("and", "plane", field="second"))),
    How("Plane", "through three points", PointsPlane, (
        Blank("through", "point", field="points"), Blank(",", "point", field="points"), Blank("and", "point", field="points"))),
    How("Plane", "touching a round face", TangentPlane, (Blank("touching", "face", field="face"), Blank("at", "angle", "0 deg", "angle"))),
    How("Plane", "with an origin of its own", FrameAt, (
        Blank("at", "point", field="origin"), Blank("parallel to", "plane", field="plane"), Blank("x along", "line", field="along", optional=True))),
    How("Axis", "along a line", LineAxis, (Blank("along", "line", field="line"),)),
    How("Axis", "through two points", PointsAxis, (Blank("from", "point", field="points"), Blank("to", "point", field="points"))),
    How("Axis", "where two planes cross", CrossingAxis, (Blank("of", "plane", field="first"), Blank("and", "plane", field="second"))),
    How("Axis", "square to a plane", SquareAxis, (Blank("square to", "plane", field="plane"), Blank("through", "point", field="point"))),
    How("Point", "at a point", PointHere, (Blank("at", "point", field="point"),)),
    How("Point", "at coordinates", PointAt, (
        Blank("x", "length", "0 mm", "x"), Blank("y", "length", "0 mm", "y"), Blank("z", "length", "0 mm", "z"))),
    How("Point", "where a line crosses a plane", PointCrossing, (Blank("line", "line", field="line"), Blank("and", "plane", field="plane"))),
)  # fmt: skip
NOTHING = "nothing"
LISTS: dict[str, Callable[..., list[tuple[str, Reference]]]] = {
    "plane": choices.planes,
    "line": choices.lines,
    "point": choices.points,
    "face": choices.round_faces,
}


class DatumCard(WrappedCard):
    """Makes or changes a datum; what it would be is shown at once. Several names, parted by commas, make several."""

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, 900)
        self.desk = desk
        self.record: Datum | None = None
        self.how = ListBox()
        self.blanks: list[QComboBox | QLineEdit] = []
        desk.main.selection_changed.connect(self._on_picked)

    def start(self, record: Datum | None = None, gives: str = "Plane") -> None:
        """Open for a new datum, or to change one."""
        self.record = record
        self._was = record.by if record is not None else None
        way = next((k for k, h in enumerate(HOWS) if record is not None and isinstance(record.by, h.record)), None)
        self._build(self._fitting(gives) if way is None else way)

    def beside(self, plane: str, distance: float) -> None:
        """A copy of a datum plane at a distance, as it is pulled."""
        way = next(k for k, h in enumerate(HOWS) if h.record is OffsetPlane)
        if self.record is not None or not self.isVisible() or self.how.currentData() != way:
            self.record = self._was = None
            self._build(way)
        base, far = self.blanks
        assert isinstance(base, QComboBox) and isinstance(far, QLineEdit)
        found = (i for i in range(base.count()) if base.itemData(i) == Reference(item=plane))
        base.setCurrentIndex(next(found, base.currentIndex()))
        far.setText(f"{distance:g} mm")
        self.preview()

    def _fitting(self, gives: str) -> int:
        """The way that what is chosen asks for."""
        main = self.desk.main
        lines = [p for p in main.curves if "." not in p]
        faces = [p for p in main.picks if p[0] == "face"]
        points = [p for p in main.curves if "." in p or p == "origin"]
        wanted = {"Plane": "beside a plane", "Axis": "along a line", "Point": "at a point"}[gives]
        if gives == "Plane":
            if len(points) == 3:
                wanted = "through three points"
            elif len(faces) == 2:
                wanted = "midway between two"
            elif faces and choices.round_faces(main.subject):
                wanted = "touching a round face"
            elif lines or any(p[0] == "edge" for p in main.picks):
                wanted = "through a line, turned"
        elif gives == "Axis" and len(points) == 2:
            wanted = "through two points"
        return next(k for k, h in enumerate(HOWS) if h.gives == gives and h.words == wanted)

    def _build(self, way: int) -> None:
        clear(self.line)
        how = HOWS[way]
        head = QLabel("Datum" if self.record is None else "Change")
        head.setStyleSheet("font-size: 14px; font-weight: 600;")
        self._add(head)
        self.name = QLineEdit(self.record.name if self.record else self._free(how.gives))
        self.name.setAccessibleName("name of the datum; several, parted by commas, make several")
        self.name.setMinimumWidth(120)
        self.how = ListBox()
        for k, h in enumerate(HOWS):
            if h.gives == how.gives or self.record is None:
                self.how.addItem(f"{h.gives} {h.words}", k)
        self.how.setCurrentIndex(self.how.findData(way))
        self.how.setAccessibleName("how it is placed")
        self.how.currentIndexChanged.connect(lambda _: self._build(self.how.currentData()))
        self._add(self.how)
        self._add(self._soft("called"))
        self._add(self.name)
        self.blanks = []
        seen: dict[str, int] = {}
        for blank in how.blanks:
            self._add(self._soft(blank.word))
            nth = seen.get(blank.field, 0)
            seen[blank.field] = nth + 1
            self.blanks.append(self._blank(how, blank, nth))
            self._add(self.blanks[-1])
        self.show()
        self.raise_()
        self.name.textEdited.connect(lambda _: self.preview())
        self.preview()
        self.name.setFocus()
        self.name.selectAll()

    def _add(self, widget: QWidget) -> None:
        self.line.addWidget(widget)
        widget.show()

    def _soft(self, word: str) -> QLabel:
        made = QLabel(word)
        made.setObjectName("soft")
        return made

    def _free(self, gives: str) -> str:
        return free_name(f"{gives} 1", [o.name for o in self.desk.main.build])

    def _blank(self, how: How, blank: Blank, nth: int) -> QComboBox | QLineEdit:
        """A list of what fits, or a field for an expression; filled as the record has it."""
        was = getattr(self._was, blank.field, None) if isinstance(self._was, how.record) else None
        was = was[nth] if isinstance(was, tuple) else was
        if blank.takes not in LISTS:
            document = self.desk.main.document
            assert isinstance(document, Model)
            shown = text(self.desk.family, document, was) if isinstance(was, Expression) else blank.first
            field = QLineEdit(shown)
            field.setMinimumWidth(96)
            field.setAccessibleName(blank.word)
            field.textEdited.connect(lambda _: self.preview())
            return field
        made = ListBox()
        made.setAccessibleName(blank.word)
        options = LISTS[blank.takes](self.desk.main.subject)
        if blank.optional:
            made.addItem(NOTHING, None)
        for name, reference in options:
            made.addItem(name, reference)
        if isinstance(was, Reference):
            found = [i for i in range(made.count()) if made.itemData(i) == was]
            if not found:
                made.addItem("as it is", was)
                found = [made.count() - 1]
            made.setCurrentIndex(found[0])
        elif not blank.optional and nth < made.count():
            made.setCurrentIndex(nth)
        elif how.record is MidPlane and blank.field == "second" and made.count() > 1:
            made.setCurrentIndex(1)
        made.currentIndexChanged.connect(lambda _: self.preview())
        return made

    def _on_picked(self) -> None:
        """What is picked while the card is open fills the blanks that take it, in order."""
        if not self.isVisible():
            return
        how = HOWS[self.how.currentData()]
        for blank, widget in zip(how.blanks, self.blanks, strict=True):
            if isinstance(widget, QComboBox) and blank.takes in LISTS:
                old = widget.currentData()
                fresh = LISTS[blank.takes](self.desk.main.subject)
                known = [widget.itemData(i) for i in range(widget.count())]
                added = [entry for entry in fresh if entry[1] not in known]
                for name, reference in added:
                    widget.addItem(name, reference)
                if added and old == (None if blank.optional else known[0] if known else None):
                    widget.setCurrentIndex(widget.count() - 1)
        self.place()

    # --- results --------------------------------------------------------------------------------------

    def _by(self, family: Family, document: Model, step: int = 1) -> AnyPlane | AnyAxis | AnyPoint:
        """The placement as it stands.

        Raises:
            UserFault: a blank is empty or cannot be used; says which.
        """
        how = HOWS[self.how.currentData()]
        given: dict[str, object] = {}
        for blank, widget in zip(how.blanks, self.blanks, strict=True):
            value: object
            if isinstance(widget, QLineEdit):
                typed = widget.text().strip()
                typed = f"{step} * ({typed})" if step > 1 and how.record is OffsetPlane else typed
                value = names.bind_quantity(family, document, typed, blank.takes, DEFAULT_UNIT[blank.takes])
            else:
                value = widget.currentData()
                if value is None and not blank.optional:
                    raise UserFault(f"there is no {blank.takes} to take yet", self.name.text(), f"pick a {blank.takes}")
            given[blank.field] = (*given.get(blank.field, ()), value) if blank.field == "points" else value  # type: ignore[misc]
        made: AnyPlane | AnyAxis | AnyPoint = how.record(**given)
        return made

    def edited(self, family: Family) -> Family:
        """The family with the datum as it stands; several names make several, each a step further.

        Raises:
            UserFault: a blank or name cannot be used.
        """
        main = self.desk.main
        document = edits.model(family, main.document_id)
        if self.record is not None:
            changed = edits.replace(self.record, name=self.name.text().strip(), by=self._by(family, document))
            others = [o.name for o in document.build if o.id != self.record.id]
            names.check_name(changed.name, others, "datum")
            return edits.replace_operation(family, document.id, changed)
        called = [n.strip() for n in self.name.text().split(",") if n.strip()] or [""]
        if len(called) > 1 and HOWS[self.how.currentData()].record is not OffsetPlane:
            raise UserFault("several at once are only made beside a plane", self.name.text(), "give one name")
        self.made = []
        for step, name in enumerate(called, 1):
            datum = Datum(id=new_id(), name=name, by=self._by(family, document, step))
            family = edits.add_operation(family, document.id, datum, main.after_marker)
            self.made.append(datum.id)
        return family

    def preview(self) -> None:
        """Show what it would be, or say what is wrong."""
        told, bad = "Pick in the canvas to fill a blank; several names, parted by commas, make several steps.", False
        try:
            family = self.edited(self.desk.family)
            self.desk.preview(family)
        except UserFault as fault:
            told, bad = fault.sentence, True
        self.say(told, bad)

    def refresh(self) -> None:
        """Say why the previewed datum cannot be."""
        at, evaluation = self.desk.main.at, self.desk.evaluation
        if not self.isVisible() or at is None or evaluation is None:
            return
        keys = [self.record.id] if self.record is not None else getattr(self, "made", [])
        for key in keys:
            outcome = evaluation.outcomes.get(Node("frame", at, key))
            if outcome is not None and outcome.problem is not None:
                self.say(f"{outcome.problem.what}; {outcome.problem.mend}".strip("; "), True)

    def keep(self) -> None:
        """Store it as one undoable step."""
        self.desk.preview(None, evaluate=False)
        verb = "new datum" if self.record is None else "change"
        if self.desk.apply(f"{verb} {self.name.text().strip()}", self.edited):
            self.hide()
            if self.record is None and self.desk.main.until:
                self.desk.main.until = self.made[-1]
            self.desk.main.operation = self.made[-1] if self.record is None else self.record.id
            self.desk.main.selection_changed.emit()
        else:
            self.preview()
            self.hint.setText(self.desk.refusal)

    def leave(self) -> None:
        """Close; the picture goes back."""
        if self.isVisible():
            self.hide()
            self.desk.preview(None)
