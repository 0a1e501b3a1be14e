"""A small span of one dimension: played through its values to see what moves, and as far as the sketch goes along."""

from __future__ import annotations

import math
from typing import NamedTuple

from architectonic.base.errors import UserFault
from architectonic.describe.results import Node, SketchResult
from architectonic.family import edits
from architectonic.family.names import unit_of
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.quantities.units import UNITS
from architectonic.session.open.queries import variant

STEPS = 24
"""Values from one end of a span to the other."""


class Still(NamedTuple):
    """One value of a span (mm or rad): the sketch there, or why it does not solve."""

    value: float
    solved: SketchResult | None
    told: str = ""


class Span:
    """A dimension and the values it is played through; nothing is stored.

    Args:
        low, high: mm or rad.

    Raises:
        UserFault: the dimension is gone, or only read.
    """

    def __init__(self, family: Family, at: Scope, sketch: str, key: str, low: float, high: float) -> None:
        record = edits.operation(family, at.document, sketch)
        found = [c for c in getattr(record, "constraints", ()) if c.id == key]
        if not found or found[0].value is None:
            raise UserFault("only a dimension that drives can be played", record.name, "let it drive first")
        if not low < high:
            raise UserFault("a span goes from a smaller to a larger value", record.name)
        self.family, self.at, self.sketch, self.key = family, at, sketch, key
        self.unit, self._asked = unit_of(found[0]), variant()
        self.values = [low + (high - low) * k / STEPS for k in range(STEPS + 1)]

    def frame(self, number: int) -> Still:
        """The sketch at one of the values."""
        value = self.values[number]
        shown = value / UNITS[self.unit].factor
        family = edits.set_value(self.family, self.at.document, self.key, f"{shown:.12g} {self.unit}")
        node = Node("solve", self.at, self.sketch)
        outcome = self._asked.ask(family, [node]).outcomes[node]
        if outcome.problem is not None:
            return Still(value, None, outcome.problem.what)
        return Still(value, outcome.value)

    def moved(self, frame: Still, still: SketchResult) -> set[str]:
        """Curves that stand elsewhere than they do now."""
        if frame.solved is None:
            return set()
        return {
            k
            for k, c in frame.solved.curves.items()
            if k in still.curves
            and any(
                not math.isclose(a, b, abs_tol=1.0 / 2**20)
                for a, b in zip(c.values, still.curves[k].values, strict=True)
            )
        }

    def report(self, frames: list[Still]) -> str:
        """In which values the sketch solves, and what stands against the others."""
        factor = UNITS[self.unit].factor
        good = [f.value / factor for f in frames if f.solved is not None]
        bad = [f for f in frames if f.solved is None]
        if not good:
            return f"It solves nowhere in this span: {bad[0].told}"
        told = f"It solves from {min(good):.4g} to {max(good):.4g} {self.unit}"
        return (
            f"{told}; at {bad[0].value / factor:.4g} {self.unit}: {bad[0].told}" if bad else f"{told}, the whole span."
        )
