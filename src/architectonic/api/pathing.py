"""Paths in space from Python: points, what holds them, and how they are bent."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from architectonic.api.operations import Operation
from architectonic.api.speaking import the_name
from architectonic.base.errors import UserFault
from architectonic.describe.results import Node
from architectonic.describe.space.leads import Bend, Led
from architectonic.family import edits
from architectonic.family import records as r
from architectonic.family.operations.curves.path import PathPoint, RuleKind, SpacePath
from architectonic.session.model import pathing

if TYPE_CHECKING:
    from architectonic.api.documents import Model

At = tuple[float, float, float]


class Path(Operation):
    """A path in space. Its points are counted from 0."""

    @property
    def _own(self) -> SpacePath:
        found = self.record
        assert isinstance(found, SpacePath)
        return found

    @property
    def led(self) -> Led:
        """The path as it is.

        Raises:
            UserFault: it cannot be made; says why.
        """
        node = Node("path", self.model.at, self.id)
        outcome = self.model.opened.known(node).outcomes[node]
        if outcome.problem is not None:
            raise UserFault(outcome.problem.what, self.name, outcome.problem.mend)
        found: Led = outcome.value
        return found

    @property
    def length(self) -> float:
        """Developed, along the centre line, mm."""
        return self.led.length

    @property
    def bends(self) -> list[Bend]:
        """Feed, turn and bend of each corner, in order."""
        return list(self.led.bends)

    def table(self) -> str:
        """The bend table as comma-separated values."""
        return pathing.table_csv(self.led)

    def point(self, number: int) -> At:
        """Where a point is, mm."""
        led = self.led
        return led.points[led.order[number]]

    def hold(self, kind: RuleKind, *points: int, value: str = "", to: Any = None, name: str = "") -> None:
        """Hold points: `along_x`, `apart`, `corner`, `in_plane`, ...

        Args:
            points: their numbers. value: of a length or angle. to: what one is tied to: a point, line, plane, face or datum.

        Raises:
            UserFault: it cannot be said so, or disagrees with what holds them already; nothing changed.
        """
        keys = tuple(self._own.order[k] for k in points)
        reference = the_name(self.model, to, kind) if to is not None else None

        def change(family: r.Family) -> r.Family:
            document = edits.model(family, self.model.id)
            made = pathing.rule_said(
                family, document, self._own, kind, keys, value, reference, name, self.model.opened.new_id
            )
            held = edits.replace(self._own, rules=(*self._own.rules, made))
            after = edits.replace_operation(family, self.model.id, held)
            pathing.refuse_conflict(after, self.model.at, held)
            return after

        self.model.apply(f"{kind} in {self.name}", change)


def led_path(model: Model, points: list[At], name: str, **said: Any) -> Path:
    """A new path through points where they stand."""
    made = model.do("path", name, **said)

    def change(family: r.Family) -> r.Family:
        found = {model.opened.new_id(): PathPoint(at=tuple(map(float, p))) for p in points}  # type: ignore[arg-type]
        record = made.record
        assert isinstance(record, SpacePath)
        return edits.replace_operation(family, model.id, edits.replace(record, points=found, order=tuple(found)))

    model.apply(f"points of {made.name}", change)
    return Path(model, made.id)
