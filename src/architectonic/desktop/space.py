"""Layouts in space: faint sheets of planes, sketches in the colours of their state, axes, points, pictures and tags.

Painted over the picture of the bodies; what is hit is found in the same pixels.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen, QPolygonF, QTransform

from architectonic.describe.curves import as_piece
from architectonic.describe.planes import in_space, y_axis
from architectonic.describe.readings import samples
from architectonic.describe.results import Axis, CurveResult, Frame, Node, Picture, SketchResult, Spot
from architectonic.desktop import dimensions, theme
from architectonic.desktop.planepick import PlanePick
from architectonic.desktop.planepull import PlanePull
from architectonic.desktop.underlayimages import image_of
from architectonic.family import names
from architectonic.family.records import AnyOperation, Constraint, Datum, Layout, Model, Part, Sketch, Underlay
from architectonic.family.scopes import Scope
from architectonic.family.walk import used_in_build
from architectonic.quantities import units

if TYPE_CHECKING:
    from architectonic.desktop.bodycanvas import BodyCanvas

NEAR = 6.0
MARGIN = 0.08
"""How far a sheet reaches beyond what surrounds it, by its size."""
BESIDE = 0.12
"""What lies farther from a plane than this share of everything does not widen its sheet."""
LEAST = 20.0
"""Half the side of a sheet with nothing around it, mm."""
MANY_TAGS = 40


class Thing(NamedTuple):
    """An operation of a layout with its value; faint when it only stands behind."""

    at: Scope
    operation: AnyOperation
    value: Any
    faint: bool


class Hit(NamedTuple):
    """What lies under the pointer: an operation, and a curve of it or ""."""

    at: Scope
    operation: str
    curve: str = ""


def pen_of(c: CurveResult, free: bool, chosen: bool) -> QPen:
    """How a curve of a sketch is drawn by its state."""
    if chosen:
        return QPen(QColor(theme.PLUM), 3)
    if c.fixed:
        return QPen(QColor(theme.MOSS), 1.5, Qt.PenStyle.DashDotLine)
    if c.helper and c.kind != "point":
        return QPen(QColor(theme.HELPER), 1.1, Qt.PenStyle.DashLine)
    return QPen(QColor(theme.FREE if free else theme.HELD), 1.4 if free else 2.2)


class Space:
    """What of layouts a 3D canvas shows."""

    def __init__(self, canvas: BodyCanvas) -> None:
        self.canvas = canvas
        self.over: Hit | None = None
        self.tags: list[tuple[QRectF, Scope, Sketch, Constraint]] = []
        self.plates: list[tuple[QRectF, Thing]] = []
        self._named: list[tuple[Thing, list[QPointF], bool]] = []
        self.picking = PlanePick(self)
        self.pulling = PlanePull(self)
        self._lines: dict[tuple[int, Frame], list[tuple[str, np.ndarray]]] = {}

    # --- content --------------------------------------------------------------------------------------

    def things(self) -> list[Thing]:
        """Operations that are shown: all of a layout or assembly, what a part has not used yet, and what is behind."""
        shown, evaluation = self.canvas.shown, self.canvas.bench.evaluation
        at = shown.at
        if evaluation is None or at is None:
            return []
        found: list[Thing] = []
        scopes = [(look.at, True) for look in shown.behind()] + [(at, False)]
        for scope, faint in scopes:
            source = evaluation.family.documents.get(scope.document)  # a preview shows what is not stored yet
            if not isinstance(source, Model) or (faint and not isinstance(source, Layout)):
                continue
            used = used_in_build(source) if isinstance(source, Part) else frozenset()
            own = not faint and shown.until
            for operation in source.build[: [o.id for o in source.build].index(shown.until) + 1 if own else None]:
                if operation.id in used and operation.id != shown.operation and not isinstance(operation, Datum):
                    continue
                if isinstance(source, Part) and isinstance(operation, Underlay) and self.canvas.meshes:
                    continue
                what = {Sketch: "solve", Datum: "frame", Underlay: "underlay"}.get(type(operation), "")
                value = evaluation.value(Node(what, *scope, operation.id)) if what else None
                hidden = operation.id in self.canvas.hidden
                if value is not None and not hidden:
                    found.append(Thing(scope, operation, value, faint))
        return found

    def frame_of(self, thing: Thing) -> Frame | None:
        """The plane that a thing lies in."""
        if isinstance(thing.value, Frame):
            return thing.value
        if isinstance(thing.value, Picture):
            return thing.value.frame
        evaluation = self.canvas.bench.evaluation
        found = evaluation.value(Node("frame", *thing.at, thing.operation.id)) if evaluation else None
        return found if isinstance(found, Frame) else None

    def lines(self, thing: Thing) -> list[tuple[str, np.ndarray]]:
        """Curves of a sketch as points in space, (n, 3), by id."""
        frame = self.frame_of(thing)
        if frame is None or not isinstance(thing.value, SketchResult):
            return []
        key = (id(thing.value), frame)
        if key not in self._lines:
            if len(self._lines) > 64:
                self._lines.clear()
            self._lines[key] = [
                (k, np.array([in_space(frame, p) for p in _fine(c)])) for k, c in thing.value.curves.items()
            ]
        return self._lines[key]

    def cloud(self) -> np.ndarray:
        """Points that a view of everything must show, (n, 3)."""
        found = [np.zeros((0, 3))]
        for thing in self.things():
            if isinstance(thing.value, SketchResult):
                found += [points for _, points in self.lines(thing)]
            elif isinstance(thing.value, Picture):
                found.append(np.array(corners(thing.value)))
            elif isinstance(thing.value, Spot):
                found.append(np.array([thing.value.at]))
        return np.concatenate(found)

    # --- painting -------------------------------------------------------------------------------------

    def to_screen(self, points: np.ndarray) -> np.ndarray:
        """Pixels of points in space."""
        return self.canvas.camera.project(points, self.canvas.width(), self.canvas.height())[:, :2]

    def on_screen(self, frame: Frame) -> Callable[[tuple[float, float]], QPointF]:
        """How points of a plane come to lie on the screen: a parallel projection, so one matrix does."""
        axes = np.array([frame.origin, frame.x, y_axis(frame)], float)
        base = self.to_screen(np.array([axes[0], axes[0] + axes[1], axes[0] + axes[2]]))
        (ox, oy), (ax, ay), (bx, by) = base[0], base[1] - base[0], base[2] - base[0]
        return lambda p: QPointF(ox + ax * p[0] + bx * p[1], oy + ay * p[0] + by * p[1])

    def paint(self, p: QPainter) -> None:
        """Pictures, sheets, curves, then names and figures."""
        self.tags, self.plates = [], []
        self._named = []
        things = self.things()
        cloud = self._around()
        covers = bool(self.canvas.meshes or self.canvas.around)  # what is painted here lies over the bodies
        for thing in things:
            if isinstance(thing.operation, Underlay) and not (covers and thing.faint):
                self._paint_picture(p, thing)
        for thing in things:
            if isinstance(thing.value, Frame) and isinstance(thing.operation, Datum):
                self._paint_sheet(p, thing, cloud, covers)
        for thing in things:
            if isinstance(thing.value, SketchResult):
                self._paint_sketch(p, thing)
            elif isinstance(thing.value, Axis):
                self._paint_axis(p, thing, cloud)
            elif isinstance(thing.value, Spot):
                self._paint_point(p, thing)
        for thing in things:
            if isinstance(thing.value, SketchResult) and not thing.faint:
                self._paint_tags(p, thing)
        for thing, at, loud in sorted(self._named, key=lambda n: not n[2]):
            self._plate(p, thing, at, loud)
        self.picking.paint(p)

    def _around(self) -> np.ndarray:
        """What surrounds the sheets: curves, points and bodies."""
        found = [points for thing in self.things() for _, points in self.lines(thing)]
        found += [m.points.astype(float) for _, m, _ in (*self.canvas.meshes, *self.canvas.around)]
        return np.concatenate([np.zeros((0, 3)), *found])

    def _paint_picture(self, p: QPainter, thing: Thing) -> None:
        record, picture = thing.operation, thing.value
        assert isinstance(record, Underlay)
        image = image_of(self.canvas.bench.session.stored.folder, record.file)
        corner = self.to_screen(np.array(corners(picture)))
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

    def _paint_sheet(self, p: QPainter, thing: Thing, cloud: np.ndarray, covers: bool) -> None:
        chosen = thing.operation.id == self.canvas.shown.operation
        over = self.over is not None and self.over.operation == thing.operation.id
        sheet = [QPointF(x, y) for x, y in self.to_screen(self._sheet(thing.value, cloud))]
        loud = chosen or over or self._new(thing)
        colour = theme.PLUM if loud else theme.SLATE
        quiet = 0.16 if covers and thing.faint else 0.32
        p.setPen(QPen(theme.colour(colour, 0.8 if loud else quiet), 1.2 if loud else 1, Qt.PenStyle.SolidLine))
        fill = 0.09 if loud else 0.0 if covers else 0.05
        p.setBrush(theme.colour(colour, fill) if fill else QColor(0, 0, 0, 0))
        p.drawPolygon(QPolygonF(sheet))
        if not thing.faint:
            self._named.append((thing, sorted(sheet, key=lambda q: (q.y(), q.x())), loud))

    def _plate(self, p: QPainter, thing: Thing, places: list[QPointF], loud: bool) -> None:
        """A name at the first of some places that is free; quiet until it is pointed at, chosen or new."""
        p.setFont(theme.font(11, 600 if loud else 400))
        text = thing.operation.name
        wide = QFontMetricsF(p.font()).horizontalAdvance(text) + 10
        taken = [other for other, _ in self.plates] + [tag for tag, *_ in self.tags]
        room = QRectF(4.0, 4.0, self.canvas.width() - wide - 8, self.canvas.height() - 26.0)
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
        self.plates.append((box, thing))

    def _paint_axis(self, p: QPainter, thing: Thing, cloud: np.ndarray) -> None:
        axis = thing.value
        d, o = np.array(axis.direction), np.array(axis.origin)
        along = (cloud - o) @ d if len(cloud) else np.array([-LEAST, LEAST])
        low, high = along.min(), along.max()
        grow = max((high - low) * MARGIN, LEAST)
        a, b = self.to_screen(np.array([o + (low - grow) * d, o + (high + grow) * d]))
        loud = thing.operation.id == self.canvas.shown.operation or (
            self.over is not None and self.over.operation == thing.operation.id
        )
        p.setPen(QPen(QColor(theme.PLUM if loud else theme.SOFT), 1.6 if loud else 1.1, Qt.PenStyle.DashDotLine))
        p.setOpacity(0.5 if thing.faint else 1.0)
        p.drawLine(QPointF(*a), QPointF(*b))
        p.setOpacity(1.0)
        if not thing.faint:
            self._named.append((thing, [QPointF(*b), QPointF(*a)], loud))

    def _paint_point(self, p: QPainter, thing: Thing) -> None:
        (at,) = self.to_screen(np.array([thing.value.at]))
        loud = thing.operation.id == self.canvas.shown.operation
        p.setPen(QPen(QColor(theme.PLUM if loud else theme.SOFT), 1.6))
        x, y = float(at[0]), float(at[1])
        p.drawLine(QPointF(x - 5, y), QPointF(x + 5, y))
        p.drawLine(QPointF(x, y - 5), QPointF(x, y + 5))
        if not thing.faint:
            self._named.append((thing, [QPointF(x + 4, y + 2)], loud))

    def _paint_sketch(self, p: QPainter, thing: Thing) -> None:
        solved = thing.value
        free = set(solved.free)
        chosen = thing.operation.id == self.canvas.shown.operation
        over = self.over is not None and self.over.operation == thing.operation.id
        p.setOpacity(0.35 if thing.faint else 1.0)
        p.setBrush(Qt.BrushStyle.NoBrush)
        for key, points in self.lines(thing):
            c = solved.curves[key]
            flat = [QPointF(x, y) for x, y in self.to_screen(points)]
            picked = key in self.canvas.shown.curves and chosen
            pen = pen_of(c, key in free, picked)
            if over and self.over is not None and self.over.curve == key:
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

    def _paint_tags(self, p: QPainter, thing: Thing) -> None:
        """Dimensions that face the viewer: all of a few, else those of the chosen sketch or the one pointed at."""
        sketch, frame = thing.operation, self.frame_of(thing)
        assert isinstance(sketch, Sketch)
        named = [c for c in sketch.constraints if c.value is not None or c.reads]
        loud = sketch.id in (self.canvas.shown.operation, self.over.operation if self.over else "")
        if frame is None or (len(named) > MANY_TAGS and not loud) or self._edge_on(frame):
            return
        to = self.on_screen(frame)
        document = self.canvas.bench.family.documents[thing.at.document]
        evaluation = self.canvas.bench.evaluation
        for number, c in enumerate(named):
            value = evaluation.value(Node("value", *thing.at, c.id)) if evaluation else None
            if value is None or (not c.name and not loud) or dimensions.too_small(c, thing.value, to):
                continue
            text = f"{dimensions.PREFIX.get(c.kind, '')}{units.shown(value, names.unit_of(c), 2)}"
            typed = (
                names.shown_text(self.canvas.bench.family, document, c.value, sketch)
                if c.value and c.value.refs
                else ""
            )
            figure = dimensions.Figure(c, f"({text})" if c.reads else text, typed)
            placed = dimensions.laid_out(figure, thing.value, to, number)
            wide, high = figure.size
            box = QRectF(placed.text.x() - wide / 2, placed.text.y() - high / 2, wide, high)
            if any(box.intersects(b) for b, *_ in self.tags):
                continue
            lit = c.id in (self.canvas.shown.constraint, *self.canvas.shown.lit)
            drawn = dimensions.paint(p, figure, placed, lit, self.canvas.width())
            self.tags.append((drawn, thing.at, sketch, c))

    def _new(self, thing: Thing) -> bool:
        """Whether it is only previewed yet."""
        stored = self.canvas.bench.family.documents.get(thing.at.document)
        return isinstance(stored, Model) and all(o.id != thing.operation.id for o in stored.build)

    def _edge_on(self, frame: Frame) -> bool:
        """Whether a plane is seen from its edge, where figures cannot be read."""
        _, _, forward = self.canvas.camera.axes()
        return abs(float(np.dot(forward, frame.normal))) < 0.12

    # --- pointer --------------------------------------------------------------------------------------

    def hover(self, q: QPointF) -> bool:
        """Light what lies under the pointer; True when something else does now."""
        found = self.hit(q)
        changed = found != self.over
        self.over = found
        return changed

    def hit(self, q: QPointF) -> Hit | None:
        """The name, figure, curve, axis or point under a pixel."""
        for box, thing in self.plates:
            if box.contains(q):
                return Hit(thing.at, thing.operation.id)
        for box, at, sketch, _ in self.tags:
            if box.contains(q):
                return Hit(at, sketch.id)
        best: tuple[float, Hit] | None = None
        for thing in self.things():
            for key, points in self.lines(thing):
                gap = away(self.to_screen(points), q)
                if gap < NEAR and (best is None or gap < best[0]):
                    best = (gap, Hit(thing.at, thing.operation.id, key))
        return best[1] if best is not None else None

    def tag_at(self, q: QPointF) -> tuple[QRectF, Scope, Sketch, Constraint] | None:
        """The figure under a pixel."""
        return next((t for t in reversed(self.tags) if t[0].contains(q)), None)


def corners(picture: Picture) -> list[tuple[float, float, float]]:
    """Corners of a picture in space: lower left, lower right, upper right, upper left."""
    (x, y), (w, h) = picture.at, picture.size
    c, s = math.cos(picture.turn), math.sin(picture.turn)
    flat = [(x + c * u - s * v, y + s * u + c * v) for u, v in ((0, 0), (w, 0), (w, h), (0, h))]
    return [in_space(picture.frame, p) for p in flat]


def _fine(c: CurveResult) -> list[tuple[float, float]]:
    """Points along a curve, close enough for a large picture."""
    return as_piece("", c).points(2.5) if c.kind in ("circle", "arc") else samples(c)


def away(points: np.ndarray, q: QPointF) -> float:
    """How far a pixel lies from a line of points."""
    at = np.array([q.x(), q.y()])
    if len(points) == 1:
        return float(np.hypot(*(points[0] - at)))
    a, d = points[:-1], np.diff(points, axis=0)
    share = np.clip(((at - a) * d).sum(axis=1) / np.maximum((d * d).sum(axis=1), 1e-12), 0, 1)
    return float(np.hypot(*(a + share[:, None] * d - at).T).min())


def paint_image(p: QPainter, image: Any, record: Underlay, corner: np.ndarray, fade: float) -> None:
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
