"""State marks and kind signs, drawn as paths: shape and colour together, always beside a word."""

from __future__ import annotations

from functools import lru_cache

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QIcon, QPainter, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QWidget

from architectonic.describe.models.documents import BY_WORD
from architectonic.desktop.kit import theme

STATE_COLOURS = {
    "current": theme.MOSS,
    "updating": theme.SLATE,
    "pinned": theme.BLUE,
    "severed": theme.BROWN,
    "missing": theme.RED,
    "failing": theme.RED,
    "conflict": theme.RED,
    "out of rule": theme.OCHRE,
    "near": theme.OCHRE,
    "off": theme.SOFT,
}


def paint_state(p: QPainter, state: str, x: float, y: float) -> None:
    """The mark of a state, about 9 px, centred at (x, y)."""
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink = QColor(STATE_COLOURS[state])
    p.setPen(QPen(ink, 1.4))
    p.setBrush(ink)
    box = QRectF(x - 4, y - 4, 8, 8)
    if state == "current":
        p.setPen(Qt.PenStyle.NoPen)
        p.drawEllipse(box)
    elif state == "updating":
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(box)
        p.setBrush(ink)
        p.drawPie(box, 90 * 16, 180 * 16)
    elif state == "near":  # a bead before a stop
        p.drawLine(QPointF(x - 6, y), QPointF(x + 4, y))
        p.drawEllipse(QPointF(x - 1, y), 2.4, 2.4)
        p.setPen(QPen(QColor(theme.INK), 1.8))
        p.drawLine(QPointF(x + 4.5, y - 4.5), QPointF(x + 4.5, y + 4.5))
    elif state == "off":
        p.drawLine(QPointF(x - 3, y), QPointF(x + 3, y))
    elif state == "pinned":
        p.drawRect(QRectF(x - 3.5, y - 3.5, 7, 7))
    elif state == "severed":
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolygon(QPolygonF([QPointF(x, y - 5), QPointF(x + 5, y), QPointF(x, y + 5), QPointF(x - 5, y)]))
    elif state == "missing":
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolygon(QPolygonF([QPointF(x, y - 5), QPointF(x + 5, y + 4), QPointF(x - 5, y + 4)]))
    elif state in ("failing", "conflict"):
        p.drawRoundedRect(QRectF(x - 5, y - 5, 10, 10), 2, 2)
        p.setPen(QPen(QColor("white"), 1.6))
        p.drawLine(QPointF(x - 2, y - 2), QPointF(x + 2, y + 2))
        p.drawLine(QPointF(x - 2, y + 2), QPointF(x + 2, y - 2))
    else:
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRoundedRect(QRectF(x - 5, y - 5, 10, 10), 2, 2)
        p.drawLine(QPointF(x, y - 2.5), QPointF(x, y + 0.5))
        p.drawPoint(QPointF(x, y + 2.6))
    p.restore()


@lru_cache(maxsize=64)
def stamp(state: str, ratio: float) -> QPixmap:
    """The mark of a state in a box of 16 px, drawn once for grids that show hundreds.

    Args:
        ratio: pixels of the device by those of the window.
    """
    pixmap = QPixmap(round(16 * ratio), round(16 * ratio))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    paint_state(painter, state, 8, 8)
    painter.end()
    return pixmap


def paint_kind(p: QPainter, kind: str, x: float, y: float) -> None:
    """The sign of a document kind in a box of 16 px whose top left corner is (x, y)."""
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.translate(x, y)
    p.setPen(QPen(QColor(theme.INK), 1.3, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
    p.setBrush(Qt.BrushStyle.NoBrush)
    if kind == "rules":
        p.drawLine(QPointF(2, 5.5), QPointF(14, 5.5))
        p.drawLine(QPointF(2, 10.5), QPointF(14, 10.5))
        p.drawLine(QPointF(10, 2.5), QPointF(6, 13.5))
    elif kind == "map":
        for cx, cy in ((4, 4), (12, 8), (4, 12)):
            p.drawEllipse(QPointF(cx, cy), 2, 2)
        p.drawLine(QPointF(6, 5), QPointF(10, 7))
        p.drawLine(QPointF(6, 11), QPointF(10, 9))
    for stroke in BY_WORD[kind].sign if kind in BY_WORD else ():
        p.drawPolyline(QPolygonF([QPointF(*point) for point in stroke]))
    p.restore()


def icon(kind: str, state: bool = False) -> QIcon:
    """A sign or a mark as an icon, sharp at ratio 2."""
    if state:
        return QIcon(stamp(kind, 2.0))
    pixmap = QPixmap(32, 32)
    pixmap.setDevicePixelRatio(2)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    paint_kind(painter, kind, 0, 0)
    painter.end()
    return QIcon(pixmap)


class Mark(QWidget):
    """A state mark or a kind sign as a widget of 16 px."""

    def __init__(self, name: str, state: bool = False, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._name, self._state = name, state
        self.setFixedSize(16, 16)
        if state:
            self.setToolTip(name)

    def paintEvent(self, _: object) -> None:
        painter = QPainter(self)
        if self._state:
            paint_state(painter, self._name, 8, 8)
        else:
            paint_kind(painter, self._name, 0, 0)
