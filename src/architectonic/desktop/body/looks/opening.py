"""Looking into bodies and along them: cut open by a plane that is dragged, coloured by checks, striped by lines of light."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from architectonic.describe.results import Frame
from architectonic.desktop.body.looks.fairview import FairView
from architectonic.desktop.body.looks.seams import LitSeams
from architectonic.desktop.body.looks.surveyed import SurveyColours
from architectonic.desktop.body.planepull import FINE, round_step
from architectonic.desktop.body.view import BodyView
from architectonic.desktop.kit import theme
from architectonic.quantities import units
from architectonic.render.pictures import Seen
from architectonic.render.section import Cap, CutPlane, open_all
from architectonic.render.tint import Cells, Stripes

HANDLE = 11
"""How near the pointer must come to the handle, pixels."""
HATCH = 7
"""Pixels between the lines of the hatching when it is made."""


class Opening:
    """What one canvas shows of the inside.

    Attributes:
        frame: the plane that cuts, None for none; what lies on the side of its normal is taken away.
        moved: how far it was dragged along its normal, mm.
    """

    def __init__(self, canvas: BodyView) -> None:
        self.canvas = canvas
        self.frame: Frame | None = None
        self.moved = 0.0
        self.cuts: list[tuple[Cap, str]] = []
        self.surveys, self.fairness, self.seams = SurveyColours(canvas), FairView(canvas), LitSeams(canvas)
        self._grip: tuple[QPointF, float] | None = None

    def close(self) -> None:
        """Nothing of the inside, no colours of checks: another document is shown."""
        self.frame = None
        self.surveys.clear()
        self.fairness.clear()
        self.seams.shown = []

    def instead(self, shown: list[Seen]) -> dict[int, Cells | Stripes]:
        """What bodies are coloured by, by their place in the list; not while they are cut open."""
        return {} if self.cuts else {**self.fairness.stripes(shown), **self.surveys.cells([b for b, _, _ in shown])}

    # --- cut ------------------------------------------------------------------------------------------

    def plane(self) -> CutPlane | None:
        """The cutting plane where it was dragged to."""
        if self.frame is None:
            return None
        normal = np.array(self.frame.normal, float)
        return CutPlane(np.array(self.frame.origin, float) + self.moved * normal, normal)

    def seen(self, shown: list[Seen]) -> list[Seen]:
        """Bodies with what lies before the plane taken away; their cuts are kept for the picture."""
        plane, self.cuts = self.plane(), []
        if plane is None:
            return shown
        apart = HATCH * 2 * self.canvas.camera.scale / max(1, self.canvas.height())
        kept, self.cuts = open_all([(mesh, colour) for _, mesh, colour in shown], plane, apart)
        return [(body, mesh, colour) for (body, _, colour), mesh in zip(shown, kept, strict=True)]

    def open(self, frame: Frame | None) -> None:
        """Cut at a plane; None closes the bodies again."""
        self.frame, self.moved = frame, 0.0
        self.canvas.show_again()

    def through_middle(self) -> Frame:
        """The plane through the middle of what is seen, along the axis that comes nearest to the line of sight."""
        cloud = np.concatenate([m.points for _, m, _ in self.canvas.meshes] or [np.zeros((1, 3))]).astype(float)
        middle = (cloud.min(axis=0) + cloud.max(axis=0)) / 2
        _, _, forward = self.canvas.camera.axes()
        axis = int(np.argmax(np.abs(forward)))
        x, y, z = (float(c) for c in middle)
        side = -math.copysign(1.0, forward[axis])
        normal, along = [
            ((side, 0.0, 0.0), (0.0, 1.0, 0.0)),
            ((0.0, side, 0.0), (0.0, 0.0, 1.0)),
            ((0.0, 0.0, side), (1.0, 0.0, 0.0)),
        ][axis]
        return Frame((x, y, z), along, normal)

    def turn_over(self) -> None:
        """Take the other half away."""
        if self.frame is not None:
            n = self.frame.normal
            self.frame = Frame(self.frame.origin, self.frame.x, (-n[0], -n[1], -n[2]))
            self.moved = -self.moved
            self.canvas.show_again()

    # --- the handle -----------------------------------------------------------------------------------

    def _ends(self) -> tuple[QPointF, QPointF] | None:
        """Where the handle's arrow stands on the screen."""
        plane = self.plane()
        if plane is None:
            return None
        size = 46 * 2 * self.canvas.camera.scale / max(1, self.canvas.height())
        both = np.array([plane.origin, plane.origin + size * plane.normal])
        flat = self.canvas.camera.project(both, self.canvas.width(), self.canvas.height())
        return QPointF(flat[0, 0], flat[0, 1]), QPointF(flat[1, 0], flat[1, 1])

    def take(self, at: QPointF) -> bool:
        """Begin to drag when the handle is pressed."""
        ends = self._ends()
        if ends is None or min(_far(at, ends[0]), _far(at, ends[1])) > HANDLE:
            return False
        self._grip = (at, self.moved)
        return True

    def follow(self, at: QPointF) -> bool:
        """Move the plane along its normal with the pointer; False when it is not held."""
        plane = self.plane()
        if self._grip is None or plane is None:
            return False
        way = np.array([np.zeros(3), plane.normal])
        flat = self.canvas.camera.project(way, self.canvas.width(), self.canvas.height())
        step = np.array([flat[1, 0] - flat[0, 0], flat[1, 1] - flat[0, 1]])
        if float(step @ step) < 1e-6:
            self.canvas.desk.told.emit("Turn the view first: this plane is seen square on.", False)
            return True
        start, moved = self._grip
        pixels = np.array([at.x() - start.x(), at.y() - start.y()])
        wanted = moved + float(pixels @ step / (step @ step))
        coarse = round_step(FINE / 2 / math.sqrt(float(step @ step)))
        self.moved = round(wanted / coarse) * coarse
        self.canvas.show_again()
        return True

    def let_go(self, at: QPointF) -> None:
        """The drag is over; a click that did not move turns the cut over."""
        grip, self._grip = self._grip, None
        if grip is not None and _far(at, grip[0]) < 3:
            self.turn_over()

    # --- painting -------------------------------------------------------------------------------------

    def paint(self, p: QPainter) -> None:
        """The handle, how far it was dragged, and the legend of the colours."""
        ends = self._ends()
        if ends is not None:
            a, b = ends
            p.setPen(QPen(QColor(theme.PLUM), 2))
            p.drawLine(a, b)
            p.setBrush(QColor(theme.PLUM))
            p.setPen(Qt.PenStyle.NoPen)
            p.drawEllipse(a, 5, 5)
            way = b - a
            long = math.hypot(way.x(), way.y())
            if long > 4:
                u = way / long
                side = QPointF(-u.y(), u.x())
                p.drawPolygon(QPolygonF([b + u * 9, b + side * 5, b - side * 5]))
            moved = f", {units.shown(self.moved, 'mm', 3)} on" if self.moved else ""
            self.canvas.plate(p, a + QPointF(12, 14), f"cut open{moved}")
        self.fairness.paint(p)
        self.surveys.paint(p)
        self.seams.paint(p)


def _far(a: QPointF, b: QPointF) -> float:
    return math.hypot(a.x() - b.x(), a.y() - b.y())
