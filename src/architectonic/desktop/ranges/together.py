"""Several rows of a range beside each other, at one scale and seen from the same side: turning one turns all; and what differs."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from architectonic.desktop.body.picture import BodyPictures
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.cards import Card
from architectonic.desktop.kit.listcard import words_table
from architectonic.desktop.pane.asking import Asking
from architectonic.desktop.pane.desk import Desk
from architectonic.family.names import row_name
from architectonic.family.scopes import Scope
from architectonic.propagate.targets import Look
from architectonic.render.camera import Camera, frame
from architectonic.render.pictures import Seen, alike, meshes_of
from architectonic.session.ranges.differing import differences

MOST = 6
"""Of more each would be too small to see anything."""
HIGH, LINE, LIST = 150, 20, 96


class RowTiles(QWidget):
    """A picture of each row; a drag turns them, with Shift it slides them, the wheel brings them nearer."""

    def __init__(self) -> None:
        super().__init__()
        self.names: list[str] = []
        self.bodies: list[list[Seen]] = []
        self.camera: Camera | None = None
        self.pictures = BodyPictures()
        self._images: dict[int, QImage] = {}
        self._middles: list[np.ndarray] = []
        self._drag: QPointF | None = None
        self._turned = False
        self.setFixedHeight(HIGH + LINE)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_rows(self, names: list[str], bodies: list[list[Seen]]) -> None:
        """These, the view that was turned stays."""
        same = len(bodies) == len(self.bodies) and all(alike(a, b) for a, b in zip(bodies, self.bodies, strict=True))
        if same and names == self.names:
            return
        if names != self.names:
            self._turned = False
        self.names, self.bodies, self._images = names, bodies, {}
        clouds = [[m.points for _, m, _ in of] for of in bodies]
        self._middles = [_middle(of) for of in clouds]
        known = [of for of in clouds if of]
        if known and not self._turned:
            shifted = [c - m for of, m in zip(clouds, self._middles, strict=True) for c in of]
            whole = frame(Camera(), shifted, self._wide / HIGH)  # around the middle of each: the largest one fits
            self.camera = replace(whole, focus=np.zeros(3))
        self.update()

    @property
    def _wide(self) -> float:
        return max(40.0, self.width() / max(1, len(self.names)) - 4)

    def _turn_to(self, camera: Camera) -> None:
        self.camera, self._images, self._turned = camera, {}, True
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Begin to turn."""
        self._drag = event.position() if event is not None else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Turn or slide all of them."""
        if event is None or self._drag is None or self.camera is None:
            return
        dx, dy = event.position().x() - self._drag.x(), event.position().y() - self._drag.y()
        self._drag = event.position()
        slides = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        self._turn_to(self.camera.slid(dx, dy, HIGH) if slides else self.camera.turned(dx, dy))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """It stays so."""
        self._drag = None

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Nearer, or farther away."""
        if event is not None and self.camera is not None:
            self._turn_to(self.camera.nearer(event.angleDelta().y() / 120, 0.0, 0.0, HIGH))
            event.accept()

    def resizeEvent(self, event: object) -> None:
        """Other pictures."""
        self._images = {}

    def hideEvent(self, event: object) -> None:
        """Nobody looks: give graphics memory back."""
        self.pictures.close()
        self._images = {}

    def image(self, k: int) -> QImage | None:
        """The picture of one of them, None while it is not known."""
        if k not in self._images and self.camera is not None and self.bodies[k]:
            camera = replace(self.camera, focus=self.camera.focus + self._middles[k])
            shown = [(m, c) for _, m, c in self.bodies[k]]
            self._images[k] = self.pictures.of(shown, camera, int(self._wide), HIGH)
        return self._images.get(k)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Pictures with their names below."""
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        for k, name in enumerate(self.names):
            box = QRectF(k * self.width() / len(self.names) + 2, 0, self._wide, HIGH)
            image = self.image(k)
            if image is not None:
                p.drawImage(box, image)
            else:
                p.setPen(QColor(theme.SOFT))
                p.setFont(theme.font(11))
                p.drawText(box, Qt.AlignmentFlag.AlignCenter, "being drawn")
            p.setPen(QPen(QColor(theme.LINE), 1))
            p.drawRect(box)
            p.setPen(QColor(theme.INK))
            p.setFont(theme.font(11, 600))
            words = p.fontMetrics().elidedText(name, Qt.TextElideMode.ElideMiddle, int(box.width()))
            p.drawText(QRectF(box.left(), HIGH, box.width(), LINE), Qt.AlignmentFlag.AlignCenter, words)


class TogetherCard(Card):
    """The pictures and the list of what differs; Esc closes it."""

    tall = True

    def __init__(self, parent: QWidget | None, desk: Desk) -> None:
        super().__init__(parent)
        self.desk = desk
        self.rows: list[Scope] = []
        self.title, self.tiles, self.list = QLabel(), RowTiles(), words_table()
        self.title.setStyleSheet("font-size: 13px; font-weight: 600;")
        self.list.setFixedHeight(LIST)
        close = QPushButton("Close  Esc")
        close.clicked.connect(self.leave)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 6, 12, 10)
        head = QHBoxLayout()
        head.addWidget(self.title, 1)
        head.addWidget(close)
        layout.addLayout(head)
        layout.addWidget(self.tiles)
        layout.addWidget(self.list)
        for signal in (desk.evaluated, desk.answered):
            signal.connect(self.refresh)

    def start(self, rows: list[Scope]) -> None:
        """Show some rows of the shown document."""
        self.rows = rows
        self.place()
        self.show()
        self.raise_()
        self.setFocus()
        self.refresh()

    def refresh(self) -> None:
        """Follow what changes; a row that is gone is shown no more."""
        evaluation = self.desk.evaluation
        if not self.isVisible() or evaluation is None:
            return
        document = evaluation.family.documents.get(self.rows[0].document)
        if document is None or document.id != self.desk.main.document_id:
            self.leave()
            return
        names = [row_name(evaluation.family, at.document, at.configuration) for at in self.rows]
        known = [(n, at) for n, at in zip(names, self.rows, strict=True) if n]
        if len(known) < 2:
            self.leave()
            return
        asking = Asking(self.desk, evaluation)
        self.tiles.show_rows([n for n, _ in known], [meshes_of(asking, Look(at)) for _, at in known])
        found = differences(evaluation.family, evaluation, *(at for _, at in known))
        told = f"differ in {len(found)}" if found else "are the same"
        self.title.setText(f"{document.name}: {len(known)} configurations {told}. Drag to turn all of them.")
        self.list.setColumnCount(2 + len(known))
        self.list.setRowCount(len(found))
        self.list.setHorizontalHeaderLabels(["", "what", *(n for n, _ in known)])
        for r, one in enumerate(found):
            for c, text in enumerate((one.group, one.title, *one.texts)):
                self.list.setItem(r, c, QTableWidgetItem(text))
        self.list.setVisible(bool(found))

    def place(self) -> None:
        """As high as pictures and list need."""
        self.setFixedHeight(HIGH + LINE + LIST + 60)


def _middle(clouds: list[np.ndarray]) -> np.ndarray:
    """The middle of what a row shows."""
    if not clouds:
        return np.zeros(3)
    whole = np.concatenate(clouds).astype(float)
    found: np.ndarray = (whole.min(axis=0) + whole.max(axis=0)) / 2
    return found
