"""How a sketch is drawn: axes, regions, curves by their state, dimensions, marks and the freedom meter."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, curve_of, point_of
from architectonic.describe.drawn.curves import as_pieces, as_region, points_in
from architectonic.describe.drawn.readings import extent, knows, middle, point_values, samples
from architectonic.describe.results import CurveResult, RegionResult, SketchResult
from architectonic.describe.words.blanks import counted
from architectonic.describe.words.sentences import place_words, target
from architectonic.desktop.kit import theme
from architectonic.desktop.sketch import dimensions
from architectonic.desktop.sketch import marks as sketchmarks
from architectonic.desktop.sketch.backdrop import Backdrop
from architectonic.desktop.sketch.drawtools import DrawTools
from architectonic.desktop.sketch.player import Player
from architectonic.desktop.sketch.view import SketchView
from architectonic.family import edits, names
from architectonic.family.records import Constraint, Model, Sketch, Trace
from architectonic.quantities import units
from architectonic.session.sketch.hints import hints
from architectonic.sketch.curves.kinds import SPLINES

XY = tuple[float, float]


MANY = 40
"""Dimensions beyond which those too small to read are left out."""


class Boxes:
    """Texts that stand already and points of curves, by cells of the canvas, and how many measure the same places."""

    CELL = 64

    def __init__(self, points: list[QPointF]) -> None:
        self._cells: dict[tuple[int, int], list[QRectF]] = {}
        self._same: dict[frozenset[str], int] = {}
        self._points: dict[tuple[int, int], list[QPointF]] = {}
        for q in points:
            self._points.setdefault((int(q.x() // self.CELL), int(q.y() // self.CELL)), []).append(q)

    def _over(self, box: QRectF) -> list[tuple[int, int]]:
        xs = range(int(box.left() // self.CELL), int(box.right() // self.CELL) + 1)
        ys = range(int(box.top() // self.CELL), int(box.bottom() // self.CELL) + 1)
        return [(i, j) for i in xs for j in ys]

    def same(self, of: tuple[str, ...]) -> int:
        """How many stand that measure these places."""
        return self._same.get(frozenset(of), 0)

    def covers(self, box: QRectF) -> bool:
        """Whether a text would cover another one, or a curve."""
        cells = self._over(box)
        return any(box.intersects(other) for cell in cells for other in self._cells.get(cell, ())) or any(
            box.contains(q) for cell in cells for q in self._points.get(cell, ())
        )

    def add(self, of: tuple[str, ...], placed: dimensions.Drawn, size: tuple[float, float]) -> None:
        """One more."""
        box = QRectF(placed.text.x() - size[0] / 2, placed.text.y() - size[1] / 2, *size)
        self._same[frozenset(of)] = self.same(of) + 1
        for cell in self._over(box):
            self._cells.setdefault(cell, []).append(box)


class SketchPainter:
    """Paints one picture of a canvas."""

    def __init__(self, canvas: SketchView, tools: DrawTools, player: Player, backdrop: Backdrop) -> None:
        self.canvas, self.tools, self.player, self.backdrop = canvas, tools, player, backdrop
        self.p = QPainter(canvas)

    def paint(self) -> None:
        """Everything."""
        self.p.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.p.fillRect(self.canvas.rect(), QColor(theme.PAPER))
        sketch, solved = self.canvas.sketch, self.canvas.solved
        if sketch is None or solved is None:
            self.p.setFont(theme.font(12))
            self.p.setPen(QColor(theme.SOFT))
            told = "No sketch here yet" if sketch is None else f"{sketch.name} is being solved"
            if sketch is not None and self.canvas.fails:
                told = f"{sketch.name} gives no curves: see what needs attention"
            self.canvas.tell_state("", "", theme.SOFT)
            self.p.drawText(self.canvas.rect(), Qt.AlignmentFlag.AlignCenter, told)
            return
        self.backdrop.paint(self.p)
        self._paint_axes()
        for region in solved.regions:
            self._paint_region(region)
        self._paint_curves(sketch, solved)
        for place in self.canvas.shown.curves:
            if point_of(place) or place == ORIGIN:
                self.p.setPen(QPen(QColor(theme.PLUM), 2))
                self.p.setBrush(QColor(theme.FIELD))
                self.p.drawEllipse(self.canvas.to_screen(point_values(solved, place)), 5, 5)
        small = self._paint_dimensions(sketch, solved)
        near = {*self.canvas.shown.curves, self.canvas.over_curve}
        marked = sketchmarks.chosen(sketch, near, self.canvas.marks) if not self.tools.tool else []
        self.canvas.mark_boxes = sketchmarks.paint(self.p, marked, solved, self.canvas)
        if self.canvas.arrows:
            self._paint_arrows(solved)
        if self.canvas.box is not None:
            crossing = self.canvas.box.width() < 0
            self.p.setPen(QPen(QColor(theme.PLUM), 1, Qt.PenStyle.DashLine if crossing else Qt.PenStyle.SolidLine))
            self.p.setBrush(theme.colour(theme.PLUM, 0.08))
            self.p.drawRect(self.canvas.box.normalized())
        self._tell(sketch, solved)
        self._paint_remark(sketch, solved, small)
        self.tools.paint(self.p)
        if self.canvas.offering is not None:
            self.canvas.offering.paint(self.p)

    def _paint_curves(self, sketch: Sketch, solved: SketchResult) -> None:
        """All curves by their state, then what disagrees, what is played, lit or hovered."""
        disagreeing = set(self.canvas.shown.subject.disagreeing(sketch.id))
        bad = {curve_of(p) for c in sketch.constraints if c.id in disagreeing for p in c.of}
        free, dimmed = set(solved.free), self.canvas.out_of_picking()
        for key, curve in solved.curves.items():
            self.p.setOpacity(0.3 if key in dimmed else 1.0)
            self._paint_curve(curve, key in free, key in self.canvas.shown.curves)
            if key in bad:
                self._paint_conflict(curve)
        self.p.setOpacity(1.0)
        lit = {*self.canvas.shown.lit, self.canvas.shown.constraint}
        for key in self.player.moving & set(solved.curves):
            self._trace(solved.curves[key], QPen(theme.colour(theme.PLUM, 0.3), 5))
        moved = {curve_of(p) for c in sketch.constraints if c.id in lit for p in c.of}
        for key in moved & set(solved.curves):
            self._trace(solved.curves[key], QPen(theme.colour(theme.PLUM, 0.4), 4))
        if self.canvas.over_curve in solved.curves and self.canvas.over_curve not in self.canvas.shown.curves:
            self._paint_hover(sketch, solved.curves[self.canvas.over_curve])

    def _paint_dimensions(self, sketch: Sketch, solved: SketchResult) -> int:
        """Dimensions and read-outs; returns how many were too small to be read."""
        drawn = [c for c in solved.curves.values() if not c.helper]
        points = [self.canvas.to_screen(q) for c in drawn for q in samples(c)] if len(drawn) <= MANY else []
        self._boxes = Boxes(points)
        xs, ys = [q.x() for q in points], [q.y() for q in points]
        self._centre = QPointF((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2) if points else None
        small = 0
        shown = [c for c in sketch.constraints if (c.value is not None or c.reads) and knows(solved, c.of)]
        lit = {*self.canvas.shown.lit, self.canvas.shown.constraint, self.canvas.over_hover}
        for c in shown:
            if c.kind in ("shifted", "turned") and not c.name:
                continue  # the first step stands for all
            if len(shown) > MANY and c.id not in lit and dimensions.too_small(c, solved, self.canvas.to_screen):
                small += 1
                continue
            self._paint_dimension(sketch, c, solved)
        return small

    def _paint_axes(self) -> None:
        o = self.canvas.to_screen((0, 0))
        ends = {
            X_AXIS: (QPointF(0, o.y()), QPointF(self.canvas.width(), o.y())),
            Y_AXIS: (QPointF(o.x(), 0), QPointF(o.x(), self.canvas.height())),
        }
        for axis, (a, b) in ends.items():
            chosen = axis in self.canvas.shown.curves
            pen = QPen(QColor(theme.PLUM), 2) if chosen else QPen(QColor(theme.HAIR), 1)
            pen.setStyle(Qt.PenStyle.DashDotLine)
            self.p.setPen(pen)
            self.p.drawLine(a, b)

    def _paint_region(self, region: RegionResult) -> None:
        """Shade a chosen region plainly, the one under the pointer lightly."""
        sketch, chosen = self.canvas.shown.regions
        picked = self.canvas.sketch is not None and sketch == self.canvas.sketch.id and region.label in chosen
        if not picked and region.label != self.canvas.over_region:
            return
        path = QPainterPath()
        for loop in as_region(region).loops:
            points = [self.canvas.to_screen(at) for q in loop for at in q.points()]
            path.addPolygon(QPolygonF(points))
            path.closeSubpath()
        self.p.fillPath(path, theme.colour(theme.PLUM, 0.28 if picked else 0.12))

    def _paint_curve(self, c: CurveResult, free: bool, chosen: bool) -> None:
        if chosen:
            pen = QPen(QColor(theme.PLUM), 3)
        elif c.fixed:
            pen = QPen(QColor(theme.MOSS), 1.5, Qt.PenStyle.DashDotLine)
        elif c.helper and c.kind != "point":
            pen = QPen(QColor(theme.HELPER), 1.1, Qt.PenStyle.DashLine)
        else:
            pen = QPen(QColor(theme.FREE if free else theme.HELD), 1.4 if free else 2.2)
        self._trace(c, pen)
        for q in points_of(c):
            self.p.setPen(QPen(pen.color(), 1.4))
            self.p.setBrush(QColor(theme.FIELD) if free else pen.color())
            self.p.drawEllipse(self.canvas.to_screen(q), 3, 3)

    def _trace(self, c: CurveResult, pen: QPen) -> None:
        """Draw along a curve."""
        self.p.setPen(pen)
        self.p.setBrush(Qt.BrushStyle.NoBrush)
        v = c.values
        if c.kind == "line":
            self.p.drawLine(self.canvas.to_screen((v[0], v[1])), self.canvas.to_screen((v[2], v[3])))
        elif c.kind in ("circle", "arc"):
            o = self.canvas.to_screen((v[0], v[1]))
            r = (v[2] if c.kind == "circle" else v[6]) * self.canvas.scale
            box = QRectF(o.x() - r, o.y() - r, 2 * r, 2 * r)
            if c.kind == "circle":
                self.p.drawEllipse(box)
            else:
                a0 = math.degrees(math.atan2(v[3] - v[1], v[2] - v[0]))
                a1 = math.degrees(math.atan2(v[5] - v[1], v[4] - v[0]))
                self.p.drawArc(box, round(a0 * 16), round(((a1 - a0) % 360) * 16))
        elif c.kind == "text":
            self._trace_text(c)
        elif c.kind != "point":
            self.p.drawPolyline(QPolygonF([self.canvas.to_screen(q) for q in samples(c)]))
            if c.kind in SPLINES:
                self._trace_legs(c)

    def _trace_text(self, c: CurveResult) -> None:
        """Outlines of letters, and their base line."""
        path = QPainterPath()
        for piece in as_pieces("", c):
            points = [self.canvas.to_screen(q) for q in piece.points()]
            path.addPolygon(QPolygonF(points))
        self.p.drawPath(path)
        v = c.values
        self.p.setPen(QPen(QColor(theme.HELPER), 1, Qt.PenStyle.DashLine))
        self.p.drawLine(self.canvas.to_screen((v[0], v[1])), self.canvas.to_screen((v[2], v[3])))

    def _trace_legs(self, c: CurveResult) -> None:
        """Thin lines from the ends of a spline to its handles, or along its control points."""
        points = [self.canvas.to_screen(q) for q in points_in(c.values)]
        self.p.setPen(QPen(QColor(theme.HELPER), 1, Qt.PenStyle.DotLine))
        if c.kind == "controlled":
            self.p.drawPolyline(QPolygonF(points))
        else:
            self.p.drawLine(points[0], points[-2])
            self.p.drawLine(points[-3], points[-1])

    def _paint_dimension(self, sketch: Sketch, c: Constraint, solved: SketchResult) -> None:
        value, document, playing = (
            self.canvas.shown.value("value", c.id),
            self.canvas.shown.document,
            self.player,
        )
        if playing.span is not None and playing.span.key == c.id:
            value = playing.value
        if value is None or document is None:
            return
        shown = f"{dimensions.PREFIX.get(c.kind, '')}{units.shown(value, names.unit_of(c), 2)}"
        if c.reads:
            shown = f"({shown})"  # a reference dimension (ISO 129-1)
        computed = c.value is not None and bool(c.value.refs)
        text = names.shown_text(self.canvas.desk.family, document, c.value, sketch) if c.value and computed else ""
        moved = (
            edits.replace(c, at=self.canvas.carried[1]) if self.canvas.carried and self.canvas.carried[0] == c.id else c
        )
        figure = dimensions.Figure(moved, shown, text)
        placed = self._clear_of_others(figure, solved)
        self._boxes.add(c.of, placed, figure.size)
        self.canvas.labels.append(
            (
                dimensions.paint(
                    self.p,
                    figure,
                    placed,
                    c.id in (self.canvas.over_hover, self.canvas.shown.constraint, *self.canvas.shown.lit),
                    self.canvas.width(),
                ),
                c,
            )
        )

    def _clear_of_others(self, figure: dimensions.Figure, solved: SketchResult) -> dimensions.Drawn:
        """Where a dimension goes so that its text covers no other one; where it was put by hand, there."""
        c = figure.constraint
        stacked = self._boxes.same(c.of)
        number = len(self.canvas.labels)
        wide, high = figure.size
        for more in range(5):
            placed = dimensions.laid_out(
                figure, solved, self.canvas.to_screen, number + more, stacked + more, self._centre
            )
            box = QRectF(placed.text.x() - wide / 2, placed.text.y() - high / 2, wide, high)
            if c.at is not None or not self._boxes.covers(box):
                return placed
        return dimensions.laid_out(figure, solved, self.canvas.to_screen, number, stacked, self._centre)

    def _paint_arrows(self, solved: SketchResult) -> None:
        """How every free point can still move."""
        self.p.setPen(QPen(QColor(theme.OCHRE), 2))
        self.p.setBrush(QColor(theme.OCHRE))
        for place, directions in self.canvas.arrows.items():
            at = self.canvas.to_screen(point_values(solved, place))
            for dx, dy in directions:
                for sign in (1, -1):
                    d = QPointF(dx * sign, -dy * sign)
                    tip, side = at + d * 34, QPointF(-d.y(), d.x()) * 4
                    self.p.drawLine(at + d * 8, tip)
                    self.p.drawPolygon(QPolygonF([tip + d * 7, tip + side, tip - side]))

    def _paint_conflict(self, c: CurveResult) -> None:
        """Red, with a ringed cross in its middle: never colour alone."""
        self._trace(c, QPen(QColor(theme.RED), 3))
        at = self.canvas.to_screen(middle(c))
        self.p.setBrush(QColor(theme.PAPER))
        self.p.setPen(QPen(QColor(theme.RED), 1.6))
        self.p.drawEllipse(at, 7, 7)
        self.p.drawLine(at + QPointF(-3, -3), at + QPointF(3, 3))
        self.p.drawLine(at + QPointF(-3, 3), at + QPointF(3, -3))

    def _paint_hover(self, sketch: Sketch, c: CurveResult) -> None:
        """The curve under the pointer, lit, and what it is."""
        self._trace(c, QPen(theme.colour(theme.PLUM, 0.4), 4))
        record = sketch.curves.get(self.canvas.over_curve)
        size = extent(c)
        told = {"line": "Line", "circle": "Circle R", "arc": "Arc R", "spline": "Curve", "controlled": "Curve"}.get(
            c.kind, c.kind.replace("_", " ").capitalize()
        )
        told += f" {units.shown(size, 'mm', 2)}" if size is not None else ""
        told += ", helper" if c.helper and not c.fixed else ""
        document = self.canvas.shown.document
        if isinstance(record, Trace) and isinstance(document, Model):
            told += f", traced from {target(self.canvas.desk.family, document, record.source)}; double-click opens it"
        self.p.setFont(theme.font(11, 500))
        self.p.setPen(QColor(theme.INK))
        self.p.drawText(QPointF(20, self.canvas.height() - 16), told)

    def _paint_remark(self, sketch: Sketch, solved: SketchResult, small: int) -> None:
        """The weightiest hint, small, below the drawing, while nothing else is told there."""
        idle = not self.tools.tool and not self.canvas.over_curve and self.canvas.live is None
        remarks = hints(sketch, solved) if idle and not self.canvas.shown.curves else []
        if small and idle:
            remarks.insert(0, f"{counted(small, 'dimension')} too small to read here: zoom in to see more.")
        if not remarks:
            return
        more = f"  ({len(remarks) - 1} more)" if len(remarks) > 1 else ""
        self.p.setFont(theme.font(11, 400, italic=True))
        self.p.setPen(QColor(theme.SOFT))
        room = QRectF(20, self.canvas.height() - 48, self.canvas.width() - 40, 34)
        align = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom | Qt.TextFlag.TextWordWrap
        self.p.drawText(room, int(align), f"Hint: {remarks[0]}{more}")

    def _tell(self, sketch: Sketch, solved: SketchResult) -> None:
        """Say in the caption of the pane how free the sketch is."""
        many = len(self.canvas.shown.subject.disagreeing(sketch.id))
        playing = self.player.told
        told = f"playing, {playing}" if playing else _meter(sketch, solved, many)
        colour = theme.RED_TEXT if many else theme.HELD if not solved.freedoms else theme.OCHRE_TEXT
        brief = f"{many} disagree" if many else "held" if not solved.freedoms else f"{solved.freedoms} free"
        self.canvas.tell_state(f"{sketch.name}: {told}", brief if sketch.curves else "empty", colour)


def _meter(sketch: Sketch, solved: SketchResult, many: int) -> str:
    """How many freedoms are left, or how many constraints disagree, and what is at a dead point."""
    left = solved.freedoms
    if not sketch.curves:
        return "nothing drawn yet"
    told = "held" if not left else f"{counted(left, 'freedom')} left"
    told = f"{many} constraints disagree" if many else told
    dead = [place_words(sketch, k) for k in solved.dead]
    if dead:
        told += f"; {' and '.join(dead)} at a dead point"
    return f"{told}; it had to pass a dead point" if solved.crossed else told


def points_of(c: CurveResult) -> list[XY]:
    """Ends of a line or arc, the centre of a circle; all points of others."""
    v = c.values
    if c.kind in ("ellipse", "elliptic_arc", *SPLINES):
        return points_in(v)
    if c.kind == "line":
        return [(v[0], v[1]), (v[2], v[3])]
    if c.kind == "arc":
        return [(v[2], v[3]), (v[4], v[5])]
    return [(v[0], v[1])]
