"""Points of a plane, picked in a 3D canvas."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from architectonic.describe.results import Frame
from architectonic.desktop.body.space import Space
from architectonic.desktop.kit import theme

XY = tuple[float, float]


class PlanePick:
    """Asks for some points of a plane, one click each."""

    def __init__(self, space: Space) -> None:
        self.space = space
        self.asked: tuple[Frame, int, Callable[[list[XY]], object]] | None = None
        self.points: list[XY] = []

    def ask(self, frame: Frame, count: int, done: Callable[[list[XY]], object]) -> None:
        """Take the next clicks as points of a plane; all of them are told at once."""
        self.asked, self.points = (frame, count, done), []
        self.space.canvas.setCursor(Qt.CursorShape.CrossCursor)

    def take(self, q: QPointF) -> bool:
        """A click while points are asked for; False when none are."""
        if self.asked is None:
            return False
        frame, count, done = self.asked
        at = self.space.on_plane(frame, q)
        if at is not None:
            self.points.append(at)
        if len(self.points) == count:
            points = self.points
            self.leave()
            done(points)
        self.space.canvas.update()
        return True

    def leave(self) -> bool:
        """Ask no more; False when nothing was asked."""
        asked, self.asked, self.points = self.asked, None, []
        self.space.canvas.unsetCursor()
        return asked is not None

    def paint(self, p: QPainter) -> None:
        """The points so far."""
        if self.asked is None:
            return
        to = self.space.on_screen(self.asked[0])
        p.setPen(QPen(QColor(theme.PLUM), 2))
        p.setBrush(QColor(theme.FIELD))
        for point in self.points:
            p.drawEllipse(to(point), 4, 4)
