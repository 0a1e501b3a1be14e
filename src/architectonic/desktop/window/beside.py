"""The second pane: another document beside the main one, to look at, to edit, and to take things from."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QFrame, QHBoxLayout, QMenu, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from architectonic.describe.models.documents import kind_of
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.kit import signs
from architectonic.desktop.kit.actions import Action, Registry
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.pane import PRESENT, PREVIEW
from architectonic.desktop.sketch.canvas import LayoutCanvas
from architectonic.desktop.sketch.meter import Meter
from architectonic.desktop.window.verbrow import VerbRow
from architectonic.family.records import Assembly, Model, Sketch
from architectonic.family.scopes import alternate_name, configurations
from architectonic.session.assembly.grid import rows as rows_of


class Beside(QWidget):
    """A head that says what is shown, over a 3D canvas or a sketch.

    Signals:
        swapped: the document is wanted in the main pane.
    """

    swapped = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk, self.shown = desk, desk.beside
        self.bodies, self.sketches = BodyCanvas(desk, desk.beside), LayoutCanvas(desk, desk.beside)
        self.stack = QStackedWidget()
        self.stack.addWidget(self.bodies)
        self.stack.addWidget(self.sketches)
        head = QWidget()
        head.setObjectName("panel")
        head.setFixedHeight(30)
        line = QHBoxLayout(head)
        line.setContentsMargins(6, 2, 6, 2)
        line.setSpacing(2)
        self.name = QPushButton()
        self.name.setObjectName("flat")
        self.name.clicked.connect(self._menu)
        self.size_button = QPushButton()
        self.size_button.setObjectName("flat")
        self.size_button.setToolTip(
            "which size this pane shows, and whether it follows what is being changed; the other pane keeps its own"
        )
        self.size_button.clicked.connect(
            lambda _=False: self.sizes().popup(self.size_button.mapToGlobal(self.size_button.rect().bottomLeft()))
        )
        self.swap = self._button(line, "Swap", self.swapped.emit, "show this document in the main pane")
        self.fold = self._button(line, "Close", partial(desk.show_beside, ""), "one canvas again")
        line.insertWidget(0, self.name)
        line.insertWidget(1, self.size_button)
        self.meter = Meter(self.sketches)
        line.insertWidget(2, self.meter)
        line.insertStretch(3, 1)
        frame = QFrame()
        frame.setObjectName("canvas")
        inside = QVBoxLayout(frame)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.addWidget(self.stack)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(head)
        column.addWidget(frame, 1)
        self.column = column
        self.verbs: VerbRow | None = None
        self.setMinimumWidth(300)
        for signal in (self.shown.changed, self.shown.selection_changed, desk.family_changed, desk.evaluated):
            signal.connect(self.refresh)
        self.refresh()

    def hold_verbs(self, row: VerbRow) -> None:
        """The row of verbs has its place under the head."""
        self.verbs = row
        self.column.insertWidget(1, row)
        self.refresh()

    def at_hand(self, main: VerbRow) -> VerbRow:
        """The verbs of the pane that has the keyboard: of this one, else of the main one."""
        focus = QApplication.focusWidget()
        return self.verbs if self.verbs is not None and focus is not None and self.isAncestorOf(focus) else main

    def registry(self, main: Registry, drawing: list[Action]) -> Registry:
        """What can be done in this pane: its sketch is drawn in place, the rest is taken from."""
        shared = [main.actions[k] for k in ("feed.new", "view.stored")]
        swap = Action(
            "pane.swap", "Make it the main pane", self.swapped.emit, tells="This document with all its verbs."
        )
        close = Action("pane.close", "Close this pane", partial(self.desk.show_beside, ""), tells="One canvas again.")
        return Registry([*drawing, *shared, swap, close], main.begin, main.attempt)

    def _button(self, line: QHBoxLayout, text: str, run: object, tip: str) -> QPushButton:
        made = QPushButton(text)
        made.setObjectName("flat")
        made.setToolTip(tip)
        made.clicked.connect(lambda _=False: run())  # type: ignore[operator]
        line.addWidget(made)
        return made

    def refresh(self) -> None:
        """Follow what is shown; an empty pane is folded away."""
        document = self.shown.document
        self.setVisible(document is not None)
        if document is None:
            return
        sketch = self.sketches.sketch
        drawn = kind_of(document).drawn or any(o.id == self.shown.operation for o in _sketches(document))
        self.stack.setCurrentWidget(self.sketches if drawn else self.bodies)
        self.meter.setVisible(drawn)
        if self.verbs is not None:
            self.verbs.follow("Sketch" if drawn else "Bodies")
        self.name.setText(f"{document.name}, {sketch.name}  ▾" if drawn and sketch else f"{document.name}  ▾")
        self.name.setIcon(signs.icon(document.kind))
        rows, at = dict(configurations(self.desk.family, document)), self.shown.at
        named = rows.get(at.configuration, "") if at is not None else ""
        named += f", {alternate_name(self.desk.family, at)}" if at is not None and at.alternate else ""
        stays, previewed = self.shown.variant == PRESENT, self.desk.previewed is not None
        self.size_button.setText(f"{named}{', as stored' if stays else ', changing' if previewed else ''}  ▾")

    def sizes(self) -> QMenu:
        """What this pane can show: the size of the whole window or one of its own, the present or what is being changed."""
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        document = self.shown.document
        rows = configurations(self.desk.family, document) if document is not None else []
        for key, words in (("", "as the whole window"), *((row, f"always {name}") for row, name in rows)):
            entry = menu.addAction(words)
            assert entry is not None
            entry.setCheckable(True)
            entry.setChecked(self.shown.own_size == key)
            entry.triggered.connect(lambda _=False, k=key: self.shown.show_own(k))
        others = rows_of(document) if isinstance(document, Assembly) and document.alternates else []
        if others:
            menu.addSeparator()
        for key, words in (("", "the alternate of the whole window"), *((r.key, f"always {r.name}") for r in others)):
            entry = menu.addAction(words) if others else None
            if entry is not None:
                entry.setCheckable(True)
                entry.setChecked(self.shown.own_alternate == key)
                entry.triggered.connect(lambda _=False, k=key: self.shown.show_own(alternate=k))
        menu.addSeparator()
        for variant, words in ((PREVIEW, "what is being changed"), (PRESENT, "as stored, whatever is being changed")):
            entry = menu.addAction(words)
            assert entry is not None
            entry.setCheckable(True)
            entry.setChecked(self.shown.variant == variant)
            entry.triggered.connect(lambda _=False, v=variant: self.shown.show_variant(v))
        return menu

    def _menu(self) -> None:
        """Every document that has a picture, with its sketches."""
        menu = QMenu(self)
        for document in self.desk.family.documents.values():
            if not kind_of(document).pictured:
                continue
            if not kind_of(document).drawn:
                self._entry(menu, document.name, document.kind, document.id, "")
            for sketch in _sketches(document):
                self._entry(menu, f"{document.name}, {sketch.name}", document.kind, document.id, sketch.id)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(self.name.mapToGlobal(self.name.rect().bottomLeft()))

    def _entry(self, menu: QMenu, text: str, kind: str, document: str, operation: str) -> None:
        entry = menu.addAction(signs.icon(kind), text)
        assert entry is not None
        entry.triggered.connect(lambda _=False: self.desk.show_beside(document, operation))


def _sketches(document: object) -> list[Sketch]:
    return [o for o in document.build if isinstance(o, Sketch)] if isinstance(document, Model) else []
