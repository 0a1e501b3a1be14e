"""What stands behind the curves of a sketch: a grid, and the edges of bodies square on, with or without what lies in
front of the plane."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from architectonic.describe.drawn.readings import samples
from architectonic.describe.references.planes import in_space, on_plane, y_axis
from architectonic.describe.results import Frame, Node, Picture, PlacedCurve, PlacedRegion, SketchResult
from architectonic.desktop.kit import theme
from architectonic.desktop.sketch.underlayimages import corners, image_of, paint_image
from architectonic.desktop.sketch.view import SketchView
from architectonic.family.records import Layout, Underlay
from architectonic.family.walk import Same
from architectonic.render.camera import BodyMesh
from architectonic.session.feeds.held import held, outlines


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


def _same_plane(a: Frame, b: Frame) -> bool:
    facing = float(np.dot(a.normal, b.normal))
    away = float(np.dot(np.subtract(a.origin, b.origin), b.normal))
    return abs(abs(facing) - 1) < 1e-9 and abs(away) < 1e-6


class Backdrop:
    """Paints it, and keeps the edges as long as nothing they come from changes."""

    def __init__(self, canvas: SketchView) -> None:
        self.canvas = canvas
        self._key: object = None
        self._edges = np.zeros((0, 2, 2))

    def pieces(self) -> np.ndarray:
        """Edges of the shown document's bodies on the sketch's plane."""
        canvas = self.canvas
        sketch, look, evaluation = canvas.sketch, canvas.shown.look, canvas.shown.evaluation
        if sketch is None or look is None or evaluation is None:
            return np.zeros((0, 2, 2))
        frame = evaluation.value(Node("frame", look.at, sketch.id))
        around = canvas.shown.behind()
        if not isinstance(frame, Frame) or not (getattr(canvas.shown.document, "bodies", None) or around):
            return np.zeros((0, 2, 2))
        from architectonic.render.pictures import meshes_of  # loads with the first body, not with the window

        meshes = [mesh for seen in (look, *around) for _, mesh, _ in meshes_of(evaluation, seen)]
        key = (frame, canvas.cut, tuple(Same(m.source) for m in meshes))
        if key != self._key:
            self._key, self._edges = key, edges(meshes, frame, canvas.cut)
        return self._edges

    def paint(self, p: QPainter) -> None:
        """Grid, then edges."""
        self._paint_underlays(p)
        step = self.canvas.grid_step()
        if step:
            self._paint_grid(p, step)
        pieces = self.pieces()
        if len(pieces):
            p.setPen(QPen(QColor(theme.EDGE), 1))
            to = self.canvas.to_screen
            p.drawLines(*(QLineF(to((a[0], a[1])), to((b[0], b[1]))) for a, b in pieces.tolist()))
        self._paint_layouts(p)

    def _paint_layouts(self, p: QPainter) -> None:
        """Curves of layouts behind the document, and those that its feeds hold, faint."""
        canvas = self.canvas
        sketch, at, evaluation = canvas.sketch, canvas.shown.at, canvas.shown.evaluation
        frame = evaluation.value(Node("frame", at, sketch.id)) if sketch and at and evaluation else None
        if evaluation is None or not isinstance(frame, Frame):
            return
        p.setPen(QPen(QColor(theme.EDGE), 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        for look in canvas.shown.behind():
            document = evaluation.family.documents.get(look.at.document)
            for record in document.build if isinstance(document, Layout) else ():
                solved, plane = (evaluation.value(Node(w, look.at, record.id)) for w in ("solve", "frame"))
                if isinstance(solved, SketchResult) and isinstance(plane, Frame):
                    for c in solved.curves.values():
                        points = [on_plane(frame, in_space(plane, q)) for q in samples(c)]
                        p.drawPolyline(QPolygonF([canvas.to_screen(q) for q in points]))
        for fed in held(evaluation, at) if at is not None else ():
            value = fed.value
            if not isinstance(value, (PlacedCurve, PlacedRegion)):
                continue
            for flat in outlines(value):
                points = [on_plane(frame, in_space(value.frame, q)) for q in flat]
                p.drawPolyline(QPolygonF([canvas.to_screen(q) for q in points]))

    def _paint_underlays(self, p: QPainter) -> None:
        """Pictures on the plane of the sketch, of its own document and of layouts behind it."""
        canvas = self.canvas
        sketch, at, evaluation = canvas.sketch, canvas.shown.at, canvas.shown.evaluation
        frame = evaluation.value(Node("frame", at, sketch.id)) if sketch and at and evaluation else None
        if evaluation is None or at is None or not isinstance(frame, Frame):
            return
        for scope in (at, *(look.at for look in canvas.shown.behind())):
            for record in getattr(evaluation.family.documents.get(scope.document), "build", ()):
                picture = evaluation.value(Node("underlay", scope, record.id)) if isinstance(record, Underlay) else None
                if isinstance(picture, Picture) and _same_plane(picture.frame, frame):
                    image = image_of(canvas.desk.session.stored.folder, record.file)
                    if image is not None:
                        flat = [canvas.to_screen(on_plane(frame, q)) for q in corners(picture)]
                        paint_image(p, image, record, np.array([[q.x(), q.y()] for q in flat]), 1.0)

    def _paint_grid(self, p: QPainter, step: float) -> None:
        canvas = self.canvas
        left, top = canvas.to_sketch(QPointF(0, 0))
        right, bottom = canvas.to_sketch(QPointF(canvas.width(), canvas.height()))
        p.setPen(QPen(QColor(theme.LINE), 1.6))
        xs = range(math.ceil(left / step), math.floor(right / step) + 1)
        ys = range(math.ceil(bottom / step), math.floor(top / step) + 1)
        p.drawPoints(QPolygonF([canvas.to_screen((i * step, j * step)) for i in xs for j in ys]))
