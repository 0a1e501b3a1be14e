"""Ways over a picture along which something is dragged: along an axis, or about it."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import TypeVar

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QGuiApplication

from architectonic.desktop.body.view import BodyView

REACH = 58.0
"""How far from its axis something that turns is taken hold of, pixels."""
EDGE_ON = 0.12
"""A circle that is seen narrower than this cannot be dragged along."""


STEPS = {"turn": math.radians(1.0), "slide": 0.5}
"""A drag goes in these steps, rad and mm; Shift in tenths of them."""
S = TypeVar("S")


def step_of(kind: str) -> float:
    """The step of a drag now."""
    fine = bool(QGuiApplication.keyboardModifiers() & Qt.KeyboardModifier.ShiftModifier)
    return STEPS[kind] * (0.1 if fine else 1.0)


def moved_on(kind: str, along: float, last: float) -> float:
    """How far the pointer went on a way; the short way round of a turn."""
    moved = along - last
    return (moved + math.pi) % math.tau - math.pi if kind == "turn" else moved


class Ways:
    """Places on ways, and where the pointer is along them."""

    def __init__(self, canvas: BodyView) -> None:
        self.canvas = canvas

    def reach(self) -> float:
        """REACH in mm, as the picture is scaled."""
        return REACH * 2 * self.canvas.camera.scale / max(1, self.canvas.height())

    def spot(self, point: np.ndarray) -> QPointF:
        """The pixel of a point in space."""
        x, y = self.canvas.to_screen(point[None])[0]
        return QPointF(x, y)

    def nearest(self, at: QPointF, tips: Iterable[tuple[S, np.ndarray]], near: float) -> S | None:
        """What has its tip, a point in space, nearest to a pixel; None when none is so near."""
        found, best = None, near
        for thing, tip in tips:
            spot = self.spot(tip)
            away = math.hypot(spot.x() - at.x(), spot.y() - at.y())
            found, best = (thing, away) if away < best else (found, best)
        return found

    def along(self, slides: bool, point: np.ndarray, axis: np.ndarray, zero: np.ndarray, at: QPointF) -> float | None:
        """Where a pixel is on a way, in mm or rad; None when the way cannot be seen.

        Args:
            slides: along the axis, else about it; zero: the direction across it that a turn is counted from.
        """
        middle = self.spot(point)
        q = np.array([at.x() - middle.x(), at.y() - middle.y()])
        if slides:
            tip = self.spot(point + axis)
            step = np.array([tip.x() - middle.x(), tip.y() - middle.y()])
            size = float(step @ step)
            return float(q @ step) / size if size > 1e-6 else None
        across = np.cross(axis, zero)
        ends = [self.spot(point + way) for way in (zero, across)]
        sides = np.array([[e.x() - middle.x(), e.y() - middle.y()] for e in ends]).T
        sizes = np.linalg.svd(sides, compute_uv=False)
        if sizes[1] < EDGE_ON * sizes[0]:
            return None
        a, b = np.linalg.solve(sides, q)
        return math.atan2(b, a)
