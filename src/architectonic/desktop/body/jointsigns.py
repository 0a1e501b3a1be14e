"""Joints of a shown assembly as small plum signs over the picture: dragged like handles, with their limits on the way."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from architectonic.base.errors import UserFault
from architectonic.describe.assembly.joints import Ends, JointState, beyond, told, unit_of
from architectonic.describe.assembly.posing import Posed
from architectonic.describe.results import Node
from architectonic.desktop.body.view import BodyView
from architectonic.desktop.body.ways import Ways, moved_on, step_of
from architectonic.desktop.kit import theme
from architectonic.family.records import JOINTS, Assembly, Bond
from architectonic.quantities import units
from architectonic.session.assembly import posing

NEAR = 11.0
"""How near the pointer must come to a sign, pixels."""


class Sign(NamedTuple):
    """A joint as it is drawn.

    Attributes:
        field: slide or turn; value: in mm or rad; limits: of it.
        point, axis: in the assembly; zero: the direction across the axis that a turn is counted from here.
    """

    bond: Bond
    field: str
    value: float
    limits: Ends
    point: np.ndarray
    axis: np.ndarray
    zero: np.ndarray

    def at(self, value: float, reach: float) -> np.ndarray:
        """Where the sign stands for a value: so far from the axis (mm) for a turn, along it for a slide."""
        if self.field == "slide":
            return self.point + value * self.axis
        across = np.cross(self.axis, self.zero)
        return self.point + reach * (math.cos(value) * self.zero + math.sin(value) * across)


def _shown(sign: Sign) -> str:
    """Its value as the picture shows it."""
    return units.shown(sign.value, unit_of(sign.field), 1)


class JointGrip(NamedTuple):
    """A sign that is held: where the pointer was on its way, in mm or rad, and the value there."""

    sign: Sign
    at: float
    value: float


class JointSigns:
    """Draws the joints of the shown assembly, and drives the one that is dragged."""

    def __init__(self, canvas: BodyView) -> None:
        self.canvas, self.ways = canvas, Ways(canvas)
        self.over: Sign | None = None
        self._grip: JointGrip | None = None
        self._moved: float | None = None
        self._last = 0.0

    # --- what is there --------------------------------------------------------------------------------

    def signs(self) -> list[Sign]:
        """Every joint that moves, where it is now."""
        shown = self.canvas.shown
        document, at, evaluation = shown.document, shown.at, shown.evaluation
        if not isinstance(document, Assembly) or at is None or evaluation is None:
            return []
        posed = evaluation.value(Node("posed", at, ""))
        found = []
        for bond in document.bonds if isinstance(posed, Posed) else ():
            state = evaluation.value(Node("joint", at, bond.id))
            reached = posed.reached.get(bond.id)
            if isinstance(state, JointState) and reached is not None:
                for field in JOINTS.get(bond.kind, ())[-1:] if bond.kind != "planar" else ():
                    axis = np.array(reached.axis)
                    ends = state.limits.get(field, (None, None))
                    zero = np.array(reached.side)
                    found.append(Sign(bond, field, getattr(state, field), ends, np.array(reached.point), axis, zero))
        return found

    def _under(self, at: QPointF) -> Sign | None:
        reach = self.ways.reach()
        return self.ways.nearest(at, ((s, s.at(s.value, reach)) for s in self.signs()), NEAR)

    @property
    def under(self) -> bool:
        """Whether the pointer is on a sign."""
        return self.over is not None

    # --- dragging -------------------------------------------------------------------------------------

    def hover(self, at: QPointF) -> bool:
        """Whether another sign lies under the pointer than before."""
        under = self._under(at)
        same = (under.bond.id if under else "") == (self.over.bond.id if self.over else "")
        self.over = under
        return not same

    def take(self, at: QPointF) -> bool:
        """Take hold of the sign that is pressed."""
        sign = self._under(at)
        along = self._along(sign, at) if sign is not None else None
        if sign is None:
            return False
        if along is None:
            self.canvas.desk.told.emit("Turn the view first: this joint turns edge-on.", False)
            return True
        self._grip, self._moved, self._last = JointGrip(sign, along, sign.value), None, along
        return True

    def _along(self, sign: Sign, at: QPointF) -> float | None:
        """Where the pointer is on the way of a joint, in mm or rad; None when the way cannot be seen."""
        return self.ways.along(sign.field == "slide", sign.point, sign.axis, sign.zero, at)

    def follow(self, at: QPointF) -> bool:
        """Drive the held joint to where the pointer is, no farther than its limits; False when none is held."""
        grip = self._grip
        if grip is None:
            return False
        along = self._along(grip.sign, at)
        if along is None:
            return True
        field = grip.sign.field
        step, base = step_of(field), grip.value + moved_on(field, along, self._last)
        self._last = along
        self._grip = grip._replace(value=base)
        wanted = round(base / step) * step
        passed = beyond(wanted, grip.sign.limits)
        if passed is not None:
            self.canvas.desk.told.emit(
                f"{grip.sign.bond.name} stops at its limit, {told(grip.sign.field, passed)}", False
            )
            wanted = passed
        if wanted != self._moved and (self._moved is not None or abs(wanted - grip.sign.value) > step / 2):
            self._moved = wanted
            self._preview(grip.sign, wanted)
        return True

    def _preview(self, sign: Sign, value: float) -> None:
        desk, at = self.canvas.desk, self.canvas.shown.at
        if at is None:
            return
        try:
            desk.preview(posing.driven_to(desk.family, at, sign.bond.id, sign.field, value))
        except UserFault as fault:  # what drives it is changed where it stands
            self._grip = self._moved = None
            desk.told.emit(fault.sentence, True)

    def let_go(self) -> None:
        """Keep where it was dragged to, as one step; a click alone chooses the joint."""
        grip, moved = self._grip, self._moved
        self._grip = self._moved = None
        if grip is None:
            return
        canvas, sign = self.canvas, grip.sign
        if moved is None:
            canvas.shown.select(sign.bond.id)
            return
        at, evaluation = canvas.shown.at, canvas.desk.evaluation
        assert at is not None
        unit = unit_of(sign.field)
        words = [f"{v / units.factor(unit):.4g}" for v in (sign.value, moved)]
        label = f"{sign.bond.name} {words[0]} → {words[1]} {unit}"
        if not canvas.desk.apply(label, lambda f: posing.let_stand(f, at, evaluation, sign.bond.id, sign.field, moved)):
            canvas.desk.preview(None)

    # --- drawing --------------------------------------------------------------------------------------

    def paint(self, p: QPainter) -> None:
        """All signs; of the one that is held or pointed at its way, its limits and its value."""
        held = self._grip.sign.bond.id if self._grip is not None else ""
        for sign in self.signs():
            lively = sign.bond.id in (
                held,
                self.over.bond.id if self.over is not None else "",
                self.canvas.shown.operation,
            )
            self._paint(p, sign, lively)

    def _paint(self, p: QPainter, sign: Sign, lively: bool) -> None:
        reach = self.ways.reach()
        middle, spot = self.ways.spot(sign.point), self.ways.spot(sign.at(sign.value, reach))
        p.setBrush(Qt.BrushStyle.NoBrush)
        if lively:
            self._paint_way(p, sign, reach)
        p.setPen(QPen(theme.colour(theme.PLUM, 1.0 if lively else 0.55), 1.4))
        p.drawLine(middle, spot)
        p.setBrush(QColor(theme.FIELD))
        p.drawEllipse(middle, 2.5, 2.5)
        p.setPen(QPen(QColor(theme.PLUM), 2.2 if lively else 1.6))
        size = 7.0 if lively else 5.0
        if sign.field == "turn":
            p.drawEllipse(spot, size, size)
            if lively:
                p.setBrush(QColor(theme.PLUM))
                p.drawEllipse(spot, 2, 2)
        else:
            p.drawRect(QRectF(spot.x() - size, spot.y() - size, 2 * size, 2 * size))
        if lively:
            self.canvas.plate(p, spot + QPointF(12, 4), f"{sign.bond.name}  {_shown(sign)}")

    def _paint_way(self, p: QPainter, sign: Sign, reach: float) -> None:
        """Where it can go, and a stroke across at each limit."""
        least, most = sign.limits
        span = math.pi if sign.field == "turn" else 2 * reach
        low = least if least is not None else sign.value - span
        high = most if most is not None else sign.value + span
        way = [self.ways.spot(sign.at(v, reach)) for v in np.linspace(low, high, 65)]
        p.setPen(QPen(QColor(theme.EDGE), 4))
        p.drawPolyline(QPolygonF(way))
        start = self._grip.sign.value if self._grip is not None else sign.value
        done = [self.ways.spot(sign.at(v, reach)) for v in np.linspace(start, sign.value, 33)]
        p.setPen(QPen(QColor(theme.PLUM), 2.5))
        p.drawPolyline(QPolygonF(done))
        p.setPen(QPen(QColor(theme.INK), 1.6))
        for value in (least, most):
            if value is not None:
                inner, outer = (self.ways.spot(sign.at(value, k * reach)) for k in (0.92, 1.08))
                if sign.field == "slide":
                    here = self.ways.spot(sign.at(value, reach))
                    inner, outer = here + QPointF(0, -6), here + QPointF(0, 6)
                p.drawLine(inner, outer)
