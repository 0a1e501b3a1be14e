"""Drawing tools of the sketch canvas: clicks, snaps and keys become edits of the session."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from architectonic.desktop import theme
from architectonic.family.records import Family
from architectonic.session.sketching import Sketching, Snapped, begin, snap, snap_points

if TYPE_CHECKING:
    from architectonic.desktop.layoutcanvas import LayoutCanvas

SNAP_PIXELS = 10.0
TOOLS = {"line": ("Line", "first point"), "circle": ("Circle", "centre"), "rectangle": ("Rectangle", "first corner")}
CONSTRAINTS = ("horizontal", "vertical", "parallel", "perpendicular", "equal", "tangent", "fix")


class DrawTools:
    """The active tool of a canvas, what was clicked so far, and the chosen curves."""

    def __init__(self, canvas: LayoutCanvas) -> None:
        self.canvas = canvas
        self.tool = ""
        self.first: Snapped | None = None
        self.at: Snapped | None = None
        self.held = ""
        self._pulled: Sketching | None = None

    # --- state ----------------------------------------------------------------------------------------

    def start(self, tool: str) -> None:
        """Take up a tool; again to lay it down."""
        self.tool = "" if tool == self.tool else tool
        self.first = None
        self.canvas.shown.selection_changed.emit()
        self.canvas.update()

    def stop(self) -> bool:
        """Esc: end the chain, then lay the tool down, then let chosen curves go; True when anything was."""
        if self.first is not None:
            self.first = None
        elif self.tool:
            self.start(self.tool)
        elif self.canvas.shown.curves:
            self.canvas.shown.curves = []
        else:
            return False
        self.canvas.update()
        return True

    def hint(self) -> str:
        """What the next click does."""
        if not self.tool:
            return ""
        name, first = TOOLS[self.tool]
        second = {
            "line": "second point; Alt without horizontal or vertical",
            "circle": "a point on it",
            "rectangle": "opposite corner",
        }
        return f"{name}: {second[self.tool] if self.first else first}.  Esc ends"

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
        if self.first is None:
            self.first = landed
            self.canvas.update()
            return
        first, tool = self.first, self.tool

        def draw(editing: Sketching) -> None:
            if tool == "line":
                editing.line(first, landed, infer=not plain)
            elif tool == "circle":
                editing.circle(first, math.dist(first.at, landed.at))
            else:
                editing.rectangle(first, landed)

        if self.apply(f"draw a {tool}", draw):
            # a chain of lines goes on from the end it just drew, unless that closed on something
            self.first = self._end_of_last() if tool == "line" and not landed.place else None

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

    def constrain(self, kind: str) -> bool:
        """Constrain the chosen curves."""
        done = self.apply(kind, lambda s: s.constrain(kind, *self.canvas.shown.curves))
        if done:
            self.canvas.shown.curves = []
        return done

    def dimension(self, value: str) -> bool:
        """Give the chosen curves a dimension: a length, a diameter, or the angle of two lines."""
        sketch = self.canvas.sketch
        if sketch is None or not self.canvas.shown.curves:
            return False
        kinds = [type(sketch.curves[k]).__name__ for k in self.canvas.shown.curves if k in sketch.curves]
        if kinds == ["Line"]:
            kind = "distance"
        elif kinds in (["Circle"], ["Arc"]):
            kind = "diameter" if kinds == ["Circle"] else "radius"
        elif kinds == ["Line", "Line"]:
            kind = "angle"
        else:
            self.canvas.bench.told.emit("Choose a line, a circle, or two lines for an angle.", True)
            return False
        done = self.apply(f"dimension {value}", lambda s: s.constrain(kind, *self.canvas.shown.curves, value=value))
        if done:
            self.canvas.shown.curves = []
        return done

    def delete(self) -> bool:
        """Take the chosen curves away."""
        chosen = list(self.canvas.shown.curves)
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

    def drag_to(self, q: QPointF) -> None:
        """Pull the held point; where the sketch cannot follow it stays."""
        assert self._pulled is not None
        result = self._pulled.drag(self.held, self.canvas.to_sketch(q))
        if result is not None:
            self.canvas.live = result
            self.canvas.update()

    def drop(self) -> None:
        """End of a drag: one edit."""
        pulled, moved = self._pulled, self.canvas.live is not None
        self.held, self._pulled = "", None
        if pulled is not None and moved:
            self.canvas.bench.apply(f"drag a point in {pulled.drawing.sketch.name}", lambda _: pulled.stored())

    # --- painting -------------------------------------------------------------------------------------

    def paint(self, p: QPainter) -> None:
        """Rubber line, snap mark, chosen curves' hint."""
        hint = self.hint()
        if self.tool and self.at is not None:
            here = self.canvas.to_screen(self.at.at)
            p.setPen(QPen(QColor(theme.PLUM), 1.3, Qt.PenStyle.DashLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            if self.first is not None:
                start = self.canvas.to_screen(self.first.at)
                if self.tool == "line":
                    p.drawLine(start, here)
                elif self.tool == "circle":
                    r = math.hypot(here.x() - start.x(), here.y() - start.y())
                    p.drawEllipse(start, r, r)
                else:
                    p.drawRect(QRectF(start, here).normalized())
            if self.at.place:
                p.setPen(QPen(QColor(theme.PLUM), 1.4))
                p.drawRect(QRectF(here.x() - 5, here.y() - 5, 10, 10))
        if hint:
            p.setFont(theme.font(12))
            p.setPen(QColor(theme.SOFT))
            p.drawText(QPointF(20, self.canvas.height() - 16), hint)


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
