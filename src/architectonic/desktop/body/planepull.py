"""A copy of a plane, pulled off by its name."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF

from architectonic.describe.results import Frame
from architectonic.desktop.body.space import Space, SpaceFigure
from architectonic.family.records import Datum

STILL = 5.0
"""Pixels that a press may wander without being a pull."""
FINE = 6.0
"""Pixels that one step of the distance takes at least."""
SQUARE_ON = 0.02
"""A normal that is foreshortened below this share cannot be pulled along."""


class PlanePull:
    """Follows the pointer from a plane's name; distances go in round steps."""

    def __init__(self, space: Space) -> None:
        self.space = space
        self.held: tuple[SpaceFigure, QPointF] | None = None
        self.pulled = False

    def take(self, q: QPointF) -> None:
        """A press: on the name of a plane of the document itself it may become a pull."""
        own = self.space.canvas.shown.at
        self.pulled = False
        self.held = next(
            (
                (thing, q)
                for box, thing in self.space.plates
                if box.contains(q) and isinstance(thing.value, Frame) and isinstance(thing.operation, Datum)
                if thing.at == own
            ),
            None,
        )

    def follow(self, q: QPointF) -> float | None:
        """How far the copy would stand from its plane, mm; None while nothing is pulled, or it is seen square on."""
        if self.held is None:
            return None
        thing, start = self.held
        moved = q - start
        if not self.pulled and math.hypot(moved.x(), moved.y()) < STILL:
            return None
        self.pulled = True
        frame = thing.value
        origin = np.array(frame.origin)
        (ax, ay), (bx, by) = self.space.to_screen(np.array([origin, origin + np.array(frame.normal)]))
        ux, uy = bx - ax, by - ay
        size = math.hypot(ux, uy)  # pixels of a millimetre along the normal
        if size < SQUARE_ON * self.space.canvas.height() / 2 / self.space.canvas.camera.scale:
            return None
        step = round_step(FINE / size)
        return float(round((moved.x() * ux + moved.y() * uy) / size**2 / step) * step)

    def release(self) -> bool:
        """The button is let go; True when something was pulled."""
        pulled, self.held, self.pulled = self.pulled, None, False
        return pulled


def round_step(least: float) -> float:
    """The next of 1, 2 and 5 times a power of ten."""
    power = 10.0 ** math.floor(math.log10(least))
    return next(power * k for k in (1, 2, 5, 10) if power * k >= least)
