"""Taking things of the document beside into the main one: what is chosen there, told on a card, kept with Enter."""

from __future__ import annotations

from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from architectonic.base.errors import UserFault
from architectonic.describe.models.documents import kind_of
from architectonic.desktop.kit.cards import Card
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sketch.canvas import LayoutCanvas
from architectonic.family.names import check_name
from architectonic.family.records import Datum, Model, Sketch
from architectonic.session.feeds import feeding
from architectonic.session.feeds.feeding import Offer
from architectonic.session.picking import picked


class FeedCard(Card):
    """Takes what is chosen in the second pane, or points one socket at it. Enter keeps, Esc leaves."""

    def __init__(self, parent: QWidget, desk: Desk, sketches: LayoutCanvas) -> None:
        super().__init__(parent)
        self.desk, self.sketches = desk, sketches
        self.socket = ""
        self.told = QLabel()
        self.told.setStyleSheet("font-size: 14px; font-weight: 600;")
        self.hint = QLabel()
        self.hint.setObjectName("soft")
        self.hint.setWordWrap(True)
        self.name = QLineEdit()
        self.name.setAccessibleName("name of the feed")
        self.name.setMinimumWidth(130)
        self.called = QLabel("called")
        self.plane = QComboBox()
        self.plane.setAccessibleName("a datum plane of the source")
        self.plane.currentIndexChanged.connect(self.refresh)
        self.trace = QCheckBox()
        first, foot = QHBoxLayout(), QHBoxLayout()
        for widget in (self.told, self.plane, self.called, self.name, self.trace):
            first.addWidget(widget)
        first.addStretch(1)
        leave, self.keep_button = QPushButton("Leave as it was  Esc"), QPushButton("Keep  Enter")
        self.keep_button.setObjectName("main")
        leave.clicked.connect(self.leave)
        self.keep_button.clicked.connect(self.keep)
        foot.addWidget(self.hint, 1)
        foot.addWidget(leave)
        foot.addWidget(self.keep_button)
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 10, 14, 10)
        column.addLayout(first)
        column.addLayout(foot)
        desk.beside.selection_changed.connect(self.refresh)
        desk.beside.changed.connect(self._on_source)

    def start(self, socket: str = "") -> None:
        """Open for a new feed, or to point a socket elsewhere; a driver is shown beside when none is."""
        desk = self.desk
        self.socket = socket
        if desk.beside.document is None or desk.beside.document_id == desk.main.document_id:
            source = next((d.id for d in desk.family.documents.values() if kind_of(d).drawn), "")
            other = next((d.id for d in desk.family.documents.values() if d.holds_bodies), "")
            if source != desk.main.document_id:
                desk.show_beside(source or other)
        if desk.beside.document is None:
            desk.told.emit("There is no other document to take from yet: make a layout first.", True)
            return
        self.name.setText(self._free_name())
        self._on_source()
        self.show()
        self.raise_()
        self.refresh()
        self.setFocus()

    def _free_name(self) -> str:
        document, source = self.desk.main.document, self.desk.beside.document
        taken = [f.name for f in document.feeds.values()] if isinstance(document, Model) else []
        base = f"from {source.name}" if source else "feed"
        for number in range(1, 100):
            name = base if number == 1 else f"{base} {number}"
            try:
                return check_name(name, taken, "feed")
            except UserFault:
                continue
        return base

    def _on_source(self) -> None:
        """List the datums of the source."""
        if not self.isVisible() and not self.socket and self.desk.beside.document is None:
            return
        self.plane.blockSignals(True)
        self.plane.clear()
        self.plane.addItem("no datum plane", "")
        for operation in self.desk.beside.build:
            if isinstance(operation, Datum):
                self.plane.addItem(f"datum {operation.name}", operation.id)
        self.plane.setVisible(self.plane.count() > 1)
        self.plane.blockSignals(False)
        self.refresh()

    def offers(self) -> list[Offer]:
        """What is chosen beside: curves, regions, planar faces, a datum."""
        shown = self.desk.beside
        sketch = self.sketches.sketch
        found = [Offer("curve", sketch.id, k) for k in shown.curves] if sketch is not None else []
        found += [Offer("region", shown.regions[0], k) for k in shown.regions[1]]
        for kind, body, label in shown.picks:
            mesh = shown.mesh(body)
            seen = picked.witness(mesh, kind, label) if mesh is not None else None
            if kind == "face" and seen is not None and seen.kind == "plane":
                found.append(Offer("face", body.body, label, seen))
        if self.plane.currentData():
            found.append(Offer("plane", self.plane.currentData()))
        return found

    def refresh(self) -> None:
        """Say what would be taken."""
        if not self.isVisible():
            return
        desk = self.desk
        source, target, offers = desk.beside.document, desk.main.document, self.offers()
        if source is None or target is None:
            self.leave()
            return
        counts = {k: sum(o.takes == k for o in offers) for k in ("curve", "region", "face", "plane")}
        told = ", ".join(f"{n} {k}{'s' if n != 1 else ''}" for k, n in counts.items() if n) or "nothing yet"
        self.told.setText(f"Point it at {told} of {source.name}" if self.socket else f"Take {told} of {source.name}")
        sketch = next((o for o in desk.main.build if o.id == desk.main.operation and isinstance(o, Sketch)), None)
        for widget in (self.called, self.name):
            widget.setVisible(not self.socket and source.id != target.id)
        self.trace.setVisible(sketch is not None and not self.socket and counts["curve"] > 0)
        if sketch is not None:
            self.trace.setText(f"trace the curves into {sketch.name}")
        self.keep_button.setEnabled(bool(offers))
        self.say("In the left pane click curves, regions or flat faces; Shift chooses several.", False)

    def say(self, told: str, bad: bool) -> None:
        """A hint, or why it cannot be kept."""
        self.hint.setText(told)
        self.hint.setStyleSheet("color: #9C2D22; font-size: 11px;" if bad else "font-size: 11px;")
        self.place()

    def place(self) -> None:
        """At the bottom of both panes."""
        parent = self.parentWidget()
        if parent is not None:
            size = self.sizeHint()
            width = min(max(size.width(), 560), parent.width() - 24)
            self.setGeometry((parent.width() - width) // 2, parent.height() - size.height() - 14, width, size.height())

    def keep(self) -> None:
        """Make the feed, or point the socket, as one undoable step."""
        desk, offers = self.desk, self.offers()
        target, source, evaluation = desk.main.at, desk.beside.at, desk.evaluation
        if target is None or source is None or evaluation is None:
            return
        if self.socket:
            if len(offers) != 1:
                self.say("Choose exactly one thing to point it at.", True)
                return
            done = desk.apply(
                "point a feed elsewhere",
                lambda f: feeding.point_at(f, evaluation, target.document, self.socket, source, offers[0]),
            )
        else:
            into = desk.main.operation if self.trace.isVisible() and self.trace.isChecked() else ""
            name = self.name.text().strip()
            done = desk.apply(
                f"take {len(offers)} thing{'s' if len(offers) != 1 else ''} {name}",
                lambda f: feeding.take(f, evaluation, target, source, offers, name, into),
            )
        if done:
            self.leave()

    def leave(self) -> None:
        """Close and let go of what was chosen beside."""
        self.hide()
        self.socket = ""
        shown = self.desk.beside
        shown.curves, shown.picks, shown.regions = [], [], ("", ())
        shown.selection_changed.emit()
