"""The picture while the sentence of holes is open: cut open through the first hole and seen from where it goes in."""

from __future__ import annotations

import numpy as np

from architectonic.describe.results import Frame, HolesResult, Node
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.sentences.holedrawing import HoleDrawing
from architectonic.render.camera import Camera

TILT = 0.35
"""How much of its direction a view that comes round keeps of the hole's axis: the mouth is seen at an angle."""


class HoleView:
    """Opens the picture when a sentence starts that has its places already, and puts everything back when it is closed."""

    def __init__(self, canvas: BodyCanvas, drawing: HoleDrawing) -> None:
        self.canvas, self.drawing = canvas, drawing
        self._before: Camera | None = None
        self._waits = False
        drawing.held.connect(self._on_held)
        canvas.desk.evaluated.connect(self._open)

    def _on_held(self, held: bool) -> None:
        record = self.drawing.record
        if not held:
            self._close()
            return
        self._waits = record is not None and bool(record.places) and self.canvas.opening.frame is None
        self._open()

    def _open(self) -> None:
        """As soon as the places are known."""
        record, at, evaluation = self.drawing.record, self.canvas.shown.at, self.canvas.desk.evaluation
        if not self._waits or record is None or at is None or evaluation is None or not self.canvas.isVisible():
            return
        holes = evaluation.value(Node("holes", at, record.id))
        if not isinstance(holes, HolesResult) or not holes.places:
            return
        self._waits, self._before = False, self.canvas.camera
        frame = holes.places[0].frame
        into = np.array(frame.normal)
        camera = self.canvas.camera
        forward = camera.axes()[2]
        if float(forward @ into) < 0:  # it goes in at the far side
            forward = forward - 2 * float(forward @ into) * into
            camera = Camera(forward, camera.up, camera.focus, camera.scale)
            self.canvas.camera = camera
        across = -forward + float(forward @ into) * into
        size = float(np.linalg.norm(across))
        if size < TILT:  # seen along its axis: there is nothing to cut away that would show more
            return
        x, y, z = (float(c) for c in across / size)
        a, b, c = frame.normal
        self.canvas.opening.open(Frame(frame.origin, (a, b, c), (x, y, z)))

    def _close(self) -> None:
        self._waits = False
        before, self._before = self._before, None
        if before is not None:
            self.canvas.camera = before
            self.canvas.opening.open(None)
