"""The main window: it wires panels, canvases and actions, and knows nothing of documents."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QCloseEvent, QKeyEvent, QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QFrame,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from architectonic.describe.models.documents import kind_of
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.body.freesigns import FreeSigns
from architectonic.desktop.body.jointsigns import JointSigns
from architectonic.desktop.commands.clipboard import Clipboard
from architectonic.desktop.commands.deleting import ROW_FIRST, Deleting
from architectonic.desktop.commands.inside import InsideCommands
from architectonic.desktop.commands.measure import MeasureCommands
from architectonic.desktop.commands.parts.bodies import BodyCommands
from architectonic.desktop.commands.parts.checks import CheckCommands
from architectonic.desktop.commands.parts.hands import HandCommands
from architectonic.desktop.commands.parts.holes import HoleCommands
from architectonic.desktop.commands.parts.items import PartItemCommands
from architectonic.desktop.commands.parts.outside import OutsideCommands
from architectonic.desktop.commands.parts.surfaces import SurfaceCommands
from architectonic.desktop.commands.placed.alternates import AlternateCommands
from architectonic.desktop.commands.placed.bonds import BondCommands
from architectonic.desktop.commands.placed.results import ResultCommands
from architectonic.desktop.commands.placed.variations import VariationCommands
from architectonic.desktop.commands.placed.working import WorkCommands
from architectonic.desktop.commands.product import PlanCommands
from architectonic.desktop.commands.rows.columns import ColumnCommands
from architectonic.desktop.commands.rows.handing import HandingCommands
from architectonic.desktop.commands.rows.looking import LookingCommands
from architectonic.desktop.commands.rows.matrix import MatrixCommands
from architectonic.desktop.commands.rows.ranges import RowCommands
from architectonic.desktop.commands.rows.tables import TableCommands
from architectonic.desktop.commands.rules import RuleCommands
from architectonic.desktop.commands.sketch import SketchCommands
from architectonic.desktop.commands.stretching import Stretching
from architectonic.desktop.commands.underlays import UnderlayCommands
from architectonic.desktop.commands.window import Commands
from architectonic.desktop.kit.actions import Source
from architectonic.desktop.kit.dock import Dock
from architectonic.desktop.kit.frames import rule, scrolled, splitter
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.longwork import WorkCard
from architectonic.desktop.panels.drivers import Drivers
from architectonic.desktop.panels.madeof import MadeOf
from architectonic.desktop.panels.rightside import RightSide
from architectonic.desktop.product.map import MapCanvas
from architectonic.desktop.product.plan import PlanCanvas
from architectonic.desktop.ranges.checks import ChecksCanvas
from architectonic.desktop.ranges.grid import RangeGrid
from architectonic.desktop.sentences import newdatums
from architectonic.desktop.sentences.bondcard import BondCard
from architectonic.desktop.sentences.card import SentenceCard
from architectonic.desktop.sentences.feedcard import FeedCard
from architectonic.desktop.sentences.lookback import LookBack
from architectonic.desktop.sentences.over.membertags import over
from architectonic.desktop.sentences.tracecard import TraceCard
from architectonic.desktop.sketch.canvas import LayoutCanvas
from architectonic.desktop.sketch.meter import Meter
from architectonic.desktop.tables.alternates import AlternatesGrid
from architectonic.desktop.tables.files import TableFiles
from architectonic.desktop.tables.grid import TableGrid
from architectonic.desktop.window.attentionlist import AttentionList
from architectonic.desktop.window.beside import Beside
from architectonic.desktop.window.find import FindOrDo
from architectonic.desktop.window.headband import HeadBand
from architectonic.desktop.window.keyhelp import KeyHelp
from architectonic.desktop.window.menus import Menus, documents, findable
from architectonic.desktop.window.strip import Strip
from architectonic.desktop.window.tabrow import MAP, TabRow
from architectonic.desktop.window.verbrow import VerbRow
from architectonic.desktop.window.verbs import BESIDE
from architectonic.family import scopes


class MainWindow(QWidget):
    """Head band; Drivers and Made of; canvases; Driven and Facts; change strip."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("window")
        self.setWindowTitle("Architectonic")
        self.desk = desk
        self.leaving = False
        self.tab = self._of = ""
        self.canvas = QFrame()
        self.canvas.setObjectName("canvas")
        self.bodies, self.sketches = BodyCanvas(desk, desk.main), LayoutCanvas(desk, desk.main)
        self.values, self.range = TableGrid(desk), RangeGrid(desk)
        self.alternates, self.checks = AlternatesGrid(desk), ChecksCanvas(desk, self.go_to)
        self.map, self.plan = MapCanvas(desk), PlanCanvas(desk)
        self.area = QFrame()
        self.beside = Beside(desk)
        self.dock = Dock(self.area)
        self.card = SentenceCard(self.dock, desk)
        self.bodies.handles = [*over(self.bodies, self.card), JointSigns(self.bodies), FreeSigns(self.bodies)]
        self.key_help = KeyHelp(self.area)
        self.feed_card = FeedCard(self.dock, desk, self.beside.sketches)
        self.bond_card = BondCard(self.dock, desk)
        self.prompt, self.list_card = Prompt(self.dock, desk.main), ListCard(self.dock)
        self.trace_card = TraceCard(self.dock, desk, self.sketches)
        self.work_card = WorkCard(self.dock, desk.work)
        self.cards = (
            self.list_card, self.prompt, self.card, self.feed_card, self.trace_card, self.bond_card, self.work_card
        )  # fmt: skip
        asked = (desk, self.prompt, self.list_card)
        self.tables = TableCommands(*asked, self.values, self.go_to)
        self.files, self.handing = TableFiles(*asked), HandingCommands(*asked)
        self.rules = RuleCommands(desk, self.prompt, self.values)
        self.underlays = UnderlayCommands(desk, self.prompt, self.bodies, self._show_bodies)
        self.look_back = LookBack(desk, self.list_card, self.feed_card, self.go_to)
        self.attention = AttentionList(desk, self.list_card, self.go_to, lambda: self.actions_.run("operation.mend"))
        self.measures = MeasureCommands(desk, self.prompt)
        self.plans = PlanCommands(desk, self.prompt, self.plan, self.show_tab, self.feed_card.start)
        self.commands = Commands(
            desk,
            self,
            self.prompt,
            self.card,
            self.feed_card,
            self.trace_card,
            self.sketches.tools,
            partial(self.show_tab, "Sketch"),
            _sources(self),
        )
        self.actions_ = self.commands.registry()
        drawing = SketchCommands(desk, self.prompt, self.beside.sketches.tools).actions()
        self.beside_actions = self.beside.registry(self.actions_, drawing)
        knows = partial(findable, desk, self.actions_, self.focus_value, self.go_to, lambda: self.verbs.ids())
        self.finder = FindOrDo(self, knows, lambda told: desk.told.emit(told, True))
        self.head = HeadBand(desk, self.actions_, lambda: self.finder.start())
        self.drivers, self.made_of = Drivers(desk), MadeOf(desk)
        self.right, self.strip = RightSide(desk), Strip(desk, lambda: self.dock.has_room() and self.tab != "Checks")
        self._build()
        self.menus = Menus(
            self,
            desk,
            self.actions_,
            self.verbs,
            self.commands.models,
            self.feed_card,
            lambda: self.canvas,
            self.files.link_menu,
            self.rules.menu,
        )
        self._wire()
        self.refresh()

    def _build(self) -> None:
        self.stack = QStackedWidget()
        for card in self.cards:
            self.dock.hold(card)
            card.released.connect(lambda: (found := self.stack.currentWidget()) and found.setFocus())
        self.space = splitter(Qt.Orientation.Vertical, (self.bodies, self.alternates), [360, 300])
        canvases: list[QWidget] = [self.space, self.sketches, self.values, self.range, self.checks, self.map, self.plan]
        for canvas in canvases:
            self.stack.addWidget(canvas)
        self.tabs = TabRow(Meter(self.sketches))
        self.tabs.chosen.connect(self.show_tab)
        self.tabs.split.clicked.connect(lambda: self.actions_.run("view.split"))
        self.verbs = VerbRow(
            self.desk.main, self.actions_, self.sketches.tools, self, rows=lambda: len(self.values.view.rows())
        )
        self.beside.hold_verbs(VerbRow(self.desk.beside, self.beside_actions, self.beside.sketches.tools, self, BESIDE))
        selection = self.values.view.selectionModel()
        assert selection is not None
        for signal in (self.desk.family_changed, self.desk.evaluated, selection.selectionChanged):
            signal.connect(self.verbs.soon)
        inside = QVBoxLayout(self.canvas)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.addWidget(self.stack)
        main = QWidget()
        column = QVBoxLayout(main)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.tabs)
        column.addWidget(self.verbs)
        column.addWidget(self.canvas, 1)
        self.panes = splitter(Qt.Orientation.Horizontal, (self.beside, main), [364, 364])
        self.panes.setChildrenCollapsible(False)
        over = QVBoxLayout(self.area)
        over.setContentsMargins(0, 0, 0, 0)
        over.setSpacing(0)
        over.addWidget(self.panes, 1)
        over.addWidget(self.dock)
        self.area.setMinimumWidth(720)
        left = splitter(Qt.Orientation.Vertical, (scrolled(self.drivers), scrolled(self.made_of)), [330, 340])
        parts = (left, self.area, scrolled(self.right))
        self.columns = splitter(Qt.Orientation.Horizontal, parts, [320, 728, 232])
        self.columns.setStretchFactor(1, 1)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        rows: list[QWidget] = [self.head, rule(), self.columns, rule(), self.strip]
        for row in rows:
            whole.addWidget(row)
        whole.setStretch(2, 1)

    def _wire(self) -> None:
        desk = self.desk
        self.drivers.reach.connect(self.strip.reach)
        for canvas in (self.sketches, self.beside.sketches):
            canvas.reach.connect(self.strip.reach)
        self.drivers.feed_asked.connect(self.menus.feed)
        self.head.document_chosen.connect(desk.show)
        self.head.many_asked.connect(lambda: self.finder.start(documents(desk)))
        self.head.family_chosen.connect(self.commands.families.show_family)
        self.right.opened.connect(desk.show)
        self.right.constraint_chosen.connect(self.sketches.choose_constraint)
        self.right.measurement_chosen.connect(self.measures.choose)
        self.map.opened.connect(desk.show)
        self.plan.tree.opened.connect(lambda k: self.plans.show_in(k, desk.main.document_id))
        self.made_of.opened.connect(self._open_row)
        self.made_of.deleted.connect(lambda: self.actions_.run("operation.delete"))
        for bodies in (self.bodies, self.beside.bodies):
            bodies.opened.connect(self._open_sketch)
        self.bodies.deleted.connect(
            lambda: desk.told.emit(ROW_FIRST, True) if not self.actions_.run("operation.delete") else None
        )
        self.bodies.pulled.connect(partial(newdatums.beside, self.card))
        desk.main.changed.connect(self.refresh)
        desk.beside.changed.connect(self._on_beside)
        desk.evaluated.connect(self.card.refresh)
        self.card.ready.connect(self._show_bodies)
        for card in (self.trace_card, self.card, self.feed_card, self.bond_card):
            desk.main.changed.connect(card.leave)
        self.beside.swapped.connect(self._swap)
        self.dock.crowded.connect(self.strip.make_room)
        self.checks.shown.connect(self.strip.make_room)  # it says what broke as well
        for action in self.actions_.actions.values():
            if action.keys:
                self._shortcut(action.keys, partial(self.actions_.run, action.id))
        self._shortcut("Ctrl+K", self.finder.start)
        self.canvas.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.canvas.customContextMenuRequested.connect(self.menus.context)

    def _shortcut(self, keys: str, run: Callable[[], object]) -> None:
        made = QShortcut(QKeySequence(keys), self)
        made.activated.connect(run)

    # --- what is shown --------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Tabs and verbs of the shown document."""
        document = self.desk.main.document
        names = (*(kind_of(document).views if document else ()), MAP)
        self.tabs.show_for(names, document.name if document else "", bool(self.desk.beside.document_id))
        stays = self.desk.main.document_id == self._of and self.tab in names
        self._of = self.desk.main.document_id
        self.show_tab(self.tab if stays else names[0])

    def show_tab(self, name: str) -> None:
        """Show one canvas of the document."""
        self.tab = name
        self.tabs.mark(name)
        self.stack.setCurrentWidget(
            {
                "Bodies": self.space,
                "3D": self.space,
                "Alternates": self.space,
                "Sketch": self.sketches,
                "Range": self.range,
                "Checks": self.checks,
                "Plan": self.plan,
                MAP: self.map,
            }.get(name, self.values)
        )
        self.alternates.setVisible(name == "Alternates")
        self.verbs.show_for(name)

    def _on_beside(self) -> None:
        """The tabs are worded for the room there is."""
        tab = self.tab
        self.refresh()
        self.show_tab(tab if tab in self.tabs.buttons else next(iter(self.tabs.buttons)))

    def _swap(self) -> None:
        """The document beside becomes the main one, and the other way round."""
        desk = self.desk
        old, operation = desk.main.document_id, desk.main.operation
        wanted, row = desk.beside.document_id, desk.beside.operation
        desk.show_beside(old, operation)
        desk.show(wanted)
        if row:
            desk.main.select(row)

    def go_to(self, document: str, item: str) -> None:
        """Show what needs attention, or where something is used."""
        self.desk.show(document)
        if any(p.id == item for p in self.desk.family.documents[document].parameters):
            self.values.model.refresh()
            self.values.view.choose(item)
            return
        self.desk.main.operation = ""
        self.desk.main.select(item)

    def _open_sketch(self, document: str, operation: str) -> None:
        """A sketch on its own canvas: of this document here, of another one beside."""
        if document != self.desk.main.document_id:
            self.desk.show_beside(document, operation)
            return
        self.desk.main.operation = ""
        self.desk.main.select(operation)
        self.show_tab("Sketch")

    def _show_bodies(self) -> None:
        """The 3D canvas of the shown document."""
        self.show_tab("3D" if "3D" in self.tabs.buttons else "Bodies")

    def _open_row(self, item: str) -> None:
        """An instance opens its document; an operation is chosen."""
        instance = next((i for i in getattr(self.desk.main.document, "instances", ()) if i.id == item), None)
        at = self.desk.main.at
        if instance is not None and at is not None:
            filler = scopes.fill(self.desk.family, at, instance)[1].document
            if filler:
                self.plans.show_in(filler, self.desk.main.document_id)
        else:
            self.desk.main.operation = ""
            self.desk.main.select(item)
            self.actions_.run("rule.edit") or self.actions_.run("bond.edit") or self.actions_.run("operation.edit")

    def focus_value(self, document: str, item: str) -> bool:
        """Put the keyboard into a value's field."""
        if not any(f.row.item == item for f in self.drivers.fields):
            self.desk.show(document)
        for field in self.drivers.fields:
            if field.row.item == item:
                field.setFocus(Qt.FocusReason.ShortcutFocusReason)
                return True
        return False

    # --- Qt -------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter and Esc answer the open card from wherever the keyboard is; `?` lists the keys.

        What is typed into a field never comes here.
        """
        if any(card.answer(event) for card in self.cards):
            return
        if event is not None and event.text() == "?":
            self.key_help.start(self.tab)
        elif event is not None and self.beside.at_hand(self.verbs).answer(event):
            return
        else:
            super().keyPressEvent(event)

    def changeEvent(self, event: QEvent | None) -> None:
        """Back in front: say when others wrote to the folder meanwhile."""
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.ActivationChange and self.isActiveWindow():
            there = self.desk.attempt(self.desk.session.refuse_elsewhere)
            files = self.desk.session.changed_by_others() if there else []
            if files:
                self.desk.told.emit(
                    f"Others changed {', '.join(files)} on disk: Ctrl+S asks whose version stays.", True
                )

    def leave(self) -> None:
        """Close without asking; unsaved edits stay in the journal unless they were dropped."""
        self.leaving = True
        self.close()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Unsaved edits are asked about; what was answered closes the window."""
        if event is not None and not self.leaving and not self.commands.families.leave(self.leave):
            event.ignore()
            return
        self.bodies.close_scene()
        self.beside.bodies.close_scene()
        for open_ in (self.look_back, self.checks.drawer.view.pictures, self.files.watch, self.head.watch):
            open_.close()
        self.range.sheet.pictures.end()
        self.desk.close()
        super().closeEvent(event)


def _sources(w: MainWindow) -> list[Source]:
    """What brings the actions of the window, subject by subject."""
    desk, prompt = w.desk, w.prompt
    return [
        w.tables,
        MatrixCommands(w.checks),
        w.handing,
        LookingCommands(desk, prompt, w.list_card, w.range, (w.bodies, w.beside.bodies), w.show_tab),
        w.files,
        w.rules,
        w.underlays,
        w.plans,
        BondCommands(desk, prompt, w.bond_card),
        ResultCommands(desk, prompt, w.list_card, w.bodies),
        AlternateCommands(desk, prompt, w.alternates, w.show_tab),
        RowCommands(desk, prompt, w.range, w.show_tab, w.card),
        ColumnCommands(desk, prompt, w.list_card, w.range, w.show_tab),
        WorkCommands(desk),
        VariationCommands(desk, prompt, w.list_card),
        BodyCommands(desk, prompt, w.bodies),
        PartItemCommands(desk, prompt, w.list_card, w.bodies),
        SurfaceCommands(desk, prompt, w.list_card, w.bodies, w, w.card.kept),
        CheckCommands(desk, prompt, w.list_card, w.bodies, lambda kind, more: w.commands.models.make(kind, more)),
        HandCommands(desk, prompt, w.list_card),
        OutsideCommands(desk, prompt, w.list_card, w.files.watch),
        HoleCommands(desk, w.list_card, w.bodies, w.go_to, lambda: w.actions_.run("operation.edit")),
        w.look_back,
        w.attention,
        Deleting(desk, w.list_card, w.attention.when_known, w.go_to),
        InsideCommands(desk, prompt, w.bodies),
        Stretching(desk, prompt),
        Clipboard(desk, w.sketches.tools),
        w.measures,
    ]
