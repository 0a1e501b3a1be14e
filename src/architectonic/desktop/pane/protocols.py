"""How canvases, cards and what lies over a canvas meet: each knows these few calls of the other, and no widget."""

from __future__ import annotations

from typing import Protocol

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter


class Handle(Protocol):
    """Something over a canvas that is taken hold of and dragged."""

    @property
    def under(self) -> bool:
        """Whether the pointer is on it."""

    def hover(self, at: QPointF) -> bool:
        """Follow the pointer; whether it must be drawn anew."""

    def take(self, at: QPointF) -> bool:
        """Whether a press there takes hold of it."""

    def follow(self, at: QPointF) -> bool:
        """Whether it is held, and went along with the pointer."""

    def let_go(self) -> None:
        """The button is up again."""

    def paint(self, p: QPainter) -> None:
        """Draw it over the picture."""


class Offering(Protocol):
    """Something that offers things on a canvas and takes clicks, hovering and keys there while it is active."""

    @property
    def active(self) -> bool:
        """Whether it offers anything now."""

    def click(self, q: QPointF) -> None:
        """Take what lies under a pixel."""

    def hover(self, q: QPointF) -> None:
        """Follow the pointer."""

    def step(self, by: int) -> None:
        """Turn to what lies behind."""

    def leave(self) -> None:
        """Offer nothing any more."""

    def paint(self, p: QPainter) -> None:
        """Draw what is offered."""
