"""The points of an open path over the picture: numbered, pulled, added where the pointer is; the lock is told there."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from architectonic.describe.space.leads import Led
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.kit import theme
from architectonic.desktop.sentences.blanks.led import AXES, FACE, FaceLock, LedField, lock_words, on_axis, on_plane
from architectonic.desktop.sentences.card import SentenceCard
from architectonic.family.operations.curves.path import SpacePath
from architectonic.session.model.pathing import led_of
from architectonic.session.picking import picked

NEAR = 9.0
"""How near the pointer must come to a point, pixels."""
STEP = 0.5
"""Free points stand on this grid, mm."""


class LeadTags:
    """Reads an open path and writes into its blank of points.

    Args:
        canvas: where it stands; card: the sentence.
    """

    def __init__(self, canvas: BodyCanvas, card: SentenceCard) -> None:
        self.canvas, self.card = canvas, card
        self.at = QPointF()
        self.held = ""
        self.moved = False

    @property
    def field(self) -> LedField | None:
        """What holds the points; None where no path is open, or clicks go to another blank."""
        found = next((b for b in self.card.blanks.values() if isinstance(b, LedField)), None)
        return found if isinstance(self.card.record, SpacePath) and found is not None else None

    @property
    def led(self) -> Led | None:
        """The path as it is previewed."""
        evaluation, at, record = self.canvas.desk.evaluation, self.canvas.shown.at, self.card.record
        if evaluation is None or at is None or not isinstance(record, SpacePath):
            return None
        return led_of(evaluation, at, record.id)

    def places(self) -> dict[str, np.ndarray]:
        """Where points are: as solved, those that are not yet as they were put."""
        field, led = self.field, self.led
        if field is None:
            return {}
        known = led.points if led is not None else {}
        return {k: np.array(known.get(k, p.at)) for k, p in field.path.points.items()}

    def _near(self, q: QPointF) -> str:
        for key, at in self.places().items():
            x, y = self.canvas.to_screen(at[None, :])[0][:2]
            if math.hypot(x - q.x(), y - q.y()) < NEAR:
                return key
        return ""

    # --- the pointer ----------------------------------------------------------------------------------

    @property
    def under(self) -> bool:
        """Whether the pointer is on a point."""
        return self.field is not None and bool(self._near(self.at))

    def hover(self, at: QPointF) -> bool:
        """What is told at the pointer follows it."""
        self.at = at
        if self.field is not None:
            self.field.pointed = self._face_below
        return self.field is not None

    def _face_below(self) -> FaceLock | None:
        """The flat face of a body under the pointer."""
        canvas = self.canvas
        hits = canvas.picker.at(canvas.camera, self.at.x(), self.at.y(), canvas.width(), canvas.height())
        hit = next((h for h in hits if h.kind == "face"), None)
        mesh = canvas.mesh(hit.body, hit.label) if hit is not None else None
        if hit is None or mesh is None or hit.label not in mesh.faces:
            return None
        plane, own = mesh.planes[mesh.faces.index(hit.label)], canvas.desk.main.subject.id_here(hit.body)
        if not plane or not own:
            return None
        (x, y, z), (u, v, w) = plane
        return FaceLock(picked.reference(mesh, own, "face", hit.label), (x, y, z), (u, v, w))

    def take(self, at: QPointF) -> bool:
        """Take hold of a point; where nothing is that could be tied to, a new one stands under the pointer."""
        field = self.field
        if field is None or not field.button.isChecked():
            return False
        self.held, self.moved = self._near(at), False
        if self.held and field.rules.name_point(self.held):
            self.held = ""
            return True
        if self.held:
            return True
        if self._ties(field):
            return False  # it is tied to what lies there
        place = self.under_pointer(at)
        if place is None:
            self.canvas.desk.told.emit("Turn the view first: the lock goes straight away from you.", False)
            return True
        field.put(place)
        return True

    def _ties(self, field: LedField) -> bool:
        """Whether a click would tie a point to what lies under the pointer; in the plane of a face it stands free."""
        return field.lock != FACE and (self.canvas.current() is not None or self.canvas.space.over is not None)

    def under_pointer(self, q: QPointF) -> tuple[float, float, float] | None:
        """Where a point under the pointer would stand: on the lock through the point before, else in the plane of the view
        through it; on the grid. None where the lock is seen end on."""
        field = self.field
        if field is None:
            return None
        places = self.places()
        last = places[field.path.order[-1]] if field.path.order else np.zeros(3)
        return self._on_lock(q, last, field.lock)

    def _on_lock(self, q: QPointF, last: np.ndarray, lock: str) -> tuple[float, float, float] | None:
        origin, way = self.canvas.camera.ray(q.x(), q.y(), self.canvas.width(), self.canvas.height())
        face = self.field.face if self.field is not None and lock == FACE else None
        if face is not None:
            on, normal = np.array(face.origin), np.array(face.normal)
            slope = float(way @ normal)
            if abs(slope) < 1e-3:
                return None
            x, y, z = (float(c) for c in origin + float((on - origin) @ normal) / slope * way)
            return x, y, z
        axis = np.eye(3)[AXES.index(lock[-1])] if lock else way
        if on_axis(lock):  # the point of the axis that is nearest to the line of sight
            across = way - float(way @ axis) * axis
            if float(across @ across) < 1e-6:
                return None
            far = float((origin - last) @ axis - (origin - last) @ way * (way @ axis)) / float(across @ across)
            return _gridded(last + far * axis)
        slope = float(way @ axis)
        if abs(slope) < 1e-3:
            return None
        hit = origin + float((last - origin) @ axis) / slope * way
        found = _gridded(hit)
        if lock:
            k = AXES.index(lock[-1])
            found = (*found[:k], float(last[k]), *found[k + 1 :])  # type: ignore[assignment]
        return found

    def follow(self, at: QPointF) -> bool:
        """Pull the point that is held; what holds it decides where it comes to."""
        field = self.field
        if not self.held or field is None:
            return False
        self.moved = True
        place = self._on_lock(at, self.places()[self.held], field.lock if on_plane(field.lock) else "")
        if place is not None:
            field.move(self.held, place)
        return True

    def let_go(self) -> None:
        """The button is up again."""
        self.held = ""

    # --- painting -------------------------------------------------------------------------------------

    def paint(self, p: QPainter) -> None:
        """Legs, numbered points (ochre while they can move), what the next one would be, and the lock at the pointer."""
        field, led = self.field, self.led
        if field is None:
            return
        places = self.places()
        flat = {k: QPointF(*map(float, self.canvas.to_screen(at[None, :])[0][:2])) for k, at in places.items()}
        p.setPen(QPen(QColor(theme.HELD), 1.4, Qt.PenStyle.DashLine))
        order = [k for k in field.path.order if k in flat]
        for a, b in pairwise(order):
            p.drawLine(flat[a], flat[b])
        free = set(led.free) if led is not None else set(order)
        p.setFont(theme.font(10, 600))
        for number, key in enumerate(order):
            loose = key in free
            p.setPen(QPen(QColor(theme.FREE if loose else theme.HELD), 2))
            p.setBrush(QColor(theme.FIELD))
            p.drawEllipse(flat[key], 4.5, 4.5)
            p.setPen(QColor(theme.INK))
            p.drawText(flat[key] + QPointF(8, -6), str(number + 1))
        if field.button.isChecked() and self.canvas.underMouse():
            self._paint_next(p, field, flat[order[-1]] if order else None)
        if led is not None:
            self._tell(p, QPointF(96, self.canvas.height() - 26), f"{led.length:.1f} mm long, {led.freedoms} free")

    def _paint_next(self, p: QPainter, field: LedField, last: QPointF | None) -> None:
        over = self._ties(field)
        place = None if over else self.under_pointer(self.at)
        if over:
            words = "on what lies here"
        elif place is None:
            words = f"{lock_words(field.lock)}: seen end on"
        else:
            tip = QPointF(*map(float, self.canvas.to_screen(np.array([place]))[0][:2]))
            p.setPen(QPen(QColor(theme.PLUM), 1.6, Qt.PenStyle.DashLine))
            if last is not None:
                p.drawLine(last, tip)
            p.setBrush(QColor(theme.PLUM))
            p.drawEllipse(tip, 3, 3)
            before = self.places()[field.path.order[-1]] if field.path.order else np.zeros(3)
            far = float(np.linalg.norm(np.array(place) - before))
            coordinates = ", ".join(f"{c:g}" for c in place)
            words = f"{lock_words(field.lock)}  {far:.1f} mm" if last is not None else f"at {coordinates}"
        self._tell(p, self.at + QPointF(16, 22), words)

    def _tell(self, p: QPainter, at: QPointF, words: str) -> None:
        p.setFont(theme.font(11, 500))
        wide = QFontMetricsF(p.font()).horizontalAdvance(words) + 14
        box = QRectF(min(at.x(), self.canvas.width() - wide - 6), min(at.y(), self.canvas.height() - 26.0), wide, 20)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(theme.INK))
        p.drawRoundedRect(box, 3, 3)
        p.setPen(QColor(theme.FIELD))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, words)


def _gridded(at: np.ndarray) -> tuple[float, float, float]:
    x, y, z = (round(float(c) / STEP) * STEP + 0.0 for c in at)
    return x, y, z
