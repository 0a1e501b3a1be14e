"""Cells of grids: what they hold and how they are painted."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem, QTableView

from architectonic.desktop.kit import theme
from architectonic.desktop.kit.signs import stamp

KIND = Qt.ItemDataRole.UserRole
ROW_HEIGHT = 24
BESIDE = 14
INDENT = 18
"""By how much an entry that follows another is moved in, px."""
SWITCHES = ("switch", "computed switch", "inherited switch")
TYPED = ("own", "inherited", "computed", "free", "word", "inherited word", "bad", *SWITCHES)
"""Kinds of cells that take what is typed."""
"""Room between an expression and its value, px."""


class GridCell(NamedTuple):
    """What a cell shows: text, expression, how it came about, and whether it can be typed in.

    `kind` is name, note, group, word, own, inherited, computed, free, switch, computed switch, inherited switch, result,
    linked or bad.

    Attributes:
        beside: an expression that stands left of its value.
        told: what is wrong with a bad one, in words.
        shown: whether it lies in the row or column of the shown configuration.
        marked: whether it differs from its parent.
        left: whether it holds words, which stand at the left.
        state: the mark that stands before it; depth: how far it is moved in.
    """

    text: str
    expression: str
    kind: str
    item: str = ""
    key: str = ""
    beside: str = ""
    told: str = ""
    shown: bool = False
    marked: bool = False
    left: bool = False
    state: str = ""
    depth: int = 0


SOFT = frozenset({"inherited", "inherited word", "note", "ghost", "free"})
ITALIC = frozenset({"inherited", "inherited word", "free"})
LEFT = ("name", "note", "group", "word", "inherited word")


SELECTED, FOCUSED = QStyle.StateFlag.State_Selected.value, QStyle.StateFlag.State_HasFocus.value
"""As numbers: combining flags as objects takes longer than painting a cell."""


class CellDelegate(QStyledItemDelegate):
    """Paints how a value came about: inherited, own, computed, from a file; switches; results on a wash."""

    def paint(self, p: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """One cell. Hundreds are painted at every step of scrolling: pens, colours and widths are at hand."""
        assert p is not None
        cell: GridCell = index.data(KIND)
        r = QRectF(option.rect)
        view = option.widget
        state = option.state.value
        chosen = bool(state & SELECTED)
        if cell.kind == "bad":
            p.fillRect(r, theme.colour(theme.RED_TINT))
        elif cell.shown or chosen:
            p.fillRect(r, theme.colour(theme.PLUM_TINT) if cell.shown else theme.colour(theme.PLUM, 0.14))
        elif cell.kind == "result":
            p.fillRect(r, theme.colour(theme.PANEL, 0.5))
        if cell.shown and chosen:
            p.fillRect(r, theme.colour(theme.PLUM, 0.10))
        p.setPen(theme.pen(theme.HAIR))
        p.drawLine(r.bottomLeft(), r.bottomRight())
        if cell.kind in SWITCHES and cell.text != "…":
            p.save()
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._switch(p, r, cell)
            p.restore()
        elif cell.text or cell.beside or cell.state:
            self._text(p, r, cell)
        if cell.marked:
            p.fillRect(QRectF(r.left(), r.top() + 1, 3, r.height() - 2), theme.colour(theme.PLUM))
        if state & FOCUSED and isinstance(view, QTableView) and view.hasFocus():
            p.setPen(theme.pen(theme.PLUM, 2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(r.adjusted(1, 1, -1, -1))

    def _text(self, p: QPainter, r: QRectF, cell: GridCell) -> None:
        soft = cell.kind in SOFT or cell.text == "…"
        ink = theme.RED_TEXT if cell.kind == "bad" else theme.SOFT if soft else theme.INK
        weight = 600 if cell.kind in ("name", "group") else 400
        p.setFont(theme.font(12, weight, cell.kind in ITALIC))
        left = cell.left or cell.kind in LEFT or cell.kind == "ghost"
        inner = r.adjusted(10 + INDENT * cell.depth, 0, -10, 0)
        if cell.state:
            device = p.device()
            ratio = device.devicePixelRatioF() if device is not None else 1.0
            p.drawPixmap(QPointF(inner.left() - 4, r.top() + ROW_HEIGHT / 2 - 8), stamp(cell.state, ratio))
            inner.setLeft(inner.left() + 16)
        p.setPen(theme.pen(ink))
        text, width = cell.text, theme.width_of(cell.text, 12, weight)
        if width > inner.width():
            text = p.fontMetrics().elidedText(cell.text, Qt.TextElideMode.ElideMiddle, int(inner.width()))
            width = p.fontMetrics().horizontalAdvance(text)
        start = inner.left() if left else inner.right() - width
        p.drawText(QPointF(start, r.center().y() + theme.rise(12, weight)), text)  # laid out nowhere: it is one line
        if cell.kind == "computed":
            p.setPen(theme.pen(theme.SOFT, 1, True))
            y = r.center().y() + 8
            p.drawLine(QPointF(inner.right() - width, y), QPointF(inner.right(), y))
        if cell.kind == "linked":
            p.setPen(theme.pen(theme.BLUE, 1.3))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(QRectF(r.left() + 8, r.center().y() - 2.5, 5, 5))
        if cell.beside:
            p.setFont(theme.font(11))
            p.setPen(QColor(theme.SOFT))
            room = inner.adjusted(8 if cell.kind == "linked" else 0, 0, -width - BESIDE, 0)
            shown = p.fontMetrics().elidedText(cell.beside, Qt.TextElideMode.ElideMiddle, int(room.width()))
            if room.width() > 30:
                p.drawText(room, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, shown)

    def _switch(self, p: QPainter, r: QRectF, cell: GridCell) -> None:
        on, faint = cell.text == "on", cell.kind == "inherited switch"
        p.setOpacity(0.55 if faint else 1.0)
        x, y = r.center().x() - 11, r.center().y()
        p.setPen(QPen(QColor(theme.INK if on else theme.SOFT), 1.2))
        p.setBrush(QColor(theme.INK) if on else Qt.BrushStyle.NoBrush)
        p.drawRoundedRect(QRectF(x, y - 6, 22, 12), 6, 6)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(theme.FIELD) if on else QColor(theme.SOFT))
        p.drawEllipse(QPointF(x + (16 if on else 6), y), 3.6, 3.6)
        p.setOpacity(1.0)
        if cell.kind == "computed switch":
            p.setPen(QPen(QColor(theme.SOFT), 1, Qt.PenStyle.DotLine))
            p.drawLine(QPointF(x, y + 9), QPointF(x + 22, y + 9))
