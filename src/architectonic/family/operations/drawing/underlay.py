"""Pictures to draw over."""

from __future__ import annotations

from typing import Literal

from architectonic.family.operations.base import Operation
from architectonic.family.references import Expression, Reference


class Underlay(Operation, tag="underlay", tag_field="kind", frozen=True, kw_only=True):
    """A picture on a plane, to draw over.

    Attributes:
        plane, along: as those of a sketch.
        file: in the folder `files/` of the family.
        pixels: its width and height.
        at: its lower left corner on the plane, mm, before it is turned about that corner.
        width: how wide the whole picture is.
        turn: rad, counter-clockwise.
        crop: shares of the picture that are left out at its left, bottom, right and top.
    """

    plane: Reference
    along: Literal["x", "y"] = "x"
    file: str
    pixels: tuple[int, int]
    at: tuple[float, float] = (0.0, 0.0)
    width: Expression
    turn: float = 0.0
    opacity: float = 0.5
    crop: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
