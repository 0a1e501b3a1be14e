"""Dimensions as they are drawn over a sketch: where the figure stands, its lines, its arrowheads (after ISO 129-1)."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from architectonic.base.places import AXES, curve_of
from architectonic.describe.drawn.readings import between, place_values, plainly
from architectonic.describe.results import SketchResult
from architectonic.desktop.kit import theme
from architectonic.family.records import COUNT, Constraint

OUT, ARC, ARROW = 12.0, 58.0, 9.0
LEAST = 9.0
"""Pixels below which a length is left out where there are many."""
PREFIX = {"radius": "R ", "diameter": "Ø ", "arc_length": "arc ", "count": "× "}
ToScreen = Callable[[tuple[float, float]], QPointF]


class Figure(NamedTuple):
    """A dimension ready to draw: its constraint, its figure and expression ("" for a plain value)."""

    constraint: Constraint
    value: str
    expression: str

    @property
    def size(self) -> tuple[float, float]:
        """Width and height of the text, px."""
        wide = theme.width_of(self.value, 12, 600)
        small = theme.width_of(self.expression, 11, 400) if self.expression else 0.0
        return max(wide, small) + 8, 32.0 if self.expression else 19.0


class Drawn(NamedTuple):
    """Pixels: middle of the text, lines, arrowheads (tip and direction), and an arc (box, start, sweep in deg)."""

    text: QPointF
    lines: tuple[tuple[QPointF, QPointF], ...] = ()
    tips: tuple[tuple[QPointF, QPointF], ...] = ()
    arc: tuple[QRectF, float, float] | None = None


def too_small(c: Constraint, solved: SketchResult, to_screen: ToScreen) -> bool:
    """Whether what a length lies between is closer on the screen than can be read."""
    kind, of = plainly(c.kind, c.of, solved)
    if kind not in ("distance", "horizontal_distance", "vertical_distance"):
        return False
    a, b = (to_screen(p) for p in between(solved, of))
    return abs(a.x() - b.x()) + abs(a.y() - b.y()) < LEAST


def laid_out(
    figure: Figure,
    solved: SketchResult,
    to_screen: ToScreen,
    number: int,
    stacked: int = 0,
    centre: QPointF | None = None,
) -> Drawn:
    """Where a dimension goes: where it was dragged, else clear of what it measures.

    Args:
        centre: of the whole sketch, in pixels; a length stands on the side away from it.
        number: how many stand before it; rings about one centre fan out by it.
        stacked: how many of them measure the same places; it stands outside those.
    """
    c = figure.constraint
    stored = to_screen(c.at) if c.at is not None else None
    kind, of = plainly(c.kind, c.of, solved)
    if kind != c.kind:
        c = replace(c, kind=kind, of=of)
        figure = figure._replace(constraint=c)
    if c.kind == COUNT:
        first = solved.curves[curve_of(c.of[1])]
        x, y, r = (*first.values[:2], first.values[2] if first.kind == "circle" else 0.0)
        return Drawn(stored or to_screen((x, y + r)) - QPointF(0.0, 6.0 + figure.size[1] / 2))
    if c.kind in ("radius", "diameter", "arc_length"):
        return _round(figure, solved, to_screen, number, stored)
    if c.kind == "angle":
        return _angle(c, solved, to_screen, stored)
    return _straight(figure, solved, to_screen, stored, stacked, centre)


def _round(figure: Figure, solved: SketchResult, to_screen: ToScreen, number: int, stored: QPointF | None) -> Drawn:
    c = figure.constraint
    v = place_values(solved, c.of[0])
    r = v[2] if len(v) == 3 else v[6]
    o = to_screen((v[0], v[1]))
    pixels = to_screen((v[0] + r, v[1])).x() - o.x()
    turn = math.radians(35 + 50 * (number % 5))
    wide, high = figure.size
    away = pixels + 14 + wide / 2 * abs(math.cos(turn)) + high / 2 * abs(math.sin(turn))
    text = stored or o + QPointF(away * math.cos(turn), -away * math.sin(turn))
    d = text - o
    length = math.hypot(d.x(), d.y()) or 1.0
    rim = o + d * (pixels / length)
    inward = d * (-1.0 if length > pixels else 1.0) / length
    return Drawn(text, ((rim, text),), ((rim, inward),))


def _angle(c: Constraint, solved: SketchResult, to_screen: ToScreen, stored: QPointF | None) -> Drawn:
    if len(c.of) == 3:
        start, vertex, end = (place_values(solved, p) for p in c.of)
        first, second = (*vertex, *start), (*vertex, *end)
    else:
        first, second = (place_values(solved, p) for p in c.of)
    line = second if c.of[0] in AXES else first
    at = (line[0], line[1])
    crossing = _crossing(first, second)
    if math.dist(crossing, at) <= math.dist(at, line[2:4]) * 1.2:
        at = crossing  # else an axis far away: drawn where the line begins
    o = to_screen(at)
    a = math.degrees(math.atan2(first[3] - first[1], first[2] - first[0]))
    b = math.degrees(math.atan2(second[3] - second[1], second[2] - second[0]))
    sweep = math.remainder(b - a, 360.0)
    half = math.radians(a + sweep / 2)
    radius = math.hypot((stored - o).x(), (stored - o).y()) if stored is not None else ARC
    text = stored or o + QPointF((ARC + 24) * math.cos(half), -(ARC + 24) * math.sin(half))
    return Drawn(text, (), (), (QRectF(o.x() - radius, o.y() - radius, 2 * radius, 2 * radius), a, sweep))


def _crossing(a: tuple[float, ...], b: tuple[float, ...]) -> tuple[float, float]:
    """Where two lines cross, the start of the first when they are parallel."""
    d, e = (a[2] - a[0], a[3] - a[1]), (b[2] - b[0], b[3] - b[1])
    cross = d[0] * e[1] - d[1] * e[0]
    if abs(cross) < 1e-9:
        return a[0], a[1]
    t = ((b[0] - a[0]) * e[1] - (b[1] - a[1]) * e[0]) / cross
    return a[0] + t * d[0], a[1] + t * d[1]


def _straight(
    figure: Figure,
    solved: SketchResult,
    to_screen: ToScreen,
    stored: QPointF | None,
    stacked: int,
    centre: QPointF | None,
) -> Drawn:
    """The line runs along what is measured, level or upright for distances across and up, through the text."""
    c = figure.constraint
    a, b = (to_screen(p) for p in between(solved, c.of))
    d = b - a
    length = math.hypot(d.x(), d.y()) or 1.0
    u = {"horizontal_distance": QPointF(1, 0), "vertical_distance": QPointF(0, 1)}.get(c.kind, d / length)
    n = QPointF(u.y(), -u.x())
    if centre is not None and QPointF.dotProduct((a + b) / 2 - centre, n) < 0:
        n = -n
    if stored is None:
        wide, high = figure.size
        room = OUT + 36 * stacked + wide / 2 * abs(n.x()) + high / 2 * abs(n.y())
        stored = (a + b) / 2 + n * (room + abs(QPointF.dotProduct(d, n)) / 2)
    p = stored + u * QPointF.dotProduct(a - stored, u)
    q = stored + u * QPointF.dotProduct(b - stored, u)
    along = (q - p) / (math.hypot((q - p).x(), (q - p).y()) or 1.0)
    return Drawn(stored, ((p, q), _beyond(a, p), _beyond(b, q)), ((p, along), (q, -along)))


def _beyond(a: QPointF, p: QPointF) -> tuple[QPointF, QPointF]:
    """The witness line from near a point to a little beyond the dimension line."""
    d = p - a
    length = math.hypot(d.x(), d.y())
    if length < 1.0:
        return a, p
    return a + d * (min(4.0, length) / length), p + d * (4.0 / length)


def paint(p: QPainter, figure: Figure, drawn: Drawn, chosen: bool, width: int) -> QRectF:
    """Draw it; returns the box of the text, which stays within the canvas."""
    ink = QColor(theme.PLUM if chosen else theme.HELD)
    p.setPen(QPen(ink, 1))
    p.setBrush(Qt.BrushStyle.NoBrush)
    for a, b in drawn.lines:
        p.drawLine(a, b)
    if drawn.arc is not None:
        box, start, sweep = drawn.arc
        p.drawArc(box, round(start * 16), round(sweep * 16))
    p.setBrush(ink)
    p.setPen(Qt.PenStyle.NoPen)
    for tip, d in drawn.tips:
        side = QPointF(-d.y(), d.x()) * (ARROW * 0.17)
        p.drawPolygon(QPolygonF([tip, tip + d * ARROW + side, tip + d * ARROW - side]))
    wide, high = figure.size
    text = QRectF(drawn.text.x() - wide / 2, drawn.text.y() - high / 2, wide, high)
    text.moveLeft(min(max(text.left(), 2.0), max(2.0, width - wide - 2)))
    p.fillRect(text, theme.colour(theme.PAPER, 0.9))
    p.setPen(ink)
    p.setFont(theme.font(12, 600))
    p.drawText(QRectF(text.x(), text.y() + 1, wide, 17), Qt.AlignmentFlag.AlignCenter, figure.value)
    if figure.expression:
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.SOFT))
        p.drawText(QRectF(text.x(), text.y() + 17, wide, 14), Qt.AlignmentFlag.AlignCenter, figure.expression)
    return text
