"""Small exact pictures of bodies on cards, with faces and edges lit; drawn off screen as the 3D canvas is."""

from __future__ import annotations

from collections.abc import Collection
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QImage, QPainter, QPen, QPolygonF

from architectonic.desktop.kit import theme
from architectonic.render.camera import BodyMesh, Camera
from architectonic.render.section import Cap
from architectonic.render.tint import Cells, Stripes

if TYPE_CHECKING:
    from architectonic.render.scene import Scene

RATIO = 2
"""Pixels of the picture to one of the window."""


class BodyPictures:
    """Makes them; its scene is made when it is first needed."""

    def __init__(self) -> None:
        self._scene: Scene | None = None

    def of(
        self,
        bodies: list[tuple[BodyMesh, str]],
        camera: Camera,
        wide: int,
        high: int,
        lit: Collection[str] = (),
        caps: list[tuple[Cap, str]] | None = None,
        instead: dict[int, Cells | Stripes] | None = None,
    ) -> QImage:
        """Bodies with their colours; what has one of the labels `lit` is plum.

        Args:
            caps, instead: cuts through them and what they are coloured by, as for a scene.
        """
        if self._scene is None:
            from architectonic.render.scene import Scene

            self._scene = Scene(theme.FIELD)
            self._scene.set_samples(4)
        w, h = RATIO * wide, RATIO * high
        self._scene.set_bodies([(mesh, colour, 1.0) for mesh, colour in bodies], caps, instead)
        pixels = self._scene.picture(camera, w, h)
        image = QImage(pixels.tobytes(), w, h, 3 * w, QImage.Format.Format_RGB888).copy()
        p = QPainter(image)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        for mesh, _ in bodies:
            for label in lit:
                _light(p, mesh, label, camera, w, h)
        p.end()
        return image

    def close(self) -> None:
        """Give graphics memory back."""
        if self._scene is not None:
            self._scene.close()
            self._scene = None


def _light(p: QPainter, mesh: BodyMesh, label: str, camera: Camera, w: int, h: int) -> None:
    """An edge as a line, a face as it is seen from the front, a vertex as a dot."""
    if label in mesh.edges:
        k = mesh.edges.index(label)
        run = camera.project(mesh.lines[mesh.line_starts[k] : mesh.line_starts[k + 1]], w, h)
        p.setPen(QPen(QColor(theme.PLUM), 5))
        p.drawPolyline(QPolygonF([QPointF(x, y) for x, y, _ in run]))
    elif label in mesh.faces:
        corners = camera.project(mesh.points, w, h)[mesh.triangles[mesh.face == mesh.faces.index(label)]]
        a, b = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
        p.setPen(QPen(theme.colour(theme.PLUM, 0.0)))
        p.setBrush(theme.colour(theme.PLUM, 0.6))
        for t in corners[a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0] < 0]:
            p.drawPolygon(QPolygonF([QPointF(x, y) for x, y, _ in t]))
    elif label in mesh.corners:
        x, y, _ = camera.project(np.array([mesh.corners[label]]), w, h)[0]
        p.setPen(QPen(QColor(theme.FIELD), 2))
        p.setBrush(QColor(theme.PLUM))
        p.drawEllipse(QPointF(x, y), 8, 8)
