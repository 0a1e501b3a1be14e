"""What the chosen instance can still do, as arrows and rings over the picture that are dragged."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from architectonic.desktop.body.view import BodyView
from architectonic.desktop.body.ways import Ways, moved_on, step_of
from architectonic.desktop.kit import theme
from architectonic.family.records import Assembly, use_of
from architectonic.quantities import units
from architectonic.session.joining.freeing import FreeMove, free_moves, let_go, moved_by

NEAR = 9.0
"""How near the pointer must come to a tip, pixels."""
LONG, RING = 1.5, 0.9
"""How long an arrow is, and how far out the ring of a turn stands, of the reach of a joint."""


class FreeSign(NamedTuple):
    """A motion as it is drawn: its instance, and the direction across the axis at which a turn is taken hold of."""

    instance: str
    move: FreeMove
    zero: np.ndarray

    def tip(self, value: float, reach: float) -> np.ndarray:
        """Where it is taken hold of, after it was moved so far."""
        point, axis = np.array(self.move.point), np.array(self.move.axis)
        if self.move.kind == "slide":
            return np.asarray(point + (LONG * reach + value) * axis)
        across = np.cross(axis, self.zero)
        return np.asarray(point + RING * reach * (math.cos(value) * self.zero + math.sin(value) * across))


class FreeGrip(NamedTuple):
    """A sign that is held: where the pointer was on its way, and how far it has moved, mm or rad."""

    sign: FreeSign
    last: float
    value: float = 0.0
    shown: float = 0.0


class FreeSigns:
    """Draws what is free of the chosen instance, and moves it along what is dragged."""

    def __init__(self, canvas: BodyView) -> None:
        self.canvas, self.ways = canvas, Ways(canvas)
        self.over: FreeSign | None = None
        self._grip: FreeGrip | None = None

    def signs(self) -> list[FreeSign]:
        """Of the chosen instance; while one is held, that one alone."""
        shown = self.canvas.shown
        document, at, evaluation = shown.document, shown.at, self.canvas.desk.settled
        if self._grip is not None:
            return [self._grip.sign]
        if not isinstance(document, Assembly) or at is None or evaluation is None or shown.gathering:
            return []
        chosen = {use_of(p.body.path[0])[0] for p in shown.picks if p.body.path} or {shown.operation}
        key = next((i.id for i in document.instances if i.id in chosen), "") if len(chosen) == 1 else ""
        if not key or evaluation.family is not self.canvas.desk.family:
            return []
        moves = free_moves(evaluation, at, key)
        return [FreeSign(key, m, self._zero(m, moves)) for m in moves]

    def _zero(self, move: FreeMove, moves: list[FreeMove]) -> np.ndarray:
        """Across the axis of a move: between the axes of the others, so that no two tips stand in one place."""
        axis = np.array(move.axis)
        right, up, _ = self.canvas.camera.axes()
        others = [np.array(a) for a in dict.fromkeys(m.axis for m in moves) if abs(np.array(a) @ axis) < 0.5]
        for across in (sum(others, np.zeros(3)), right + 0.4 * up, up):
            flat = across - (across @ axis) * axis
            size = float(np.linalg.norm(flat))
            if size > 1e-3:
                return np.asarray(flat / size)
        return np.asarray(up)

    @property
    def under(self) -> bool:
        """Whether the pointer is on a sign."""
        return self.over is not None

    def _under(self, at: QPointF) -> FreeSign | None:
        reach = self.ways.reach()
        return self.ways.nearest(at, ((s, s.tip(0.0, reach)) for s in self.signs()), NEAR)

    def hover(self, at: QPointF) -> bool:
        """Whether another sign lies under the pointer than before."""
        under = self._under(at)
        same = (under.move if under else None) == (self.over.move if self.over else None)
        self.over = under
        return not same

    def _along(self, sign: FreeSign, at: QPointF) -> float | None:
        move = sign.move
        return self.ways.along(move.kind == "slide", np.array(move.point), np.array(move.axis), sign.zero, at)

    def take(self, at: QPointF) -> bool:
        """Take hold of the sign that is pressed."""
        sign = self._under(at)
        along = self._along(sign, at) if sign is not None else None
        if sign is None:
            return False
        if along is None:
            self.canvas.desk.told.emit("Turn the view first: this way is seen edge-on.", False)
            return True
        self._grip = FreeGrip(sign, along)
        return True

    def follow(self, at: QPointF) -> bool:
        """Move the held instance to where the pointer is; False when none is held."""
        grip = self._grip
        if grip is None:
            return False
        along = self._along(grip.sign, at)
        if along is None:
            return True
        kind = grip.sign.move.kind
        step, value = step_of(kind), grip.value + moved_on(kind, along, grip.last)
        wanted = round(value / step) * step
        self._grip = FreeGrip(grip.sign, along, value, wanted)
        desk, where = self.canvas.desk, self.canvas.shown.at
        if wanted != grip.shown and where is not None and desk.settled is not None:
            desk.preview(moved_by(desk.family, where, desk.settled, grip.sign.instance, grip.sign.move, wanted))
        return True

    def let_go(self) -> None:
        """Keep where it was dragged to, as one step."""
        grip, self._grip = self._grip, None
        desk, at, seen = self.canvas.desk, self.canvas.shown.at, self.canvas.desk.settled
        if grip is None or not grip.shown or at is None or seen is None:
            return
        document = self.canvas.shown.document
        name = next((i.name for i in getattr(document, "instances", ()) if i.id == grip.sign.instance), "")
        sign = grip.sign
        label = f"move {name} {self._words(grip)}"
        if not desk.apply(label, lambda f: let_go(f, at, seen, sign.instance, sign.move, grip.shown)):
            desk.preview(None)

    @staticmethod
    def _words(grip: FreeGrip) -> str:
        unit = "mm" if grip.sign.move.kind == "slide" else "deg"
        return f"{grip.shown / units.factor(unit):+.4g} {unit}"

    # --- drawing --------------------------------------------------------------------------------------

    def paint(self, p: QPainter) -> None:
        """An arrow for every slide, a ring with a ball for every turn."""
        for sign in self.signs():
            held = self._grip is not None
            lively = held or (self.over is not None and self.over.move == sign.move)
            self._paint(p, sign, self._grip.shown if self._grip is not None else 0.0, lively)
        if self._grip is not None:
            spot = self.ways.spot(self._grip.sign.tip(self._grip.shown, self.ways.reach()))
            self.canvas.plate(p, spot + QPointF(12, 4), self._words(self._grip))

    def _paint(self, p: QPainter, sign: FreeSign, value: float, lively: bool) -> None:
        reach = self.ways.reach()
        colour = theme.colour(theme.PLUM, 1.0 if lively else 0.6)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(colour, 2.4 if lively else 1.5))
        middle = np.array(sign.move.point) + (
            value * np.array(sign.move.axis) if sign.move.kind == "slide" else np.zeros(3)
        )
        tip = self.ways.spot(sign.tip(value, reach))
        if sign.move.kind == "slide":
            start = self.ways.spot(middle)
            p.drawLine(start, tip)
            self._head(p, start, tip, colour)
            return
        ring = [self.ways.spot(sign.tip(value + a, reach)) for a in np.linspace(-0.7, 0.7, 25)]
        p.drawPolyline(QPolygonF(ring))
        p.setBrush(QColor(theme.FIELD))
        size = 6.0 if lively else 4.5
        p.drawEllipse(tip, size, size)

    @staticmethod
    def _head(p: QPainter, start: QPointF, tip: QPointF, colour: QColor) -> None:
        way = np.array([tip.x() - start.x(), tip.y() - start.y()])
        size = float(np.linalg.norm(way))
        if size < 4:  # seen along its axis
            p.drawEllipse(tip, 4, 4)
            return
        way, side = way / size, np.array([-way[1], way[0]]) / size
        back = np.array([tip.x(), tip.y()]) - 10 * way
        p.setBrush(colour)
        p.drawPolygon(QPolygonF([tip, QPointF(*(back + 5 * side)), QPointF(*(back - 5 * side))]))
