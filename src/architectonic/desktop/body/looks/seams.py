"""Edges of surfaces lit in the picture, numbered as in the list that names them: free ones, and those where faces meet."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from architectonic.desktop.body.view import BodyView
from architectonic.desktop.kit import theme
from architectonic.family.scopes import InPlace

BEAD = 8.5


class LitSeam(NamedTuple):
    """An edge of a list: its number there, and whether a surface ends at it."""

    number: int
    body: InPlace
    label: str
    free: bool


class LitSeams:
    """What one canvas shows of a list of edges, as long as the list is open.

    Attributes:
        shown: the edges.
    """

    def __init__(self, canvas: BodyView) -> None:
        self.canvas = canvas
        self.shown: list[LitSeam] = []

    def show(self, seams: list[LitSeam]) -> None:
        """Light these edges; none puts out all."""
        self.shown = seams
        self.canvas.update()

    def paint(self, p: QPainter) -> None:
        """Lines, then their beads over all of them, none over another."""
        beads: list[tuple[QPointF, LitSeam]] = []
        for seam in self.shown:
            mesh = self.canvas.mesh(seam.body, seam.label)
            if mesh is None or seam.label not in mesh.edges:
                continue
            k = mesh.edges.index(seam.label)
            run = self.canvas.to_screen(mesh.lines[mesh.line_starts[k] : mesh.line_starts[k + 1]])
            line = [QPointF(float(x), float(y)) for x, y in run]
            p.setPen(QPen(_colour(seam), 3 if seam.free else 2))
            p.drawPolyline(QPolygonF(line))
            free = [q for q in line if all((q - b).manhattanLength() > 3 * BEAD for b, _ in beads)]
            beads.append(((free or line)[len(free or line) // 2], seam))
        p.setFont(theme.font(10, 600))
        for at, seam in beads:
            box = QRectF(at.x() - BEAD, at.y() - BEAD, 2 * BEAD, 2 * BEAD)
            p.setPen(QPen(_colour(seam), 2))
            p.setBrush(QColor(theme.FIELD))
            p.drawEllipse(box)
            p.setPen(QColor(theme.INK))
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, str(seam.number))


def _colour(seam: LitSeam) -> QColor:
    return QColor(theme.FREE if seam.free else theme.HELD)
