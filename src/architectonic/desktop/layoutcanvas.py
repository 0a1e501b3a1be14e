"""A layout's sketches seen square on: solved curves, freedoms by colour and weight, dimensions to type into."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QMouseEvent, QPainter, QPainterPath, QPen, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from architectonic.describe.readings import point_values
from architectonic.describe.results import CurveResult, Node, RegionResult, SketchResult
from architectonic.describe.sentences import target
from architectonic.describe.sketch import as_region
from architectonic.desktop import dimensions, theme
from architectonic.desktop.drawtools import DrawTools, find_curve
from architectonic.desktop.shown import Shown
from architectonic.desktop.sizefields import SizeFields
from architectonic.desktop.sources import reach
from architectonic.desktop.workbench import Workbench
from architectonic.family import edits, names
from architectonic.family.records import SELF, Constraint, Family, Model, Sketch, Trace
from architectonic.quantities import units
from architectonic.session.feeding import extent, middle
from architectonic.session.sketching import drawn, refuse_conflict
from architectonic.sketch.regions import contains

XY = tuple[float, float]


class LayoutCanvas(QWidget):
    """One sketch at a time: the chosen one, else the first. A double-click on a dimension types its value.

    Signals:
        reach (str): how far the dimension being typed reaches, "" when typing ended.
    """

    reach = pyqtSignal(str)

    def __init__(self, bench: Workbench, shown: Shown) -> None:
        super().__init__()
        self.bench, self.shown = bench, shown
        self.scale, self.centre = 1.0, (0.0, 0.0)
        self._framed = ""
        self._untouched = True
        self._drag: QPointF | None = None
        self._labels: list[tuple[QRectF, Constraint]] = []
        self._editor: QLineEdit | None = None
        self._hover: str = ""
        self.tools = DrawTools(self)
        self.sizes = SizeFields(self)
        self.live: SketchResult | None = None
        self._region = ""
        self._curve = ""
        self._meter = QRectF()
        self._arrows: dict[str, list[XY]] = {}
        self._carried: tuple[str, XY] | None = None  # a dimension whose text is being moved
        self._pressed = QPointF()
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(320, 240)
        self.setAccessibleName("Sketch canvas")
        for signal in (bench.evaluated, shown.selection_changed, shown.changed):
            signal.connect(self.refresh)

    @property
    def sketch(self) -> Sketch | None:
        """The sketch that is shown."""
        document = self.shown.document
        if not isinstance(document, Model):
            return None
        found = [o for o in document.build if isinstance(o, Sketch)]
        chosen = [o for o in found if o.id == self.shown.operation]
        return next(iter(chosen or found), None)

    @property
    def solved(self) -> SketchResult | None:
        """Its solution in the shown configuration; while a point is pulled, that of the moment."""
        if self.live is not None:
            return self.live
        sketch, at, evaluation = self.sketch, self.shown.at, self.bench.evaluation
        if sketch is None or at is None or evaluation is None:
            return None
        value = evaluation.value(Node("solve", *at, sketch.id))
        if value is None and self.shown.disagreeing(sketch.id):
            return drawn(sketch)
        return value if isinstance(value, SketchResult) else None

    def refresh(self) -> None:
        """Follow the evaluation; frame a sketch when it is first shown."""
        if not self.tools.held:
            self.live = None
        sketch, solved = self.sketch, self.solved
        if sketch is not None and solved is not None and self._framed != sketch.id and self.isVisible():
            self._framed = sketch.id
            self.frame_all()
        self.update()

    def resizeEvent(self, event: object) -> None:
        """A view that nobody moved shows the whole sketch."""
        super().resizeEvent(event)  # type: ignore[arg-type]
        if self._untouched and self._framed:
            self.frame_all()

    def showEvent(self, event: object) -> None:
        """Catch up."""
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def frame_all(self) -> None:
        """Show the whole sketch."""
        solved = self.solved
        if solved is None:
            return
        drawn = [c for c in solved.curves.values() if not c.fixed] or list(solved.curves.values())
        points = [p for c in drawn for p in _extent(c)] or [(-50.0, -50.0), (50.0, 50.0)]
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        self.centre = ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
        width, height = max(max(xs) - min(xs), 1.0), max(max(ys) - min(ys), 1.0)
        room = (max(self.width() - 190, 100) / width, max(self.height() - 200, 100) / height)  # dimensions stand around
        self.scale = 0.95 * min(room)
        self._untouched = True
        self.update()

    def to_screen(self, p: XY) -> QPointF:
        """Sketch coordinates to pixels."""
        return QPointF(
            self.width() / 2 + (p[0] - self.centre[0]) * self.scale,
            self.height() / 2 + 18 - (p[1] - self.centre[1]) * self.scale,
        )

    def to_sketch(self, q: QPointF) -> XY:
        """Pixels to sketch coordinates."""
        return (
            (q.x() - self.width() / 2) / self.scale + self.centre[0],
            (self.height() / 2 + 18 - q.y()) / self.scale + self.centre[1],
        )

    # --- painting -------------------------------------------------------------------------------------

    def paintEvent(self, _: object) -> None:
        """Axes, curves, dimensions."""
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), QColor(theme.PAPER))
        sketch, solved = self.sketch, self.solved
        self._labels = []
        if sketch is None or solved is None:
            p.setFont(theme.font(12))
            p.setPen(QColor(theme.SOFT))
            p.drawText(
                self.rect(),
                Qt.AlignmentFlag.AlignCenter,
                "No sketch here yet" if sketch is None else "This sketch gives no curves: see what needs attention",
            )
            return
        self._paint_axes(p)
        for region in solved.regions:
            self._paint_region(p, region)
        bad = {p.split(".")[0] for c in sketch.constraints if c.id in self.shown.disagreeing(sketch.id) for p in c.of}
        for key, curve in solved.curves.items():
            self._paint_curve(p, curve, key in solved.free, key in self.shown.curves)
            if key in bad:
                self._paint_conflict(p, curve)
        lit = {*self.shown.lit, self.shown.constraint}
        moved = {p.split(".")[0] for c in sketch.constraints if c.id in lit for p in c.of}
        for key in moved & set(solved.curves):
            self._trace(p, solved.curves[key], QPen(theme.colour(theme.PLUM, 0.4), 4))
        if self._curve in solved.curves and self._curve not in self.shown.curves:
            self._paint_hover(p, sketch, solved.curves[self._curve])
        for place in self.shown.curves:
            if "." in place or place == "origin":
                p.setPen(QPen(QColor(theme.PLUM), 2))
                p.setBrush(QColor(theme.FIELD))
                p.drawEllipse(self.to_screen(point_values(solved, place)), 5, 5)
        for constraint in sketch.constraints:
            if constraint.value is not None or constraint.reads:
                self._paint_dimension(p, sketch, constraint, solved)
        if self._arrows:
            self._paint_arrows(p, solved)
        self._paint_meter(p, sketch, solved)
        self.tools.paint(p)

    def _paint_axes(self, p: QPainter) -> None:
        p.setPen(QPen(QColor(theme.HAIR), 1, Qt.PenStyle.DashDotLine))
        o = self.to_screen((0, 0))
        p.drawLine(QPointF(0, o.y()), QPointF(self.width(), o.y()))
        p.drawLine(QPointF(o.x(), 0), QPointF(o.x(), self.height()))

    def _paint_region(self, p: QPainter, region: RegionResult) -> None:
        """Shade a chosen region plainly, the one under the pointer lightly."""
        sketch, chosen = self.shown.regions
        picked = self.sketch is not None and sketch == self.sketch.id and region.label in chosen
        if not picked and region.label != self._region:
            return
        path = QPainterPath()
        for loop in as_region(region).loops:
            points = [self.to_screen(q.at(k / 24)) for q in loop for k in range(25 if q.radius else 2)]
            path.addPolygon(QPolygonF(points))
            path.closeSubpath()
        p.fillPath(path, theme.colour(theme.PLUM, 0.28 if picked else 0.12))

    def region_at(self, q: QPointF) -> str:
        """Label of the smallest region under a pixel, "" for none."""
        solved = self.solved
        if solved is None:
            return ""
        x, y = self.to_sketch(q)
        found = [
            r
            for r in map(as_region, solved.regions)
            if contains(r.loops[0], (x, y)) and not any(contains(hole, (x, y)) for hole in r.loops[1:])
        ]
        return min(found, key=lambda r: r.area).label if found else ""

    def _paint_curve(self, p: QPainter, c: CurveResult, free: bool, chosen: bool) -> None:
        if chosen:
            pen = QPen(QColor(theme.PLUM), 3)
        elif c.fixed:
            pen = QPen(QColor(theme.MOSS), 1.5, Qt.PenStyle.DashDotLine)
        elif c.helper and c.kind != "point":
            pen = QPen(QColor(theme.HELPER), 1.1, Qt.PenStyle.DashLine)
        else:
            pen = QPen(QColor(theme.FREE if free else theme.HELD), 1.4 if free else 2.2)
        self._trace(p, c, pen)
        for q in _points(c):
            p.setPen(QPen(pen.color(), 1.4))
            p.setBrush(QColor(theme.FIELD) if free else pen.color())
            p.drawEllipse(self.to_screen(q), 3, 3)

    def _trace(self, p: QPainter, c: CurveResult, pen: QPen) -> None:
        """Draw along a curve."""
        p.setPen(pen)
        p.setBrush(Qt.BrushStyle.NoBrush)
        v = c.values
        if c.kind == "line":
            p.drawLine(self.to_screen((v[0], v[1])), self.to_screen((v[2], v[3])))
        elif c.kind in ("circle", "arc"):
            o = self.to_screen((v[0], v[1]))
            r = (v[2] if c.kind == "circle" else v[6]) * self.scale
            box = QRectF(o.x() - r, o.y() - r, 2 * r, 2 * r)
            if c.kind == "circle":
                p.drawEllipse(box)
            else:
                a0 = math.degrees(math.atan2(v[3] - v[1], v[2] - v[0]))
                a1 = math.degrees(math.atan2(v[5] - v[1], v[4] - v[0]))
                p.drawArc(box, round(a0 * 16), round(((a1 - a0) % 360) * 16))

    def _paint_dimension(self, p: QPainter, sketch: Sketch, c: Constraint, solved: SketchResult) -> None:
        value, document = self.shown.value("value", c.id), self.shown.document
        if value is None or document is None:
            return
        shown = f"{dimensions.PREFIX.get(c.kind, '')}{units.shown(value, names.unit_of(c), 2)}"
        if c.reads:
            shown = f"({shown})"  # a reference dimension (ISO 129-1)
        computed = c.value is not None and bool(c.value.refs)
        text = names.shown_text(self.bench.family, document, c.value, sketch) if c.value and computed else ""
        moved = edits.replace(c, at=self._carried[1]) if self._carried and self._carried[0] == c.id else c
        figure = dimensions.Figure(moved, shown, text)
        stacked = sum(set(d.of) == set(c.of) for _, d in self._labels)
        placed = dimensions.laid_out(figure, solved, self.to_screen, len(self._labels), stacked)
        self._labels.append(
            (
                dimensions.paint(
                    p, figure, placed, c.id in (self._hover, self.shown.constraint, *self.shown.lit), self.width()
                ),
                c,
            )
        )

    def _paint_arrows(self, p: QPainter, solved: SketchResult) -> None:
        """How every free point can still move."""
        p.setPen(QPen(QColor(theme.OCHRE), 2))
        p.setBrush(QColor(theme.OCHRE))
        for place, directions in self._arrows.items():
            at = self.to_screen(point_values(solved, place))
            for dx, dy in directions:
                for sign in (1, -1):
                    d = QPointF(dx * sign, -dy * sign)
                    tip, side = at + d * 34, QPointF(-d.y(), d.x()) * 4
                    p.drawLine(at + d * 8, tip)
                    p.drawPolygon(QPolygonF([tip + d * 7, tip + side, tip - side]))

    def _paint_conflict(self, p: QPainter, c: CurveResult) -> None:
        """Red, with a ringed cross in its middle: never colour alone."""
        self._trace(p, c, QPen(QColor(theme.RED), 3))
        at = self.to_screen(middle(c))
        p.setBrush(QColor(theme.PAPER))
        p.setPen(QPen(QColor(theme.RED), 1.6))
        p.drawEllipse(at, 7, 7)
        p.drawLine(at + QPointF(-3, -3), at + QPointF(3, 3))
        p.drawLine(at + QPointF(-3, 3), at + QPointF(3, -3))

    def _paint_hover(self, p: QPainter, sketch: Sketch, c: CurveResult) -> None:
        """The curve under the pointer, lit, and what it is."""
        self._trace(p, c, QPen(theme.colour(theme.PLUM, 0.4), 4))
        record = sketch.curves.get(self._curve)
        size = extent(c)
        told = {"line": "Line", "circle": "Circle R", "arc": "Arc R", "point": "Point"}[c.kind]
        told += f" {units.shown(size, 'mm', 2)}" if size is not None else ""
        told += ", helper" if c.helper and not c.fixed else ""
        document = self.shown.document
        if isinstance(record, Trace) and isinstance(document, Model):
            told += f", traced from {target(self.bench.family, document, record.source)}; double-click opens it"
        p.setFont(theme.font(11, 500))
        p.setPen(QColor(theme.INK))
        p.drawText(QPointF(20, self.height() - 16), told)

    def _paint_meter(self, p: QPainter, sketch: Sketch, solved: SketchResult) -> None:
        p.setFont(theme.font(12, 600))
        many = len(self.shown.disagreeing(sketch.id))
        told = (
            f"{many} constraints disagree"
            if many
            else "held"
            if not solved.freedoms
            else f"{solved.freedoms} freedom{'s' if solved.freedoms != 1 else ''} left"
        )
        text = f"Sketch {sketch.name}: {told}"
        w = QFontMetricsF(p.font()).horizontalAdvance(text) + 24
        box = QRectF(self.width() - w - 14, self.height() - 44, w, 30)  # the verbs stand on top
        p.setPen(QPen(QColor(theme.LINE), 1))
        p.setBrush(QColor(theme.FIELD))
        p.drawRoundedRect(box, 6, 6)
        self._meter = box
        p.setPen(QColor(theme.RED_TEXT if many else theme.HELD if not solved.freedoms else theme.OCHRE_TEXT))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    # --- pointer --------------------------------------------------------------------------------------

    def _label_at(self, q: QPointF) -> Constraint | None:
        return next((c for box, c in reversed(self._labels) if box.contains(q)), None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Middle button slides."""
        assert event is not None
        self.setFocus()
        self._pressed = event.position()
        if event.button() == Qt.MouseButton.MiddleButton:
            self._drag = event.position()
        elif event.button() == Qt.MouseButton.LeftButton and self.sketch is not None:
            self._press(event.position(), event.modifiers())

    def _press(self, q: QPointF, keys: Qt.KeyboardModifier) -> None:
        """A tool's click, a free point to pull, a curve to choose, or a region."""
        assert self.sketch is not None
        plain = bool(keys & Qt.KeyboardModifier.AltModifier)
        if self.tools.tool:
            self.tools.click(q, plain)
            return
        label = self._label_at(q)
        if label is not None:
            self._carried = (label.id, self.to_sketch(q))
            return
        many = bool(keys & Qt.KeyboardModifier.ShiftModifier)
        landed = self.tools.snapped(q)
        free = self.solved.free if self.solved else ()
        if landed.place and landed.place != "origin" and landed.place.split(".")[0] in free and not many:
            self.tools.take_up(landed.place)
            return
        place = landed.place or find_curve(self, q)
        if place:
            self.choose(place, many)
            return
        self.shown.curves, self.shown.constraint = [], ""
        self._pick_region(self.sketch.id, self.region_at(q))

    def choose(self, place: str, many: bool = False) -> None:
        """Choose a point or curve; with others when many, and let it go when it was chosen."""
        self.shown.constraint = ""
        was = place in self.shown.curves
        kept = [k for k in self.shown.curves if k != place] if many else []
        self.shown.curves = kept if was and many else [*kept, place]
        self.shown.selection_changed.emit()

    def choose_constraint(self, key: str) -> None:
        """Choose a dimension or constraint; its curves are lit."""
        self.shown.constraint, self.shown.curves = key, []
        self.shown.selection_changed.emit()

    def show_hold(self, places: tuple[str, ...]) -> None:
        """Light what a proposal is about."""
        self.shown.curves = [p for p in places if p not in ("origin", "x_axis", "y_axis")]
        self.update()

    def _pick_region(self, sketch: str, label: str) -> None:
        """Choose a region or let it go; regions of another sketch are let go."""
        chosen = self.shown.regions[1] if self.shown.regions[0] == sketch else ()
        if not label:
            chosen = ()
        else:
            chosen = tuple(k for k in chosen if k != label) if label in chosen else (*chosen, label)
        self.shown.regions = (sketch, chosen)
        self.shown.selection_changed.emit()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Slide, or light the dimension under the pointer."""
        assert event is not None
        if self._drag is not None:
            self._untouched = False
            d = event.position() - self._drag
            self._drag = event.position()
            self.centre = (self.centre[0] - d.x() / self.scale, self.centre[1] + d.y() / self.scale)
            self.update()
            return
        if self._carried is not None:
            if (event.position() - self._pressed).manhattanLength() > 4:
                self._carried = (self._carried[0], self.to_sketch(event.position()))
                self.update()
            return
        if self.tools.held:
            if self.live is not None or (event.position() - self._pressed).manhattanLength() > 4:
                self.tools.drag_to(event.position())
            return
        self.tools.move(event.position())
        over = self._meter.contains(event.position())
        if over != bool(self._arrows):
            editing = self.tools.sketching() if over else None
            self._arrows = editing.motions() if editing is not None else {}
            self.update()
        found = self._label_at(event.position())
        hover = found.id if found else ""
        curve = "" if found or self.tools.tool else find_curve(self, event.position())
        region = "" if found or curve else self.region_at(event.position())
        if (hover, region, curve) != (self._hover, self._region, self._curve):
            self._hover, self._region, self._curve = hover, region, curve
            self.setCursor(Qt.CursorShape.IBeamCursor if hover else Qt.CursorShape.ArrowCursor)
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """The drag is over."""
        self._drag = None
        carried, self._carried = self._carried, None
        if carried is not None and event is not None:
            if (event.position() - self._pressed).manhattanLength() > 4:
                document, (key, at) = self.shown.document_id, carried
                self.bench.apply("move a dimension", lambda f: edits.place_dimension(f, document, key, at))
            else:
                self.choose_constraint(carried[0])
            return
        if self.tools.held and event is not None:
            place = self.tools.held
            if self.live is not None:
                self.tools.drag_to(event.position(), 10)
            if not self.tools.drop():
                self.choose(place)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Type a dimension."""
        assert event is not None
        self._carried = None
        found = self._label_at(event.position())
        if found is not None:
            self.edit(found.id)
            return
        curve = find_curve(self, event.position())
        record = self.sketch.curves.get(curve) if self.sketch is not None else None
        if isinstance(record, Trace):
            self.open_source(record)

    def open_source(self, trace: Trace) -> None:
        """Show the sketch that a traced curve comes from beside this one."""
        source, document = trace.source, self.shown.document
        for feed in getattr(document, "feeds", {}).values():
            if source.item in feed.sockets:
                source = feed.sockets[source.item].source
        of = self.shown.document_id if source.of == SELF else source.of
        self.bench.show_beside(of, source.item)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom to the pointer."""
        assert event is not None
        self._untouched = False
        factor = 1.1 ** (event.angleDelta().y() / 120)
        q = event.position()
        dx, dy = (q.x() - self.width() / 2) / self.scale, (self.height() / 2 + 18 - q.y()) / self.scale
        self.centre = (self.centre[0] + dx * (1 - 1 / factor), self.centre[1] + dy * (1 - 1 / factor))
        self.scale *= factor
        self.update()

    def edit(self, dimension: str) -> QLineEdit | None:
        """Open the field of a dimension over its text."""
        entry = next(((box, c) for box, c in self._labels if c.id == dimension), None)
        sketch, document = self.sketch, self.shown.document
        if entry is None or sketch is None or document is None:
            return None
        box, c = entry
        if c.value is None:
            self.bench.told.emit("This figure is only read: Drive makes it decide.", True)
            return None
        old = names.shown_text(self.bench.family, document, c.value, sketch)
        self._close_editor()
        editor = self._editor = QLineEdit(old, self)
        editor.setGeometry(int(box.center().x()) - 90, int(box.y()) - 2, 180, 24)
        editor.setAccessibleName(f"value of {c.name or c.kind}")
        editor.selectAll()
        editor.show()
        editor.setFocus()

        def enter() -> None:
            text = editor.text().strip()
            document_id, at, sketch_id = self.shown.document_id, self.shown.at, sketch.id
            assert at is not None

            def change(family: Family) -> Family:
                return refuse_conflict(family, edits.set_value(family, document_id, c.id, text), at, sketch_id)

            if text == old or self.bench.apply(f"{c.name or c.kind} {old} → {text}", change):
                self._close_editor()
            else:
                editor.selectAll()

        editor.returnPressed.connect(enter)
        told = reach(self.bench, self.shown.document_id, c.id, "", c.name or c.kind.replace("_", " "))
        self.reach.emit(told)
        return editor

    def _close_editor(self) -> None:
        if self._editor is not None:
            self._editor.deleteLater()
            self.reach.emit("")
            self._editor = None
            self.setFocus()

    def keyPressEvent(self, event: object) -> None:
        """Home frames; Esc closes the field."""
        key = event.key()  # type: ignore[attr-defined]
        if key == Qt.Key.Key_Home:
            self.frame_all()
        elif key == Qt.Key.Key_Escape:
            if not self.tools.stop():
                self._close_editor()
        elif event.text() and event.text() in "0123456789.(" and self.tools.type_sizes(event.text()):  # type: ignore[attr-defined]
            return
        elif key == Qt.Key.Key_Delete:
            self.tools.delete()
        else:
            super().keyPressEvent(event)  # type: ignore[arg-type]


def _points(c: CurveResult) -> list[XY]:
    v = c.values
    if c.kind == "line":
        return [(v[0], v[1]), (v[2], v[3])]
    if c.kind == "arc":
        return [(v[2], v[3]), (v[4], v[5])]
    return [(v[0], v[1])]


def _extent(c: CurveResult) -> list[XY]:
    v = c.values
    if c.kind == "circle":
        return [(v[0] - v[2], v[1] - v[2]), (v[0] + v[2], v[1] + v[2])]
    return _points(c)
