"""The columns of a range: what drives its document, values, switches, what is said of a row, and what it comes to."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any, ClassVar

from architectonic.check.cells import built
from architectonic.describe.assembly.extents import Extents
from architectonic.describe.references.rule import words
from architectonic.describe.results import Checked, ModelState, Node
from architectonic.family import edits, names, scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import (
    DIMENSIONS,
    MATCH,
    SELF,
    AnyDocument,
    Assembly,
    Family,
    Guard,
    Model,
    Rule,
    Sketch,
    Valued,
    ValueRef,
)
from architectonic.family.scopes import Scope
from architectonic.family.walk import items, pointers_in
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units
from architectonic.quantities.materials import MATERIALS
from architectonic.session.tables.columns import (
    GridColumn,
    MeasuredColumn,
    Rows,
    ShownCell,
    SwitchColumn,
    ValueColumn,
    states,
    title_of,
)

BY: Rows = "configuration"


class DriverColumn(GridColumn):
    """A value of another document that this one reads; it is changed where it lives."""

    group = "Driven by"
    by = "configuration"

    def __init__(self, document: str, item: Valued, title: str, beside: bool) -> None:
        self.document, self.item, self.title, self.unit = document, item.id, title, names.unit_of(item)
        self.key, self.optional = f"driver:{document}:{item.id}", beside

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """What it comes to in a row."""
        there = scopes.source_scope(family, at, self.document, MATCH)
        value = evaluation.value(Node("value", there, self.item)) if evaluation is not None else None
        return ShownCell("…" if value is None else f"{value / units.factor(self.unit):.2f}")


class SaidColumn(GridColumn):
    """What is said of a row."""

    group = "Properties"
    by = "configuration"
    TITLES: ClassVar[dict[str, str]] = {
        "number": "Number", "note": "Description", "material": "Material", "colour": "Colour",
    }  # fmt: skip

    def __init__(self, document: AnyDocument, field: str) -> None:
        self.document, self.field, self.title = document.id, field, self.TITLES[field]
        self.key = f"said:{field}"
        self.optional = field != "number" and not any(getattr(r, field) for r in document.configurations)

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """Its own words; soft those of its parent, or of the document."""
        row = scopes.row_index(family.documents[self.document]).by_id.get(at.configuration)
        own = str(getattr(row, self.field)) if row is not None else ""
        if own:
            return ShownCell(own, own, "word", "", self.follows(family, at))
        if self.field == "number":
            return ShownCell("", "", "word")  # a number is never anybody else's
        return ShownCell(scopes.said(family, at, self.field), "", "inherited word")

    def change(self, family: Family, key: str, text: str) -> Family:
        """Say it."""
        return edits.set_said(family, self.document, key, self.field, text)

    def choices(self, family: Family) -> list[str]:
        """Materials whose density is known."""
        return [m.name for m in MATERIALS] if self.field == "material" else []


class StatusColumn(GridColumn):
    """Whether a row is as it should be."""

    group = "Results"
    by = "configuration"
    key, title, optional = "result:status", "Status", True

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """In a word."""
        return ShownCell(states(evaluation, [at], built(family, at.document))[at])


class BodyColumn(GridColumn):
    """A figure of a body, or of all solid ones together."""

    group = "Results"
    by = "configuration"
    FIGURES: ClassVar[dict[str, tuple[str, str]]] = {
        "mass": ("mass", "g"), "volume": ("volume", "cm³"), "box": ("box", "mm"),
    }  # fmt: skip

    def __init__(self, what: str, body: str, name: str) -> None:
        self.what, self.body = what, body
        word, self.unit = self.FIGURES[what]
        self.title = f"{name} {word}" if name else word.capitalize()
        self.key = f"result:{what}:{body}"

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """The figure; … while it is not known, — where there is none."""
        node = Node("mass" if self.what == "mass" else "measure", at, self.body)
        outcome = evaluation.outcomes.get(node) if evaluation is not None else None
        if outcome is None:
            return ShownCell("…" if evaluation is None or not _is_absent(evaluation, at, self.body) else "—")
        if outcome.value is None:
            return ShownCell("—")
        if self.what == "mass":
            return ShownCell(f"{outcome.value:.1f}")
        found = outcome.value
        return ShownCell(f"{found['volume_mm3'] / 1000:.2f}" if self.what == "volume" else box_text(found["box_mm"]))


def _is_absent(evaluation: Evaluation, at: Scope, body: str) -> bool:
    """Whether a row is worked out and has no such body."""
    state = evaluation.value(Node("finished", at, ""))
    return isinstance(state, ModelState) and all(b.id != body for b in state.bodies)


class WholeColumn(GridColumn):
    """A figure of an assembly."""

    group = "Results"
    by = "configuration"
    TITLES: ClassVar[dict[str, tuple[str, str]]] = {
        "instances": ("Instances", ""), "mass": ("Mass", "g"), "box": ("Box", "mm"),
    }  # fmt: skip

    def __init__(self, what: str) -> None:
        self.what, (self.title, self.unit), self.key = what, self.TITLES[what], f"result:{what}"

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """The figure; … while it is not known."""
        node = Node("assembly" if self.what == "instances" else "extents", at, "")
        outcome = evaluation.outcomes.get(node) if evaluation is not None else None
        if outcome is None or outcome.value is None:
            return ShownCell("…" if outcome is None else "—")
        if self.what == "instances":
            return ShownCell(str(len(outcome.value)))
        whole = outcome.value.whole if isinstance(outcome.value, Extents) else None
        if self.what == "mass":
            return ShownCell("—" if whole is None or whole.mass is None else f"{whole.mass:.1f}")
        return ShownCell("—" if whole is None or whole.box is None else box_text(whole.box))


class RuleColumn(GridColumn):
    """Whether a rule or guard holds."""

    group = "Rules"
    by = "configuration"
    optional = True

    def __init__(self, rule: Rule | Guard) -> None:
        self.rule, self.title, self.key = rule, rule.name, f"rule:{rule.id}"

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """Holds, or what is wrong."""
        outcome = evaluation.outcomes.get(Node("rule", at, self.rule.id)) if evaluation is not None else None
        if outcome is None:
            return ShownCell("…")
        if not isinstance(outcome.value, Checked):
            return ShownCell("cannot be worked out", told=outcome.problem.what if outcome.problem else "")
        if outcome.value.holds:
            return ShownCell("holds")
        return ShownCell("does not hold", told=words(self.rule, outcome.value))


def box_text(box: Sequence[float]) -> str:
    """`150.0 × 150.0 × 18.0`."""
    return " × ".join(f"{high - low:.1f}" for low, high in zip(box[:3], box[3:], strict=True))


def columns(family: Family, document: AnyDocument) -> list[GridColumn]:
    """All columns that a document can show in its range, in the order in which they come."""
    found: list[GridColumn] = [*_drivers(family, document)]
    found += [ValueColumn(document.id, p, p.name, BY) for p in document.parameters]
    build = document.build if isinstance(document, Model) else ()
    for sketch in (o for o in build if isinstance(o, Sketch)):
        dimensions = [c for c in sketch.constraints if c.kind in DIMENSIONS and c.value is not None]
        found += [ValueColumn(document.id, c, title_of(sketch, c), BY, sketch) for c in dimensions]
    for operation in build:
        if isinstance(operation, BodyOperation):
            column = SwitchColumn(document.id, operation.id, operation.name, BY)
            said = operation.switch
            column.optional = not said.own and said.default is True
            found.append(column)
    found += [SaidColumn(document, field) for field in SaidColumn.TITLES]
    found.append(StatusColumn())
    found += _results(document)
    if isinstance(document, Model):
        found += [MeasuredColumn(m, BY) for m in document.measurements]
    return found + [RuleColumn(r) for r in document.checked]


def _drivers(family: Family, document: AnyDocument) -> list[GridColumn]:
    """Values of other documents that this one reads."""
    taken: dict[tuple[str, str], Valued] = {}
    for p in (p for _, record in items(document) for p in pointers_in(record)):
        if isinstance(p, ValueRef) and p.document not in (SELF, document.id) and p.document in family.documents:
            item = _value(family, p.document, p.item)
            if item is not None:
                taken[p.document, p.item] = item
    called = Counter(_last(names.key_by_id(family.documents[d], i)) for d, i in taken)
    found: list[GridColumn] = []
    for (of, key), item in taken.items():
        name = _last(names.key_by_id(family.documents[of], key))
        title = f"{family.documents[of].name} {name}" if called[name] > 1 else name
        found.append(DriverColumn(of, item, title, bool(document.parameters)))
    return found


def _value(family: Family, document: str, item: str) -> Valued | None:
    found = dict(items(family.documents[document])).get(item)
    return found if isinstance(found, Valued) else None


def _last(name: str) -> str:
    """The last part of a dotted name."""
    return name[name.rfind(".") + 1 :]


def _results(document: AnyDocument) -> list[GridColumn]:
    if isinstance(document, Assembly):
        return [WholeColumn(what) for what in WholeColumn.TITLES]
    bodies: dict[str, Any] = getattr(document, "bodies", {})
    alone = len(bodies) == 1
    return [BodyColumn(w, key, "" if alone else b.name) for key, b in bodies.items() for w in BodyColumn.FIGURES]


def shown_columns(family: Family, document: AnyDocument, every: bool = False) -> list[GridColumn]:
    """The columns that a document shows, in the order that was chosen.

    Args:
        every: also those that are hidden, and those that are shown only when asked for.
    """
    said = document.columns
    found = columns(family, document)
    if not every:
        found = [c for c in found if (c.key in said.shown or not c.optional) and c.key not in said.hidden]
    place = {key: k for k, key in enumerate(said.order)}
    return sorted(found, key=lambda c: (_group(c), place.get(c.key, len(place))))


GROUPS = ("Driven by", "Values", "Switches", "Properties", "Results", "Rules")
"""Headings over columns, from left to right."""


def _group(column: GridColumn) -> int:
    return GROUPS.index(column.group)


def show_column(family: Family, document_id: str, key: str, shown: bool) -> Family:
    """Show a column, or hide it."""
    found = edits.document(family, document_id)
    said = found.columns
    asked, hidden = (tuple(k for k in keys if k != key) for keys in (said.shown, said.hidden))
    changed = edits.replace(said, shown=(*asked, key) if shown else asked, hidden=hidden if shown else (*hidden, key))
    return edits.put(family, edits.replace(found, columns=changed))


def move_column(family: Family, document_id: str, key: str, before: str) -> Family:
    """Put a column before another one of its group; "" for the end of it."""
    found = edits.document(family, document_id)
    keys = [c.key for c in shown_columns(family, found)]
    rest = [k for k in keys if k != key]
    at = rest.index(before) if before in rest else len(rest)
    order = (*rest[:at], key, *rest[at:])
    return edits.put(family, edits.replace(found, columns=edits.replace(found.columns, order=order)))


def fix_columns(family: Family, document_id: str, count: int) -> Family:
    """Let the first columns stay while the others are scrolled."""
    found = edits.document(family, document_id)
    return edits.put(family, edits.replace(found, columns=edits.replace(found.columns, fixed=max(0, count))))


def as_column(family: Family, document_id: str, item: str) -> Family:
    """Show a dimension in the range: it gets a name where it has none.

    Raises:
        UserFault: it has no value that could differ.
    """
    found, sketch, value = edits.value_item(family, document_id, item)
    if sketch is not None and not getattr(value, "name", ""):
        taken = [c.name for c in sketch.constraints if c.name]
        family = edits.rename_item(family, document_id, item, names.free_name(str(value.kind), taken))  # type: ignore[union-attr]
    return show_column(family, found.id, f"value:{item}", True)
