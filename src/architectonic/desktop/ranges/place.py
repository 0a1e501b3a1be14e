"""The picture of a place that decides a cell of the matrix: cut open there, coloured by what is measured, with its figure, a
small picture of the whole, and the colours' limits."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from architectonic.describe.references.surveys import SURVEYS
from architectonic.desktop.body.looks.opening import HATCH
from architectonic.desktop.body.picture import BodyPictures
from architectonic.desktop.kit import theme
from architectonic.render.camera import BodyMesh, Camera, frame
from architectonic.render.palette import BANDS
from architectonic.render.pictures import Seen
from architectonic.render.section import Cap, cells_behind, open_all
from architectonic.render.tint import Cells, Stripes
from architectonic.session.model.surveying import band_ends
from architectonic.session.ranges.places import CellPlace, CellSight

INSET, LEGEND = (92, 68), 30
ASIDE_BY = 0.22
"""By this share of half the picture a place stands left of its middle."""
ASIDE, ABOVE = 0.36, 0.3
"""How far a cut is looked at from the side and from above, so that it is seen what it goes through."""


class PlaceView(QWidget):
    """Shows one place of a sight at a time."""

    def __init__(self) -> None:
        super().__init__()
        self.sight: CellSight | None = None
        self.number = 0
        self.pictures = BodyPictures()
        self._image: QImage | None = None
        self._inset: QImage | None = None
        self._camera = self._whole = Camera()
        self._drawn: tuple[object, ...] = ()
        self.setMinimumSize(240, 150)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("The place, cut open")

    def show_place(self, sight: CellSight | None, number: int) -> None:
        """One of the places of a sight; None for nothing."""
        self.sight, self.number = sight, number
        self.setVisible(self.place is not None)
        self.update()

    @property
    def place(self) -> CellPlace | None:
        """What is shown."""
        known = self.sight is not None and self.number < len(self.sight.places)
        return self.sight.places[self.number] if known and self.sight is not None else None

    def _draw(self) -> None:
        """Both pictures anew, when something else is to be seen."""
        sight, place = self.sight, self.place
        key = (id(sight), self.number, self.width(), self.height())
        if sight is None or place is None or key == self._drawn:
            return
        self._drawn = key
        high = self.height() - (LEGEND if sight.colours else 0)
        shown = [(k, s) for k, s in enumerate(sight.bodies) if place.among is None or s[0] in place.among]
        self._camera = Camera(*_looking(place), np.array(place.at, float), place.around)
        if self.width() < high:
            self._camera.scale *= high / self.width()
        right, _, _ = self._camera.axes()  # beside the small picture of the whole
        self._camera.focus = self._camera.focus + right * ASIDE_BY * self.width() / high * self._camera.scale
        bodies, caps, instead = self._opened(shown, place, high)
        self._image = self.pictures.of(bodies, self._camera, self.width(), high, place.lit, caps, instead)
        whole = [(m, c) for _, (_, m, c) in shown]
        self._whole = frame(Camera(*_looking(place)), [m.points for m, _ in whole], INSET[0] / INSET[1])
        self._inset = self.pictures.of(whole, self._whole, *INSET)

    def _opened(
        self, shown: list[tuple[int, Seen]], place: CellPlace, high: int
    ) -> tuple[list[tuple[BodyMesh, str]], list[tuple[Cap, str]], dict[int, Cells | Stripes]]:
        """Bodies behind the cut, the cut, and what they are coloured by."""
        assert self.sight is not None
        bodies = [(mesh, colour) for _, (_, mesh, colour) in shown]
        cells = {n: self.sight.colours[k] for n, (k, _) in enumerate(shown) if k in self.sight.colours}
        if place.cut is None:
            return bodies, [], {**cells}
        kept, caps = open_all(bodies, place.cut, HATCH * 2 * self._camera.scale / max(1, high))
        behind = {n: cells_behind(of, bodies[n][0], place.cut) for n, of in cells.items()}
        opened = [(mesh, colour) for mesh, (_, colour) in zip(kept, bodies, strict=True)]
        return opened, caps, {n: of for n, of in behind.items() if len(of.triangles)}

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The picture, what is measured there, the whole, the colours."""
        self._draw()
        sight, place = self.sight, self.place
        if sight is None or place is None or self._image is None or self._inset is None:
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        wide, high = self.width(), self.height() - (LEGEND if sight.colours else 0)
        p.drawImage(QRectF(0, 0, wide, high), self._image)
        self._paint_place(p, place, wide, high)
        self._paint_inset(p, place, wide, high)
        if sight.colours:
            self._paint_legend(p, sight, wide, high)

    def _paint_place(self, p: QPainter, place: CellPlace, wide: int, high: int) -> None:
        if len(place.ends) == 2:
            a, b = (QPointF(x, y) for x, y, _ in self._camera.project(np.array(place.ends), wide, high))
            p.setPen(QPen(QColor(theme.PLUM), 1.6))
            p.drawLine(a, b)
            for end in (a, b):
                p.drawEllipse(end, 2.5, 2.5)
        x, y, _ = self._camera.project(np.array([place.at]), wide, high)[0]
        p.setPen(QPen(QColor(theme.FIELD), 1.5))
        p.setBrush(QColor(theme.PLUM))
        p.drawEllipse(QPointF(x, y), 4.5, 4.5)
        p.setFont(theme.font(11, 600))
        room = p.fontMetrics().horizontalAdvance(place.told) + 12
        left, top = (x + 14 if x + 14 + room < wide - 4 else x - 14 - room), max(4.0, y - 34)
        p.setPen(QPen(QColor(theme.PLUM), 1))
        p.drawLine(QPointF(x, y), QPointF(left if left > x else left + room, top + 10))
        p.setBrush(QColor(theme.FIELD))
        p.drawRoundedRect(QRectF(left, top, room, 20), 3, 3)
        p.setPen(QColor(theme.INK))
        p.drawText(QRectF(left, top, room, 20), Qt.AlignmentFlag.AlignCenter, place.told)

    def _paint_inset(self, p: QPainter, place: CellPlace, wide: int, high: int) -> None:
        """Where it is on the whole."""
        assert self._inset is not None
        box = QRectF(wide - INSET[0] - 8, high - INSET[1] - 8, *INSET)
        p.drawImage(box, self._inset)
        p.setPen(QPen(QColor(theme.LINE), 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(box)
        x, y, _ = self._whole.project(np.array([place.at]), *INSET)[0]
        p.setPen(QPen(QColor(theme.FIELD), 1))
        p.setBrush(QColor(theme.PLUM))
        p.drawEllipse(box.topLeft() + QPointF(x, y), 3.5, 3.5)

    def _paint_legend(self, p: QPainter, sight: CellSight, wide: int, high: int) -> None:
        """The colours in a row, with the figures between them; the limit in bold."""
        kind = SURVEYS[sight.what]  # type: ignore[index]
        ends = band_ends(sight.what, sight.limit)  # type: ignore[arg-type]
        each = min(64.0, (wide - 60) / len(BANDS))
        left = 52.0
        p.setFont(theme.font(10))
        p.setPen(QColor(theme.SOFT))
        p.drawText(QRectF(0, high + 2, left - 6, 12), Qt.AlignmentFlag.AlignRight, kind.figure)
        for k, colour in enumerate(BANDS):
            p.fillRect(QRectF(left + k * each, high + 4, each, 9), QColor(colour))
        for k, words in enumerate(ends):
            x = left + (k + 1) * each
            p.setFont(theme.font(10, 600 if k == 0 else 400))
            p.setPen(QColor(theme.INK if k == 0 else theme.SOFT))
            if k == 0:
                p.drawLine(QPointF(x, high + 2), QPointF(x, high + 15))
            p.drawText(QRectF(x - 34, high + 15, 68, 14), Qt.AlignmentFlag.AlignCenter, words)


def _looking(place: CellPlace) -> tuple[np.ndarray, np.ndarray]:
    """Which way a place is looked at, and what is up: onto its cut, else onto what is there."""
    if place.cut is not None:
        up = np.array([0.0, 0.0, 1.0]) if abs(place.cut.normal[2]) < 0.9 else np.array([0.0, 1.0, 0.0])
        ahead = -place.cut.normal
        right = np.cross(ahead, up)
        return ahead - ASIDE * right / np.linalg.norm(right) - ABOVE * up, up
    direction, up = Camera().direction.copy(), Camera().up
    for k, toward in enumerate(place.faces or (0.0, 0.0, 0.0)):
        if toward * direction[k] > 1e-6:  # it would face away
            direction[k] = -direction[k]
    return direction, up
