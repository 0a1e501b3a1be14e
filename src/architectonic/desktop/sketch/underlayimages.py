"""Pictures of underlays: their images, kept while the files stay as they are, where they lie, and painting them."""

from __future__ import annotations

import math
from functools import lru_cache
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QImageReader, QPainter, QTransform

from architectonic.describe.references.planes import in_space
from architectonic.describe.results import Picture
from architectonic.exchange.picturefile import MAX_PIXELS, may_be_drawn
from architectonic.family.records import Underlay

LARGEST = 2400
"""Pixels along the longer side that an underlay is shown with."""


def image_of(folder: Path, file: str) -> QImage | None:
    """The image of a file in the family's folder `files/`; None when it cannot be shown."""
    path = folder / "files" / file
    if Path(file).name != file or not path.is_file():  # pictures lie in that folder, and nowhere else
        return None
    try:
        return _image(str(path), path.stat().st_mtime_ns)
    except OSError:
        return None


@lru_cache(maxsize=12)
def _image(path: str, _: int) -> QImage | None:
    if path.endswith(".svg"):
        from PyQt6.QtSvg import QSvgRenderer  # only where an SVG is drawn over

        if not may_be_drawn(Path(path)):
            return None
        renderer = QSvgRenderer(path)
        if not renderer.isValid():
            return None
        box = renderer.viewBoxF().size()
        scale = LARGEST / max(box.width(), box.height())
        made = QImage(int(box.width() * scale), int(box.height() * scale), QImage.Format.Format_ARGB32_Premultiplied)
        made.fill(Qt.GlobalColor.transparent)
        painter = QPainter(made)
        renderer.render(painter, QRectF(made.rect()))
        painter.end()
        return made
    QImageReader.setAllocationLimit(1024)
    reader = QImageReader(path)
    size = reader.size()
    if size.width() * size.height() > MAX_PIXELS:
        return None
    if max(size.width(), size.height()) > LARGEST:
        reader.setScaledSize(size.scaled(QSize(LARGEST, LARGEST), Qt.AspectRatioMode.KeepAspectRatio))
    made = reader.read()
    return None if made.isNull() else made


def corners(picture: Picture) -> list[tuple[float, float, float]]:
    """Corners of a picture in space: lower left, lower right, upper right, upper left."""
    (x, y), (w, h) = picture.at, picture.size
    c, s = math.cos(picture.turn), math.sin(picture.turn)
    flat = [(x + c * u - s * v, y + s * u + c * v) for u, v in ((0, 0), (w, 0), (w, h), (0, h))]
    return [in_space(picture.frame, p) for p in flat]


def paint_image(p: QPainter, image: QImage, record: Underlay, corner: np.ndarray, fade: float) -> None:
    """A picture between its lower left, lower right and upper left corners on the screen, cropped."""
    (ox, oy), (ax, ay), _, (bx, by) = corner
    w, h = image.width(), image.height()
    p.save()
    p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    p.setOpacity(record.opacity * fade)
    p.setTransform(QTransform((ax - ox) / w, (ay - oy) / w, (ox - bx) / h, (oy - by) / h, bx, by), True)
    left, bottom, right, top = record.crop
    part = QRectF(left * w, top * h, (1 - left - right) * w, (1 - top - bottom) * h)
    p.drawImage(part, image, part)
    p.restore()
