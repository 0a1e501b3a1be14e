"""Made of: the build list against the bodies; instances of an assembly; groups of a table."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPoint, QPointF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QShowEvent
from PyQt6.QtWidgets import QScrollArea, QSizePolicy, QToolTip

from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.panels.madeofpainter import MadeOfPainter
from architectonic.desktop.panels.rowplan import COLUMN, LEFT, MARKER, RowPlan, Rows
from architectonic.family import edits, scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import Family
from architectonic.session.model import building
from architectonic.session.model.entries import Entry, columns, entries


class MadeOf(Rows):
    """The list, painted in one widget so that the columns of the build grid line up.

    Signals:
        opened (str): a row was double-clicked.
        deleted: Delete was pressed on the chosen row.
    """

    opened = pyqtSignal(str)
    deleted = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.folded: set[tuple[str, str]] = set()  # documents and stretches
        self.plan = RowPlan(self)
        self.painter = MadeOfPainter(self, self.plan)
        self._pressed: QPointF | None = None
        self._seen = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Made of")
        self.setMouseTracking(True)
        refresh = soon(self, self.refresh)
        for signal in (desk.family_changed, desk.main.changed, desk.evaluated, desk.main.selection_changed):
            signal.connect(refresh)
        self.refresh()

    # --- content --------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Follow the family and the last evaluation."""
        self.columns = columns(self.desk.main.subject)
        self.entries = entries(self.desk.main.subject, self.folded)
        self.updateGeometry()
        self.setFixedHeight(self.sizeHint().height())
        self.update()
        if self.desk.main.operation != self._seen:
            self._seen = self.desk.main.operation
            QTimer.singleShot(0, self.show_chosen)

    @property
    def _area(self) -> QScrollArea | None:
        area: QObject | None = self.parent()
        while area is not None and not isinstance(area, QScrollArea):
            area = area.parent()
        return area

    def showEvent(self, event: QShowEvent | None) -> None:
        """The chosen row stays in sight when the panel gets lower."""
        super().showEvent(event)
        viewport = self._area.viewport() if self._area is not None else None
        if viewport is not None:
            viewport.installEventFilter(self)

    def eventFilter(self, _: QObject | None, event: QEvent | None) -> bool:
        """The panel has another size."""
        if event is not None and event.type() == QEvent.Type.Resize:
            QTimer.singleShot(0, self.show_chosen)
        return False

    def show_chosen(self) -> None:
        """Scroll so far that the chosen row is seen."""
        area = self._area
        found = next(((y, e) for y, e in self.plan.tops() if e.id == self.desk.main.operation), None)
        if isinstance(area, QScrollArea) and found is not None:
            y, entry = found
            middle = self.mapTo(area.widget(), QPoint(0, round(y + self.plan.height(entry) / 2)))
            area.ensureVisible(0, middle.y(), 0, round(self.plan.height(entry) / 2) + 4)

    def sizeHint(self) -> QSize:
        """As high as its rows."""
        return self.plan.size()

    def paintEvent(self, _: object) -> None:
        """Head, columns, rows."""
        self.painter.paint(QPainter(self))

    # --- acting ---------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A switch, a dot, or the row itself."""
        assert event is not None
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._pressed = event.position()
        if self.plan.has_marker and abs(event.position().y() - self.plan.marker_y()) < MARKER / 2:
            self.dragged = "marker"
            return
        entry = self.plan.at(event.position().y())
        if entry is None:
            self.desk.main.select("")
            return
        x = event.position().x()
        if LEFT + 12 <= x <= LEFT + 36 and entry.on is not None:
            self.toggle(entry.id)
            return
        for k, column in enumerate(self.columns):
            if self.plan.column_x(k) <= x < self.plan.column_x(k) + COLUMN and entry.dots and entry.folded is None:
                self.toggle_body(entry.id, column.id)
                return
        self.dragged = entry.id if self.plan.has_marker else ""
        if not self.plan.has_marker:
            self.desk.main.select(entry.id)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """A dragged row or marker lands; a row that was only clicked is chosen."""
        taken, over = self.dragged, self.over
        self.dragged, self.over, self._pressed = "", -1, None
        self.update()
        if not taken:
            return
        if over < 0:
            if taken != "marker":
                self.choose(taken)
            return
        self.land(taken, over)

    def choose(self, row: str) -> None:
        """A row is chosen; the heading of a stretch folds or unfolds."""
        entry = next((e for e in self.entries if e.id == row), None)
        if entry is None or entry.folded is None:
            self.desk.main.select(row)
        else:
            self.fold(entry)

    def fold(self, entry: Entry) -> None:
        """Hide the operations of a stretch, or show them again."""
        self.folded ^= {(self.desk.main.document_id, entry.text)}
        self.refresh()

    def land(self, taken: str, over: int) -> None:
        """Put the marker, or a row, before row `over`; a move that a dependency forbids is refused with the reason."""
        build = [o.id for o in self.desk.main.build]
        if taken == "marker":
            upto = max(1, self.entries[over - 1].upto) if over else 1
            self.desk.main.show_until(build[min(upto, len(build)) - 1])
            return
        document, before = self.desk.main.document_id, self.entries[over].first if over < len(self.entries) else ""
        row = next(e for e in self.entries if e.id == taken)
        moved = row.inside or (taken,)
        if before not in moved and self.entries.index(row) + 1 != over:
            name = row.text if row.inside else edits.operation(self.desk.family, document, taken).name
            self.desk.apply(f"move {name}", lambda f: edits.move_operations(f, document, moved, before))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Open what the row is about."""
        assert event is not None
        entry = self.plan.at(event.position().y())
        if entry is not None and entry.folded is None:
            self.opened.emit(entry.id)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Say what a click would do."""
        assert event is not None
        if self.dragged and self._pressed is not None:
            y = event.position().y()
            if self.over >= 0 or abs(y - self._pressed.y()) > 6:
                gaps = [abs(self.plan.gap(k) - y) for k in range(len(self.entries) + 1)]
                self.over = gaps.index(min(gaps))
                self.update()
            return
        entry, x = self.plan.at(event.position().y()), event.position().x()
        tip = ""
        if entry is not None and entry.on is not None and LEFT + 12 <= x <= LEFT + 36:
            tip = "on in this configuration" if entry.on else "off in this configuration"
        for k, column in enumerate(self.columns):
            if not self.plan.column_x(k) <= x < self.plan.column_x(k) + COLUMN:
                continue
            if entry is not None and entry.dots:
                tip = f"acts on {column.name}" if entry.dots[k] else f"does not act on {column.name}"
            elif event.position().y() < self.plan.head:
                tip = f"{column.name}: {column.note}" if column.note else column.name
        if tip:
            QToolTip.showText(event.globalPosition().toPoint(), tip, self)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down choose a row, Left and Right fold a stretch, Space switches, Enter opens, Delete deletes."""
        assert event is not None
        ids = [e.id for e in self.entries]
        here = ids.index(self.desk.main.operation) if self.desk.main.operation in ids else -1
        if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up) and ids:
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            self.desk.main.select(ids[max(0, min(len(ids) - 1, here + step))])
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and here >= 0 and self.entries[here].inside:
            if self.entries[here].folded != (event.key() == Qt.Key.Key_Left):
                self.fold(self.entries[here])
        elif event.key() == Qt.Key.Key_Delete and here >= 0 and not self.entries[here].inside:
            self.deleted.emit()
        elif event.key() == Qt.Key.Key_Space and here >= 0:
            self.toggle(ids[here])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and here >= 0 and not self.entries[here].inside:
            self.opened.emit(ids[here])
        else:
            super().keyPressEvent(event)

    def toggle(self, operation: str) -> None:
        """Switch an operation, or all of a stretch, on or off in the shown configuration."""
        at = self.desk.main.at
        entry = next((e for e in self.entries if e.id == operation), None)
        if at is None or entry is None or entry.on is None:
            return
        name, on, document = entry.text.split(":")[0], not entry.on, self.desk.main.document_id
        label = f"{name} {'on' if on else 'off'} in {scopes_label(self.desk)}"
        switched = entry.inside or (operation,)

        def edit(family: Family) -> Family:
            for key in switched:
                family = edits.set_switch(family, document, key, on, at.alternate or at.configuration)
            return family

        self.desk.apply(label, edit)

    def toggle_body(self, operation: str, body: str) -> None:
        """Change whether an operation acts on a body."""
        document = self.desk.main.document_id
        record = edits.operation(self.desk.family, document, operation)
        if not isinstance(record, BodyOperation) or not record.takes_bodies:
            self.desk.told.emit("Which bodies this acts on follows from its sentence: edit that.", True)
            return
        old = record.changes
        acts = tuple(b for b in old if b != body) if body in old else (*old, body)
        if not acts:
            self.desk.told.emit(f"{record.name} must act on at least one body; switch it off instead.", True)
            return
        changed = edits.replace(record, acts_on=acts)
        self.desk.apply(f"bodies of {record.name}", lambda f: building.store(f, document, changed))


def scopes_label(desk: Desk) -> str:
    """The name of the shown configuration."""
    at, document = desk.main.at, desk.main.document
    if at is None or document is None:
        return ""
    return dict(scopes.configurations(desk.family, document)).get(at.configuration, "")
