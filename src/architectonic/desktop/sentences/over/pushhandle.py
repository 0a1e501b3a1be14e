"""The arrow of an open sentence: it shows which way something goes; a click turns it round, a drag sets how far."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from architectonic.base.errors import UserFault
from architectonic.describe.words.things import Edges, PathBlank
from architectonic.desktop.body.planepull import FINE, round_step
from architectonic.desktop.body.view import BodyView
from architectonic.desktop.kit import theme
from architectonic.desktop.sentences.blanks.fields import EndField, FlagField
from architectonic.desktop.sentences.blanks.picks import PickField
from architectonic.desktop.sentences.card import SentenceCard
from architectonic.quantities import units
from architectonic.quantities.compiled import complete
from architectonic.session.picking.directions import place_of
from architectonic.session.tables import checks

SQUARE_ON = 1e-6
"""Pixels squared of a millimetre below which the arrow points at the eye."""
NEAR = 12.0
"""How near the pointer must come to the arrow's head, pixels."""
SHORT = 44.0
"""How long the arrow is where no distance is said, pixels."""


class PushHandle:
    """Reads an open sentence and writes into its blanks.

    Args:
        canvas: where it stands; card: the sentence.
    """

    def __init__(self, canvas: BodyView, card: SentenceCard) -> None:
        self.canvas, self.card = canvas, card
        self._grip: QPointF | None = None
        self._moved = False

    # --- what the sentence says -----------------------------------------------------------------------

    @property
    def _flip(self) -> FlagField | None:
        found = self.card.blanks.get("flip")
        return found if isinstance(found, FlagField) and self.card.record is not None else None

    def way(self) -> tuple[np.ndarray, np.ndarray] | None:
        """Where the arrow begins, and its unit direction as the sentence stands; None without a place for it."""
        flip = self._flip
        pick = next((b for b in self.card.blanks.values() if isinstance(b, PickField) and b.picked), None)
        if flip is None or pick is None or "by.x" in self.card.blanks or isinstance(pick.blank, (Edges, PathBlank)):
            return None
        found = place_of(self.canvas.shown.subject, pick.picked[0])
        if found is None:
            return None
        origin, normal = found
        return origin, -normal if flip.button.isChecked() else normal

    def distance(self) -> float | None:
        """How far the sentence goes, mm; None when it says no distance."""
        far, at = self.card.blanks.get("far"), self.canvas.shown.at
        evaluation = self.canvas.desk.settled
        if not isinstance(far, EndField) or far.choice.currentData() != "distance" or at is None or evaluation is None:
            return None
        try:
            text = complete(far.worth, "length", "mm")
            return float(checks.come_to(self.canvas.desk.family, evaluation, at, text, units.LENGTH))
        except UserFault:
            return None

    # --- on the screen --------------------------------------------------------------------------------

    def _ends(self) -> tuple[QPointF, QPointF] | None:
        way = self.way()
        if way is None:
            return None
        origin, direction = way
        length = self.distance()
        if length is None:
            length = SHORT * 2 * self.canvas.camera.scale / max(1, self.canvas.height())
        both = np.array([origin, origin + length * direction])
        flat = self.canvas.camera.project(both, self.canvas.width(), self.canvas.height())
        return QPointF(flat[0, 0], flat[0, 1]), QPointF(flat[1, 0], flat[1, 1])

    @property
    def under(self) -> bool:
        """Its head lies over what can be clicked there too: a click that does not move turns it round."""
        return False

    def hover(self, at: QPointF) -> bool:
        """It looks the same wherever the pointer is."""
        return False

    def take(self, at: QPointF) -> bool:
        """Take hold when the head is pressed."""
        ends = self._ends()
        if ends is None or math.hypot(at.x() - ends[1].x(), at.y() - ends[1].y()) > NEAR:
            return False
        self._grip, self._moved = at, False
        return True

    def follow(self, at: QPointF) -> bool:
        """Set the distance from where the pointer is, the other side included; False when nothing is held."""
        way, far = self.way(), self.card.blanks.get("far")
        if self._grip is None or way is None:
            return False
        if math.hypot(at.x() - self._grip.x(), at.y() - self._grip.y()) < 3 and not self._moved:
            return True
        self._moved = True
        origin, direction = way
        flat = self.canvas.camera.project(
            np.array([origin, origin + direction]), self.canvas.width(), self.canvas.height()
        )
        step = flat[1, :2] - flat[0, :2]
        size = float(step @ step)
        if self.distance() is None or not isinstance(far, EndField):
            return True
        if size < SQUARE_ON:
            self.canvas.desk.told.emit("Turn the view first: it goes straight away from you.", False)
            return True
        coarse = round_step(FINE / math.sqrt(size))
        wanted = float((np.array([at.x(), at.y()]) - flat[0, :2]) @ step / size)
        wanted = round(wanted / coarse) * coarse
        if wanted == 0:
            return True
        flip = self._flip
        if wanted < 0 and flip is not None:
            flip.turn()
        far.field.setText(units.shown(abs(wanted), "mm", 4))
        far.changed()
        return True

    def let_go(self) -> None:
        """A click that did not move turns the direction round."""
        held, self._grip = self._grip, None
        flip = self._flip
        if held is not None and not self._moved and flip is not None:
            flip.turn()

    def paint(self, p: QPainter) -> None:
        """The arrow."""
        ends = self._ends()
        if ends is None:
            return
        a, b = ends
        p.setPen(QPen(QColor(theme.PLUM), 2))
        p.drawLine(a, b)
        p.setPen(QPen(QColor(theme.FIELD), 1.5))
        p.setBrush(QColor(theme.PLUM))
        long = math.hypot(b.x() - a.x(), b.y() - a.y())
        if long < 4:  # seen square on: a ring
            p.drawEllipse(b, 7, 7)
            return
        u = (b - a) / long
        side = QPointF(-u.y(), u.x())
        p.drawPolygon(QPolygonF([b + u * 10, b + side * 7 - u * 4, b - side * 7 - u * 4]))
