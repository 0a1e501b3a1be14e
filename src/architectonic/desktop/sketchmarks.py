"""Marks of constraints: a short word beside what they hold, for what is hovered or chosen, or for all on one key."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from architectonic.describe.readings import middle, point_values
from architectonic.describe.results import SketchResult
from architectonic.desktop import theme
from architectonic.family.records import DIMENSIONS, Constraint, Sketch

WORDS = {
    "coincident": "joined",
    "horizontal": "level",
    "vertical": "upright",
    "parallel": "parallel",
    "perpendicular": "square",
    "equal": "equal",
    "tangent": "tangent",
    "smooth": "smooth",
    "on_curve": "on it",
    "collinear": "in line",
    "concentric": "one centre",
    "midpoint": "middle",
    "symmetric": "symmetric",
    "mirrored": "mirrored",
    "fix": "fixed",
}
_FIXED = ("origin", "x_axis", "y_axis")


def chosen(sketch: Sketch, curves: set[str], everything: bool) -> list[Constraint]:
    """Constraints whose marks are shown: those of some curves, or all; joins only where they were asked for."""
    found = [c for c in sketch.constraints if c.kind not in DIMENSIONS]
    if everything:
        return [c for c in found if c.kind != "coincident"]
    return [c for c in found if any(p.split(".")[0] in curves for p in c.of)]


def paint(
    p: QPainter,
    shown: list[Constraint],
    solved: SketchResult,
    to_screen: Callable[[tuple[float, float]], QPointF],
    lit: str,
) -> list[tuple[QRectF, Constraint]]:
    """Draw marks, stacked beside the middle of each place; returns the box of each, so that it can be picked."""
    p.setFont(theme.font(10, 500))
    stacks: dict[tuple[int, int], int] = defaultdict(int)
    boxes: list[tuple[QRectF, Constraint]] = []
    for c in shown:
        places = [k for k in c.of if k.split(".")[0] in solved.curves] or [k for k in c.of if k not in _FIXED]
        for place in dict.fromkeys(places[:1] if "." in (places or [""])[0] else places):
            key = place.split(".")[0]
            if key not in solved.curves:
                continue
            curve = solved.curves[key]
            at = to_screen(point_values(solved, place) if "." in place or curve.kind == "point" else middle(curve))
            slot = (round(at.x() / 8), round(at.y() / 8))
            word = WORDS.get(c.kind, c.kind)
            wide = p.fontMetrics().horizontalAdvance(word) + 8
            box = QRectF(at.x() + 8, at.y() + 6 + 15 * stacks[slot], wide, 14)
            stacks[slot] += 1
            p.setPen(QPen(QColor(theme.PLUM if c.id == lit else theme.LINE), 1))
            p.setBrush(theme.colour(theme.FIELD, 0.94))
            p.drawRoundedRect(box, 3, 3)
            p.setPen(QColor(theme.PLUM_TEXT if c.id == lit else theme.INK))
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, word)
            boxes.append((box, c))
    return boxes
