"""Pictures of underlays as images, kept while their files stay as they are."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QImageReader, QPainter

LARGEST = 2400
"""Pixels along the longer side that an underlay is shown with."""


def image_of(folder: Path, file: str) -> QImage | None:
    """The image of a file in the family's folder `files/`; None when it cannot be shown."""
    path = folder / "files" / file
    try:
        return _image(str(path), path.stat().st_mtime_ns)
    except OSError:
        return None


@lru_cache(maxsize=12)
def _image(path: str, _: int) -> QImage | None:
    if path.endswith(".svg"):
        from PyQt6.QtSvg import QSvgRenderer  # only where an SVG is drawn over

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
    if max(size.width(), size.height()) > LARGEST:
        reader.setScaledSize(size.scaled(QSize(LARGEST, LARGEST), Qt.AspectRatioMode.KeepAspectRatio))
    made = reader.read()
    return None if made.isNull() else made
