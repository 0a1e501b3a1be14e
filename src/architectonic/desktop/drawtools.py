"""Drawing tools of the sketch canvas: clicks, snaps and keys become edits of the session."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from architectonic.desktop import theme
from architectonic.family.records import Family
from architectonic.session.sketching import Sketching, Snapped, begin, place_kinds, snap, snap_points

if TYPE_CHECKING:
    from architectonic.desktop.layoutcanvas import LayoutCanvas

SNAP_PIXELS = 10.0
TOOLS = {
    "line": ("Line", ("first point", "second point; Alt without horizontal or vertical")),
    "arc": ("Arc", ("centre", "start", "end, counter-clockwise")),
    "circle": ("Circle", ("centre", "a point on it")),
    "rectangle": ("Rectangle", ("first corner", "opposite corner")),
    "point": ("Point", ("where it stands",)),
}
"""Title of each drawing tool, and what each of its clicks means."""


class DrawTools:
    """The active tool of a canvas, what was clicked so far, and the chosen places."""

    def __init__(self, canvas: LayoutCanvas) -> None:
        self.canvas = canvas
        self.tool = ""
        self.clicked: list[Snapped] = []
        self.at: Snapped | None = None
        self.held = ""
        self._pulled: Sketching | None = None

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

    def hint(self) -> str:
        """What the next click does."""
        if not self.tool:
            return ""
        title, clicks = TOOLS[self.tool]
        return f"{title}: {clicks[len(self.clicked)]}.  Esc ends"

    # --- pointer --------------------------------------------------------------------------------------

    def snapped(self, q: QPointF) -> Snapped:
        """The snap point near a pixel, else the plain position."""
        sketch, solved = self.canvas.sketch, self.canvas.solved
        at = self.canvas.to_sketch(q)
        if sketch is None or solved is None:
            return Snapped(at)
        return snap(snap_points(sketch, solved), at, SNAP_PIXELS / self.canvas.scale)

    def move(self, q: QPointF) -> None:
        """Show where the next click would land."""
        if self.tool:
            self.at = self.snapped(q)
            self.canvas.update()

    def click(self, q: QPointF, plain: bool) -> None:
        """A click of the active tool; `plain` holds inference off."""
        landed = self.snapped(q)
        clicks = [*self.clicked, landed]
        if len(clicks) < len(TOOLS[self.tool][1]):
            self.clicked = clicks
            self.canvas.update()
            return
        tool = self.tool

        def draw(editing: Sketching) -> None:
            if tool == "line":
                editing.line(clicks[0], landed, infer=not plain)
            elif tool == "arc":
                editing.arc(clicks[0], clicks[1], landed)
            elif tool == "circle":
                editing.circle(clicks[0], math.dist(clicks[0].at, landed.at))
            elif tool == "rectangle":
                editing.rectangle(clicks[0], landed)
            else:
                editing.point(landed)

        if self.apply(f"draw a {tool}" if tool != "arc" else "draw an arc", draw):
            # a chain of lines goes on from the end it just drew, unless that closed on something
            end = self._end_of_last() if tool == "line" and not landed.place else None
            self.clicked = [end] if end else []

    def _end_of_last(self) -> Snapped | None:
        sketch = self.canvas.sketch
        if sketch is None or not sketch.curves:
            return None
        key = next(reversed(sketch.curves))
        end = getattr(sketch.curves[key], "end", None)
        return Snapped(end, f"{key}.end") if end else None

    # --- edits ----------------------------------------------------------------------------------------

    def apply(self, label: str, edit: object) -> bool:
        """Carry out an edit of the sketch through the workbench."""
        canvas, bench = self.canvas, self.canvas.bench
        sketch, at, evaluation = canvas.sketch, canvas.shown.at, bench.evaluation
        if sketch is None or at is None or evaluation is None:
            return False

        def change(family: Family) -> Family:
            editing = begin(family, at, sketch.id, evaluation)
            edit(editing)  # type: ignore[operator]
            return editing.stored()

        return bench.apply(f"{label} in {sketch.name}", change)

    def kinds(self) -> tuple[str, ...]:
        """What the chosen places are, in the order of `places`."""
        sketch = self.canvas.sketch
        return () if sketch is None else place_kinds(sketch, self.canvas.solved, self.places())

    def places(self) -> list[str]:
        """The chosen places in the order that constraints expect: points first, axes last."""
        sketch, chosen = self.canvas.sketch, self.canvas.shown.curves
        if sketch is None:
            return []
        rank = {"point": 0, "line": 1, "circle": 2, "arc": 2}
        kinds = dict(zip(chosen, place_kinds(sketch, self.canvas.solved, chosen), strict=True))
        return sorted(chosen, key=lambda p: (p in ("x_axis", "y_axis"), rank.get(kinds[p], 3)))

    def _let_go(self, done: bool) -> bool:
        if done:
            self.canvas.shown.curves = []
            self.canvas.shown.selection_changed.emit()
        return done

    def constrain(self, kind: str) -> bool:
        """Constrain the chosen places; of several lines each one."""
        chosen, places = list(self.canvas.shown.curves), self.places()
        if kind in ("horizontal", "vertical", "fix"):

            def edit(editing: Sketching) -> None:
                for place in chosen:
                    editing.constrain(kind, place)
        else:

            def edit(editing: Sketching) -> None:
                editing.constrain(kind, *places)

        return self._let_go(self.apply(kind.replace("_", " "), edit))

    def dimension(self, kind: str, value: str, name: str = "") -> bool:
        """Give the chosen places a dimension; it may have a name that expressions use."""
        places = self.places()
        label = f"dimension {value}"
        return self._let_go(self.apply(label, lambda s: s.constrain(kind, *places, value=value, name=name)))

    def decided(self, kind: str) -> str:
        """What decides already what a dimension of the chosen places would say, in words; "" for nothing."""
        canvas = self.canvas
        sketch, at, evaluation = canvas.sketch, canvas.shown.at, canvas.bench.evaluation
        if sketch is None or at is None or evaluation is None:
            return ""
        return begin(canvas.bench.family, at, sketch.id, evaluation).decided(kind, *self.places())

    def read_out(self, kind: str, name: str) -> bool:
        """Show a figure of the chosen places that decides nothing."""
        places = self.places()
        return self._let_go(self.apply("read-out", lambda s: s.read_out(kind, *places, name=name)))

    def turn_over(self) -> bool:
        """Let the chosen dimension drive, or only read."""
        key = self.canvas.shown.constraint
        return self.apply("drive or read a dimension", lambda s: s.turn_over(key))

    def toggle_helper(self) -> bool:
        """Make the chosen curves helpers, or drawn again."""
        chosen = list(self.canvas.shown.curves)
        return self._let_go(self.apply("helper geometry", lambda s: s.toggle_helper(chosen)))

    def delete(self) -> bool:
        """Take the chosen curves away."""
        sketch = self.canvas.sketch
        constraint = self.canvas.shown.constraint
        if constraint:
            self.canvas.shown.constraint = ""
            return self.apply("delete a constraint", lambda s: s.release(constraint))
        chosen = [k for k in self.canvas.shown.curves if sketch is not None and k in sketch.curves]
        if not chosen:
            return False
        self.canvas.shown.curves = []

        def edit(editing: Sketching) -> None:
            for key in chosen:
                editing.delete(key)

        return self.apply("delete curves", edit)

    def hold(self, place: str) -> None:
        """Take a free point up: from here the sketch is solved at every move, from where it last stood."""
        canvas = self.canvas
        sketch, at, evaluation = canvas.sketch, canvas.shown.at, canvas.bench.evaluation
        if sketch is not None and at is not None and evaluation is not None:
            self.held = place
            self._pulled = begin(canvas.bench.family, at, sketch.id, evaluation)

    def drag_to(self, q: QPointF, steps: int = 2) -> None:
        """Pull the held point; where the sketch cannot follow it stays."""
        assert self._pulled is not None
        result = self._pulled.drag(self.held, self.canvas.to_sketch(q), steps)
        if result is not None:
            self.canvas.live = result
            self.canvas.update()

    def drop(self) -> bool:
        """End of a drag: one edit; False when nothing was pulled."""
        pulled, moved = self._pulled, self.canvas.live is not None
        self.held, self._pulled = "", None
        if pulled is None or not moved:
            return False
        return self.canvas.bench.apply(f"drag a point in {pulled.drawing.sketch.name}", lambda _: pulled.stored())

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
            if self.at.place:
                p.setPen(QPen(QColor(theme.PLUM), 1.4))
                p.drawRect(QRectF(here.x() - 5, here.y() - 5, 10, 10))
        if hint:
            p.setFont(theme.font(12))
            p.setPen(QColor(theme.SOFT))
            p.drawText(QPointF(20, self.canvas.height() - 16), hint)

    def _paint_rubber(self, p: QPainter, here: QPointF) -> None:
        """What the next click would draw."""
        start = self.canvas.to_screen(self.clicked[0].at)
        if self.tool == "rectangle":
            p.drawRect(QRectF(start, here).normalized())
        elif self.tool == "circle":
            r = math.hypot(here.x() - start.x(), here.y() - start.y())
            p.drawEllipse(start, r, r)
        elif self.tool == "arc" and len(self.clicked) == 2:
            first = self.canvas.to_screen(self.clicked[1].at) - start
            r = math.hypot(first.x(), first.y())
            a0 = math.degrees(math.atan2(-first.y(), first.x()))
            a1 = math.degrees(math.atan2(start.y() - here.y(), here.x() - start.x()))
            p.drawArc(QRectF(start.x() - r, start.y() - r, 2 * r, 2 * r), round(a0 * 16), round((a1 - a0) % 360 * 16))
        else:
            p.drawLine(start, here)


def find_curve(canvas: LayoutCanvas, q: QPointF) -> str:
    """The drawn curve within a few pixels, "" for none."""
    solved = canvas.solved
    if solved is None:
        return ""
    x, y = canvas.to_sketch(q)
    best, found = 7.0 / canvas.scale, ""
    for key, c in solved.curves.items():
        v = c.values
        if c.kind == "line":
            dx, dy = v[2] - v[0], v[3] - v[1]
            t = max(0.0, min(1.0, ((x - v[0]) * dx + (y - v[1]) * dy) / max(dx * dx + dy * dy, 1e-12)))
            away = math.hypot(x - v[0] - t * dx, y - v[1] - t * dy)
        elif c.kind in ("circle", "arc"):
            away = abs(math.hypot(x - v[0], y - v[1]) - (v[2] if c.kind == "circle" else v[6]))
        else:
            away = math.hypot(x - v[0], y - v[1])
        if away < best:
            best, found = away, key
    return found
