"""Columns of grids whose rows are configurations or alternates: what a cell shows, and what typing into it means."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from typing import ClassVar, Literal, NamedTuple

from architectonic.base.errors import UserFault
from architectonic.check.attention import failing_scopes
from architectonic.check.switched import is_on
from architectonic.describe.results import Node, Outcome
from architectonic.family import edits, names, scopes, tables
from architectonic.family.operations.base import Operation, Turned
from architectonic.family.records import Bond, Constraint, Expression, Family, Measurement, Parameter, Sketch, Valued
from architectonic.family.scopes import Scope
from architectonic.family.tables import Typed
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units

Rows = Literal["configuration", "alternate"]
"""What the rows of a grid are: the part of a scope whose cells it shows."""


class GridRow(NamedTuple):
    """A row: its id ("" for a plain assembly), its name, and below how many others it stands."""

    key: str
    name: str
    depth: int


class ShownCell(NamedTuple):
    """What a cell shows.

    Attributes:
        text: as it is shown; typed: as it would have to be typed, "" where it follows others.
        kind: own, inherited, computed, free, switch, inherited switch, word or result.
        told: where the expression comes from that it follows, or what is wrong.
        differs: whether it says something else than its parent.
    """

    text: str
    typed: str = ""
    kind: str = "result"
    told: str = ""
    differs: bool = False


class GridColumn(ABC):
    """One column.

    Attributes:
        key: what it is known by in its document; group: the heading over it; title, unit: of its heading.
        by: what the rows are.
        optional: whether it is shown only when it is asked for.
    """

    group: ClassVar[str]
    document: str = ""
    key: str = ""
    title: str
    unit: str = ""
    by: Rows = "alternate"
    optional: bool = False

    @property
    def is_result(self) -> bool:
        """Whether nothing can be typed into it."""
        return type(self).change is GridColumn.change

    @abstractmethod
    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """The cell of a row."""

    def change(self, family: Family, key: str, text: str) -> Family:
        """What is typed into the cell of a row; "" follows the others again.

        Raises:
            UserFault: it cannot be used.
        """
        raise UserFault(f"{self.title} is what comes of it", "", "change what decides it")

    def change_many(self, family: Family, typed: Sequence[tuple[str, str]]) -> Family:
        """What is typed into the cells of several rows, all or nothing.

        Raises:
            UserFault: one of them cannot be used; says in which row.
        """
        for key, text in typed:
            try:
                family = self.change(family, key, text)
            except UserFault as fault:
                where = f"{self.title} of {names.row_name(family, self.document, key)}: {text}"
                raise UserFault(fault.what, where, fault.mend) from None
        return family

    def choices(self, family: Family) -> list[str]:
        """What the cell offers."""
        return []

    def row(self, key: str) -> Scope:
        """A row of the document, as far as its cells go."""
        return Scope(self.document, key, key) if self.by == "alternate" else Scope(self.document, key)

    def own(self, family: Family, at: Scope) -> tuple[str, ...]:
        """Keys under which the row keeps cells of its own: itself, and the size that it stands for."""
        key = str(getattr(at, self.by))
        if self.by == "alternate":
            return (key,)
        row = scopes.row_index(family.documents[at.document]).by_id.get(key)
        return (key, row.size) if row is not None and row.size else (key,)

    def follows(self, family: Family, at: Scope) -> bool:
        """Whether the row is the child of another one."""
        row = scopes.row_index(family.documents[at.document]).by_id.get(at.configuration)
        return self.by == "configuration" and row is not None and bool(row.parent)

    def kind(self, family: Family, at: Scope, own: bool, said: Expression | None = None) -> str:
        """Own, computed or inherited: a formula that a row follows by itself is computed, one of its parent's inherited."""
        if said is not None and (said.refs or said.choices) and (own or not self.follows(family, at)):
            return "computed"
        return "own" if own else "inherited"


class ValueColumn(GridColumn):
    """A parameter, or a dimension of a sketch."""

    group = "Values"

    def __init__(
        self, document: str, item: Parameter | Constraint, title: str, by: Rows, sketch: Sketch | None = None
    ) -> None:
        self.document, self.item, self.title, self.by = document, item.id, title, by
        self.record, self.sketch = item, sketch
        self.unit, self.quantity, self.decimals = names.unit_of(item), names.quantity_in(item), decimals(item)
        self.key = f"value:{item.id}"
        self.optional = not isinstance(item, Parameter) and not item.name

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """Its value; what the row says of it."""
        cell, expression = scopes.cell(family, at, self.record)
        outcome = evaluation.outcomes.get(Node("value", at, self.item)) if evaluation is not None else None
        typed = names.shown_text(family, family.documents[self.document], expression, self.sketch)
        own = cell in self.own(family, at)
        kind = self.kind(family, at, own, expression)
        differs = own and self.follows(family, at)
        if outcome is not None and outcome.problem is not None:
            return ShownCell("✕", typed if own else "", "bad", outcome.problem.what, differs)
        value = outcome.value if outcome is not None else None
        text = "…" if value is None else f"{value / units.factor(self.unit):.{self.decimals}f}"
        return ShownCell(text, typed if own else "", kind, typed, differs)

    def change(self, family: Family, key: str, text: str) -> Family:
        """Set it in a row; "" follows again."""
        if text:
            return edits.set_value(family, self.document, self.item, text, key)
        for cell in self.own(family, self.row(key)):
            family = edits.clear_cell(family, self.document, self.item, cell)
        return family

    def change_many(self, family: Family, typed: Sequence[tuple[str, str]]) -> Family:
        """Set it in several rows at once."""
        if not isinstance(self.record, Parameter):
            return super().change_many(family, typed)
        cells = [
            Typed(self.item, cell, t)
            for key, t in typed
            for cell in (self.own(family, self.row(key)) if not t else (key,))
        ]
        return tables.type_cells(family, self.document, cells)


class SwitchColumn(GridColumn):
    """Whether something is on."""

    group: ClassVar[str] = "Switches"

    def __init__(self, document: str, key: str, title: str, by: Rows) -> None:
        self.document, self.item, self.title, self.by, self.key = document, key, title, by, f"switch:{key}"

    def record(self, family: Family) -> Operation | Bond:
        """What is on or off: an operation."""
        return edits.operation(family, self.document, self.item)

    def turned(self, family: Family, on: Turned | None, key: str) -> Family:
        """With it turned on or off in a row; None follows the others again."""
        return edits.set_switch(family, self.document, self.item, on, key)

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """On or off."""
        record = self.record(family)
        cell, said = scopes.turned(family, at, record.switch)
        own = cell in self.own(family, at)
        on = is_on(family, evaluation, at, record)
        told = "" if isinstance(said, bool) else f"on when {self._text(family, said)}"
        text = "…" if on is None else "on" if on else "off"
        typed = text if isinstance(said, bool) else self._text(family, said)
        kind = "computed switch" if not isinstance(said, bool) and (own or not self.follows(family, at)) else "switch"
        if not own and kind == "switch":
            kind = "inherited switch"
        return ShownCell(text, typed if own else "", kind, told, own and self.follows(family, at))

    def _text(self, family: Family, said: Expression) -> str:
        return names.shown_text(family, edits.document(family, self.document), said)

    def change(self, family: Family, key: str, text: str) -> Family:
        """Turn it on or off, or let a condition decide: `length > 300 mm`."""
        said = edits.condition(family, self.document, text)
        if said is None:
            for cell in self.own(family, self.row(key)):
                family = self.turned(family, None, cell)
            return family
        return self.turned(family, said, key)

    def choices(self, family: Family) -> list[str]:
        """On and off."""
        return ["on", "off"]


class MeasuredColumn(GridColumn):
    """A kept measurement."""

    group = "Results"

    def __init__(self, measurement: Measurement, by: Rows) -> None:
        self.item, self.title, self.unit = measurement.id, measurement.name, names.unit_of(measurement)
        self.by, self.key = by, f"measured:{measurement.id}"

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """The figure; … while it is not known."""
        outcome = evaluation.outcomes.get(Node("value", at, self.item)) if evaluation is not None else None
        if outcome is None:
            return ShownCell("…")
        return ShownCell("—" if outcome.value is None else f"{outcome.value / units.factor(self.unit):.2f}")


def decimals(item: Valued) -> int:
    """How many decimals all values of a parameter or dimension are shown with."""
    unit = names.unit_of(item)
    return {"number": 2, "angle": 1}.get(names.quantity_in(item), 3 if unit in ("in", "ft", "m") else 2)


def title_of(sketch: Sketch | None, item: Valued) -> str:
    """What a value is called over its column."""
    name = str(getattr(item, "name", ""))
    if sketch is None or name:
        return f"{sketch.name}.{name}" if sketch is not None else name
    said = getattr(item, "value", None)
    return (
        f"{sketch.name}: {getattr(item, 'kind', '').replace('_', ' ')} {said.text if said is not None else ''}".strip()
    )


def states(evaluation: Evaluation | None, rows: Sequence[Scope], built: str) -> dict[Scope, str]:
    """The mark of each row: current, failing, out of rule, or updating while it is not known.

    Args:
        built: the node that says that a row is worked out.
    """
    outcomes = evaluation.outcomes if evaluation is not None else {}
    bad = failing_scopes(evaluation) if evaluation is not None else frozenset()
    broken = {n.at for n, o in outcomes.items() if _breaks_a_rule(n, o)}
    return {
        at: "updating"
        if built and Node(built, at, "") not in outcomes
        else "failing"
        if at in bad
        else "out of rule"
        if at in broken
        else "current"
        for at in rows
    }


def _breaks_a_rule(node: Node, outcome: Outcome) -> bool:
    if outcome.problem is not None and outcome.problem.severity == "out of rule":
        return True
    return node.what == "rule" and outcome.value is not None and not outcome.value.holds
