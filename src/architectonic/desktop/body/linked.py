"""Two canvases that look from the same side: turning or zooming one takes the other along."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QTimer

from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.render.camera import Camera

MOVES = (
    QEvent.Type.MouseMove,
    QEvent.Type.MouseButtonRelease,
    QEvent.Type.Wheel,
    QEvent.Type.KeyRelease,
    QEvent.Type.Resize,
)


class LinkedCameras(QObject):
    """Keeps the second canvas in the direction and the scale of the first, and the other way round, while it is on."""

    def __init__(self, first: BodyCanvas, second: BodyCanvas) -> None:
        super().__init__(first)
        self.canvases = (first, second)
        self.on = False
        for canvas in self.canvases:
            canvas.installEventFilter(self)

    def link(self, on: bool) -> None:
        """Begin, with the second as the first, or end."""
        self.on = on
        if on:
            QTimer.singleShot(0, lambda: self._follow(self.canvases[0]))

    def eventFilter(self, a0: QObject | None, a1: QEvent | None) -> bool:
        """What was done to one is done to the other once it is done."""
        if self.on and a1 is not None and a1.type() in MOVES and isinstance(a0, BodyCanvas):
            QTimer.singleShot(0, lambda: self._follow(a0))
        return False

    def _follow(self, moved: BodyCanvas) -> None:
        other = self.canvases[1] if moved is self.canvases[0] else self.canvases[0]
        if not (self.on and moved.isVisible() and other.isVisible() and other.height() and moved.height()):
            return
        here = moved.camera
        scale = here.scale * other.height() / moved.height()  # so many mm a pixel in both
        wanted = Camera(here.direction, here.up, here.focus, scale)
        if not _alike(wanted, other.camera):
            other.camera = wanted
            other.anew()


def _alike(a: Camera, b: Camera) -> bool:
    close = 1e-9 * max(a.scale, 1.0)
    pairs = ((a.direction, b.direction), (a.up, b.up), (a.focus, b.focus))
    return abs(a.scale - b.scale) <= close and all(abs(x - y).max() <= close for x, y in pairs)
