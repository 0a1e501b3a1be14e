"""Drivers: what decides the shown document, by source, with values edited in place."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QEvent, QPoint, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QFontMetricsF, QGuiApplication, QKeyEvent, QMouseEvent, QWheelEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from architectonic.base.errors import UserFault
from architectonic.describe.results import Node
from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.signs import Mark
from architectonic.desktop.pane.desk import Desk, shown_scope
from architectonic.desktop.pane.namefield import NameField
from architectonic.family import edits, names, scopes
from architectonic.family.records import Bond, Constraint, Family, Measurement
from architectonic.family.tables import Typed
from architectonic.quantities import units
from architectonic.quantities.syntax import split_named
from architectonic.session.feeds.sources import Fed, Group, SourceRow, groups_of, out_of_rule, reach, where
from architectonic.session.tables.checks import in_words
from architectonic.session.tables.spreadsheets import refuse_driven

NAME_WIDE, FEED_WIDE = 156, 216
"""Pixels of a name, and of that of a feed with its note; a longer one is shortened in its middle, the whole of it on hover."""


class DriverField(NameField):
    """A value that shows its figure, and its expression while it has the keyboard.

    Signals:
        reach (str): how far the typed edit would reach, "" when typing ended.
    """

    reach = pyqtSignal(str)

    def __init__(self, desk: Desk, row: SourceRow) -> None:
        super().__init__("", None, self._offered, self._words)
        self.desk, self.row = desk, row
        self.mark = Mark("out of rule", True)
        self._entered = False
        self.setFixedWidth(92)
        self.setFixedHeight(21)
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self._if = 0.0
        self._spring = QTimer(self, interval=60, timeout=self._on_spring)  # type: ignore[call-arg]
        self.textEdited.connect(self._on_edited)
        self.returnPressed.connect(self._on_return)
        self.setAccessibleName(f"value of {row.name}")
        self.refresh()

    def _offered(self) -> list[str]:
        """Names that an expression here may use."""
        document, sketch, _ = edits.value_item(self.desk.family, self.row.document, self.row.item)
        return names.offered(self.desk.family, document, sketch)

    def _words(self, text: str) -> str:
        """What is being typed comes to, or what is wrong with it."""
        desk = self.desk
        _, sketch, item = edits.value_item(desk.family, self.row.document, self.row.item)
        if not self.hasFocus() or not self.isModified():
            return ""
        at = shown_scope(desk, self.row.document)
        return in_words(desk.family, desk.settled, at, text, names.quantity_in(item), names.unit_of(item), sketch)

    @property
    def _cell(self) -> tuple[str, str]:
        """The key of the cell that the shown value comes from, and its text."""
        document, sketch, item = edits.value_item(self.desk.family, self.row.document, self.row.item)
        if isinstance(item, Constraint):
            if item.value is None:
                return "", ""  # a read-out
            key, expression = scopes.cell(self.desk.family, shown_scope(self.desk, self.row.document), item)
            return key, names.shown_text(self.desk.family, document, expression, sketch)
        if isinstance(item, Measurement):
            return "", f"{item.what}, measured"
        at = shown_scope(self.desk, self.row.document)
        if isinstance(item, Bond):
            driven = scopes.driven(self.desk.family, at, item, item.moves)[1]
            key = at.alternate  # a pose is one of the shown alternate, also where it came from another so far
            return key, "" if driven is None else names.shown_text(self.desk.family, document, driven)
        key, expression = scopes.cell(self.desk.family, at, item)
        return key, names.shown_text(self.desk.family, document, expression)

    def refresh(self) -> None:
        """Show the value of the last evaluation; a field being typed in is left alone."""
        if self.hasFocus() and self.isModified():
            return
        try:
            _, _, item = edits.value_item(self.desk.family, self.row.document, self.row.item)
        except UserFault:
            self.setText("gone")
            self.setReadOnly(True)
            return
        self.setReadOnly(isinstance(item, Measurement) or (isinstance(item, Constraint) and item.reads))
        at = shown_scope(self.desk, self.row.document)
        evaluation = self.desk.evaluation
        value = evaluation.value(Node("value", at, self.row.item)) if evaluation else None
        unit = names.unit_of(item)
        self._shown = units.shown(value, unit, 3) if value is not None else "…"
        text = self._cell[1] if self.hasFocus() else self._shown
        if text != self.text():  # setting it anew would drop the selection that the next key replaces
            self.setText(text)
        self.setModified(False)

    def event(self, event: QEvent | None) -> bool:
        """The expression and where it holds are worked out when somebody points here, not at every update."""
        if event is not None and event.type() == QEvent.Type.ToolTip and self.text() != "gone":
            key, expression = self._cell
            told = where(self.desk.session, self.row.document, self.row.item, key)
            self.setToolTip(f"{self.row.name} = {expression}   ({told})")
        return super().event(event)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Show the expression, all chosen, ready to be typed over."""
        super().focusInEvent(event)
        if event is not None and event.reason() == Qt.FocusReason.PopupFocusReason:
            return  # the list of names was closed: typing goes on
        self._entered = event is None or event.reason() != Qt.FocusReason.MouseFocusReason
        if not self.isReadOnly():
            self.setFixedWidth(168)
            self.setText(self._cell[1])
            self.selectAll()
            self.setModified(False)
            self._tell_reach()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """The click that comes into the field leaves all chosen; the next one places the cursor."""
        inside = self._entered
        super().mousePressEvent(event)
        if not inside and not self.isReadOnly():
            self.selectAll()
        self._entered = True

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Typing that was not entered is dropped."""
        super().focusOutEvent(event)
        if event is not None and event.reason() == Qt.FocusReason.PopupFocusReason:
            return
        self._entered = False
        self.setFixedWidth(92)
        self.setModified(False)
        self._bad(False)
        self.refresh()
        self.reach.emit("")
        self.desk.foresight.leave()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Esc leaves the value as it was."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.setModified(False)
            self.clearFocus()
            return
        super().keyPressEvent(event)

    def enterEvent(self, event: object) -> None:
        """Light what this value moves."""
        super().enterEvent(event)  # type: ignore[arg-type]
        main = self.desk.main
        if main.at is not None and not self.isReadOnly():
            main.light(self.desk.session.touches(self.row.document, self.row.item, main.at))

    def leaveEvent(self, event: object) -> None:
        """Nothing is pointed at."""
        super().leaveEvent(event)  # type: ignore[arg-type]
        self.desk.main.light(set())

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """With Alt held: what if the value were another; letting go springs back. Nothing is stored."""
        assert event is not None
        if not event.modifiers() & Qt.KeyboardModifier.AltModifier or self.isReadOnly():
            event.ignore()
            return
        turned = event.angleDelta().y() or event.angleDelta().x()  # Alt turns the wheel sideways
        self.what_if(1 if turned > 0 else -1)
        event.accept()

    def what_if(self, steps: int) -> None:
        """Show the family as if the value were some steps away from where it is."""
        row, desk = self.row, self.desk
        at = shown_scope(desk, row.document)
        value = desk.evaluation.value(Node("value", at, row.item)) if desk.evaluation and not self._if else self._if
        if not isinstance(value, float | int) or value == 0:
            return
        unit = names.unit_of(edits.value_item(desk.family, row.document, row.item)[2])
        shown = value / units.factor(unit)
        step = 10.0 ** math.floor(math.log10(abs(shown))) / 20
        self._if = (shown + steps * step) * units.factor(unit)
        text = units.shown(self._if, unit, 6)
        key, _ = self._cell
        try:
            desk.preview(edits.set_value(desk.family, row.document, row.item, text, key or None))
        except UserFault as fault:
            desk.told.emit(fault.sentence, True)
            return
        self.reach.emit(
            f"What if {row.name} were {units.shown(self._if, unit, 3)}: nothing is stored, let Alt go to spring back"
        )
        self._spring.start()

    def _on_spring(self) -> None:
        """Back to what is stored once Alt is let go."""
        if QGuiApplication.queryKeyboardModifiers() & Qt.KeyboardModifier.AltModifier:
            return
        self.spring_back()

    def spring_back(self) -> None:
        """End the what-if."""
        self._spring.stop()
        self._if = 0.0
        self.desk.preview(None)
        self.reach.emit("")

    def _on_edited(self) -> None:
        self._bad(False)
        self._tell_reach()
        text = self.text().strip()
        if text == self._cell[1]:
            self.desk.foresight.leave()
        else:
            self.desk.foresight.typing(f"{self.row.name} {self._shown} → {text}", self._change(text))

    def _tell_reach(self) -> None:
        key, _ = self._cell
        self.reach.emit(reach(self.desk.session, self.row.document, self.row.item, key, self.row.name))

    def _bad(self, bad: bool) -> None:
        self.setProperty("bad", bad)
        style = self.style()
        if style is not None:
            style.unpolish(self)
            style.polish(self)

    def _change(self, text: str) -> Callable[[Family], Family]:
        """The edit that stores a text in the cell that the shown value comes from; `wall = 3 mm` is a value of wall."""
        row, (key, _) = self.row, self._cell
        named = split_named(text)

        def change(family: Family) -> Family:
            nonlocal text
            if named is not None:
                if named[0] != row.name[row.name.rfind(".") + 1 :]:
                    raise UserFault(f"this is {row.name}, not {named[0]}", row.name, "type the value alone")
                text = named[1]
            refuse_driven(family.documents[row.document], [Typed(row.item, key, text)])
            return edits.set_value(family, row.document, row.item, text, key or None)

        return change

    def _on_return(self) -> None:
        text = self.text().strip()
        if text == self._cell[1]:
            self.clearFocus()
            return
        done = self.desk.apply(f"{self.row.name} {self._shown} → {text}", self._change(text))
        if done:
            self.setModified(False)
            self.clearFocus()
        else:
            self._bad(True)
            self.selectAll()


class Drivers(QWidget):
    """The panel; rows are rebuilt only when what drives the document changed.

    Signals:
        reach (str): how far the value being typed reaches.
        feed_asked (str, QPoint): a feed was clicked, at a place of the screen.
    """

    reach = pyqtSignal(str)
    feed_asked = pyqtSignal(str, QPoint)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.desk = desk
        self._groups: list[Group] = []
        self._shown = ""
        self.fields: list[DriverField] = []
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(12, 6, 12, 8)
        self._layout.setSpacing(2)
        self._body: QWidget | None = None
        desk.family_changed.connect(self.refresh)
        desk.main.changed.connect(self.refresh)
        desk.evaluated.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Follow the family; while a value is typed what it would do is looked at, and the rows stay as they are."""
        groups = groups_of(self.desk.main.subject, self.desk.attention)
        looking = self.desk.previewed is not None and any(f.hasFocus() for f in self.fields)
        if looking:
            groups = self._groups
        if groups != self._groups or self._shown != self.desk.main.document_id or self._body is None:
            self._groups, self._shown = groups, self.desk.main.document_id
            self._build()
        self._refresh_values()

    def _refresh_values(self) -> None:
        at = self.desk.main.at
        broken = out_of_rule(self.desk.evaluation, scopes.size_of(self.desk.family, at)) if at is not None else {}
        for field in self.fields:
            field.refresh()
            field.mark.setVisible(field.row.item in broken)
            field.mark.setToolTip(broken.get(field.row.item, ""))

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
        document = self.desk.main.document
        note = f"what decides this {document.kind}" if document else "no document is open"
        count = len([g for g in self._groups if document is None or g.key != document.id])
        rows.addLayout(
            _line(_label("Drivers", "heading"), _label(note, "soft"), None, _label(counted(count, "source"), "soft"))
        )
        for group in self._groups:
            name = QLabel(group.name)
            name.setStyleSheet("font-size: 12px; font-weight: 600;")
            rows.addLayout(_line(Mark(group.state, True), Mark(group.kind), name, None, _label(group.note, "soft")))
            for fed in group.feeds:
                rows.addLayout(self._feed(fed))
            for row in group.rows:
                field = DriverField(self.desk, row)
                field.reach.connect(self.reach)
                self.fields.append(field)
                metrics = QFontMetricsF(theme.font(12))
                label = QLabel(metrics.elidedText(row.name, Qt.TextElideMode.ElideMiddle, NAME_WIDE))
                label.setToolTip(row.name if label.text() != row.name else "")
                label.setStyleSheet("font-size: 12px;")
                label.setBuddy(field)
                field.mark.hide()
                line = _line(label, None, field.mark, field)
                line.setContentsMargins(20, 0, 0, 0)
                rows.addLayout(line)
        if document is not None and not self._groups:
            rows.addWidget(
                _label("Nothing drives this yet: name a value in any field,\nor feed something from a layout.", "soft")
            )
        self._layout.addWidget(self._body)

    def _feed(self, fed: Fed) -> QHBoxLayout:
        """A line for a feed; a click asks what to do with it."""
        room = FEED_WIDE - theme.width_of(fed.note, 12)
        name = QFontMetricsF(theme.font(12)).elidedText(fed.name, Qt.TextElideMode.ElideMiddle, max(room, 80.0))
        button = QPushButton(name)
        button.setObjectName("flat")
        button.setStyleSheet("text-align: left; padding: 1px 4px; font-size: 12px; font-weight: 400;")
        whole = f"{fed.name}: " if name != fed.name else ""
        button.setToolTip(f"{whole}show where it comes from, point it elsewhere, rename, delete")
        button.clicked.connect(partial(self._ask, fed.feed, button))
        line = _line(button, None, _label(fed.note, "soft"))
        if fed.state != "current":
            line.insertWidget(0, Mark(fed.state, True))
        line.setContentsMargins(16, 0, 0, 0)
        return line

    def _ask(self, feed: str, button: QPushButton) -> None:
        self.feed_asked.emit(feed, button.mapToGlobal(button.rect().bottomLeft()))


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
