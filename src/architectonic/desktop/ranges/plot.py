"""One column over all rows, as a small plot; a click goes to the row."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from architectonic.desktop.kit import theme
from architectonic.desktop.kit.cards import Card

HIGH = 190
LEFT, RIGHT, TOP, BOTTOM = 64.0, 16.0, 12.0, 34.0
TICKS = 4


class PlotPoint(NamedTuple):
    """A row: its id and name, and its figure."""

    key: str
    name: str
    value: float


class RowPlot(QWidget):
    """Points in the order of the rows, joined by a line."""

    def __init__(self, go: Callable[[str], object]) -> None:
        super().__init__()
        self.points: list[PlotPoint] = []
        self.shown, self._go = "", go
        self.setMinimumHeight(HIGH)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMouseTracking(True)

    def place(self, k: int) -> QPointF:
        """Where a point stands."""
        values = [p.value for p in self.points]
        low, high = min(values), max(values)
        room = (high - low) or 1.0
        wide = self.width() - LEFT - RIGHT
        x = LEFT + (k + 0.5) / len(self.points) * wide
        return QPointF(x, TOP + (high - values[k]) / room * (self.height() - TOP - BOTTOM))

    def _near(self, at: QPointF) -> PlotPoint | None:
        found = sorted(range(len(self.points)), key=lambda k: abs(self.place(k).x() - at.x()))
        return self.points[found[0]] if found else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """The figure under the pointer."""
        found = self._near(event.position()) if event is not None else None
        self.setToolTip(f"{found.name}: {found.value:g}" if found is not None else "")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Go to the row."""
        found = self._near(event.position()) if event is not None else None
        if found is not None:
            self._go(found.key)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Axis, line, points, and as many names as there is room for."""
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.points:
            return
        values = [q.value for q in self.points]
        low, high = min(values), max(values)
        p.setFont(theme.font(11))
        for t in range(TICKS + 1):
            y = TOP + t / TICKS * (self.height() - TOP - BOTTOM)
            p.setPen(QPen(QColor(theme.HAIR), 1))
            p.drawLine(QPointF(LEFT, y), QPointF(self.width() - RIGHT, y))
            p.setPen(QColor(theme.SOFT))
            told = f"{high - t / TICKS * (high - low):.4g}"
            if high > low or t == 0:
                p.drawText(
                    QRectF(0, y - 9, LEFT - 8, 18), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, told
                )
        spots = [self.place(k) for k in range(len(self.points))]
        p.setPen(QPen(QColor(theme.SOFT), 1.4))
        p.drawPolyline(QPolygonF(spots))
        last = -1e9
        for spot, point in zip(spots, self.points, strict=True):
            shown = point.key == self.shown
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(theme.PLUM if shown else theme.INK))
            p.drawEllipse(spot, 4.5 if shown else 3.2, 4.5 if shown else 3.2)
            wide = p.fontMetrics().horizontalAdvance(point.name)
            if spot.x() - wide / 2 > last + 8:
                p.setPen(QColor(theme.PLUM if shown else theme.SOFT))
                p.drawText(QPointF(spot.x() - wide / 2, self.height() - 12), point.name)
                last = spot.x() + wide / 2


class PlotCard(Card):
    """The plot with its title; Esc closes it."""

    tall = True

    def __init__(self, parent: QWidget | None, go: Callable[[str], object]) -> None:
        super().__init__(parent)
        self.title = QLabel()
        self.title.setStyleSheet("font-size: 13px; font-weight: 600;")
        self.plot = RowPlot(go)
        close = QPushButton("Close  Esc")
        close.clicked.connect(self.leave)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 10, 12, 10)
        layout.addWidget(self.title)
        layout.addWidget(self.plot, 1)
        layout.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)

    def start(self, title: str, points: list[PlotPoint], shown: str) -> None:
        """Show a column."""
        self.title.setText(title)
        self.plot.points, self.plot.shown = points, shown
        self.plot.update()
        self.place()
        self.show()
        self.raise_()
        self.setFocus()

    def place(self) -> None:
        """As high as the plot needs."""
        self.setFixedHeight(HIGH + 86)
