"""A contact sheet: pictures of all configurations and alternates of a document side by side, in one scale."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon, QImage, QPixmap
from PyQt6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from architectonic.describe.assembly.extents import Extents
from architectonic.describe.results import ModelState, Node
from architectonic.desktop.kit.cards import Card, clear
from architectonic.desktop.pane import thumbnails
from architectonic.family import scopes
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.targets import Look
from architectonic.render.pictures import bodies_of, meshes_of
from architectonic.render.small import framed
from architectonic.session.open.queries import ask

WIDE, HIGH = 168, 126
"""Of a picture, pixels."""
SHARE = 0.42
"""Of the room of the canvases that the sheet may take."""


class SheetPicture(NamedTuple):
    """One picture: of what, its caption, and the image; None where there is nothing to draw."""

    at: Scope
    caption: str
    image: QImage | None


def pictures(family: Family, wanted: list[Scope]) -> list[SheetPicture]:
    """Pictures of some scopes, all in the scale of the largest. Runs in any thread, and may take long."""
    states = [Node(what, at, "") for at in wanted for what in ("assembly", "extents", "finished")]
    known = ask(family, [n for n in states if _has(family, n)])
    seen = ask(family, [*known.outcomes, *(b.node("mesh") for at in wanted for b in bodies_of(known, Look(at)))])
    meshes = {at: [(m, colour) for _, m, colour in meshes_of(seen, Look(at))] for at in wanted}
    scale = max(
        (framed([m.points for m, _ in found], WIDE / HIGH).scale for found in meshes.values() if found), default=1.0
    )
    return [
        SheetPicture(
            at, _caption(seen, at), thumbnails.bodies(found, WIDE, HIGH, scale) if (found := meshes[at]) else None
        )
        for at in wanted
    ]


def _has(family: Family, node: Node) -> bool:
    return (family.documents[node.document].kind == "assembly") != (node.what == "finished")


def _caption(seen: Evaluation, at: Scope) -> str:
    """What it weighs, or how many bodies it has."""
    extents = seen.value(Node("extents", at, ""))
    if isinstance(extents, Extents):
        return f"{extents.whole.mass:.1f} g" if extents.whole.mass is not None else ""
    state = seen.value(Node("finished", at, ""))
    return f"{len(state.bodies)} bodies" if isinstance(state, ModelState) and len(state.bodies) > 1 else ""


class ContactSheet(Card):
    """Rows are alternates, columns sizes; a click shows what it pictures."""

    tall = True

    def __init__(self, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.title = QLabel()
        self.title.setStyleSheet("font-size: 13px; font-weight: 600;")
        self.inner = QWidget()
        self.grid = QGridLayout(self.inner)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setSpacing(8)
        self.area = QScrollArea()
        self.area.setWidget(self.inner)
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.area.setStyleSheet("QScrollArea, QScrollArea > QWidget > QWidget { background: #FDFCF9; }")
        close = QPushButton("Close  Esc")
        close.clicked.connect(self.leave)
        head = QHBoxLayout()
        head.addWidget(self.title, 1)
        head.addWidget(close)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 10, 12, 10)
        layout.addLayout(head)
        layout.addWidget(self.area, 1)
        self.cells: dict[Scope, QToolButton] = {}

    def start(
        self, title: str, family: Family, found: list[SheetPicture], shown: Scope, go: Callable[[Scope], object]
    ) -> None:
        """Lay the pictures out, the shown one marked."""
        self.title.setText(title)
        clear(self.grid)
        self.cells = {}
        document = family.documents[shown.document]
        columns = [row for row, _ in scopes.configurations(family, document)]
        rows = [a.id for a in scopes.alternates(document)] or [""]
        names = dict(scopes.configurations(family, document)) | {a.id: a.name for a in scopes.alternates(document)}
        for picture in found:
            row, column = rows.index(picture.at.alternate), columns.index(picture.at.configuration)
            called = ", ".join(n for n in (names.get(picture.at.alternate, ""), names[picture.at.configuration]) if n)
            cell = QToolButton()
            cell.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
            cell.setIconSize(QSize(WIDE, HIGH))
            if picture.image is not None:
                pixmap = QPixmap.fromImage(picture.image)
                pixmap.setDevicePixelRatio(thumbnails.RATIO)
                cell.setIcon(QIcon(pixmap))
            cell.setText("   ".join(t for t in (called, picture.caption or "nothing to draw") if t))
            cell.setAccessibleName(called)
            edge = "#8E2A6B" if picture.at == shown else "#CFC8BA"
            cell.setStyleSheet(
                f"QToolButton {{ border: 1px solid {edge}; border-radius: 4px; background: #FDFCF9; padding: 4px; }}"
                "QToolButton:hover { border-color: #8E2A6B; }"
            )
            cell.clicked.connect(lambda _=False, at=picture.at: self._go(go, at))
            self.cells[picture.at] = cell
            self.grid.addWidget(cell, row, column)
        self.grid.setColumnStretch(len(columns), 1)
        self.grid.setRowStretch(len(rows), 1)
        self.place()
        self.show()
        self.raise_()
        self.setFocus()

    def _go(self, go: Callable[[Scope], object], at: Scope) -> None:
        self.leave()
        go(at)

    def place(self) -> None:
        """So high that its rows are seen, or as high as it may be."""
        parent = self.parentWidget()
        over = parent.parentWidget() if parent is not None else None
        if parent is None:
            return
        rows = 1 + max((self.grid.getItemPosition(k)[0] or 0 for k in range(self.grid.count())), default=0)
        most = int((over or parent).height() * SHARE)
        self.setFixedHeight(min(most, rows * (HIGH + 44) + 60))
