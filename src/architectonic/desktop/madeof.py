"""Made of: the build list against the bodies; instances of an assembly; groups of a table."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from architectonic.base.problem import Problem
from architectonic.describe.clauses import sentence
from architectonic.describe.results import Checked, ModelState, Node, SketchResult
from architectonic.describe.rule import words
from architectonic.desktop import theme
from architectonic.desktop.signs import paint_state
from architectonic.desktop.soon import soon
from architectonic.desktop.workbench import Workbench
from architectonic.family import edits, scopes
from architectonic.family.records import (
    AnyOperation,
    Assembly,
    BodyOperation,
    Combine,
    Guard,
    Model,
    Move,
    Rule,
    Shell,
    Sketch,
    Solid,
    Split,
    TakeOut,
    Underlay,
)
from architectonic.render.palette import BODY_COLOURS
from architectonic.session import building

ROW, REASON, LEFT, SWITCH, COLUMN, MARKER = 23, 15, 12, 34, 22, 20


class Entry(NamedTuple):
    """A row: id, sentence, switch, dots by body, a figure at the right, and what is wrong."""

    id: str
    text: str
    on: bool | None
    dots: tuple[str, ...]
    note: str
    problem: Problem | None


class MadeOf(QWidget):
    """The list, painted in one widget so that the columns of the build grid line up.

    Signals:
        opened (str): a row was double-clicked.
    """

    opened = pyqtSignal(str)

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.bench = bench
        self.entries: list[Entry] = []
        self.columns: list[tuple[str, str]] = []
        self._pressed: QPointF | None = None
        self._taken = ""  # the row, or "marker", that is being dragged
        self._over = -1  # the place between rows where it would land
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Made of")
        self.setMouseTracking(True)
        refresh = soon(self, self.refresh)
        for signal in (bench.family_changed, bench.main.changed, bench.evaluated, bench.main.selection_changed):
            signal.connect(refresh)
        self.refresh()

    # --- content --------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Follow the family and the last evaluation."""
        document = self.bench.main.document
        self.entries, self.columns = [], []
        if isinstance(document, Model):
            self.columns = [(k, b.name) for k, b in document.bodies.items()]
            self.entries = [self._operation(document, o) for o in document.build]
        if isinstance(document, Assembly):
            for instance in document.instances:
                source = self.bench.family.documents.get(instance.document)
                placed = self.bench.main.value("placed", instance.id)
                note = f"{placed.mass:.1f} g" if placed is not None and placed.mass is not None else ""
                text = f"{instance.name}, same origin" if source else f"{instance.name}: its document is gone"
                self.entries.append(Entry(instance.id, text, None, (), note, None))
        elif document is not None and not isinstance(document, Model):
            self.entries = [self._rule(r) for r in document.checked]
        self.updateGeometry()
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def _rule(self, record: Rule | Guard) -> Entry:
        found = self.bench.main.value("rule", record.id)
        note, problem = "", None
        if isinstance(found, Checked):
            note = "holds" if found.holds else "does not hold"
            if not found.holds:
                problem = Problem(code="rule", what=words(record, found), severity="out of rule")
        name = f"Guard: {record.name}" if isinstance(record, Guard) else record.name
        return Entry(record.id, name, None, (), note, problem)

    def _operation(self, document: Model, operation: AnyOperation) -> Entry:
        at, evaluation = self.bench.main.at, self.bench.evaluation
        on = scopes.is_on(self.bench.family, at, operation.switch) if at else True
        kinds: dict[type, str] = {Sketch: "solve", Underlay: "underlay"}
        what = "state" if isinstance(operation, BodyOperation) else kinds.get(type(operation), "frame")
        outcome = evaluation.outcomes.get(Node(what, *at, operation.id)) if evaluation and at else None
        problem = outcome.problem if outcome and outcome.problem and outcome.problem.severity != "off" else None
        dots, note = [], ""
        if isinstance(operation, BodyOperation):
            made, changed = operation.makes, operation.changes
            dots = ["makes" if k in made else "acts" if k in changed else "" for k, _ in self.columns]
        elif isinstance(operation, Sketch) and outcome and isinstance(outcome.value, SketchResult):
            left = outcome.value.freedoms
            note = "held" if not left else f"{left} free"
        if outcome and isinstance(outcome.value, ModelState) and outcome.value.status == "off":
            on = False
        text = sentence(self.bench.family, document, operation)
        return Entry(operation.id, text, on, tuple(dots), note, problem)

    # --- geometry -------------------------------------------------------------------------------------

    @property
    def _head(self) -> int:
        if not self.columns:
            return 34
        metrics = QFontMetricsF(theme.font(11))
        return int(max(34.0, max(metrics.horizontalAdvance(n) for _, n in self.columns) + 26))

    def sizeHint(self) -> QSize:
        """As high as its rows."""
        marker = MARKER if self._has_marker else 0
        rows = sum(self._height(e) for e in self.entries)
        return QSize(300, self._head + rows + marker + (52 if not self.entries else 8))

    @property
    def _has_marker(self) -> bool:
        return bool(self.bench.main.build)

    @property
    def _marked(self) -> int:
        """How many rows lie before the marker *up to here*."""
        ids = [e.id for e in self.entries]
        until = self.bench.main.until
        return ids.index(until) + 1 if until in ids else len(ids)

    def _height(self, entry: Entry) -> int:
        return self._lines(entry) * 16 + 7 + (self._reason_lines(entry) * REASON + 4 if entry.problem else 0)

    def _text_width(self, entry: Entry) -> float:
        """What a row's words may take: its note stands to the right of them."""
        note = QFontMetricsF(theme.font(11, 600)).horizontalAdvance(entry.note) + 10 if entry.note else 4
        return self.width() - LEFT - SWITCH - 18 - COLUMN * len(self.columns) - note

    def _wrap(self, text: str, width: float, pixels: int) -> list[str]:
        metrics = QFontMetricsF(theme.font(pixels, 500))
        lines = [""]
        for word in text.split(" "):
            trial = f"{lines[-1]} {word}".strip()
            if metrics.horizontalAdvance(trial) > width and lines[-1]:
                lines.append(word)
            else:
                lines[-1] = trial
        return lines

    def _lines(self, entry: Entry) -> int:
        return len(self._wrap(entry.text, self._text_width(entry), 12))

    def _reason(self, entry: Entry) -> str:
        problem = entry.problem
        return (
            ""
            if problem is None
            else f"{problem.what}. {problem.mend[:1].upper()}{problem.mend[1:]}."
            if problem.mend
            else problem.what
        )

    def _reason_lines(self, entry: Entry) -> int:
        return len(self._wrap(self._reason(entry), self.width() - LEFT - SWITCH - 34, 11))

    def _tops(self) -> list[tuple[float, Entry]]:
        y, found = float(self._head), []
        for k, entry in enumerate(self.entries):
            if k == self._marked and self._has_marker:
                y += MARKER
            found.append((y, entry))
            y += self._height(entry)
        return found

    def _gap(self, k: int) -> float:
        """Height of the gap before row k."""
        tops = self._tops()
        if k < len(tops):
            return tops[k][0]
        return tops[-1][0] + self._height(tops[-1][1]) if tops else float(self._head)

    def _column_x(self, k: int) -> float:
        return self.width() - COLUMN * (len(self.columns) - k) - 4

    # --- painting -------------------------------------------------------------------------------------

    def paintEvent(self, _: object) -> None:
        """Head, columns, rows."""
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), QColor(theme.PANEL))
        p.setFont(theme.font(13, 600))
        p.setPen(QColor(theme.INK))
        p.drawText(QPointF(LEFT, 21), "Made of")
        document = self.bench.main.document
        note = {"table": "rules that must hold", "assembly": "placed parts"}.get(
            document.kind if document else "", "operations, acting on"
        )
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.SOFT))
        p.drawText(QPointF(LEFT + 58, 21), note)
        self._paint_columns(p)
        if not self.entries:
            p.setFont(theme.font(11))
            p.setPen(QColor(theme.SOFT))
            p.drawText(
                QRectF(LEFT, self._head + 6, self.width() - 2 * LEFT, 44), Qt.TextFlag.TextWordWrap, self._empty()
            )
        for number, (y, entry) in enumerate(self._tops(), 1):
            self._paint_row(p, number, y, entry, number > self._marked)
        if self._has_marker:
            self._paint_marker(p)
        if self._taken and self._over >= 0:
            p.setPen(QPen(QColor(theme.PLUM), 2, Qt.PenStyle.DashLine))
            y = self._gap(self._over)
            p.drawLine(QPointF(4, y), QPointF(self.width() - 4, y))

    def _paint_marker(self, p: QPainter) -> None:
        """A rule with a tab at the right: later rows are not shown, new ones go in here."""
        y = self._marker_y()
        p.setFont(theme.font(11, 600))
        p.setPen(QPen(QColor(theme.PLUM), 2))
        width = QFontMetricsF(p.font()).horizontalAdvance("up to here")
        p.drawLine(QPointF(0, y), QPointF(30, y))
        p.drawLine(QPointF(46 + width, y), QPointF(self.width() - 8, y))
        p.drawText(QPointF(38, y + 4), "up to here")
        p.setBrush(QColor(theme.PLUM))
        p.setPen(Qt.PenStyle.NoPen)
        right = float(self.width())
        p.drawPolygon(QPolygonF([QPointF(right - 9, y), QPointF(right, y - 6), QPointF(right, y + 6)]))

    def _marker_y(self) -> float:
        rows = [e for _, e in self._tops()][: self._marked]
        return self._head + sum(self._height(e) for e in rows) + MARKER / 2

    def _empty(self) -> str:
        document = self.bench.main.document
        if document is None:
            return "Make a document first: the button with the document's name, in the head band."
        return {
            "table": "No rules yet. A rule is a comparison that must hold, such as reach <= 2.2 * foot_d.",
            "assembly": "Nothing is placed yet: place a part with Place… above the canvas.",
        }.get(document.kind, "Nothing yet: start with New sketch above the canvas.")

    def _paint_columns(self, p: QPainter) -> None:
        p.setFont(theme.font(11))
        bottom = self._head + sum(self._height(e) for e in self.entries)
        for k, (_, name) in enumerate(self.columns):
            x = self._column_x(k)
            p.setPen(QPen(QColor(theme.HAIR), 1))
            p.drawLine(QPointF(x, 8), QPointF(x, bottom))
            p.setBrush(QColor(BODY_COLOURS[k % len(BODY_COLOURS)]))
            p.setPen(QPen(QColor(theme.SOFT), 1))
            p.drawRoundedRect(QRectF(x + 6, self._head - 15, 10, 10), 2, 2)
            p.save()
            p.setPen(QColor(theme.INK))
            p.translate(x + 15, self._head - 20)
            p.rotate(-90)
            p.drawText(QPointF(0, 0), name)
            p.restore()
        p.setPen(QPen(QColor(theme.LINE), 1))
        p.drawLine(QPointF(0, self._head - 0.5), QPointF(self.width(), self._head - 0.5))

    def _paint_row(self, p: QPainter, number: int, y: float, entry: Entry, later: bool) -> None:
        chosen = entry.id == self.bench.main.operation
        height = self._height(entry)
        if entry.problem:
            p.fillRect(QRectF(0, y, self.width(), height), QColor(theme.RED_TINT))
        elif chosen:
            p.fillRect(QRectF(0, y, self.width(), height), QColor(theme.PLUM_TINT))
        if chosen:
            p.fillRect(QRectF(0, y, 3, height), QColor(theme.PLUM))
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.SOFT))
        p.drawText(
            QRectF(LEFT - 8, y, 16, ROW), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, str(number)
        )
        if entry.problem:
            paint_state(p, entry.problem.severity, LEFT + 24, y + ROW / 2)
        elif entry.on is not None:
            self._paint_switch(p, LEFT + 15, y + ROW / 2, entry.on)
        p.setPen(QColor(theme.INK if entry.on is not False and not later else theme.SOFT))
        p.setFont(theme.font(12, 600 if chosen else 500))
        for k, line in enumerate(self._wrap(entry.text, self._text_width(entry), 12)):
            p.drawText(QPointF(LEFT + SWITCH + 8, y + 15.5 + 16 * k), line)
        if entry.note:
            p.setFont(theme.font(11, 600 if "free" in entry.note or "not" in entry.note else 400))
            p.setPen(QColor(theme.OCHRE_TEXT if "free" in entry.note or "not" in entry.note else theme.SOFT))
            right = self._column_x(0) - 6 if self.columns else self.width() - LEFT
            p.drawText(
                QRectF(right - 90, y, 90, ROW), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, entry.note
            )
        self._paint_dots(p, y, entry, chosen)
        if entry.problem:
            p.setPen(QColor(theme.RED_TEXT))
            p.setFont(theme.font(11))
            top = y + self._lines(entry) * 16 + 5
            for k, line in enumerate(self._wrap(self._reason(entry), self.width() - LEFT - SWITCH - 34, 11)):
                p.drawText(QPointF(LEFT + SWITCH + 8, top + 11 + REASON * k), line)

    def _paint_switch(self, p: QPainter, x: float, y: float, on: bool) -> None:
        p.setPen(QPen(QColor(theme.INK if on else theme.SOFT), 1.2))
        p.setBrush(QColor(theme.INK) if on else Qt.BrushStyle.NoBrush)
        p.drawRoundedRect(QRectF(x, y - 5, 18, 10), 5, 5)
        p.setBrush(QColor(theme.FIELD) if on else QColor(theme.SOFT))
        p.setPen(Qt.PenStyle.NoPen)
        p.drawEllipse(QPointF(x + (13 if on else 5), y), 3, 3)

    def _paint_dots(self, p: QPainter, y: float, entry: Entry, chosen: bool) -> None:
        ink = QColor(theme.PLUM if chosen else theme.INK if entry.on is not False else theme.SOFT)
        for k, dot in enumerate(entry.dots):
            at = QPointF(self._column_x(k) + 11, y + ROW / 2)
            if dot:
                p.setPen(QPen(ink, 1.3))
                p.setBrush(Qt.BrushStyle.NoBrush)
                if dot == "makes":
                    p.drawEllipse(at, 5, 5)
                p.setBrush(ink)
                p.setPen(Qt.PenStyle.NoPen)
                p.drawEllipse(at, 2.4 if dot == "makes" else 3.2, 2.4 if dot == "makes" else 3.2)

    # --- acting ---------------------------------------------------------------------------------------

    def _at(self, y: float) -> Entry | None:
        for top, entry in self._tops():
            if top <= y < top + self._height(entry):
                return entry
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A switch, a dot, or the row itself."""
        assert event is not None
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._pressed = event.position()
        if self._has_marker and abs(event.position().y() - self._marker_y()) < MARKER / 2:
            self._taken = "marker"
            return
        entry = self._at(event.position().y())
        if entry is None:
            return
        x = event.position().x()
        if LEFT + 12 <= x <= LEFT + 36 and entry.on is not None:
            self.toggle(entry.id)
            return
        for k, (body, _) in enumerate(self.columns):
            if self._column_x(k) <= x < self._column_x(k) + COLUMN and entry.dots:
                self.toggle_body(entry.id, body)
                return
        self._taken = entry.id if self._has_marker else ""
        if not self._has_marker:
            self.bench.main.select(entry.id)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """A dragged row or marker lands; a row that was only clicked is chosen."""
        taken, over = self._taken, self._over
        self._taken, self._over, self._pressed = "", -1, None
        self.update()
        if not taken:
            return
        if over < 0:
            if taken != "marker":
                self.bench.main.select(taken)
            return
        self.land(taken, over)

    def land(self, taken: str, over: int) -> None:
        """Put the marker, or a row, before row `over`; a move that a dependency forbids is refused with the reason."""
        ids = [e.id for e in self.entries]
        if taken == "marker":
            self.bench.main.show_until(ids[max(0, over - 1)])
            return
        document, before = self.bench.main.document_id, ids[over] if over < len(ids) else ""
        if before != taken and ids.index(taken) + 1 != over:
            name = edits.operation(self.bench.family, document, taken).name
            self.bench.apply(f"move {name}", lambda f: edits.move_operation(f, document, taken, before))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Open what the row is about."""
        assert event is not None
        entry = self._at(event.position().y())
        if entry is not None:
            self.opened.emit(entry.id)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Say what a click would do."""
        assert event is not None
        if self._taken and self._pressed is not None:
            y = event.position().y()
            if self._over >= 0 or abs(y - self._pressed.y()) > 6:
                gaps = [abs(self._gap(k) - y) for k in range(len(self.entries) + 1)]
                self._over = gaps.index(min(gaps))
                self.update()
            return
        entry, x = self._at(event.position().y()), event.position().x()
        tip = ""
        if entry is not None and entry.on is not None and LEFT + 12 <= x <= LEFT + 36:
            tip = "on in this configuration" if entry.on else "off in this configuration"
        for k, (_, name) in enumerate(self.columns):
            if entry is not None and self._column_x(k) <= x < self._column_x(k) + COLUMN and entry.dots:
                tip = f"acts on {name}" if entry.dots[k] else f"does not act on {name}"
        if tip:
            QToolTip.showText(event.globalPosition().toPoint(), tip, self)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down choose a row, Space switches it, Enter opens it."""
        assert event is not None
        ids = [e.id for e in self.entries]
        here = ids.index(self.bench.main.operation) if self.bench.main.operation in ids else -1
        if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up) and ids:
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            self.bench.main.select(ids[max(0, min(len(ids) - 1, here + step))])
        elif event.key() == Qt.Key.Key_Space and here >= 0:
            self.toggle(ids[here])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and here >= 0:
            self.opened.emit(ids[here])
        else:
            super().keyPressEvent(event)

    def toggle(self, operation: str) -> None:
        """Switch an operation on or off in the shown configuration."""
        at = self.bench.main.at
        entry = next((e for e in self.entries if e.id == operation), None)
        if at is None or entry is None or entry.on is None:
            return
        name, on, document = entry.text.split(":")[0], not entry.on, self.bench.main.document_id
        label = f"{name} {'on' if on else 'off'} in {scopes_label(self.bench)}"
        self.bench.apply(label, lambda f: edits.set_switch(f, document, operation, on, at.configuration))

    def toggle_body(self, operation: str, body: str) -> None:
        """Change whether an operation acts on a body."""
        document = self.bench.main.document_id
        record = edits.operation(self.bench.family, document, operation)
        fixed = isinstance(record, Combine) or not hasattr(record, "acts_on")
        if fixed or not isinstance(record, BodyOperation) or getattr(record, "does", "") == "make":
            self.bench.told.emit("Which bodies this acts on follows from its sentence: edit that.", True)
            return
        assert isinstance(record, (Solid, Shell, Split, Move, TakeOut))
        acts = tuple(b for b in record.acts_on if b != body) if body in record.acts_on else (*record.acts_on, body)
        if not acts:
            self.bench.told.emit(f"{record.name} must act on at least one body; switch it off instead.", True)
            return
        changed = edits.replace(record, acts_on=acts)
        self.bench.apply(f"bodies of {record.name}", lambda f: building.store(f, document, changed))


def scopes_label(bench: Workbench) -> str:
    """The name of the shown configuration."""
    at, document = bench.main.at, bench.main.document
    if at is None or document is None:
        return ""
    return dict(scopes.configurations(bench.family, document)).get(at.configuration, "")
