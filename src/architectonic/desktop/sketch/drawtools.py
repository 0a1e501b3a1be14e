"""Drawing tools of the sketch canvas: clicks, snaps and keys become edits of the session."""

from __future__ import annotations

import math
from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from architectonic.base import tolerance
from architectonic.base.places import FIXED, X_AXIS, Y_AXIS, curve_of, point_on
from architectonic.describe.drawn.readings import XY, foot
from architectonic.describe.words.sentences import CONSTRAINTS
from architectonic.desktop.kit import theme
from architectonic.desktop.sketch.edits import SketchEdits
from architectonic.desktop.sketch.player import Player
from architectonic.desktop.sketch.tools import TOOLS, Clicks, called
from architectonic.desktop.sketch.view import SketchView
from architectonic.quantities.syntax import name_and_value
from architectonic.session.sketch.holding import grown_from
from architectonic.session.sketch.pulling import Grip
from architectonic.session.sketch.sketching import Sketching
from architectonic.session.sketch.snapping import Snapped, inferred, snap
from architectonic.sketch.curves import paths

SNAP_PIXELS = 10.0
CLICK, AXIS = 7.0, 4.0
"""Pixels within which a click is on a curve, and on an axis."""


class DrawTools(SketchEdits):
    """The active tool of a canvas, what was clicked so far, and the point that is being pulled; plays dimensions."""

    def __init__(self, canvas: SketchView) -> None:
        super().__init__(canvas)
        self.player = Player(canvas)
        self.tool = ""
        self.clicked: list[Snapped] = []
        self.at: Snapped | None = None
        self.held = ""
        self.told = ""
        self.sides, self.words, self.height = 6, "TEXT", "5 mm"
        self._pulled: Grip | None = None

    # --- state ----------------------------------------------------------------------------------------

    def start(self, tool: str) -> None:
        """Take up a tool; again to lay it down."""
        self.tool = "" if tool == self.tool else tool
        self.clicked = []
        self.canvas.shown.selection_changed.emit()
        self.canvas.update()

    def stop(self) -> bool:
        """Esc: end the chain, then lay the tool down, then let chosen curves go; True when anything was."""
        if self.clicked:
            self.clicked = []
        elif self.tool:
            self.start(self.tool)
        elif self.canvas.shown.curves or self.canvas.shown.constraint:
            self.canvas.shown.curves, self.canvas.shown.constraint = [], ""
            self.canvas.shown.selection_changed.emit()
        else:
            return False
        self.canvas.update()
        return True

    def forget_gone(self) -> None:
        """After an undo: clicks on what is no more are let go, and what is chosen too; the tool stays in hand."""
        sketch = self.canvas.sketch
        known = {*FIXED, *(sketch.curves if sketch is not None else ())}
        if any(c.place and curve_of(c.place) not in known for c in self.clicked):
            self.clicked = []
        shown = self.canvas.shown
        if sketch is not None and any(curve_of(p) not in known for p in shown.curves):
            shown.curves = [p for p in shown.curves if curve_of(p) in known]

    def hint(self) -> str:
        """What the next click does."""
        if not self.tool:
            return ""
        tool = TOOLS[self.tool]
        left = len(tool.clicks) - 1 - len(self.clicked)
        typed = " or type a size" if tool.sizes and left == 0 else ""
        return f"{tool.title}: {tool.clicks[min(len(self.clicked), len(tool.clicks) - 1)]}{typed}.  Esc ends"

    # --- pointer --------------------------------------------------------------------------------------

    def snapped(self, q: QPointF, plain: bool = False) -> Snapped:
        """What a click near a pixel would mean; `plain` holds all snapping but to points off."""
        solved = self.canvas.solved
        at = self.canvas.to_sketch(q)
        if solved is None:
            return Snapped(at)
        found = snap(solved, at, SNAP_PIXELS / self.canvas.scale, self.canvas.grid_step(), self.canvas.out_of_picking())
        rim = bool(found.ways) and self.tool in TOOLS and len(self.clicked) in TOOLS[self.tool].rims
        return Snapped(at) if (plain or rim) and not found.place else found

    def move(self, q: QPointF, plain: bool = False) -> None:
        """Show where the next click would land, and what would be inferred from it."""
        if self.tool:
            self.at = self.snapped(q, plain)
            self.told = "" if TOOLS[self.tool].picks else self.at.told
            if self.tool == "line" and self.clicked and not plain:
                sketch = self.canvas.sketch
                meant = inferred(sketch, self.clicked[0], self.at) if sketch is not None else None
                if meant is not None:
                    self.told = ", ".join(t for t in (CONSTRAINTS[meant[0]], self.told) if t)
            self.canvas.update()

    def click(self, q: QPointF, plain: bool) -> None:
        """A click of the active tool; `plain` holds inference off."""
        tool = TOOLS[self.tool]
        landed = Snapped(self.canvas.to_sketch(q)) if tool.picks else self.snapped(q, plain)
        clicks = [*self.clicked, landed._replace(under=find_curve(self.canvas, q))]
        if tool.many or len(clicks) < len(tool.clicks):
            self.clicked = clicks
            self.canvas.update()
            return
        self._draw(clicks, plain, {})

    def finish(self) -> bool:
        """Enter: draw what takes any number of clicks; False when there is nothing to end."""
        if not self.tool or not TOOLS[self.tool].many or len(self.clicked) < 2:
            return False
        self._draw(list(self.clicked), False, {})
        return True

    def type_sizes(self, first: str) -> bool:
        """Open fields for the sizes of what is being drawn; False when there is nothing to size yet."""
        tool = TOOLS.get(self.tool)
        if tool is None or not tool.sizes or len(self.clicked) != len(tool.clicks) - 1 or self.at is None:
            return False
        at, clicks = self.at, list(self.clicked)

        def done(texts: dict[str, str]) -> bool:
            # a typed size is not also snapped to: the pointer gives the direction alone
            end = Snapped(at.at) if any(texts.values()) else at
            return self._draw([*clicks, end], False, texts)

        self.canvas.sizes.start(tool.sizes, first, self.canvas.to_screen(at.at), done, self.field)
        return True

    def _draw(self, at: list[Snapped], plain: bool, texts: dict[str, str]) -> bool:
        """Draw with all clicks made; typed sizes become dimensions."""
        key, tool = self.tool, TOOLS[self.tool]
        kinds = dict(tool.sizes)
        typed = frozenset(word for word, text in texts.items() if text)
        near = SNAP_PIXELS / self.canvas.scale
        clicks = Clicks(at, plain, typed, self.sides, self.words, self.height, near)

        def draw(editing: Sketching) -> None:
            known = set(editing.drawing.sketch.curves)
            of = tool.draw(editing, clicks) or {}
            for word in typed:
                name, value = name_and_value(texts[word])
                editing.constrain(kinds[word], *of[word], value=value, name=name)
            if typed:
                grown_from(editing, editing.drawing.sketch.curves.keys() - known, clicks.at[0].at)

        done = self.apply(called(key), draw)
        if done or tool.picks:
            # a chain of lines goes on from the end it just drew, unless that closed on something
            chained = done and key == "line" and not at[-1].place and not typed
            end = self._end_of_last() if chained else None
            self.clicked = [end] if end else []
        return done

    def _end_of_last(self) -> Snapped | None:
        sketch = self.canvas.sketch
        if sketch is None or not sketch.curves:
            return None
        key = next(reversed(sketch.curves))
        end = getattr(sketch.curves[key], "end", None)
        return Snapped(end, point_on(key, "end")) if end else None

    # --- pulling --------------------------------------------------------------------------------------

    def take_up(self, place: str) -> None:
        """Take a free point up: from here the sketch is solved at every move, from where it last stood."""
        editing = self.sketching()
        self._pulled = Grip(editing, place) if editing is not None else None
        self.held = place if self._pulled is not None else ""

    def drag_to(self, q: QPointF, steps: int = 2) -> None:
        """Pull the held point; where the sketch cannot follow it stays."""
        assert self._pulled is not None
        result = self._pulled.to(self.canvas.to_sketch(q), steps)
        if result is not None:
            self.canvas.live = result
            self.canvas.update()

    def drop(self) -> bool:
        """End of a drag: one edit; False when nothing was pulled."""
        pulled, result = self._pulled, self.canvas.live
        self.held, self._pulled = "", None
        if pulled is None or result is None:
            return False
        name = pulled.editing.drawing.sketch.name
        return self.canvas.desk.apply(f"drag a point in {name}", lambda _: pulled.stored(result))

    # --- painting -------------------------------------------------------------------------------------

    def paint(self, p: QPainter) -> None:
        """Rubber line, snap mark, chosen curves' hint."""
        hint = self.hint()
        if self.tool and self.at is not None:
            here = self.canvas.to_screen(self.at.at)
            p.setPen(QPen(QColor(theme.PLUM), 1.3, Qt.PenStyle.DashLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            if self.clicked:
                self._paint_rubber(p, here)
            if self.at.holds and not TOOLS[self.tool].picks:
                p.setPen(QPen(QColor(theme.PLUM), 1.4))
                p.drawRect(QRectF(here.x() - 5, here.y() - 5, 10, 10))
            if self.told:
                p.setFont(theme.font(11, 500))
                room = QRectF(here.x() + 14, here.y() - 26, p.fontMetrics().horizontalAdvance(self.told) + 10, 18)
                p.fillRect(room, theme.colour(theme.PLUM_TINT, 0.95))
                p.setPen(QColor(theme.PLUM_TEXT))
                p.drawText(room, Qt.AlignmentFlag.AlignCenter, self.told)
        if hint:
            p.setFont(theme.font(12))
            p.setPen(QColor(theme.SOFT))
            p.drawText(QPointF(20, self.canvas.height() - 16), hint)

    def _paint_rubber(self, p: QPainter, here: QPointF) -> None:
        """What the next click would draw."""
        start = self.canvas.to_screen(self.clicked[0].at)
        if self.tool == "rectangle":
            p.drawRect(QRectF(start, here).normalized())
        elif self.tool == "rectangle_about":
            p.drawRect(QRectF(start + (start - here), here).normalized())
        elif self.tool == "circle":
            r = math.hypot(here.x() - start.x(), here.y() - start.y())
            p.drawEllipse(start, r, r)
        elif self.tool == "arc" and len(self.clicked) == 2:
            first = self.canvas.to_screen(self.clicked[1].at) - start
            r = math.hypot(first.x(), first.y())
            a0 = math.degrees(math.atan2(-first.y(), first.x()))
            a1 = math.degrees(math.atan2(start.y() - here.y(), here.x() - start.x()))
            p.drawArc(QRectF(start.x() - r, start.y() - r, 2 * r, 2 * r), round(a0 * 16), round((a1 - a0) % 360 * 16))
        elif self.tool == "spline":
            for a, b in pairwise(_smooth([*(c.at for c in self.clicked), self.canvas.to_sketch(here)])):
                p.drawLine(self.canvas.to_screen(a), self.canvas.to_screen(b))
        else:
            for one, two in pairwise([*(self.canvas.to_screen(c.at) for c in self.clicked), here]):
                p.drawLine(one, two)


def _smooth(points: list[XY]) -> list[XY]:
    """The curve through points, as a polyline; the points alone where two of them are in one place."""
    if any(math.dist(a, b) < tolerance.FEATURE for a, b in pairwise(points)):
        return points
    values = tuple(c for p in (*points, *paths.first_handles(points)) for c in p)
    found = paths.spline("spline", values, paths.parameters(points))
    return [(float(x), float(y)) for x, y in paths.at(found, paths.grid(found, 0.0, 1.0))]


def find_axis(canvas: SketchView, q: QPointF) -> str:
    """The axis within a few pixels, "" for none."""
    o = canvas.to_screen((0.0, 0.0))
    if abs(q.y() - o.y()) < AXIS:
        return X_AXIS
    return Y_AXIS if abs(q.x() - o.x()) < AXIS else ""


def find_curve(canvas: SketchView, q: QPointF) -> str:
    """The curve within a few pixels that can be picked, "" for none."""
    solved = canvas.solved
    if solved is None:
        return ""
    at, without = canvas.to_sketch(q), canvas.out_of_picking()
    away = {k: math.dist(foot(c, at), at) for k, c in solved.curves.items() if k not in without}
    best = min(away, key=lambda k: away[k], default="")
    return best if best and away[best] < CLICK / canvas.scale else ""
