"""The grammar of places in a sketch: a whole curve is its id, a point of one adds the point's name ("c1", "c1.start").

The origin and the axes are curves with ids of their own. Nothing else takes the text of a place apart.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import NewType

PlaceKey = NewType("PlaceKey", str)
"""A curve of a sketch, or a point of one."""
ORIGIN = PlaceKey("origin")
AXES = X_AXIS, Y_AXIS = PlaceKey("x_axis"), PlaceKey("y_axis")
FIXED = (ORIGIN, *AXES)
"""What every sketch has without a curve of its own."""


def point_on(curve: str, point: str = "") -> PlaceKey:
    """A point of a curve by its name; a whole curve without one."""
    return PlaceKey(f"{curve}.{point}" if point else curve)


def taken_apart(at: str) -> tuple[str, str]:
    """The curve, and the name of its point; "" for a whole curve."""
    curve, _, point = at.partition(".")
    return curve, point


def curve_of(at: str) -> str:
    """The curve that a place is on."""
    return at.partition(".")[0]


def point_of(at: str) -> str:
    """The name of the point of its curve; "" for a whole curve."""
    return at.partition(".")[2]


def curves_of(places: Iterable[str]) -> set[str]:
    """The curves that places are on."""
    return {curve_of(p) for p in places}
