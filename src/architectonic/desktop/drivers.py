"""Drivers: what decides the shown document, by source, with values edited in place."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from architectonic.base.errors import UserFault
from architectonic.describe.results import Node
from architectonic.desktop.signs import Mark
from architectonic.desktop.workbench import Workbench
from architectonic.family import edits, names, scopes
from architectonic.family.records import SELF, Constraint, Model, ValueRef
from architectonic.family.walk import pointers_in
from architectonic.quantities import units


class Row(NamedTuple):
    """One value: where it lives and what to call it."""

    document: str
    item: str
    name: str


class Group(NamedTuple):
    """One source: its sign, name and what is taken from it."""

    key: str
    kind: str
    name: str
    note: str
    state: str
    rows: tuple[Row, ...]


def groups_of(bench: Workbench) -> list[Group]:
    """The sources of the shown document, other documents first, its own values last."""
    family, document = bench.family, bench.main.document
    if document is None:
        return []
    taken: dict[str, dict[str, Row]] = {}
    feeds: dict[str, int] = {}
    for p in pointers_in(document):
        if isinstance(p, ValueRef) and p.document not in (SELF, document.id):
            taken.setdefault(p.document, {})[p.item] = Row(p.document, p.item, _name(bench, p.document, p.item))
    placed: dict[str, int] = {}
    for instance in getattr(document, "instances", ()):
        placed[instance.document] = placed.get(instance.document, 0) + 1
        taken.setdefault(instance.document, {})
    if isinstance(document, Model):
        for feed in document.feeds.values():
            for socket in feed.sockets.values():
                feeds[socket.source.of] = feeds.get(socket.source.of, 0) + 1
                taken.setdefault(socket.source.of, {})
    found = []
    for key, rows in sorted(
        taken.items(), key=lambda e: list(family.documents).index(e[0]) if e[0] in family.documents else -1
    ):
        source = family.documents.get(key)
        note = ", ".join(
            part
            for part in (
                f"placed {_times(placed[key])}" if placed.get(key) else "",
                f"{feeds[key]} fed" if feeds.get(key) else "",
                f"{len(rows)} value{'s' if len(rows) != 1 else ''}" if rows else "",
            )
            if part
        )
        if source is None:
            found.append(Group(key, "part", "a document that is gone", note, "missing", ()))
        else:
            found.append(Group(key, source.kind, source.name, note, "current", tuple(rows.values())))
    own = tuple(Row(document.id, item.id, key) for key, item in names.values_of(document))
    if own:
        word = f"{len(own)} of its own"
        found.append(Group(document.id, document.kind, f"This {document.kind}", word, "current", own))
    return found


def _times(n: int) -> str:
    return {1: "once", 2: "twice"}.get(n, f"{n} times")


def _name(bench: Workbench, document: str, item: str) -> str:
    try:
        return str(edits.value_item(bench.family, document, item)[2].name)
    except UserFault:
        return "a value that is gone"


class ValueField(QLineEdit):
    """A value that shows its figure, and its expression while it has the keyboard.

    Signals:
        reach (str): how far the typed edit would reach, "" when typing ended.
    """

    reach = pyqtSignal(str)

    def __init__(self, bench: Workbench, row: Row) -> None:
        super().__init__()
        self.bench, self.row = bench, row
        self.setFixedWidth(92)
        self.setFixedHeight(21)
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.textEdited.connect(self._on_edited)
        self.returnPressed.connect(self._on_return)
        self.setAccessibleName(f"value of {row.name}")
        self.refresh()

    @property
    def _cell(self) -> tuple[str, str]:
        """The key of the cell that the shown value comes from, and its text."""
        document, sketch, item = edits.value_item(self.bench.family, self.row.document, self.row.item)
        if isinstance(item, Constraint):
            assert item.value is not None
            return "", names.shown_text(self.bench.family, document, item.value, sketch)
        at = scopes.scope(self.bench.family, self.row.document, self.bench.size)
        key, expression = scopes.cell(self.bench.family, at, item)
        return key, names.shown_text(self.bench.family, document, expression)

    def refresh(self) -> None:
        """Show the value of the last evaluation; a field being typed in is left alone."""
        if self.hasFocus() and self.isModified():
            return
        try:
            _, _, item = edits.value_item(self.bench.family, self.row.document, self.row.item)
            key, expression = self._cell
        except UserFault:
            self.setText("gone")
            self.setReadOnly(True)
            return
        at = scopes.scope(self.bench.family, self.row.document, self.bench.size)
        evaluation = self.bench.evaluation
        value = evaluation.value(Node("value", *at, self.row.item)) if evaluation else None
        unit = names.unit_of(item)
        self._shown = units.shown(value, unit, 3) if value is not None else "…"
        self.setToolTip(f"{self.row.name} = {expression}   ({self._where(key)})")
        text = expression if self.hasFocus() else self._shown
        if text != self.text():  # setting it anew would drop the selection that the next key replaces
            self.setText(text)
        self.setModified(False)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Show the expression, all chosen, ready to be typed over."""
        super().focusInEvent(event)
        if not self.isReadOnly():
            self.setFixedWidth(168)
            self.setText(self._cell[1])
            self.selectAll()
            self.setModified(False)
            self._tell_reach()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Typing that was not entered is dropped."""
        super().focusOutEvent(event)
        self.setFixedWidth(92)
        self.setModified(False)
        self._bad(False)
        self.refresh()
        self.reach.emit("")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Esc leaves the value as it was."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.setModified(False)
            self.clearFocus()
            return
        super().keyPressEvent(event)

    def _on_edited(self) -> None:
        self._bad(False)
        self._tell_reach()

    def _tell_reach(self) -> None:
        key, _ = self._cell
        documents, reached = self.bench.session.reach(self.row.document, self.row.item, key)
        self.reach.emit(
            f"{self.row.name}, {self._where(key)}: reaches {_count(len(documents), 'document')}, "
            f"{_count(len(reached), 'configuration')} ({', '.join(documents)})"
        )

    def _where(self, key: str) -> str:
        """In which configurations the edited cell is seen: `all sizes`, `M only`, `S, M`."""
        family = self.bench.family
        seen = [s.configuration for s in self.bench.session.shown_from(self.row.document, self.row.item, key)]
        rows = scopes.configurations(family, family.documents[self.row.document])
        told = [name for row, name in rows if row in seen]
        return "all sizes" if len(told) == len(rows) else f"{told[0]} only" if len(told) == 1 else ", ".join(told)

    def _bad(self, bad: bool) -> None:
        self.setProperty("bad", bad)
        style = self.style()
        if style is not None:
            style.unpolish(self)
            style.polish(self)

    def _on_return(self) -> None:
        key, old = self._cell
        text = self.text().strip()
        if text == old:
            self.clearFocus()
            return
        row = self.row
        done = self.bench.apply(
            f"{row.name} {self._shown} → {text}",
            lambda f: edits.set_value(f, row.document, row.item, text, key or None),
        )
        if done:
            self.setModified(False)
            self.clearFocus()
        else:
            self._bad(True)
            self.selectAll()


def _count(n: int, word: str) -> str:
    return f"{n} {word}{'' if n == 1 else 's'}"


class Drivers(QWidget):
    """The panel; rows are rebuilt only when what drives the document changed.

    Signals:
        reach (str): how far the value being typed reaches.
    """

    reach = pyqtSignal(str)

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.bench = bench
        self._groups: list[Group] = []
        self.fields: list[ValueField] = []
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(12, 6, 12, 8)
        self._layout.setSpacing(2)
        self._body: QWidget | None = None
        bench.family_changed.connect(self.refresh)
        bench.main.changed.connect(self.refresh)
        bench.evaluated.connect(self._refresh_values)
        self.refresh()

    def refresh(self) -> None:
        """Follow the family."""
        groups = groups_of(self.bench)
        if groups != self._groups or self._body is None:
            self._groups = groups
            self._build()
        self._refresh_values()

    def _refresh_values(self) -> None:
        for field in self.fields:
            field.refresh()

    def _build(self) -> None:
        if self._body is not None:
            self._layout.removeWidget(self._body)
            self._body.hide()
            self._body.deleteLater()
        self._body = QWidget()
        self._body.setObjectName("panel")
        rows = QVBoxLayout(self._body)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(2)
        self.fields = []
        document = self.bench.main.document
        note = f"what decides this {document.kind}" if document else "no document is open"
        count = len([g for g in self._groups if document is None or g.key != document.id])
        rows.addLayout(
            _line(_label("Drivers", "heading"), _label(note, "soft"), None, _label(_count(count, "source"), "soft"))
        )
        for group in self._groups:
            name = QLabel(group.name)
            name.setStyleSheet("font-size: 12px; font-weight: 600;")
            rows.addLayout(_line(Mark(group.state, True), Mark(group.kind), name, None, _label(group.note, "soft")))
            for row in group.rows:
                field = ValueField(self.bench, row)
                field.reach.connect(self.reach)
                self.fields.append(field)
                label = QLabel(row.name)
                label.setStyleSheet("font-size: 12px;")
                label.setBuddy(field)
                line = _line(label, None, field)
                line.setContentsMargins(20, 0, 0, 0)
                rows.addLayout(line)
        if document is not None and not self._groups:
            rows.addWidget(
                _label("Nothing drives this yet: name a value in any field,\nor feed something from a layout.", "soft")
            )
        self._layout.addWidget(self._body)


def _label(text: str, name: str) -> QLabel:
    made = QLabel(text)
    made.setObjectName(name)
    return made


def _line(*widgets: QWidget | None) -> QHBoxLayout:
    """Widgets side by side; None is a stretch."""
    made = QHBoxLayout()
    made.setContentsMargins(0, 0, 0, 0)
    made.setSpacing(6)
    for widget in widgets:
        if widget is None:
            made.addStretch(1)
        else:
            made.addWidget(widget)
    return made
