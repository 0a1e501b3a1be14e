"""Values that decide whether a rule or guard holds: found through formulas and through what made the place that is measured,
and brought to where it does."""

from __future__ import annotations

import math
from typing import NamedTuple

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.labels import atoms
from architectonic.describe.measured import SurveyResult
from architectonic.describe.references.surveys import SURVEYS, label_of, surveyed_in
from architectonic.describe.results import Checked, Node
from architectonic.family import edits, names, scopes
from architectonic.family.records import (
    SELF,
    Constraint,
    Datum,
    Family,
    Guard,
    Measurement,
    Parameter,
    Reference,
    Rule,
    Sketch,
    ValueRef,
)
from architectonic.family.scopes import Scope
from architectonic.family.walk import index, pointers_in
from architectonic.quantities import units
from architectonic.quantities.syntax import comparison
from architectonic.session.open.policy import allowed
from architectonic.session.open.queries import Questions

STEPS = 4
"""Tries to bring a value to where its cell holds."""
FAR = 0.6
"""A value that had to move by more than this share of itself is another design, and no mend."""
FIRST = 0.02
"""By this share of itself a value is moved to see what follows."""


class Decider(NamedTuple):
    """A plain value that decides something in a scope: where it is typed, and which cell of it holds there."""

    at: Scope
    item: str
    cell: str


def deciders(asked: Questions, family: Family, at: Scope, record: Rule | Guard) -> list[Decider]:
    """Plain values that a rule or guard comes down to in a scope, the nearest first: through formulas, and through what made
    the place that is measured."""
    found: dict[Decider, None] = {}
    expression = record.holds if isinstance(record, Rule) else record.value
    waiting: list[tuple[Scope, ValueRef]] = [(at, r) for r in expression.refs.values()] if expression else []
    met: set[tuple[Scope, str]] = set()
    while waiting:
        here, ref = waiting.pop(0)
        try:
            there = scopes.source_scope(family, here, ref.document, ref.configuration)
            document, _, item = edits.value_item(family, there.document, ref.item)
        except UserFault:
            continue  # it has lost its source, and decides nothing
        if (there, ref.item) in met:
            continue
        met.add((there, ref.item))
        if isinstance(item, Measurement):
            waiting += [(there, r) for r in _behind(asked, family, there, item)]
        elif isinstance(item, Parameter) or (isinstance(item, Constraint) and item.value is not None):
            cell, text = scopes.cell(family, there, item)
            if text.refs:
                waiting += [(there, r) for r in text.refs.values()]
            elif names.dimension_of(item) is not None:
                several = len(scopes.configurations(family, document)) > 1
                alternate = cell in {a.id for a in scopes.alternates(document)}
                found[Decider(there, ref.item, cell if alternate else there.configuration if several else "")] = None
    return list(found)


def _behind(asked: Questions, family: Family, at: Scope, record: Measurement) -> list[ValueRef]:
    """Values read by the operations that made what is measured: the worst place of a survey, or what the measurement is of."""
    labels = [r.label for r in record.of if r.label]
    if record.what in SURVEYS:
        bodies, second = surveyed_in(record)
        nodes = [Node("surveyed", at, r.item, label_of(record.what, second)) for r in bodies]
        evaluation = asked.ask(family, nodes)
        places = [p for n in nodes if isinstance(v := evaluation.value(n), SurveyResult) for p in v.places[:1]]
        worst = sorted(places, key=lambda p: p.value, reverse=SURVEYS[record.what].most)[:1]
        labels = [x for p in worst for x in (p.label, p.other) if x]
    document = family.documents[at.document]
    known = index(document)
    made = list(dict.fromkeys(a.split(":")[0] for label in labels for a in sorted(atoms(label))))
    records = [known[k] for k in reversed([o.id for o in getattr(document, "build", ())]) if k in made]
    found: list[ValueRef] = []
    for one in records:
        found += _read(one)
        inner = (known.get(p.item) for p in pointers_in(one) if isinstance(p, Reference) and p.of == SELF)
        found += [r for other in inner if isinstance(other, (Sketch, Datum)) for r in _read(other)]
    return list(dict.fromkeys(found))


def _read(record: object) -> list[ValueRef]:
    """Values that a record reads; of a sketch those that its dimensions read, and the dimensions themselves."""
    found = [p for p in pointers_in(record) if isinstance(p, ValueRef)]
    if isinstance(record, Sketch):
        found += [ValueRef(document=SELF, item=c.id) for c in record.constraints if c.value is not None]
    return found


def decider_name(family: Family, decider: Decider) -> str:
    """What it is called: `Sizes.wall`."""
    document = family.documents[decider.at.document]
    own = next((k for k, item in names.values_of(document) if item.id == decider.item), "a value")
    return f"{names.identifier(document.name)}.{own}"


def brought(asked: Questions, family: Family, at: Scope, record: Rule | Guard, by: Decider) -> tuple[str, str] | None:
    """A value as it is, and brought by the secant method to where a rule or guard holds in a scope; None where it does not
    help, or only far from here."""
    _, _, item = edits.value_item(family, by.at.document, by.item)
    unit = names.unit_of(item)
    node = Node("rule", at, record.id)
    before = asked.ask(family, [node, Node("value", by.at, by.item)])
    now, first = before.value(Node("value", by.at, by.item)), before.value(node)
    if isinstance(now, bool) or not isinstance(now, float | int) or not isinstance(first, Checked) or not first.left:
        return None
    now, factor = float(now), units.factor(unit)

    def gap(value: float) -> tuple[float, bool] | None:
        try:
            trial = allowed(
                family, edits.set_value(family, by.at.document, by.item, _text(value, factor, unit), by.cell)
            )
        except UserFault:
            return None
        found = asked.ask(trial, [node]).value(node)
        return (_gap(record, found), found.holds) if isinstance(found, Checked) and found.left else None

    room = FIRST * abs(now) or factor
    last, start = (now, _gap(record, first)), _gap(record, first)
    value, other = now + room, gap(now + room)
    if other is None:  # what cannot be there may be possible on the other side
        value, other = now - room, gap(now - room)
    if other is None or abs(other[0] - start) < tolerance.MEASURE:
        return None
    for _ in range(STEPS):
        slope = (other[0] - last[1]) / (value - last[0])
        if not slope or not math.isfinite(slope):
            return None
        last, wanted = (value, other[0]), value - other[0] / slope
        value = wanted if _sign(record) == "==" else _outward(wanted, now, factor)
        if abs(value - now) > FAR * max(abs(now), room) or value == last[0]:
            return None
        other = gap(value)
        if other is None:
            return None
        if other[1]:
            return _text(now, factor, unit), _text(value, factor, unit)
    return None


def _text(value: float, factor: float, unit: str) -> str:
    return f"{value / factor:.6g} {unit}".strip()


def _sign(record: Rule | Guard) -> str:
    """What its sides are compared by: a guard asks for the very figure."""
    both = comparison(record.holds.text) if isinstance(record, Rule) else None
    return both.sign if both is not None else "=="


def _gap(record: Rule | Guard, found: Checked) -> float:
    """What is left to the limit, below zero where it is gone beyond; of what must be equal the difference."""
    left, right = found.left[0], found.right[0]
    return right - left if _sign(record).startswith("<") else left - right


def _outward(value: float, now: float, factor: float) -> float:
    """A value as somebody would type it, not nearer to where it is now."""
    apart = (value - now) / factor
    step = fine(apart)
    base = now / factor
    whole = (math.floor if apart < 0 else math.ceil)((base + apart) / step * (1 - math.copysign(1e-9, base * apart)))
    return whole * step * factor


def fine(apart: float) -> float:
    """Half a decade below a distance: 0.5 for 2.3."""
    return 0.5 * 10.0 ** math.floor(math.log10(max(abs(apart), 1e-6)))
