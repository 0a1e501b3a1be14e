"""Marks of constraints: a short word beside what they hold, for what is hovered or chosen, or for all on one key."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from architectonic.base.places import curve_of, curves_of, point_of
from architectonic.describe.drawn.readings import middle, point_values
from architectonic.describe.results import SketchResult
from architectonic.describe.words.sentences import CONSTRAINTS
from architectonic.desktop.kit import theme
from architectonic.desktop.sketch.view import SketchView
from architectonic.family.records import DIMENSIONS, Constraint, Sketch


def chosen(sketch: Sketch, places: set[str], everything: bool) -> list[Constraint]:
    """Constraints whose marks are shown: those of some places, or all; joins only of points."""
    found = [c for c in sketch.constraints if c.kind not in DIMENSIONS]
    if everything:
        return [c for c in found if c.kind != "coincident"]
    curves = curves_of(places)
    return [
        c for c in found if (places & set(c.of) if c.kind == "coincident" else any(curve_of(p) in curves for p in c.of))
    ]


def paint(
    p: QPainter, shown: list[Constraint], solved: SketchResult, canvas: SketchView
) -> list[tuple[QRectF, Constraint]]:
    """Draw marks beside the middle of each place, clear of dimensions; returns the box of each, to be picked by."""
    p.setFont(theme.font(10, 500))
    lit, taken = canvas.shown.constraint, [box for box, _ in canvas.labels]
    boxes: list[tuple[QRectF, Constraint]] = []
    for c in shown:
        places = [k for k in c.of if curve_of(k) in solved.curves]
        for place in dict.fromkeys(places[:1] if places and point_of(places[0]) else places):
            key = curve_of(place)
            curve = solved.curves[key]
            at = point_values(solved, place) if point_of(place) or curve.kind == "point" else middle(curve)
            word, q = CONSTRAINTS[c.kind], canvas.to_screen(at)
            box = QRectF(q.x() + 8, q.y() + 6, p.fontMetrics().horizontalAdvance(word) + 8, 14)
            for _ in range(12):
                over = next((b for b in taken if b.intersects(box)), None)
                if over is None:
                    break
                box.moveTop(over.bottom() + 1)
            taken.append(box)
            p.setPen(QPen(QColor(theme.PLUM if c.id == lit else theme.LINE), 1))
            p.setBrush(theme.colour(theme.FIELD, 0.94))
            p.drawRoundedRect(box, 3, 3)
            p.setPen(QColor(theme.PLUM_TEXT if c.id == lit else theme.INK))
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, word)
            boxes.append((box, c))
    return boxes
