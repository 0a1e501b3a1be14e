"""An operation as one sentence with blanks, over the canvas; the result is previewed while it is edited."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from typing import Any

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import QLineEdit, QPushButton, QWidget

from architectonic.base.errors import UserFault
from architectonic.base.ids import replayed
from architectonic.describe.models.operations import sentence_of
from architectonic.describe.results import Node
from architectonic.describe.words.accepts import NOTHING
from architectonic.describe.words.acting import NearEnd
from architectonic.describe.words.blanks import Blank
from architectonic.describe.words.datums import way_of
from architectonic.describe.words.spoken import Sentence, value_in
from architectonic.describe.words.things import One
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sentences.blankcard import BlankCard, heading
from architectonic.desktop.sentences.blanks.fields import EndField, Field
from architectonic.desktop.sentences.blanks.picks import PickField
from architectonic.desktop.sentences.head import DatumHead
from architectonic.desktop.sentences.holedrawing import HoleDrawing
from architectonic.desktop.sentences.turning import Turning
from architectonic.family import edits
from architectonic.family.hands import shared_words
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.holes.hole import Hole
from architectonic.family.records import Datum, Family, Model, Reference
from architectonic.session.model import building, datums

HINT = "Tab moves to the next blank. A value takes an expression; “high = 8 mm” gives it a name as well."
SEVERAL = "; again takes one out"
STEPS = " Several names, parted by commas, make several steps."


def _sentence(record: BodyOperation | Datum) -> Sentence:
    return way_of(record) if isinstance(record, Datum) else sentence_of(record)


def _given(
    record: BodyOperation | Datum, blanks: Mapping[str, Field], dropped: set[str], family: Family, document: Model
) -> dict[str, Any]:
    """What the blanks say, by field of the record; those of clauses that are not asked for say nothing."""
    given: dict[str, Any] = {}
    for field, blank in blanks.items():
        if field in dropped:
            given[field] = () if isinstance(value_in(record, field), tuple) else None
        elif isinstance(blank.blank, NearEnd):
            given = {"near": None, **blank.read(family, document), **given}
        else:
            given |= blank.read(family, document)
    sentence = _sentence(record)
    if sentence.by is not None:
        by = building.placed(sentence, given)
        given = {**{k: v for k, v in given.items() if not k.startswith("by.")}, "by": by}
    return given


class SentenceCard(BlankCard):
    """Edits an operation on bodies or a datum, new or old. Enter keeps, Esc leaves the document as it was.

    Attributes:
        head: how it is placed and what it is called, of a datum.
        apart: makes a body of each of several regions, where one would be made of them all.

    Signals:
        ready: it opened with everything picked that it needs: what it makes is worth seeing.
        kept (str): the operation of this id was stored.
    """

    ready = pyqtSignal()
    kept = pyqtSignal(str)

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk)
        self.record: BodyOperation | Datum | None = None
        self.is_new = False
        self.head: DatumHead | None = None
        self.apart = QPushButton()
        self.drawing = HoleDrawing(desk)
        self.put_beside(self.drawing)
        self.turning = Turning(desk, self.blanks, False)
        self._at = ""
        self._refused = False
        self._ids: list[str] = []
        self._asked: dict[str, QPushButton] = {}
        self._soon = QTimer(self, singleShot=True, interval=80, timeout=self.preview)  # type: ignore[call-arg]
        desk.main.gathered.connect(self._on_gathered)

    # --- opening and closing --------------------------------------------------------------------------

    def start(self, record: BodyOperation | Datum, is_new: bool) -> None:
        """Open on an operation or a datum."""
        self._ids = []
        self._open(record, is_new)
        empty = self._empty()
        lists = [f for f, b in self.blanks.items() if b.blank.accepts and b.blank.shape == "list"]
        first = empty.blank.field if empty is not None else next(iter(f for f in lists if f not in self._asked), "")
        self.turning.into_material()
        self.value.setFocus()
        if isinstance(self.value, QLineEdit):
            self.value.selectAll()
        if is_new and first:
            self.turn_to(first)
        if empty is None:
            self.ready.emit()
        self.preview()

    def _open(self, record: BodyOperation | Datum, is_new: bool) -> None:
        self.record, self.is_new = record, is_new
        self.begin()
        self._asked, self._at = {}, ""
        self.turning = Turning(self.desk, self.blanks, is_new)
        sentence = _sentence(record)
        self.drawing.hold(record if isinstance(record, Hole) else None)
        if isinstance(record, Datum):
            self.head = DatumHead(record, is_new)
            self.head.turned.connect(self._on_way)
            self.head.named.connect(self._soon.start)
            for widget in (heading("Datum" if is_new else "Change"), *self.head.widgets):
                self.add(widget)
        else:
            self.head = None
            self.add(heading(sentence.title))
        for blank in sentence.blanks:
            self._add_blank(record, blank)
        self.apart = QPushButton("one body each")
        self.apart.setCheckable(True)
        self.apart.setToolTip("each region becomes a body of its own, by an operation of its own")
        self.apart.toggled.connect(lambda _: self._soon.start())
        self.add(self.apart)
        self.apart.hide()
        self.show()
        self.raise_()
        self._say_clauses()

    def _on_way(self, key: str) -> None:
        """Another way to place it: what it is called stays."""
        if not isinstance(record := self.record, Datum) or self.head is None:
            return  # chosen in a list that stayed open while the card was left
        called = self.name.text()
        try:
            made = datums.begun(self.desk.main.subject, key)
        except UserFault as fault:
            self.say(fault.sentence, True)
            self.head.show_way(record)
            return
        kept = called if called != record.name or not self.is_new else made.name
        self.start(
            edits.replace(made, id=record.id, name=kept, switch=record.switch, stretch=record.stretch), self.is_new
        )

    def _add_blank(self, record: BodyOperation | Datum, blank: Blank) -> None:
        self.add_blank(record, blank, self.is_new)
        if blank.clause:
            button = QPushButton(blank.clause)
            button.setCheckable(True)
            button.setChecked(value_in(record, blank.field) not in (None, ()))
            button.setToolTip("one more clause of the sentence, or without it")
            button.toggled.connect(partial(self._on_clause, blank))
            self._asked[blank.field] = button
            self.add(button)

    @property
    def name(self) -> QLineEdit:
        """Where the name of the datum is typed."""
        assert self.head is not None
        return self.head.name

    @property
    def value(self) -> QWidget:
        """What the keyboard starts in: a name, the first value, else the first blank that is picked."""
        if isinstance(self.record, Datum):
            return self.name
        first = next((f for b in self.blanks.values() if (f := b.first) is not None), None)
        if first is not None:
            return first
        clicked = [b for b in self.blanks.values() if b.blank.accepts] or list(self.blanks.values())
        found = next((b.widgets[-1] for b in clicked if b.widgets), None)
        return found if found is not None else self

    def leave(self) -> None:
        """Close; the document is as it was."""
        if self.record is not None:
            self._close()
            self.desk.preview(None)

    def _close(self) -> None:
        self._soon.stop()
        self.record = None
        self.desk.main.gather(NOTHING)
        self.drawing.hold(None)
        self.hide()

    # --- blanks ---------------------------------------------------------------------------------------

    def _on_clause(self, blank: Blank, wanted: bool) -> None:
        """A further clause is added or taken out again; of two that exclude each other the newer stays."""
        other = self._asked.get(blank.unless)
        if wanted and other is not None and other.isChecked():
            other.setChecked(False)
        self.on_changed(blank.field)

    def turn_to(self, field: str) -> None:
        """Let clicks in the canvas fill a blank, and no other."""
        if field == self._at:
            return
        self._at = field
        for key, blank in self.blanks.items():
            if key != field:
                blank.activate(False)
        if field:
            self.blanks[field].activate(True)
        self._say_clauses()
        self._say_hint()

    def on_changed(self, field: str) -> None:
        """Preview what the sentence says now."""
        blank = self.blanks.get(field)
        if blank is None:
            return  # chosen in a list that stayed open while the card went on to another sentence
        if isinstance(blank, PickField):
            if blank.button.isChecked() and self._at != field:
                self.turn_to(field)
            elif not blank.button.isChecked() and self._at == field:
                self._at = ""
        self.turning.into_material()
        self._say_clauses()
        self._soon.start()

    def _dropped(self) -> set[str]:
        """The fields of the clauses that are not asked for."""
        return {f for f, button in self._asked.items() if not button.isChecked()}

    def _say_clauses(self) -> None:
        """Which clauses are shown, and what a click in the canvas fills."""
        dropped = self._dropped()
        for field, blank in self.blanks.items():
            blank.show(field not in dropped)
        near, far = self.blanks.get("near"), self.blanks.get("far")
        if isinstance(near, EndField) and isinstance(near.blank, NearEnd) and isinstance(far, EndField):
            near.show(far.choice.currentData() != "both")
        active = self._active()
        self.desk.main.gather(
            active.blank.accepts if active else NOTHING,
            active.picked if active else (),
            self.record.id if self.record else "",
        )
        self.place()

    def _empty(self) -> Field | None:
        """The first blank that waits for clicks; those of clauses that are not asked for do not."""
        dropped = self._dropped()
        return next((b for f, b in self.blanks.items() if b.wants and f not in dropped), None)

    def _active(self) -> Field | None:
        return self.blanks.get(self._at) if self._at not in self._dropped() else None

    def _on_gathered(self, reference: Reference) -> None:
        """Something was clicked in the canvas while the sentence is open."""
        active = self._active()
        if self.record is not None and active is not None and reference.item != self.record.id:
            active.take(reference)

    def clause_of(self, field: Field) -> QPushButton | None:
        """The button that adds the clause of a blank; None of one of the main clause."""
        return self._asked.get(field.blank.field)

    # --- results --------------------------------------------------------------------------------------

    def edited(self, family: Family) -> Family:
        """The family with the sentence as it stands.

        Raises:
            UserFault: a blank cannot be used; says which.
        """
        record = self.record
        assert record is not None
        make_id, dropped = replayed(self._ids), self._dropped()
        for field, held in self.blanks.items():
            if field not in dropped:
                family = held.named(family, self.desk.main.document_id, make_id)
        document = edits.model(family, self.desk.main.document_id)
        given = _given(record, self.blanks, dropped, family, document)
        before = self.desk.main.after_marker
        if isinstance(record, Datum):
            for held in self.blanks.values():
                if isinstance(held.blank, One) and not held.blank.optional and not held.picked:
                    told = f"there is no {held.blank.keyword} to take yet"
                    raise UserFault(told, self.name.text(), f"click {held.blank.accepts.says}")
            made = edits.replace(record, name=self.name.text(), **given)
            return datums.store(family, document.id, made, before, make_id)
        name = getattr(self.blanks.get("acts_on"), "body_name", None)
        body_name = name.text().strip() if name is not None and self.is_new else ""
        made_by = edits.replace(record, **given)
        apart = self.is_new and building.can_be_apart(made_by)
        self.apart.setVisible(apart)
        store = building.store_apart if apart and self.apart.isChecked() else building.store
        return store(family, document.id, made_by, before, body_name, make_id)

    def preview(self) -> None:
        """Show what the sentence would make; a blank that cannot be used says why and keeps the last picture."""
        if self.record is None:
            return
        try:
            self.desk.preview(self.edited(self.desk.family))
            self._refused = False
            self._say_hint()
        except UserFault as fault:
            self._refused = True  # what the picture of before comes to is of no interest any more
            self.say(fault.sentence, True)

    def _say_hint(self) -> None:
        """What the active blank takes."""
        active = self._active()
        if active is None:
            main, record = self.desk.main, self.record
            place = main.until if self.is_new or record is None else record.id
            self.say((main.at is not None and shared_words(self.desk.family, main.at.document, place)) or HINT)
            return
        several = SEVERAL if isinstance(active, PickField) else ""
        steps = STEPS if isinstance(self.record, Datum) and "by.distance" in self.blanks else ""
        self.say(f"Click {active.blank.accepts.says} in the canvas{several}.{steps}")

    def refresh(self) -> None:
        """Say whether the previewed operation fails."""
        if self.record is None or self.desk.evaluation is None or self.desk.main.at is None or self._refused:
            return
        empty = self._empty()
        if empty is not None:  # it is asked for, not missed
            if empty is not self._active():
                self.say(f"Next: {empty.wants}.")
            return
        what = "frame" if isinstance(self.record, Datum) else "state"
        outcome = self.desk.evaluation.outcomes.get(Node(what, self.desk.main.at, self.record.id))
        if outcome is not None and outcome.problem is not None and not self.turning.to_target(outcome.problem.code):
            self.say(f"{outcome.problem.what}; {outcome.problem.mend}".strip("; "), True)

    def keep(self) -> None:
        """Store the operation as one undoable step."""
        record, empty = self.record, self._empty()
        if record is None:
            return
        if empty is not None and isinstance(record, BodyOperation):
            self.turn_to(empty.blank.field)
            self.say(f"Not yet: {empty.wants}, then Enter.", True)
            return
        self.desk.preview(None, evaluate=False)
        verb = "new" if self.is_new else "change"
        named = f"datum {self.name.text().strip()}" if isinstance(record, Datum) and self.is_new else record.name
        if self.desk.apply(f"{verb} {named}", self.edited):
            self._close()
            if self.is_new and self.desk.main.until:
                self.desk.main.until = record.id
            self.desk.main.operation, self.desk.main.picks = record.id, []
            self.desk.main.selection_changed.emit()
            self.kept.emit(record.id)
        else:
            self.preview()
