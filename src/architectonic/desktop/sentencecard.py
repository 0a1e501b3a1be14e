"""An operation as one sentence with blanks, over the canvas; the result is previewed while it is edited."""

from __future__ import annotations

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from architectonic.base.errors import UserFault
from architectonic.base.ids import new_id
from architectonic.describe.results import Node
from architectonic.describe.sentences import VERBS, text
from architectonic.desktop.blanks import FAR, NEAR, EndBlank, value_field
from architectonic.desktop.cards import Card
from architectonic.desktop.theme import down_arrow
from architectonic.desktop.workbench import Workbench
from architectonic.family import edits, names
from architectonic.family.records import (
    Body,
    Distance,
    Expression,
    Extrude,
    Family,
    Fillet,
    Model,
    Reference,
    Symmetric,
    ToPlane,
)


def new_extrude(document: Model, regions: list[Reference]) -> Extrude:
    """An extrude of regions: the first of a part makes a body, later ones cut from all."""
    does = "cut" if document.bodies else "make"
    taken = [o.name for o in document.build]
    return Extrude(
        id=new_id(),
        name=_free_name("Cut" if does == "cut" else "Block", taken),
        does="cut" if does == "cut" else "make",
        acts_on=tuple(document.bodies) if does == "cut" else (new_id(),),
        regions=tuple(regions),
        far=Distance(value=Expression(text="10 mm")),
    )


def new_fillet(document: Model, edges: list[Reference]) -> Fillet:
    """A fillet of the picked edges."""
    name = _free_name("Round", [o.name for o in document.build])
    return Fillet(id=new_id(), name=name, edges=tuple(edges), radius=Expression(text="1 mm"))


def _free_name(base: str, taken: list[str]) -> str:
    known = {names.identifier(t).casefold() for t in taken}
    number = 1
    while (name := base if number == 1 else f"{base} {number}") and names.identifier(name).casefold() in known:
        number += 1
    return name


class SentenceCard(Card):
    """Edits an extrude or a fillet, new or old. Enter keeps, Esc leaves the document as it was."""

    def __init__(self, parent: QWidget, bench: Workbench) -> None:
        super().__init__(
            parent,
            "QComboBox { background: #FDFCF9; border: 1px solid #B9B1A2; border-radius: 4px; padding: 3px 8px; font-size: 13px; }"
            "QComboBox::drop-down { border: none; width: 20px; }"
            f"QComboBox::down-arrow {{ image: url({down_arrow()}); width: 10px; height: 10px; }}"
            "QToolButton:checked { background: #F0E2EA; border-color: #8E2A6B; color: #6E1C52; }",
        )
        self.bench = bench
        self.record: Extrude | Fillet | None = None
        self.is_new = False
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(14, 10, 14, 10)
        self._line: QWidget | None = None
        self.hint = QLabel()
        self.hint.setObjectName("soft")
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(250)
        self._soon.timeout.connect(self.preview)
        foot = QHBoxLayout()
        foot.addWidget(self.hint, 1)
        leave, self.keep_button = QPushButton("Leave as it was  Esc"), QPushButton("Keep  Enter")
        self.keep_button.setObjectName("main")
        leave.clicked.connect(self.leave)
        self.keep_button.clicked.connect(self.keep)
        foot.addWidget(leave)
        foot.addWidget(self.keep_button)
        self._foot = foot
        self._column.addLayout(foot)

    # --- opening and closing --------------------------------------------------------------------------

    def start(self, record: Extrude | Fillet, is_new: bool) -> None:
        """Open on an operation."""
        self.record, self.is_new = record, is_new
        if self._line is not None:
            self._column.removeWidget(self._line)
            self._line.hide()
            self._line.deleteLater()
        self._line = self._extrude(record) if isinstance(record, Extrude) else self._fillet(record)
        self._column.insertWidget(0, self._line)
        self.place()
        self.show()
        self.raise_()
        self.value.setFocus()
        self.value.selectAll()
        self.preview()

    def place(self) -> None:
        """At the bottom of the canvas."""
        parent = self.parentWidget()
        if parent is not None:
            self._column.activate()
            width = min(max(self.sizeHint().width(), 620), parent.width() - 24)
            height = max(self.heightForWidth(width), self.sizeHint().height()) + 4
            self.setGeometry((parent.width() - width) // 2, parent.height() - height - 14, width, height)

    def leave(self) -> None:
        """Close; the document is as it was."""
        self._close()
        self.bench.preview(None)

    def _close(self) -> None:
        self._soon.stop()
        self.record = None
        self.hide()

    # --- blanks ---------------------------------------------------------------------------------------

    def _start_line(self) -> tuple[QWidget, QHBoxLayout]:
        holder = QWidget()
        rows = QVBoxLayout(holder)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(7)
        return holder, self._next_line(holder)

    def _next_line(self, holder: QWidget) -> QHBoxLayout:
        rows, line = holder.layout(), QHBoxLayout()
        assert isinstance(rows, QVBoxLayout)
        line.setSpacing(7)
        rows.addLayout(line)
        return line

    def _field(self, shown: str, name: str, wide: int = 130) -> QLineEdit:
        made = value_field(shown, name, wide)
        made.textEdited.connect(lambda _: self._soon.start())
        return made

    def _extrude(self, record: Extrude) -> QWidget:
        document = self._document
        holder, line = self._start_line()
        self.verb = QComboBox()
        for key, word in VERBS.items():
            self.verb.addItem(word, key)
        self.verb.setCurrentIndex(list(VERBS).index(record.does))
        self.verb.setEnabled(self.is_new or record.does != "make")
        line.addWidget(self.verb)
        self.body_buttons: dict[str, QToolButton] = {}
        for key, body in document.bodies.items():
            button = QToolButton()
            button.setText(body.name)
            button.setCheckable(True)
            button.setChecked(key in record.acts_on)
            button.setToolTip("acts on it, or not")
            button.toggled.connect(lambda _: self._soon.start())
            line.addWidget(button)
            self.body_buttons[key] = button
        self.body_name = self._field(
            _free_name("Body", [b.name for b in document.bodies.values()]), "name of the new body", 80
        )
        line.addWidget(self.body_name)
        line.addStretch(1)
        line = self._next_line(holder)  # bodies above, ends below: neither is ever cut short
        near = None if isinstance(record.near, Symmetric) else record.near
        self.near_end = EndBlank(self.bench, near, NEAR, "from", "where it starts", line)
        self.far_end = EndBlank(self.bench, record.far, FAR, "up to", "distance or offset", line)
        self.start_at, self.near_value = self.near_end.choice, self.near_end.field
        self.end, self.value = self.far_end.choice, self.far_end.field
        for field in (self.near_value, self.value):
            field.textEdited.connect(lambda _: self._soon.start())
        if isinstance(record.near, Symmetric):
            self.end.setCurrentIndex(1)
        self.flip = QToolButton()
        self.flip.setText("Flip side")
        self.flip.setCheckable(True)
        self.flip.setChecked(record.flip)
        line.addWidget(self.flip)
        line.addStretch(1)
        for signal in (
            self.verb.currentIndexChanged,
            self.end.currentIndexChanged,
            self.start_at.currentIndexChanged,
            self.flip.toggled,
        ):
            signal.connect(self._on_choice)
        self._on_choice()
        return holder

    def _fillet(self, record: Fillet) -> QWidget:
        holder, line = self._start_line()
        count = len(record.edges)
        line.addWidget(QLabel(f"Round  {count} edge{'s' if count != 1 else ''}  with radius"))
        self.value = self._field(text(self.bench.family, self._document, record.radius), "radius")
        line.addWidget(self.value)
        line.addStretch(1)
        return holder

    def _on_choice(self) -> None:
        makes = self.verb.currentData() == "make"
        self.body_name.setVisible(makes and self.is_new)
        for button in self.body_buttons.values():
            button.setVisible(not makes)
        self.start_at.setEnabled(self.end.currentIndex() != 1)
        self.near_value.setVisible(self.start_at.currentIndex() > 0 and self.start_at.isEnabled())
        self._soon.start()

    # --- results --------------------------------------------------------------------------------------

    @property
    def _document(self) -> Model:
        document = self.bench.main.document
        assert isinstance(document, Model)
        return document

    def edited(self, family: Family) -> Family:
        """The family with the sentence as it stands.

        Raises:
            UserFault: a blank cannot be used; says which.
        """
        record, document = self.record, self._document
        assert record is not None
        if isinstance(record, Fillet):
            radius = names.bind_quantity(family, document, self.value.text(), "length", "mm")
            edits.refuse_not_positive(radius, "length", "radius")
            return self._store(family, edits.replace(record, radius=radius))
        changed = self._ends(family, document, record)
        does = self.verb.currentData()
        if does == "make":
            body = record.acts_on[0] if record.does == "make" else new_id()
            changed = edits.replace(changed, does="make", acts_on=(body,))
            if self.is_new:
                family = edits.add_body(family, document.id, body, Body(name=self.body_name.text().strip()))
        else:
            acts = tuple(k for k, b in self.body_buttons.items() if b.isChecked())
            if not acts:
                raise UserFault("it acts on no body", record.name, "choose at least one")
            changed = edits.replace(changed, does=does, acts_on=acts)
        return self._store(family, changed)

    def _ends(self, family: Family, document: Model, record: Extrude) -> Extrude:
        both = self.end.currentIndex() == 1
        far = self.far_end.read(family, document)
        near: Distance | ToPlane | Symmetric | None = Symmetric() if both else None
        if not both and self.start_at.currentIndex() > 0:
            near = self.near_end.read(family, document)
        return edits.replace(record, far=far, near=near, flip=self.flip.isChecked())

    def _store(self, family: Family, record: Extrude | Fillet) -> Family:
        if self.is_new:
            main = self.bench.main
            return edits.add_operation(family, main.document_id, record, main.after_marker)
        return edits.replace_operation(family, self.bench.main.document_id, record)

    def preview(self) -> None:
        """Show what the sentence would make; a blank that cannot be used says why and keeps the last picture."""
        if self.record is None:
            return
        try:
            self.bench.preview(self.edited(self.bench.family))
            self._say("Tab moves to the next blank. Any length takes an expression, such as 2 * Sizes.wall.", False)
        except UserFault as fault:
            self._say(fault.sentence, True)

    def refresh(self) -> None:
        """Say whether the previewed operation fails."""
        if self.record is None or self.bench.evaluation is None or self.bench.main.at is None:
            return
        outcome = self.bench.evaluation.outcomes.get(Node("state", *self.bench.main.at, self.record.id))
        if outcome is not None and outcome.problem is not None:
            self._say(f"{outcome.problem.what}; {outcome.problem.mend}".strip("; "), True)

    def _say(self, told: str, bad: bool) -> None:
        self.hint.setText(told)
        self.hint.setWordWrap(True)
        self.hint.setStyleSheet("color: #9C2D22; font-size: 11px;" if bad else "font-size: 11px;")
        self.place()

    def keep(self) -> None:
        """Store the operation as one undoable step."""
        record = self.record
        if record is None:
            return
        self.bench.preview(None, evaluate=False)
        verb = "new" if self.is_new else "change"
        if self.bench.apply(f"{verb} {record.name}", self.edited):
            self._close()
            if self.is_new and self.bench.main.until:
                self.bench.main.until = record.id
            self.bench.main.operation = record.id
            self.bench.main.selection_changed.emit()
        else:
            self.preview()
