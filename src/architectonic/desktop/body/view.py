"""What stands over a 3D picture sees of its canvas: bodies, camera and what is under the pointer."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen
from PyQt6.QtWidgets import QWidget

from architectonic.check.parts import way
from architectonic.desktop.kit import theme
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.pane import Pane
from architectonic.desktop.pane.protocols import Handle
from architectonic.family.records import Model
from architectonic.family.scopes import InPlace
from architectonic.render.camera import BodyMesh, Camera
from architectonic.render.picking import RayHit
from architectonic.render.pictures import Seen


class BodyView(QWidget):
    """Bodies as they are seen.

    Attributes:
        meshes, around: the document's own bodies, and those that stand behind it.
        hidden: bodies that are not drawn.
        over, deep: what lies under the pointer, nearest first, and how far behind is meant.
        handles: what is dragged over the picture: the arrow of an open sentence, signs of joints.
    """

    def __init__(self, desk: Desk, shown: Pane) -> None:
        super().__init__()
        self.desk, self.shown = desk, shown
        self.camera = Camera()
        self.meshes: list[Seen] = []
        self.around: list[Seen] = []
        self.hidden: set[InPlace] = set()
        self.over: list[RayHit] = []
        self.deep = 0
        self.handles: list[Handle] = []
        self._cut: dict[InPlace, BodyMesh] = {}

    def show_again(self) -> None:
        """A new picture of the same bodies."""
        self.update()

    def current(self) -> RayHit | None:
        """What a click would take."""
        return self.over[self.deep] if self.over else None

    def body_name(self, body: InPlace) -> str:
        """The name of a body: its own in a part, those of the instances that lead to it in an assembly."""
        document = self.desk.family.documents.get(body.document)
        if document is None:
            return body.body
        if body.document != self.shown.document_id:
            at, evaluation = self.shown.at, self.shown.evaluation
            told = way(evaluation, at, body) if body.path and evaluation is not None and at is not None else ""
            return told or document.name
        known = document.bodies if isinstance(document, Model) else {}
        return known[body.body].name if body.body in known else body.body

    def mesh(self, body: InPlace, label: str = "") -> BodyMesh | None:
        """The picture of a body that is not hidden; one that shows a label, which an open sentence may have changed."""
        found = self._mesh(body)
        if label and found is not None and not found.has(label):
            return self.shown.given(body) or found
        return found

    def _mesh(self, body: InPlace) -> BodyMesh | None:
        if body in self._cut:
            return self._cut[body]
        seen = (*self.meshes, *self.around)
        return next((m for b, m, _ in seen if b == body and body not in self.hidden), None)

    def to_screen(self, points: np.ndarray) -> np.ndarray:
        """Pixels of points in space."""
        return self.camera.project(points, self.width(), self.height())[:, :2]

    def plate(self, p: QPainter, at: QPointF, text: str) -> None:
        """Words on a plate, inside the canvas."""
        p.setFont(theme.font(11, 500))
        width = QFontMetricsF(p.font()).horizontalAdvance(text)
        x, y = min(at.x(), self.width() - width - 16), max(at.y() - 12, 4.0)
        p.setPen(QPen(QColor(theme.EDGE), 1))
        p.setBrush(QColor(theme.FIELD))
        p.drawRoundedRect(QRectF(x, y, width + 12, 20), 3, 3)
        p.setPen(QColor(theme.INK))
        p.drawText(QPointF(x + 6, y + 14), text)

    def legend(self, p: QPainter, entries: Sequence[tuple[str, str]], title: str = "", top: bool = False) -> None:
        """Words with their colours in a corner on the right, below or above."""
        head = 22 if title else 0
        p.setFont(theme.font(11, 600 if title else 400))
        wide = max(QFontMetricsF(p.font()).horizontalAdvance(w) for w in (title, *(w for w, _ in entries))) + 36
        high = 20.0 * len(entries) + 8 + head
        box = QRectF(self.width() - wide - 14, 14 if top else self.height() - 14 - high, wide, high)
        p.setPen(QPen(QColor(theme.LINE), 1))
        p.setBrush(QColor(theme.FIELD))
        p.drawRoundedRect(box, 4, 4)
        p.setPen(QColor(theme.INK))
        p.drawText(QPointF(box.left() + 8, box.top() + 17), title)
        p.setFont(theme.font(11))
        for k, (word, colour) in enumerate(entries):
            y = box.top() + 6 + head + 20 * k
            p.setBrush(QColor(colour))
            p.setPen(QPen(QColor(theme.SOFT), 1))
            p.drawRoundedRect(QRectF(box.left() + 8, y + 3, 12, 12), 2, 2)
            p.setPen(QColor(theme.INK))
            p.drawText(QPointF(box.left() + 28, y + 14), word)
