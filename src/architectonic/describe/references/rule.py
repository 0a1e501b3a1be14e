"""Rules and guards: comparisons that must hold, and figures that must stay as they were recorded."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import Checked, Node, Plan, fault, needed
from architectonic.describe.view import View
from architectonic.family.records import Expression, Guard, Rule
from architectonic.family.scopes import scope_key
from architectonic.quantities import units
from architectonic.quantities.compiled import TRUTH
from architectonic.quantities.syntax import comparison
from architectonic.quantities.units import Dimension

FIGURES = {"volume": ("volume_mm3",), "area": ("area_mm2",), "box": ("box_mm",), "centre": ("centre_mm",)}
"""Figures of a body that a guard may watch, and what they are called in its measurements."""


def plan_rule(view: View, node: Node) -> Plan:
    """Whether a rule or guard holds, with the figures that decide it."""
    record = view.record(node)
    if isinstance(record, Guard):
        found = yield from _guarded(view, node, record)
        return found
    assert isinstance(record, Rule)
    holds = yield from evaluate(view, node, record.holds, TRUTH)
    both = comparison(record.holds.text)
    if both is None:
        return Checked(bool(holds))
    figures = []
    dimension: tuple[int, ...] = ()
    for text in (both.left, both.right):
        side = Expression(text=text, refs=record.holds.refs)
        figures.append((yield from evaluate(view, node, side, None)))
        kind = view.compiled(node, side, None).kind
        dimension = tuple(kind) if isinstance(kind, Dimension) else ()
    return Checked(bool(holds), (float(figures[0]),), (float(figures[1]),), dimension)


def watched(view: View, node: Node, record: Guard) -> Plan:
    """Sub-plan: the figures that a guard watches, as they are now."""
    if record.value is not None:
        value = yield from evaluate(view, node, record.value, None)
        return (float(value),)
    assert record.body is not None
    at = view.source(node, record.body.of, record.body.configuration)
    (outcome,) = yield [Node("measure", at, record.body.item)]
    measured = needed(outcome, record.name)
    found: list[float] = []
    for figure in record.figures:
        for key in FIGURES[figure]:
            value = measured[key]
            found += [float(v) for v in value] if isinstance(value, (list, tuple)) else [float(value)]
    return tuple(found)


def _guarded(view: View, node: Node, record: Guard) -> Plan:
    now = yield from watched(view, node, record)
    before = record.recorded.get(scope_key(node.at))
    if before is None:
        raise fault(
            "guard.unrecorded", "nothing is recorded for this configuration yet", "record it anew", "out of rule"
        )
    room = 0.0
    if record.within is not None:
        room = float((yield from evaluate(view, node, record.within, None)))
    holds = len(now) == len(before) and all(
        abs(a - b) <= max(room, tolerance.MEASURE * max(abs(a), abs(b), 1.0)) for a, b in zip(now, before, strict=True)
    )
    dimension: tuple[int, ...] = ()
    if record.value is not None:
        kind = view.compiled(node, record.value, None).kind
        dimension = tuple(kind) if isinstance(kind, Dimension) else ()
    return Checked(holds, now, before, dimension)


def words(record: Rule | Guard, found: Checked | None) -> str:
    """What to say of a rule that does not hold: its sentence, and both sides' figures."""
    if found is None or found.holds:
        return ""
    unit = unit_of(found.dimension)
    if isinstance(record, Guard):
        was, now = _figures(found.right, unit), _figures(found.left, unit)
        told = f"{_what(record)} was {was} and is {now}"
        return f"{record.message} ({told})" if record.message else f"{record.name}: {told}"
    head = record.message or f"{record.holds.text} does not hold"
    both = comparison(record.holds.text) if record.holds.text else None
    if both is None or not found.left:
        return head
    left, right = (
        _side(t, v[0], unit) for t, v in zip((both.left, both.right), (found.left, found.right), strict=True)
    )
    return f"{head} ({left}, {right})"


def _side(text: str, value: float, unit: str) -> str:
    figure = units.shown(value, unit, 3)
    return figure if text.strip().replace(" ", "") == figure.replace(" ", "") else f"{text.strip()} is {figure}"


def _figures(values: tuple[float, ...], unit: str) -> str:
    return ", ".join(units.shown(v, unit, 3) for v in values)


def _what(record: Guard) -> str:
    return "it" if record.value is not None else " and ".join(record.figures)


def unit_of(dimension: tuple[int, ...]) -> str:
    """The unit that a quantity is shown in, by its exponents."""
    for quantity, known in units.QUANTITIES.items():
        if tuple(known) == dimension:
            return units.DEFAULT_UNIT[quantity]
    return ""
