"""Joints: where each one is, and whether it keeps to its limits."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.describe.assembly.posing import Posed, plan_driven
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import Node, Plan, Value, fault, needed
from architectonic.describe.view import View
from architectonic.family.records import QUANTITY, Bond, Limits
from architectonic.quantities import units

Ends = tuple[float | None, float | None]
"""The least and the most of a value, mm or rad; None where it is open."""


class JointState(Value, frozen=True):
    """Where a joint is.

    Attributes:
        slide: along its axis, mm; turn: about it, rad; as they are driven, else as they came to be.
        limits: of each.
    """

    slide: float
    turn: float
    limits: dict[str, Ends] = {}


def plan_joint(view: View, node: Node) -> Plan:
    """Where a joint or rule is.

    Raises:
        NodeFault: it is off, or has nothing to hold here.
    """
    bond = view.record(node)
    assert isinstance(bond, Bond)
    (outcome,) = yield [Node("posed", node.at, "")]
    posed: Posed = needed(outcome, bond.name)
    if bond.id not in posed.reached:
        raise fault("bond.off", "it holds nothing here", "", "off")
    reached = posed.reached[bond.id]
    slide = yield from plan_driven(view, node, bond, "slide")
    turn = yield from plan_driven(view, node, bond, "turn")
    limits: dict[str, Ends] = {}
    for field, given in bond.limits.items():
        limits[field] = yield from _plan_ends(view, node, given, field)
    return JointState(reached.slide if slide is None else slide, reached.turn if turn is None else turn, limits)


def _plan_ends(view: View, node: Node, limits: Limits, field: str) -> Plan:
    ends: list[float | None] = []
    for expression in (limits.least, limits.most):
        value = None
        if expression is not None:
            value = yield from evaluate(view, node, expression, units.QUANTITIES[QUANTITY[field]])
        ends.append(value)
    return (ends[0], ends[1])


def plan_within(view: View, node: Node) -> Plan:
    """Whether a joint keeps to its limits.

    Raises:
        NodeFault: it is beyond one.
    """
    bond = view.record(node)
    assert isinstance(bond, Bond)
    (outcome,) = yield [Node("joint", node.at, bond.id)]
    state: JointState = needed(outcome)
    for field, ends in state.limits.items():
        value = getattr(state, field)
        passed = beyond(value, ends)
        if passed is not None:
            at, limit = told(field, value), told(field, passed)
            mend = f"give it a value {'from' if passed > value else 'up to'} {limit}"
            raise fault("bond.limit", f"it stands at {at}, its limit is {limit}", mend, "out of rule")
    return True


def beyond(value: float, ends: Ends) -> float | None:
    """The limit that a value has passed, None when it has not."""
    least, most = ends
    if least is not None and value < least - tolerance.SOLVER:
        return least
    return most if most is not None and value > most + tolerance.SOLVER else None


def unit_of(field: str) -> str:
    """The unit that a value of a joint is told in."""
    return units.DEFAULT_UNIT[QUANTITY[field]]


def told(field: str, value: float) -> str:
    """A joint's value in words, as it would be typed: `28 deg`, `12.5 mm`."""
    unit = unit_of(field)
    return f"{round(value / units.factor(unit), 6) + 0.0:.10g} {unit}"
