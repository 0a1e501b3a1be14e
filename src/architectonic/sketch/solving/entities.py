"""Curves and constraints of a sketch as numbers, and how rows look at the unknowns that stand for them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from architectonic.base import places
from architectonic.sketch.curves.kinds import names_of

Places = tuple[places.PlaceKey, ...]


@dataclass(frozen=True)
class Curve:
    """A curve in the sketch's plane: its kind and values in the order of `kinds.names_of` (mm).

    A fixed curve stays at its values; `drawn` says where it stood when the sketch was drawn, so that the rest can
    follow it from there. `data` never changes: parameters of the points of a spline, height by width of a text.
    """

    id: str
    kind: str
    values: tuple[float, ...]
    fixed: bool = False
    drawn: tuple[float, ...] = ()
    data: tuple[float, ...] = ()

    @property
    def names(self) -> tuple[str, ...]:
        """Its variables."""
        return names_of(self.kind, len(self.values))


@dataclass(frozen=True)
class Constraint:
    """A constraint between places; `value` in mm or rad for dimensions."""

    id: str
    kind: str
    of: Places
    value: float | None = None
    branch: int = 1


ORIGIN = Curve(places.ORIGIN, "point", (0.0, 0.0), fixed=True)
X_AXIS = Curve(places.X_AXIS, "line", (0.0, 0.0, 1.0, 0.0), fixed=True)
Y_AXIS = Curve(places.Y_AXIS, "line", (0.0, 0.0, 0.0, 1.0), fixed=True)
GIVEN = (ORIGIN, X_AXIS, Y_AXIS)


class Unknowns(Protocol):
    """The variables of a sketch as the rows of one constraint see them (`system.System`)."""

    x: list[float]
    curves: dict[str, Curve]
    constraints: list[Constraint]
    added: dict[str, tuple[int, ...]]
    first: dict[str, int]

    def kind(self, place: str) -> str:
        """What a place is: a point, or the kind of a curve."""

    def point(self, place: str) -> tuple[int, int]:
        """Variables of a point."""

    def ends(self, line: str) -> tuple[int, int, int, int]:
        """Variables of a line: x and y of start, x and y of end."""

    def radius(self, curve: str) -> int:
        """The radius variable of a circle or arc."""

    def points(self, curve: str) -> dict[str, tuple[int, int]]:
        """Variables of every point of a curve, by the point's name."""

    def at(self, place: str) -> tuple[float, float]:
        """Where a point stands at the start."""

    def same_point(self, p: tuple[int, int], q: tuple[int, int]) -> bool:
        """Whether two points were merged into one."""
