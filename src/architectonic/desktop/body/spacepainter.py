"""Layouts in space, painted: pictures, sheets of planes, sketches in the colours of their state, names and figures."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from architectonic.describe.drawn.curves import as_piece_of
from architectonic.describe.drawn.readings import knows
from architectonic.describe.references.planes import y_axis
from architectonic.describe.results import (
    Axis,
    CurveResult,
    Frame,
    Node,
    PlacedCurve,
    PlacedRegion,
    SketchResult,
    Spot,
)
from architectonic.describe.space.leads import Led
from architectonic.desktop.body.space import Space, SpaceFigure, regions_of
from architectonic.desktop.kit import theme
from architectonic.desktop.sketch import dimensions
from architectonic.desktop.sketch.underlayimages import corners, image_of, paint_image
from architectonic.family import names
from architectonic.family.records import Datum, Model, Sketch, Underlay
from architectonic.quantities import units
from architectonic.session.feeds.held import FedThing

MARGIN = 0.08
"""How far a sheet reaches beyond what surrounds it, by its size."""
BESIDE = 0.12
"""What lies farther from a plane than this share of everything does not widen its sheet."""
LEAST = 20.0
"""Half the side of a sheet with nothing around it, mm."""
MANY_TAGS = 40


def pen_of(c: CurveResult, free: bool, chosen: bool) -> QPen:
    """How a curve of a sketch is drawn by its state."""
    if chosen:
        return QPen(QColor(theme.PLUM), 3)
    if c.fixed:
        return QPen(QColor(theme.MOSS), 1.5, Qt.PenStyle.DashDotLine)
    if c.helper and c.kind != "point":
        return QPen(QColor(theme.HELPER), 1.1, Qt.PenStyle.DashLine)
    return QPen(QColor(theme.FREE if free else theme.HELD), 1.4 if free else 2.2)


class SpacePainter:
    """Paints what a space shows."""

    def __init__(self, space: Space) -> None:
        self.space = space
        self._named: list[tuple[SpaceFigure, list[QPointF], bool]] = []

    def paint(self, p: QPainter) -> None:
        """Pictures, sheets, curves, then names and figures."""
        self.space.tags, self.space.plates = [], []
        self._named = []
        things = self.space.things()
        cloud = self._around()
        covers = bool(self.space.canvas.meshes or self.space.canvas.around)  # what is painted here lies over the bodies
        for thing in things:
            if isinstance(thing.operation, Underlay) and not (covers and thing.faint):
                self._paint_picture(p, thing)
        for thing in things:
            if isinstance(thing.value, Frame) and isinstance(thing.operation, (Datum, FedThing)):
                self._paint_sheet(p, thing, cloud, covers)
        for thing in things:
            if isinstance(thing.value, SketchResult):
                self._paint_regions(p, thing)
                self._paint_sketch(p, thing)
            elif isinstance(thing.value, (PlacedCurve, PlacedRegion)):
                self._paint_regions(p, thing)
                self._paint_fed(p, thing)
            elif isinstance(thing.value, Led):
                self._paint_led(p, thing)
            elif isinstance(thing.value, Axis):
                self._paint_axis(p, thing, cloud)
            elif isinstance(thing.value, Spot):
                self._paint_point(p, thing)
        for thing in things:
            if isinstance(thing.value, SketchResult) and not thing.faint and not self.space.canvas.shown.gathering:
                self._paint_tags(p, thing)
        for thing, at, loud in sorted(self._named, key=lambda n: not n[2]):
            self._plate(p, thing, at, loud)

    def _around(self) -> np.ndarray:
        """What surrounds the sheets: curves, points and bodies."""
        found = [points for thing in self.space.things() for _, points in self.space.lines(thing)]
        found += [m.points.astype(float) for _, m, _ in (*self.space.canvas.meshes, *self.space.canvas.around)]
        return np.concatenate([np.zeros((0, 3)), *found])

    def _paint_picture(self, p: QPainter, thing: SpaceFigure) -> None:
        record, picture = thing.operation, thing.value
        assert isinstance(record, Underlay)
        image = image_of(self.space.canvas.desk.session.stored.folder, record.file)
        corner = self.space.to_screen(np.array(corners(picture)))
        if image is None:
            p.setPen(QPen(QColor(theme.RED), 1, Qt.PenStyle.DashLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawPolygon(QPolygonF([QPointF(x, y) for x, y in corner]))
            return
        paint_image(p, image, record, corner, 0.5 if thing.faint else 1.0)

    def _sheet(self, frame: Frame, cloud: np.ndarray) -> np.ndarray:
        """Corners of a plane's sheet in space: as large as what surrounds it, seen on the plane."""
        axes = np.array([frame.x, y_axis(frame)])
        away = cloud - np.array(frame.origin)
        if len(cloud):
            size = float(np.linalg.norm(cloud.max(axis=0) - cloud.min(axis=0)))
            near = np.abs(away @ np.array(frame.normal)) <= BESIDE * size
            away = away[near] if near.any() else away
        flat = away @ axes.T if len(cloud) else np.zeros((1, 2))
        low, high = flat.min(axis=0), flat.max(axis=0)
        grow = np.maximum((high - low) * MARGIN, LEAST * 0.2)
        thin = np.maximum(LEAST - (high - low) / 2, 0)
        low, high = low - grow - thin, high + grow + thin
        square = np.array([[low[0], low[1]], [high[0], low[1]], [high[0], high[1]], [low[0], high[1]]])
        found: np.ndarray = np.array(frame.origin) + square @ axes
        return found

    def _paint_sheet(self, p: QPainter, thing: SpaceFigure, cloud: np.ndarray, covers: bool) -> None:
        chosen = thing.operation.id == self.space.canvas.shown.operation
        over = self.space.over is not None and self.space.over.operation == thing.operation.id
        sheet = [QPointF(x, y) for x, y in self.space.to_screen(self._sheet(thing.value, cloud))]
        loud = chosen or over or self._new(thing)
        colour = theme.PLUM if loud else theme.SLATE
        quiet = 0.16 if covers and thing.faint else 0.32
        p.setPen(QPen(theme.colour(colour, 0.8 if loud else quiet), 1.2 if loud else 1, Qt.PenStyle.SolidLine))
        fill = 0.09 if loud else 0.0 if covers else 0.05
        p.setBrush(theme.colour(colour, fill) if fill else QColor(0, 0, 0, 0))
        p.drawPolygon(QPolygonF(sheet))
        if not thing.faint:
            self._named.append((thing, sorted(sheet, key=lambda q: (q.y(), q.x())), loud))

    def _plate(self, p: QPainter, thing: SpaceFigure, places: list[QPointF], loud: bool) -> None:
        """A name at the first of some places that is free; quiet until it is pointed at, chosen or new."""
        p.setFont(theme.font(11, 600 if loud else 400))
        text = thing.operation.name
        wide = QFontMetricsF(p.font()).horizontalAdvance(text) + 10
        taken = [other for other, _ in self.space.plates] + [tag for tag, *_ in self.space.tags]
        room = QRectF(4.0, 4.0, self.space.canvas.width() - wide - 8, self.space.canvas.height() - 26.0)
        boxes = [
            QRectF(
                min(max(q.x() + 4, room.left()), room.right()), min(max(q.y() + 2, room.top()), room.bottom()), wide, 18
            )
            for q in places
        ]
        boxes += [boxes[0].translated(0, 10 * k) for k in range(1, 13)]
        free = (b for b in boxes if not any(b.intersects(other) for other in taken))
        box = next(free, boxes[-1])
        if loud:
            p.setPen(QPen(QColor(theme.PLUM), 1))
            p.setBrush(QColor(theme.FIELD))
            p.drawRoundedRect(box, 3, 3)
        p.setPen(QColor(theme.PLUM_TEXT if loud else theme.SOFT))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
        self.space.plates.append((box, thing))

    def _paint_axis(self, p: QPainter, thing: SpaceFigure, cloud: np.ndarray) -> None:
        axis = thing.value
        d, o = np.array(axis.direction), np.array(axis.origin)
        along = (cloud - o) @ d if len(cloud) else np.array([-LEAST, LEAST])
        low, high = along.min(), along.max()
        grow = max((high - low) * MARGIN, LEAST)
        a, b = self.space.to_screen(np.array([o + (low - grow) * d, o + (high + grow) * d]))
        loud = thing.operation.id == self.space.canvas.shown.operation or (
            self.space.over is not None and self.space.over.operation == thing.operation.id
        )
        p.setPen(QPen(QColor(theme.PLUM if loud else theme.SOFT), 1.6 if loud else 1.1, Qt.PenStyle.DashDotLine))
        p.setOpacity(0.5 if thing.faint else 1.0)
        p.drawLine(QPointF(*a), QPointF(*b))
        p.setOpacity(1.0)
        if not thing.faint:
            self._named.append((thing, [QPointF(*b), QPointF(*a)], loud))

    def _paint_point(self, p: QPainter, thing: SpaceFigure) -> None:
        (at,) = self.space.to_screen(np.array([thing.value.at]))
        loud = thing.operation.id == self.space.canvas.shown.operation
        p.setPen(QPen(QColor(theme.PLUM if loud else theme.SOFT), 1.6))
        x, y = float(at[0]), float(at[1])
        p.drawLine(QPointF(x - 5, y), QPointF(x + 5, y))
        p.drawLine(QPointF(x, y - 5), QPointF(x, y + 5))
        if not thing.faint:
            self._named.append((thing, [QPointF(x + 4, y + 2)], loud))

    def _paint_regions(self, p: QPainter, thing: SpaceFigure) -> None:
        """Regions that are chosen, and the one that a click would take."""
        shown = self.space.canvas.shown
        chosen = shown.regions[1] if shown.regions[0] == thing.operation.id else ()
        over = self.space.over_region
        wanted = dict.fromkeys(chosen, 0.35)
        if over is not None and over[0] == thing.operation.id:
            wanted[over[1]] = 0.55
        frame = self.space.frame_of(thing) if wanted else None
        if frame is None:
            return
        to = self.space.on_screen(frame)
        p.setPen(Qt.PenStyle.NoPen)
        for region in regions_of(thing):
            if region.label in wanted:
                area = QPainterPath()
                for loop in region.loops:
                    area.addPolygon(QPolygonF([to(q) for piece in loop for q in as_piece_of(piece).points()]))
                    area.closeSubpath()
                p.fillPath(area, theme.colour(theme.PLUM, wanted[region.label]))

    def _paint_sketch(self, p: QPainter, thing: SpaceFigure) -> None:
        solved = thing.value
        free = set(solved.free)
        chosen = thing.operation.id == self.space.canvas.shown.operation
        over = self.space.over is not None and self.space.over.operation == thing.operation.id
        p.setOpacity(0.35 if thing.faint or (thing.quiet and not over) else 1.0)
        p.setBrush(Qt.BrushStyle.NoBrush)
        for key, points in self.space.lines(thing):
            c = solved.curves[key]
            flat = [QPointF(x, y) for x, y in self.space.to_screen(points)]
            picked = key in self.space.canvas.shown.curves and chosen
            pen = pen_of(c, key in free, picked)
            if over and self.space.over is not None and self.space.over.curve == key:
                p.setPen(QPen(theme.colour(theme.PLUM, 0.4), 5))
                p.drawPolyline(QPolygonF(flat))
            if chosen and not picked:
                pen.setWidthF(pen.widthF() + 0.6)
            p.setPen(pen)
            if len(flat) > 1:
                p.drawPolyline(QPolygonF(flat))
            else:
                p.drawEllipse(flat[0], 2.5, 2.5)
        p.setOpacity(1.0)

    def _paint_fed(self, p: QPainter, thing: SpaceFigure) -> None:
        """A curve or region that a feed holds: led by its source, as traced curves are."""
        shown, over = self.space.canvas.shown, self.space.over
        hit = over is not None and over.operation == thing.operation.id
        loud = hit or getattr(thing.operation, "feed", "") == shown.operation
        p.setOpacity(0.35 if thing.quiet and not loud else 1.0)
        p.setPen(QPen(QColor(theme.PLUM if hit else theme.MOSS), 3.0 if loud else 1.5, Qt.PenStyle.DashDotLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        flat = [self.space.to_screen(points) for _, points in self.space.lines(thing)]
        for line in flat:
            p.drawPolyline(QPolygonF([QPointF(x, y) for x, y in line]))
        p.setOpacity(1.0)
        ends = sorted((QPointF(x, y) for line in flat for x, y in line), key=lambda q: (q.y(), q.x()))
        if ends and not thing.quiet:
            self._named.append((thing, [ends[0], ends[-1]], loud))

    def _paint_led(self, p: QPainter, thing: SpaceFigure) -> None:
        """A path in space: held or free, as the lines of a sketch."""
        over = self.space.over is not None and self.space.over.operation == thing.operation.id
        chosen = over or thing.operation.id == self.space.canvas.shown.operation
        colour = theme.PLUM if chosen else theme.FREE if thing.value.freedoms else theme.HELD
        p.setPen(QPen(QColor(colour), 2.4 if chosen else 1.6))
        for _, points in self.space.lines(thing):
            p.drawPolyline(QPolygonF([QPointF(x, y) for x, y in self.space.to_screen(points)]))

    def _paint_tags(self, p: QPainter, thing: SpaceFigure) -> None:
        """Dimensions that face the viewer: all of a few, else those of the chosen sketch or the one pointed at."""
        sketch, frame = thing.operation, self.space.frame_of(thing)
        assert isinstance(sketch, Sketch)
        named = [c for c in sketch.constraints if (c.value is not None or c.reads) and knows(thing.value, c.of)]
        loud = sketch.id in (self.space.canvas.shown.operation, self.space.over.operation if self.space.over else "")
        if frame is None or (len(named) > MANY_TAGS and not loud) or self._edge_on(frame):
            return
        to = self.space.on_screen(frame)
        document = self.space.canvas.desk.family.documents[thing.at.document]
        evaluation = self.space.canvas.shown.evaluation
        for number, c in enumerate(named):
            value = evaluation.value(Node("value", thing.at, c.id)) if evaluation else None
            if value is None or (not c.name and not loud) or dimensions.too_small(c, thing.value, to):
                continue
            text = f"{dimensions.PREFIX.get(c.kind, '')}{units.shown(value, names.unit_of(c), 2)}"
            typed = (
                names.shown_text(self.space.canvas.desk.family, document, c.value, sketch)
                if c.value and c.value.refs
                else ""
            )
            figure = dimensions.Figure(c, f"({text})" if c.reads else text, typed)
            placed = dimensions.laid_out(figure, thing.value, to, number)
            wide, high = figure.size
            box = QRectF(placed.text.x() - wide / 2, placed.text.y() - high / 2, wide, high)
            if any(box.intersects(b) for b, *_ in self.space.tags):
                continue
            lit = c.id in (self.space.canvas.shown.constraint, *self.space.canvas.shown.lit)
            drawn = dimensions.paint(p, figure, placed, lit, self.space.canvas.width())
            self.space.tags.append((drawn, thing.at, sketch, c))

    def _new(self, thing: SpaceFigure) -> bool:
        """Whether it is only previewed yet."""
        if isinstance(thing.operation, FedThing):
            return False
        stored = self.space.canvas.desk.family.documents.get(thing.at.document)
        return isinstance(stored, Model) and all(o.id != thing.operation.id for o in stored.build)

    def _edge_on(self, frame: Frame) -> bool:
        """Whether a plane is seen from its edge, where figures cannot be read."""
        _, _, forward = self.space.canvas.camera.axes()
        return abs(float(np.dot(forward, frame.normal))) < 0.12
