"""The verb bar: what fits the selection, and with nothing selected the verbs that create."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QFrame, QMenu, QPushButton, QToolButton, QWidget

from architectonic.describe.models.operations import OPERATIONS
from architectonic.desktop.commands.sketch import CONSTRAINTS, DIMENSIONS, INNER
from architectonic.desktop.kit.actions import Registry
from architectonic.desktop.kit.cards import clear
from architectonic.desktop.kit.flow import Flow
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sketch.drawtools import DrawTools
from architectonic.desktop.sketch.tools import GROUPS


def _operations() -> dict[str, tuple[str, ...]]:
    """Verbs of operations that share a button, by the one that it begins with; read from the declarations."""
    found: dict[str, list[str]] = {}
    for kind in OPERATIONS.values():
        keys = [f"operation.{s.key}" for s in kind.sentences if s.key != "back"]
        found.setdefault(f"operation.{kind.main}" if kind.main else keys[0], []).extend(keys)
    return {key: tuple(members) for key, members in found.items()}


VERBS = {
    "Values": (
        "value.new",
        "value.insert",
        "value.group",
        "value.fill",
        "value.uses",
        "table.bring",
        "rule.new",
        "link.look",
    ),
    "Range": ("value.new",),
    "Sketch": (
        "sketch.new",
        "datum.new",
        *(f"sketch.{group[0]}" for group in GROUPS),
        "sketch.trace",
        "feed.new",
        "sketch.hold",
        "operation.extrude",
    ),
    "3D": ("sketch.new", "datum.new", "underlay.new", "feed.new"),
    "Bodies": (
        "part.here",
        "sketch.new",
        "datum.new",
        "feed.new",
        *_operations(),
        "body.edit",
        "view.open",
        "document.export",
        "instance.new",
        "frame.take",
        "view.context",
    ),
    "Plan": ("plan.part", "plan.assembly", "plan.inside", "plan.assign", "plan.open", "frame.take", "part.here"),
}


CHOSEN = (
    *(f"dimension.{kind}" for kind in DIMENSIONS),
    *(f"dimension.{word.replace(' ', '_')}" for word in INNER),
    "choose.letters",
    *(f"constrain.{kind}" for kind in CONSTRAINTS),
    "sketch.round",
    "sketch.chamfer",
    "copies.offset",
    "place.move",
    "choose.chain",
    "sketch.helper",
    "sketch.own",
    "datum.new",
    "sketch.delete",
)
MEASURED = ("dimension.turn", "dimension.rename", "dimension.play", "sketch.delete")
UNDERLAY = ("underlay.scale", "underlay.move", "underlay.look")
PICKED = (
    "operation.fillet",
    "operation.shell",
    "operation.extrude",
    "operation.split",
    "part.here",
    "sketch.new",
    "datum.new",
    "body.edit",
    "pick.like",
    "pick.why",
    "measure.keep",
    "view.open",
)
"""Verbs that take the place of the drawing tools while something of a sketch is chosen."""
FAMILIES = {
    **{f"sketch.{group[0]}": tuple(f"sketch.{tool}" for tool in group) for group in GROUPS if len(group) > 1},
    "copies.offset": ("copies.offset", "copies.mirror", "copies.row", "copies.ring"),
    "choose.chain": ("choose.chain", "choose.kind"),
    "underlay.move": ("underlay.move", "underlay.straighten"),
    "datum.new": ("datum.new", "datum.axis", "datum.point"),
    **_operations(),
    "pick.like": ("pick.like", "pick.chain", "pick.around", "pick.made"),
    "view.open": ("view.open", "view.draft"),
    "rule.new": ("rule.new", "guard.new", "guard.body"),
    "value.fill": ("value.fill", "value.series"),
    "value.uses": ("value.uses", "value.unused", "value.doubled"),
    "value.group": ("value.group", "value.delete"),
    "table.bring": ("table.bring", "table.send", "link.new"),
    "place.move": ("place.move", "place.turn", "place.scale", "place.copy"),
}
"""Verbs that share a button: the one used last stands on it, an arrow beside it shows the others."""


class VerbBar(QFrame):
    """Buttons of actions, top left of a canvas, in as many rows as fit its width."""

    def __init__(self, canvas: QWidget, desk: Desk, registry: Registry, tools: DrawTools) -> None:
        super().__init__(canvas)
        self.setObjectName("verbs")
        self.setStyleSheet("QFrame#verbs { background: #FDFCF9; border: 1px solid #CFC8BA; border-radius: 6px; }")
        self.desk, self.registry, self.tools = desk, registry, tools
        self.tab = ""
        self._line = Flow(self)
        self._shown: tuple[dict[str, list[str]], str] = ({}, "")
        self._last: dict[str, str] = {}
        canvas.installEventFilter(self)
        for signal in (desk.family_changed, desk.main.selection_changed, desk.evaluated):
            signal.connect(self.refresh)

    def eventFilter(self, canvas: QObject | None, event: QEvent | None) -> bool:
        """Keep within the canvas when it becomes wider or narrower."""
        if event is not None and event.type() == QEvent.Type.Resize:
            self.place()
        return super().eventFilter(canvas, event)

    def show_for(self, tab: str) -> None:
        """Another canvas is shown."""
        self.tab = tab
        self.refresh()

    def ids(self) -> list[str]:
        """Ids of the actions that fit what is shown and chosen."""
        choosing = self.tab == "Sketch" and bool(self.desk.main.curves) and not self.tools.tool
        measuring = self.tab == "Sketch" and bool(self.desk.main.constraint)
        ids = MEASURED if measuring else CHOSEN if choosing else VERBS.get(self.tab, ())
        if self.desk.main.operation and self.tab != "Sketch":
            ids = (
                *UNDERLAY,
                "operation.mend",
                "operation.edit",
                "operation.until",
                "operation.rename",
                "operation.delete",
                "stretch.name",
            )
            ids += ("datum.new", "sketch.new") if self.tab == "3D" else ()
        if self.desk.main.picks and self.tab == "Bodies":
            ids = PICKED
        return [k for k in ids if self._members(k)]

    def verbs(self) -> tuple[str, ...]:
        """All of them, those that share a button too."""
        return tuple(member for key in self.ids() for member in self._members(key))

    def _members(self, key: str) -> list[str]:
        """Verbs of a button that can be used now."""
        return [k for k in FAMILIES.get(key, (key,)) if self.registry.actions[k].enabled()]

    def refresh(self) -> None:
        """Make the buttons anew when other verbs fit."""
        shown = ({k: self._members(k) for k in self.ids()}, self.tools.tool)
        if shown != self._shown:
            self._shown = shown
            clear(self._line)
            for key, members in shown[0].items():
                button = self._grouped(key, members) if key in FAMILIES else self._single(key)
                self._line.addWidget(button)
                button.show()
                button.ensurePolished()  # before its width is asked for
        self.place()

    def _single(self, key: str) -> QPushButton:
        button = QPushButton(self.registry.actions[key].short or self.registry.actions[key].title)
        button.setToolTip(self.registry.actions[key].title.rstrip("…"))
        button.setObjectName("main" if key == f"sketch.{self.tools.tool}" else "flat")
        button.clicked.connect(lambda _=False, k=key: self.registry.run(k))
        return button

    def _grouped(self, key: str, members: list[str]) -> QToolButton:
        """A button for the verb of a group that was used last, with a menu of all of them."""
        first = self._last.get(key, key)
        shown = self.registry.actions[first if first in members else members[0]]
        button = QToolButton()
        button.setText(shown.short or shown.title)
        button.setToolTip(shown.title.rstrip("…"))
        active = f"sketch.{self.tools.tool}" in members
        button.setObjectName("main" if active else "flat")
        button.setPopupMode(QToolButton.ToolButtonPopupMode.MenuButtonPopup)
        menu = QMenu(button)
        for member in members:
            entry = menu.addAction(self.registry.actions[member].title)
            assert entry is not None
            entry.triggered.connect(lambda _=False, k=member: self._run(key, k))
        button.setMenu(menu)
        button.clicked.connect(lambda _=False, k=shown.id: self._run(key, k))
        return button

    def _run(self, group: str, key: str) -> None:
        self._last[group] = key
        self.registry.run(key)
        self._shown = ({}, "")
        self.refresh()

    def place(self) -> None:
        """Top left, within the canvas."""
        canvas = self.parentWidget()
        self.setVisible(bool(self._shown[0]))
        if canvas is not None:
            self._line.room = canvas.width() - 28
            self.resize(self._line.sizeHint())
            self.move(14, 12)
            self.raise_()
