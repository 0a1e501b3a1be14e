"""The map: who drives whom, in layers from left to right, with what the chosen document drives and is driven by lit."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPainterPath, QPen, QWheelEvent
from PyQt6.QtWidgets import QWidget

from architectonic.desktop.kit import theme
from architectonic.desktop.kit.signs import paint_kind, paint_state
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.family.records import SELF, Family
from architectonic.family.walk import leads_to, pointers_in
from architectonic.session.product.planning import progress

CARD_W, CARD_H, GAP_X, GAP_Y = 124.0, 44.0, 76.0, 22.0
LEAST, LEAST_GAP, TWO_LINES = 26.0, 6.0, 42.0
"""The lowest card and gap, and the lowest card with two lines, in pixels."""
TOP, FOOT = 20.0, 36.0
"""Room above the cards, and below them for the line of words."""


def drives(family: Family) -> dict[str, set[str]]:
    """For each document, those that take from it; sources that are gone are left out."""
    found: dict[str, set[str]] = {k: set() for k in family.documents}
    for taker in family.documents.values():
        for p in pointers_in(taker):
            of = leads_to(p)
            if of not in (SELF, taker.id) and of in found:
                found[of].add(taker.id)
    return found


def layers(edges: dict[str, set[str]]) -> list[list[str]]:
    """Documents by their longest way from a source; a circle between documents ends where it closes.

    Within a layer each stands near the middle of what drives it (barycentre heuristic, Sugiyama et al. 1981).
    """
    rank = dict.fromkeys(edges, 0)
    for _ in range(len(edges)):
        changed = False
        for source, takers in edges.items():
            for taker in takers:
                if rank[taker] < rank[source] + 1 and rank[source] + 1 < len(edges):
                    rank[taker] = rank[source] + 1
                    changed = True
        if not changed:
            break
    used = sorted(set(rank.values()))
    columns = [[k for k in edges if rank[k] == r] for r in used]
    place: dict[str, float] = {}
    for column in columns:
        sources = {k: [place[s] for s in edges if k in edges[s] and s in place] for k in column}
        column.sort(key=lambda k: sum(sources[k]) / len(sources[k]) if sources[k] else 0.0)
        place.update({k: i - (len(column) - 1) / 2 for i, k in enumerate(column)})
    return columns


def closure(edges: dict[str, set[str]], start: str) -> set[str]:
    """Everything reached from a document, itself left out."""
    found: set[str] = set()
    stack = [start]
    while stack:
        for k in edges.get(stack.pop(), ()):
            if k not in found:
                found.add(k)
                stack.append(k)
    return found - {start}


class MapCanvas(QWidget):
    """Cards and arrows. A click chooses a document, a double-click opens it.

    Signals:
        opened (str): id of a document that was double-clicked.
    """

    opened = pyqtSignal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.chosen = desk.main.document_id
        self.family = desk.family
        self.cards: dict[str, QRectF] = {}
        self.edges: dict[str, set[str]] = {}
        self.rolled = self.below = 0.0
        self.setMinimumSize(320, 160)
        self.setAccessibleName("Map")
        refresh = soon(self, self.refresh)
        for signal in (desk.family_changed, desk.main.changed, desk.evaluated):
            signal.connect(refresh)
        self.refresh()

    def refresh(self) -> None:
        """Follow the family."""
        self.family = self.desk.family  # the cards are of its documents until they are placed anew
        self.edges = drives(self.family)
        if self.chosen not in self.edges:
            self.chosen = self.desk.main.document_id
        self._place()
        self.update()

    def _place(self) -> None:
        columns = layers(self.edges)
        between = max(1, len(columns) - 1)
        wide = min(CARD_W, max(96.0, (self.width() - 40 - 18 * between) / max(1, len(columns))))
        gap = max(18.0, min(GAP_X, (self.width() - 40 - len(columns) * wide) / between))
        width = len(columns) * wide + (len(columns) - 1) * gap
        x = max(20.0, (self.width() - width) / 2)
        self.cards = {}
        longest = max((len(column) for column in columns), default=1)
        room = self.height() - TOP - FOOT
        # first closer together, then lower; what does not fit then is rolled to
        step = min(CARD_H + GAP_Y, max(LEAST + LEAST_GAP, (room + LEAST_GAP) / longest))
        high = min(CARD_H, step - LEAST_GAP)
        self.below = max(0.0, longest * step - LEAST_GAP - room)
        self.rolled = min(self.rolled, self.below)
        for column in columns:
            y = max(TOP, (self.height() - FOOT + TOP - len(column) * step) / 2) - self.rolled
            for k in column:
                self.cards[k] = QRectF(x, y, wide, high)
                y += step
            x += wide + gap

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Roll to the cards that do not fit."""
        assert event is not None
        self.rolled = min(max(0.0, self.rolled - event.angleDelta().y() / 2), self.below)
        self._place()
        self.update()

    def resizeEvent(self, event: object) -> None:
        """Stay in the middle."""
        super().resizeEvent(event)  # type: ignore[arg-type]
        self._place()

    def paintEvent(self, _: object) -> None:
        """Arrows, then cards."""
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), QColor(theme.PAPER))
        back: dict[str, set[str]] = {k: {s for s in self.edges if k in self.edges[s]} for k in self.edges}
        down, up = closure(self.edges, self.chosen), closure(back, self.chosen)
        lit_down, lit_up = down | {self.chosen}, up | {self.chosen}
        for source, takers in self.edges.items():
            for taker in takers:
                if source in lit_down and taker in lit_down:
                    colour, wide = QColor(theme.PLUM), 1.6
                elif source in lit_up and taker in lit_up:
                    colour, wide = QColor(theme.INK), 1.6
                else:
                    colour, wide = QColor(theme.LINE), 1.0
                self._arrow(p, self.cards[source], self.cards[taker], colour, wide)
        for key, box in self.cards.items():
            self._card(p, key, box, key in down, key in up)
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.SOFT))
        name = self.family.documents[self.chosen].name if self.chosen in self.family.documents else ""
        told = (
            f"{name}: driven by {len(up)}, drives {len(down)}. Click chooses, double-click opens."
            if name
            else "No documents yet."
        )
        if self.below:
            told += " The wheel rolls to the rest."
        p.fillRect(QRectF(0, self.height() - FOOT, self.width(), FOOT), QColor(theme.PAPER))
        p.drawText(QPointF(20, self.height() - 16), told)

    def _arrow(self, p: QPainter, a: QRectF, b: QRectF, colour: QColor, wide: float) -> None:
        start, end = QPointF(a.right(), a.center().y()), QPointF(b.left(), b.center().y())
        path = QPainterPath(start)
        bend = max(24.0, (end.x() - start.x()) / 2)
        path.cubicTo(start + QPointF(bend, 0), end - QPointF(bend, 0), end)
        p.setPen(QPen(colour, wide))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(path)
        p.drawLine(end, end + QPointF(-6, -3.5))
        p.drawLine(end, end + QPointF(-6, 3.5))

    def _card(self, p: QPainter, key: str, box: QRectF, down: bool, up: bool) -> None:
        document = self.family.documents[key]
        chosen = key == self.chosen
        p.setPen(QPen(QColor(theme.PLUM if chosen or down else theme.INK if up else theme.LINE), 2 if chosen else 1.2))
        p.setBrush(QColor(theme.PLUM_TINT if chosen else theme.FIELD))
        p.drawRoundedRect(box, 5, 5)
        paint_kind(p, document.kind, box.x() + 8, box.y() + 6)
        p.setPen(QColor(theme.INK))
        p.setFont(theme.font(12, 600))
        name = p.fontMetrics().elidedText(document.name, Qt.TextElideMode.ElideMiddle, int(box.width() - 48))
        p.drawText(QPointF(box.x() + 30, box.y() + 19), name)
        state = next(
            (i.severity for i in self.desk.attention if i.document == key),
            "updating" if self.desk.updating else "current",
        )
        paint_state(p, state, box.right() - 13, box.y() + 14)
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.SOFT))
        takers = len(self.edges[key])
        if document.placeable:
            told = progress(self.family, document).removesuffix(" begun")
        elif takers:
            told = f"drives {takers}"
        else:
            told = document.kind
        told = f"{document.number}  {told}" if document.number else told
        if box.height() >= TWO_LINES:
            p.drawText(QPointF(box.x() + 10, box.y() + 35), told)

    def _at(self, q: QPointF) -> str:
        seen = q.y() < self.height() - FOOT
        return next((k for k, box in self.cards.items() if seen and box.contains(q)), "")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose a document: what drives it and what it drives is lit."""
        assert event is not None
        key = self._at(event.position())
        if key:
            self.chosen = key
            self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Open a document."""
        assert event is not None
        key = self._at(event.position())
        if key in self.desk.family.documents:
            self.opened.emit(key)
