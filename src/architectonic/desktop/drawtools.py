"""Drawing tools of the sketch canvas: clicks, snaps and keys become edits of the session."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from architectonic.desktop import theme
from architectonic.desktop.sizefields import SIZES
from architectonic.desktop.sketchedits import SketchEdits
from architectonic.session.pulling import Pull
from architectonic.session.shapes import circle_through, polygon, slot
from architectonic.session.sketching import Sketching, Snapped, snap, snap_points
from architectonic.session.trimming import trim

if TYPE_CHECKING:
    from architectonic.desktop.layoutcanvas import LayoutCanvas

SNAP_PIXELS = 10.0
TOOLS = {
    "line": ("Line", ("first point", "second point (Alt: neither level nor upright)")),
    "arc": ("Arc", ("centre", "start", "end, counter-clockwise")),
    "circle": ("Circle", ("centre", "a point on it")),
    "through": ("Circle through", ("first point", "second point", "third point")),
    "rectangle": ("Rectangle", ("first corner", "opposite corner")),
    "slot": ("Slot", ("first centre", "second centre", "a point of its outline")),
    "polygon": ("Polygon", ("centre", "a corner")),
    "point": ("Point", ("where it stands",)),
    "trim": ("Trim", ("the part of a curve to take away",)),
}
"""Title of each drawing tool, and what each of its clicks means."""


class DrawTools(SketchEdits):
    """The active tool of a canvas, what was clicked so far, and the point that is being pulled."""

    def __init__(self, canvas: LayoutCanvas) -> None:
        super().__init__(canvas)
        self.tool = ""
        self.clicked: list[Snapped] = []
        self.at: Snapped | None = None
        self.held = ""
        self.sides = 6
        self._pulled: Pull | None = None

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
        known = {"origin", "x_axis", "y_axis", *(sketch.curves if sketch is not None else ())}
        if any(c.place and c.place.split(".")[0] not in known for c in self.clicked):
            self.clicked = []
        shown = self.canvas.shown
        if sketch is not None and any(p.split(".")[0] not in known for p in shown.curves):
            shown.curves = [p for p in shown.curves if p.split(".")[0] in known]

    def hint(self) -> str:
        """What the next click does."""
        if not self.tool:
            return ""
        title, clicks = TOOLS[self.tool]
        typed = " or type a size" if self.tool in SIZES and len(self.clicked) == len(clicks) - 1 else ""
        return f"{title}: {clicks[len(self.clicked)]}{typed}.  Esc ends"

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
        landed = self.snapped(q) if self.tool != "trim" else Snapped(self.canvas.to_sketch(q))
        clicks = [*self.clicked, landed]
        if len(clicks) < len(TOOLS[self.tool][1]):
            self.clicked = clicks
            self.canvas.update()
            return
        self._draw(clicks, plain, {})

    def type_sizes(self, first: str) -> bool:
        """Open fields for the sizes of what is being drawn; False when there is nothing to size yet."""
        if self.tool not in SIZES or len(self.clicked) != len(TOOLS[self.tool][1]) - 1 or self.at is None:
            return False
        at, clicks = self.at, list(self.clicked)

        def done(texts: dict[str, str]) -> bool:
            # a typed size is not also snapped to: the pointer gives the direction alone
            end = Snapped(at.at) if any(texts.values()) else at
            return self._draw([*clicks, end], False, texts)

        self.canvas.sizes.start(self.tool, first, self.canvas.to_screen(at.at), done)
        return True

    def _draw(self, clicks: list[Snapped], plain: bool, texts: dict[str, str]) -> bool:
        """Draw with all clicks made; typed sizes become dimensions."""
        tool, landed = self.tool, clicks[-1]
        kinds = dict(SIZES.get(tool, ()))

        def draw(editing: Sketching) -> None:
            of: dict[str, tuple[str, ...]] = {}
            if tool == "line":
                key = editing.line(clicks[0], landed, infer=not plain and not texts.get("angle"))
                of = {"length": (key,), "angle": ("x_axis", key)}
            elif tool == "arc":
                of = {"radius": (editing.arc(clicks[0], clicks[1], landed),)}
            elif tool == "circle":
                of = {"diameter": (editing.circle(clicks[0], math.dist(clicks[0].at, landed.at)),)}
            elif tool == "rectangle":
                sides = editing.rectangle(clicks[0], landed)
                of = {"width": (sides[0],), "height": (sides[1],)}
            elif tool == "through":
                circle_through(editing, clicks)
            elif tool == "slot":
                slot(editing, clicks[0], clicks[1], landed.at)
            elif tool == "polygon":
                polygon(editing, clicks[0], landed, self.sides)
            elif tool == "trim":
                trim(editing, find_curve(self.canvas, self.canvas.to_screen(landed.at)), landed.at)
            else:
                editing.point(landed)
            for word, text in texts.items():
                if text:
                    editing.constrain(kinds[word], *of[word], value=text)

        done = self.apply(
            {"arc": "draw an arc", "trim": "trim a curve"}.get(tool, f"draw a {TOOLS[tool][0].split(' ')[0].lower()}"),
            draw,
        )
        if done:
            # a chain of lines goes on from the end it just drew, unless that closed on something
            end = self._end_of_last() if tool == "line" and not landed.place and not any(texts.values()) else None
            self.clicked = [end] if end else []
        return done

    def _end_of_last(self) -> Snapped | None:
        sketch = self.canvas.sketch
        if sketch is None or not sketch.curves:
            return None
        key = next(reversed(sketch.curves))
        end = getattr(sketch.curves[key], "end", None)
        return Snapped(end, f"{key}.end") if end else None

    # --- pulling --------------------------------------------------------------------------------------

    def take_up(self, place: str) -> None:
        """Take a free point up: from here the sketch is solved at every move, from where it last stood."""
        editing = self.sketching()
        self._pulled = Pull(editing, place) if editing is not None else None
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
        return self.canvas.bench.apply(f"drag a point in {name}", lambda _: pulled.stored(result))

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
