"""States of a model: what its bodies are after each operation.

An operation that is off or failing passes its input on; nothing downstream can tell but by its status.
"""

from __future__ import annotations

from collections.abc import Callable

import msgspec

from architectonic.base.problem import Problem
from architectonic.describe.models.operations import OPERATIONS
from architectonic.describe.recipes import BodyInput, BoredInput
from architectonic.describe.references.switched import is_on
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import (
    BodyState,
    ModelState,
    Node,
    NodeFault,
    Outcome,
    Plan,
    Recipe,
    Value,
    fault,
    needed,
)
from architectonic.describe.view import View
from architectonic.family import scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import Body, Expression
from architectonic.quantities.materials import density_text
from architectonic.quantities.units import DENSITY

NOTHING = BodyInput()


class Passed(Exception):
    """Raised by a plan of an operation: it gives its input, with this status."""

    def __init__(self, state: ModelState, problem: Problem | None) -> None:
        super().__init__(state.status)
        self.outcome = Outcome(state, problem)


def plan_state(view: View, node: Node) -> Plan:
    """Bodies after an operation."""
    record = view.record(node)
    if not isinstance(record, BodyOperation):
        raise fault("operation.missing", "the stage it takes from is gone", "choose another stage", "missing")
    previous = view.previous(node, record.id)
    given, cause = ModelState(), None
    if previous is not None:
        (outcome,) = yield [previous._replace(label=node.label)]
        given, cause = needed(outcome), outcome.problem
    if not (yield from is_on(view, node, record)):
        return ModelState(given.bodies, "off", "switched off")
    try:
        kind = OPERATIONS[type(record)]
        value = yield from kind.plan(view, node, record, given)
    except NodeFault as problem:
        if problem.problem.severity == "off":
            return ModelState(given.bodies, "off", problem.problem.what)
        bodies = problem.instead.bodies if problem.instead is not None else given.bodies
        bodies = tuple(_born(b, record, given) for b in bodies)
        raise Passed(ModelState(bodies, "failing"), _follows(problem.problem, cause)) from None
    return ModelState(tuple(_born(b, record, given) for b in value.bodies))


def _born(body: BodyState, record: BodyOperation, given: ModelState) -> BodyState:
    """A body that was there as it is; a new one of the kind that its operation gives, a piece or copy as what it comes from."""
    known = {b.id: b for b in given.bodies}
    if body.id in known:
        return body
    source = known.get(record.origins.get(body.id, ""))
    if source is None:
        return msgspec.structs.replace(body, kind=record.gives) if body.kind == "solid" else body
    return msgspec.structs.replace(body, kind=source.kind, attributes=body.attributes or source.attributes)


def _follows(problem: Problem, cause: Problem | None) -> Problem:
    """A missing body is the fault of the operation before, when that one failed to make it."""
    if cause is None or not problem.code.endswith(".no_body"):
        return problem
    return msgspec.structs.replace(problem, code=f"follows.{problem.code}", root=cause.root or cause.where)


def plan_finished(view: View, node: Node) -> Plan:
    """Bodies after the last operation."""
    last = None
    for operation in view.model(node).build:
        if isinstance(operation, BodyOperation):
            last = operation.id
    if last is None:
        return ModelState()
    (outcome,) = yield [Node("state", node.at, last, node.label)]
    return ModelState(needed(outcome).bodies)


def plan_there(_: View, node: Node) -> Plan:
    """Sub-plan: a body finished, or as after the operation of the label.

    Raises:
        NodeFault: it does not exist there.
    """
    (outcome,) = yield [Node("state" if node.label else "finished", node.at, node.label)]
    state: ModelState = needed(outcome)
    return state.body(node.item)


def plan_body(kind: str, given: Value = NOTHING) -> Callable[[View, Node], Plan]:
    """Plan of a recipe on one body, finished or as after the operation of the label: its measurements or its mesh."""

    def plan(view: View, node: Node) -> Plan:
        body: BodyState = yield from plan_there(view, node)
        made = yield Recipe(kind, given, (body.shape,))
        if made.problem is not None:
            raise NodeFault(made.problem)
        return made.value

    return plan


def plan_bored(view: View, node: Node) -> Plan:
    """The holes in a finished body as they are, each with its hole set; () when it has none."""
    body: BodyState = yield from plan_there(view, node)
    if not body.attributes:
        return ()
    made = yield Recipe("bored", BoredInput(tuple(sorted(body.attributes))), (body.shape,))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return tuple((body.attributes[b.operation], b) for b in made.value)


def plan_backdrop(view: View, node: Node) -> Plan:
    """Whether a body is there to be seen only."""
    yield from ()  # a plan like any other, that needs nothing
    body = view.record(node)
    assert isinstance(body, Body)
    return body.backdrop_only


def plan_mass(view: View, node: Node) -> Plan:
    """Mass of a body in g, or a fault when it has no density."""
    body = view.record(node)
    assert isinstance(body, Body)
    if body.backdrop_only:
        return 0.0  # it stands there to be seen, and weighs nothing here
    said, material = body.density, scopes.said(view.family, node.at, "material")
    if material:  # the row's own: what the body is of elsewhere does not count
        text = density_text(material)
        said = Expression(text=text) if text else body.density if material == body.material else None
    if said is None:
        told = f"{body.name} has no density" if not material else f"no density is known for “{material}”"
        raise fault("body.no_density", told, "give it one", "missing")
    density = yield from evaluate(view, node, said, DENSITY)
    (outcome,) = yield [Node("measure", node.at, node.item)]
    return needed(outcome)["volume_mm3"] * density
