"""What one hole of an operation goes through: for the drawing beside its sentence."""

from __future__ import annotations

from architectonic.describe.operations.holes.hole import HoleInput, plan_input
from architectonic.describe.operations.solid import acted
from architectonic.describe.results import HolesResult, ModelState, Node, NodeFault, Plan, Recipe, Value, fault, needed
from architectonic.describe.view import View
from architectonic.family.operations.holes.hole import Hole


class DrilledInput(Value, frozen=True, kw_only=True):
    """One hole, and the ids of all bodies: those that it acts on in the order of the shapes, after what comes along the rest."""

    hole: HoleInput
    others: tuple[str, ...]


class Drilled(Value, frozen=True, kw_only=True):
    """A hole and what lies along it; mm along its axis from where it begins.

    Attributes:
        top: where the tool begins; depth: where its full diameter ends.
        acted, beside: body, start and end of what it goes through of bodies that it acts on, and of others.
    """

    top: float
    depth: float
    acted: tuple[tuple[str, float, float], ...]
    beside: tuple[tuple[str, float, float], ...]


def plan_drilled(view: View, node: Node) -> Plan:
    """The hole of the label, or the first one."""
    record = view.record(node)
    if not isinstance(record, Hole):
        raise fault("hole.missing", "the hole is gone", "", "missing")
    (outcome,) = yield [Node("holes", node.at, record.id)]
    holes: HolesResult = needed(outcome)
    given = ModelState()
    previous = view.previous(node, record.id)
    if previous is not None:
        (outcome,) = yield [previous]
        given = needed(outcome)
    bodies = acted(view, node, record.acts_on, given)
    number = next((k for k, p in enumerate(holes.places) if p.key == node.label), 0)
    payload, shapes = yield from plan_input(view, node, record, holes, bodies)
    one = HoleInput(
        operation=record.id,
        bodies=payload.bodies,
        bores=payload.bores[number : number + 1],
        holes=holes.set,
        begins=payload.begins.only(number) if not isinstance(payload.begins, str) else payload.begins,
        ends=payload.ends.only(number) if not isinstance(payload.ends, str) else payload.ends,
        tip=payload.tip,
    )
    others = [b for b in given.bodies if b.id not in payload.bodies]
    made = yield Recipe(
        "drilled",
        DrilledInput(hole=one, others=tuple(b.id for b in others)),
        (*shapes, *(b.shape for b in others)),
    )
    if made.problem is not None:
        raise NodeFault(made.problem)
    return made.value
