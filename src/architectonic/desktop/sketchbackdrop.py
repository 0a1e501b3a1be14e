"""What stands behind the curves of a sketch: a grid, and the edges of bodies square on, with or without what lies in
front of the plane."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QLineF, QPointF
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from architectonic.describe.planes import y_axis
from architectonic.describe.results import Frame, Node
from architectonic.desktop import theme
from architectonic.render.camera import BodyMesh

if TYPE_CHECKING:
    from architectonic.desktop.layoutcanvas import LayoutCanvas


def edges(meshes: list[BodyMesh], frame: Frame, cut: bool) -> np.ndarray:
    """Straight pieces of all edges of bodies in the coordinates of a plane, shape (n, 2, 2), mm.

    Args:
        cut: pieces in front of the plane (on the side of its normal) are left out, those across it cut at it.
    """
    axes = np.array([frame.x, y_axis(frame), frame.normal])
    found = [np.zeros((0, 2, 3))]
    for mesh in meshes:
        at = (mesh.lines.astype(float) - np.array(frame.origin)) @ axes.T
        ends = np.setdiff1d(np.arange(1, len(at)), mesh.line_starts)
        found.append(np.stack([at[ends - 1], at[ends]], axis=1))
    pieces = np.concatenate(found)
    if cut and len(pieces):
        height = pieces[:, :, 2]
        pieces, height = pieces[height.min(axis=1) <= 1e-6], height[height.min(axis=1) <= 1e-6]
        for a, b in ((0, 1), (1, 0)):
            over = height[:, a] > 1e-6
            share = height[over, b] / (height[over, b] - height[over, a])
            pieces[over, a] = pieces[over, b] + share[:, None] * (pieces[over, a] - pieces[over, b])
    kept: np.ndarray = pieces[:, :, :2]
    return kept


class Backdrop:
    """Paints it, and keeps the edges as long as nothing they come from changes."""

    def __init__(self, canvas: LayoutCanvas) -> None:
        self.canvas = canvas
        self._key: object = None
        self._edges = np.zeros((0, 2, 2))

    def pieces(self) -> np.ndarray:
        """Edges of the shown document's bodies on the sketch's plane."""
        canvas = self.canvas
        sketch, look, evaluation = canvas.sketch, canvas.shown.look, canvas.bench.evaluation
        if sketch is None or look is None or evaluation is None:
            return np.zeros((0, 2, 2))
        frame = evaluation.value(Node("frame", *look.at, sketch.id))
        if not isinstance(frame, Frame) or not getattr(canvas.shown.document, "bodies", None):
            return np.zeros((0, 2, 2))
        from architectonic.render.pictures import meshes_of  # loads with the first body, not with the window

        meshes = [mesh for _, mesh, _ in meshes_of(evaluation, look)]
        key = (frame, canvas.cut, tuple(id(m.source) for m in meshes))
        if key != self._key:
            self._key, self._edges = key, edges(meshes, frame, canvas.cut)
        return self._edges

    def paint(self, p: QPainter) -> None:
        """Grid, then edges."""
        step = self.canvas.grid_step()
        if step:
            self._paint_grid(p, step)
        pieces = self.pieces()
        if len(pieces):
            p.setPen(QPen(QColor(theme.EDGE), 1))
            to = self.canvas.to_screen
            p.drawLines(*(QLineF(to((a[0], a[1])), to((b[0], b[1]))) for a, b in pieces.tolist()))

    def _paint_grid(self, p: QPainter, step: float) -> None:
        canvas = self.canvas
        left, top = canvas.to_sketch(QPointF(0, 0))
        right, bottom = canvas.to_sketch(QPointF(canvas.width(), canvas.height()))
        p.setPen(QPen(QColor(theme.LINE), 1.6))
        xs = range(math.ceil(left / step), math.floor(right / step) + 1)
        ys = range(math.ceil(bottom / step), math.floor(top / step) + 1)
        p.drawPoints(QPolygonF([canvas.to_screen((i * step, j * step)) for i in xs for j in ys]))
