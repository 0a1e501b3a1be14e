"""A layout's sketches seen square on: solved curves, freedoms by colour and weight, dimensions to type into."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence, QMouseEvent, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QLineEdit

from architectonic.base.places import ORIGIN, curve_of, point_of
from architectonic.describe.drawn.curves import as_region
from architectonic.describe.drawn.readings import XY, samples
from architectonic.describe.results import SketchResult
from architectonic.desktop.kit.dock import LINE
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import NameField
from architectonic.desktop.pane.pane import Pane
from architectonic.desktop.sketch.backdrop import Backdrop
from architectonic.desktop.sketch.dimensionfield import open_field
from architectonic.desktop.sketch.drawtools import DrawTools, find_axis, find_curve
from architectonic.desktop.sketch.painter import SketchPainter
from architectonic.desktop.sketch.view import SketchView
from architectonic.family import edits
from architectonic.family.records import SELF, Constraint, Reference, Trace
from architectonic.session.feeds.sources import reach
from architectonic.session.sketch import holding
from architectonic.sketch.curves.regions import contains

TOGGLES = {"g": "grid", "h": "quiet", "k": "marks", "x": "cut"}
"""Keys that switch: the grid; traced and helper curves dimmed; marks of all constraints; what lies in front cut away."""


class LayoutCanvas(SketchView):
    """One sketch at a time: the chosen one, else the first. A double-click on a dimension types its value.

    Signals:
        reach (str): how far the dimension being typed reaches, "" when typing ended.
    """

    reach = pyqtSignal(str)

    def __init__(self, desk: Desk, shown: Pane) -> None:
        super().__init__(desk, shown)
        self._untouched = True
        self._drag: QPointF | None = None
        self._editor: NameField | None = None
        self.tools = DrawTools(self)
        self.backdrop = Backdrop(self)
        self.player = self.tools.player
        self._pressed = QPointF()
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(320, 160)
        self.setAccessibleName("Sketch canvas")
        for signal in (desk.evaluated, shown.selection_changed, shown.changed):
            signal.connect(self.refresh)

    def refresh(self) -> None:
        """Follow the evaluation; frame a sketch when it is first shown."""
        if not self.tools.held and self.player.span is None:
            self.live = None
        self.tools.forget_gone()
        sketch, solved = self.sketch, self.solved
        if sketch is not None and solved is not None and self._framed != sketch.id and self.isVisible():
            self._framed = sketch.id
            self.frame_all()
        elif self._untouched and self._framed and self.isVisible() and self._left() and not self._all_seen():
            self.frame_all()
        self.update()

    def _left(self) -> bool:
        """Whether nothing is being drawn, typed or dragged here: only then a view may move by itself."""
        busy = self.tools.tool or self.tools.held or self._editor is not None or self.player.span is not None
        return not busy and QGuiApplication.mouseButtons() == Qt.MouseButton.NoButton

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """A card that opens below takes height: nothing moves under the pointer, unless something would leave a view that
        nobody moved.
        """
        super().resizeEvent(event)
        old, new = (event.oldSize(), event.size()) if event is not None else (QSize(), QSize())
        if old.height() > 0:
            self.centre = (self.centre[0], self.centre[1] - (new.height() - old.height()) / 2 / self.scale)
        line = new.width() == old.width() and abs(new.height() - old.height()) <= LINE
        if self._untouched and self._framed and not (line and self._all_seen()):
            self.frame_all()

    def _extent(self, solved: SketchResult) -> list[XY]:
        """Points of all curves of its own, else of the traced ones, else of what stands behind it."""
        drawn = [c for c in solved.curves.values() if not c.fixed] or list(solved.curves.values())
        behind = self.backdrop.pieces().reshape(-1, 2)
        if not drawn and len(behind):
            (left, low), (right, high) = behind.min(axis=0), behind.max(axis=0)
            return [(float(left), float(low)), (float(right), float(high))]
        return [p for c in drawn for p in samples(c)] or [(-50.0, -50.0), (50.0, 50.0)]

    def _all_seen(self) -> bool:
        """Whether everything lies within the canvas."""
        solved, whole = self.solved, QRectF(self.rect())
        return solved is None or all(whole.contains(self.to_screen(p)) for p in self._extent(solved))

    def showEvent(self, event: object) -> None:
        """Catch up."""
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def frame_all(self) -> None:
        """Show the whole sketch."""
        solved = self.solved
        if solved is None:
            return
        points = self._extent(solved)
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        self.centre = ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
        width, height = max(max(xs) - min(xs), 1.0), max(max(ys) - min(ys), 1.0)
        room = (max(self.width() - 190, 100) / width, max(self.height() - 150, 100) / height)  # dimensions stand around
        self.scale = 0.95 * min(room)
        self._untouched = True
        self.update()

    # --- painting -------------------------------------------------------------------------------------

    def paintEvent(self, _: object) -> None:
        """Axes, curves, dimensions."""
        self.labels = []
        painter = SketchPainter(self, self.tools, self.player, self.backdrop)
        try:
            painter.paint()
        finally:
            painter.p.end()

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

    # --- pointer --------------------------------------------------------------------------------------

    def _label_at(self, q: QPointF) -> Constraint | None:
        return next((c for box, c in reversed([*self.mark_boxes, *self.labels]) if box.contains(q)), None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Middle button slides; while an expression is typed a click on a dimension puts its name there."""
        assert event is not None
        label = self._label_at(event.position())
        window = self.window() or self
        field = next((f for f in window.findChildren(NameField) if f.isVisible()), None)
        if field is not None and label is not None and event.button() == Qt.MouseButton.LeftButton:
            self.tools.name_into(field, label)
            return
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
        if self.offering is not None:
            self.offering.click(q)
            return
        if self.tools.tool:
            self.tools.click(q, plain)
            return
        label = self._label_at(q)
        if label is not None:
            self.carried = (label.id, self.to_sketch(q))
            return
        many = bool(keys & Qt.KeyboardModifier.ShiftModifier)
        landed, region = self.tools.snapped(q), self.region_at(q)
        if self.shown.gathering.drawn:
            self._give(q, landed.place, region)
            return
        free = self.solved.free if self.solved else ()
        if landed.place and landed.place != ORIGIN and curve_of(landed.place) in free and not many:
            self.tools.take_up(landed.place)
            return
        # within a region an axis is only meant when it is added to what is chosen already
        place = landed.place or find_curve(self, q) or (find_axis(self, q) if many or not region else "")
        if place:
            self.choose(place, many)
            return
        if not many:
            self.shown.curves, self.shown.constraint = [], ""
        self.box = QRectF(q, q)
        self._pick_region(self.sketch.id, region)

    def _give(self, q: QPointF, place: str, region: str) -> None:
        """A click that goes to an open sentence."""
        assert self.sketch is not None
        wants = self.shown.gathering.drawn
        if "sketch" in wants:
            self.shown.gathered.emit(Reference(item=self.sketch.id))
            return
        name = region if "region" in wants else place if "end" in wants and point_of(place) else ""
        name = name or (find_curve(self, q) if "curve" in wants else "")
        if name:
            self.shown.gathered.emit(Reference(item=self.sketch.id, label=name))

    def choose(self, place: str, many: bool = False) -> None:
        """Choose a point or curve; with others when many, and let it go when it was chosen."""
        self.shown.constraint = ""
        was = place in self.shown.curves
        kept = [k for k in self.shown.curves if k != place] if many else []
        self.shown.curves = kept if was and many else [*kept, place]
        self.shown.selection_changed.emit()

    def choose_in(self, box: QRectF) -> None:
        """Choose with a box: drawn to the right what lies inside, to the left also what it crosses."""
        solved = self.solved
        crossing, area = box.width() < 0, box.normalized()
        if solved is None:
            return
        found = list(self.shown.curves)
        for key, curve in solved.curves.items():
            points = [self.to_screen(p) for p in samples(curve)]
            inside = [area.contains(p) for p in points]
            if key not in found and (any(inside) if crossing else all(inside)):
                found.append(key)
        self.shown.curves, self.shown.regions = found, ("", ())
        self.shown.selection_changed.emit()

    def choose_constraint(self, key: str) -> None:
        """Choose a dimension or constraint; its curves are lit."""
        self.shown.constraint, self.shown.curves = key, []
        self.shown.selection_changed.emit()

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
        if self.box is not None:
            self.box.setBottomRight(event.position())
            self.update()
            return
        if self.carried is not None:
            if (event.position() - self._pressed).manhattanLength() > 4:
                self.carried = (self.carried[0], self.to_sketch(event.position()))
                self.update()
            return
        if self.tools.held:
            if self.live is not None or (event.position() - self._pressed).manhattanLength() > 4:
                self.tools.drag_to(event.position())
            return
        if self.offering is not None:
            self.offering.hover(event.position())
            return
        self.tools.move(event.position(), bool(event.modifiers() & Qt.KeyboardModifier.AltModifier))
        found = self._label_at(event.position())
        hover = found.id if found else ""
        curve = "" if found or self.tools.tool else find_curve(self, event.position())
        region = "" if found or curve else self.region_at(event.position())
        if (hover, region, curve) != (self.over_hover, self.over_region, self.over_curve):
            self.over_hover, self.over_region, self.over_curve = hover, region, curve
            self.setCursor(Qt.CursorShape.IBeamCursor if hover else Qt.CursorShape.ArrowCursor)
            self.update()

    def show_motions(self, on: bool) -> None:
        """Draw how every free point can still move, or no more."""
        editing = self.tools.sketching() if on else None
        self.arrows = holding.motions(editing) if editing is not None else {}
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """The drag is over."""
        self._drag = None
        box, self.box = self.box, None
        if box is not None and (abs(box.width()) > 6 or abs(box.height()) > 6):
            self.choose_in(box)
            return
        carried, self.carried = self.carried, None
        if carried is not None and event is not None:
            if (event.position() - self._pressed).manhattanLength() > 4:
                document, (key, at) = self.shown.document_id, carried
                self.desk.apply("move a dimension", lambda f: edits.place_dimension(f, document, key, at))
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
        self.carried = None
        if self.tools.tool and self.tools.finish():
            return
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
        self.desk.show_beside(of, source.item)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom to the pointer."""
        assert event is not None
        self._untouched = False
        factor = 1.1 ** (event.angleDelta().y() / 120)
        q = event.position()
        dx, dy = (q.x() - self.width() / 2) / self.scale, (self.height() / 2 - q.y()) / self.scale
        self.centre = (self.centre[0] + dx * (1 - 1 / factor), self.centre[1] + dy * (1 - 1 / factor))
        self.scale *= factor
        self.update()

    def edit(self, dimension: str) -> QLineEdit | None:
        """Open the field of a dimension over its text."""
        entry = next(((box, c) for box, c in self.labels if c.id == dimension), None)
        sketch, document = self.sketch, self.shown.document
        if entry is None or sketch is None or document is None:
            return None
        box, c = entry
        at = self.shown.at
        assert at is not None
        self._editor = open_field(self.desk, self, at, sketch, c, box, self._closed, self.shown.light)
        if self._editor is not None:
            self.reach.emit(
                reach(self.desk.session, self.shown.document_id, c.id, "", c.name or c.kind.replace("_", " "))
            )
        return self._editor

    def _closed(self) -> None:
        """The field of a dimension is gone."""
        self._editor = None
        self.shown.light(set())
        self.reach.emit("")
        self.setFocus()

    @staticmethod
    def _sizing(event: QKeyEvent) -> bool:
        """Whether a key begins a size: a figure, a sign, or a letter of a name."""
        text, shift = event.text(), Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.KeypadModifier
        return bool(text) and (text.isalnum() or text in ".(-_") and not event.modifiers() & ~shift

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Home frames; Esc closes the field; letters switch what is shown; figures size what is being drawn."""
        assert event is not None
        key = event.key()
        if key == Qt.Key.Key_Home:
            self.frame_all()
        elif key == Qt.Key.Key_Escape and self.offering is not None:
            self.offering.leave()
        elif key == Qt.Key.Key_Escape:
            if self._editor is not None:
                self._editor.left.emit()
            elif not self.player.stop() and not self.tools.stop():
                super().keyPressEvent(event)
        elif (key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.tools.finish()) or (
            self._sizing(event) and self.tools.type_sizes(event.text())
        ):
            return
        elif event.text() and event.text() in TOGGLES and not event.modifiers():
            name = TOGGLES[event.text()]
            setattr(self, name, not getattr(self, name))
            self.update()
        elif key == Qt.Key.Key_Delete:
            self.tools.delete()
        elif event.matches(QKeySequence.StandardKey.SelectAll) and self.sketch is not None:
            without = self.out_of_picking()
            self.shown.curves = [k for k in self.sketch.curves if k not in without]
            self.shown.selection_changed.emit()
        elif key in (Qt.Key.Key_BracketLeft, Qt.Key.Key_BracketRight) and self.offering is not None:
            self.offering.step(1 if key == Qt.Key.Key_BracketRight else -1)
        elif key == Qt.Key.Key_B:
            self.shown.backdrop = not self.shown.backdrop
            self.desk.update()
        else:
            super().keyPressEvent(event)
