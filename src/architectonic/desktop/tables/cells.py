"""Cells of grids: what they hold and how they are painted."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem, QTableView

from architectonic.desktop.kit import theme
from architectonic.desktop.kit.signs import paint_state

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


LEFT = ("name", "note", "group", "word", "inherited word")


class CellDelegate(QStyledItemDelegate):
    """Paints how a value came about: inherited, own, computed, from a file; switches; results on a wash."""

    def paint(self, p: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """One cell."""
        assert p is not None
        cell: GridCell = index.data(KIND)
        r = QRectF(option.rect)
        view = option.widget
        p.save()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        selection = view.selectionModel() if isinstance(view, QTableView) else None
        chosen = selection is not None and selection.isSelected(index)
        if cell.kind == "bad":
            p.fillRect(r, QColor(theme.RED_TINT))
        elif cell.shown or chosen:
            p.fillRect(r, QColor(theme.PLUM_TINT) if cell.shown else theme.colour(theme.PLUM, 0.14))
        elif cell.kind == "result":
            p.fillRect(r, theme.colour(theme.PANEL, 0.5))
        if cell.shown and chosen:
            p.fillRect(r, theme.colour(theme.PLUM, 0.10))
        p.setPen(QPen(QColor(theme.HAIR), 1))
        p.drawLine(r.bottomLeft(), r.bottomRight())
        if cell.kind in SWITCHES and cell.text != "…":
            self._switch(p, r, cell)
        else:
            self._text(p, r, cell)
        if isinstance(view, QTableView) and view.hasFocus() and view.currentIndex() == index:
            p.setPen(QPen(QColor(theme.PLUM), 2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(r.adjusted(1, 1, -1, -1))
        p.restore()

    def _text(self, p: QPainter, r: QRectF, cell: GridCell) -> None:
        soft = cell.kind in ("inherited", "inherited word", "note", "ghost", "free") or cell.text == "…"
        p.setPen(QColor(theme.RED_TEXT if cell.kind == "bad" else theme.SOFT if soft else theme.INK))
        weight = 600 if cell.kind in ("name", "group") else 400
        p.setFont(theme.font(12, weight, cell.kind in ("inherited", "inherited word", "free")))
        left = cell.left or cell.kind in (*LEFT, "ghost")
        side = Qt.AlignmentFlag.AlignLeft if left else Qt.AlignmentFlag.AlignRight
        inner = r.adjusted(10 + INDENT * cell.depth, 0, -10, 0)
        if cell.state:
            paint_state(p, cell.state, inner.left() + 4, inner.center().y())
            inner.setLeft(inner.left() + 16)
            p.setPen(QColor(theme.INK))
        metrics = p.fontMetrics()
        text = metrics.elidedText(cell.text, Qt.TextElideMode.ElideMiddle, int(inner.width()))
        p.drawText(inner, side | Qt.AlignmentFlag.AlignVCenter, text)
        width = metrics.horizontalAdvance(text)
        if cell.kind == "computed":
            p.setPen(QPen(QColor(theme.SOFT), 1, Qt.PenStyle.DotLine))
            y = r.center().y() + 8
            p.drawLine(QPointF(inner.right() - width, y), QPointF(inner.right(), y))
        if cell.kind == "linked":
            p.setPen(QPen(QColor(theme.BLUE), 1.3))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(QRectF(r.left() + 8, r.center().y() - 2.5, 5, 5))
        if cell.beside:
            p.setFont(theme.font(11))
            p.setPen(QColor(theme.SOFT))
            room = inner.adjusted(8 if cell.kind == "linked" else 0, 0, -width - BESIDE, 0)
            shown = p.fontMetrics().elidedText(cell.beside, Qt.TextElideMode.ElideMiddle, int(room.width()))
            if room.width() > 30:
                p.drawText(room, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, shown)
        if cell.marked:
            p.fillRect(QRectF(r.left(), r.top() + 1, 3, r.height() - 2), QColor(theme.PLUM))

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
        if cell.marked:
            p.fillRect(QRectF(r.left(), r.top() + 1, 3, r.height() - 2), QColor(theme.PLUM))
