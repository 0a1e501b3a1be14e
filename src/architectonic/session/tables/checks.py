"""What typed expressions come to, and guards recorded from how things are."""

from __future__ import annotations

from architectonic.base.errors import UserFault
from architectonic.describe.references.rule import watched
from architectonic.describe.results import Node, NodeFault
from architectonic.describe.view import View
from architectonic.family import edits, names, scopes
from architectonic.family.records import Expression, Family, Figure, Guard, Reference, Sketch
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units
from architectonic.quantities.compiled import Kind, Value, compile_expression, complete
from architectonic.quantities.units import LENGTH
from architectonic.session.open.queries import ask


def come_to(
    family: Family, evaluation: Evaluation, at: Scope, text: str, expected: Kind | None, sketch: Sketch | None = None
) -> Value:
    """What a text comes to in a scope, with the values of the last evaluation.

    Raises:
        UserFault: it cannot be used, or a name in it has no value.
    """
    document = edits.document(family, at.document)
    bound = names.bind(family, document, text, expected, sketch)
    view, node = View(family), Node("value", at, "")
    environment = {}
    kinds = {}
    for key, ref in bound.refs.items():
        there = scopes.source_scope(family, at, ref.document, ref.configuration)
        value = evaluation.value(Node("value", there, ref.item))
        if value is None:
            raise UserFault(f"“{key}” has no value here", text, "mend it first")
        environment[key] = value
        kinds[key] = view.compiled(node, Expression(text=key, refs={key: ref}), None).kind
    return compile_expression(text, kinds, expected)(environment)  # type: ignore[arg-type]


def guard(
    family: Family,
    evaluation: Evaluation,
    document_id: str,
    made: Guard,
    within: str = "",
) -> Family:
    """Add a guard, or record one anew: as things are in each configuration of its document.

    Args:
        within: how far the figures may move, as typed; "" leaves what the guard says.

    Raises:
        UserFault: what it watches has no figures anywhere; the room cannot be read.
    """
    document = edits.document(family, document_id)
    made = with_room(family, document_id, made, within) if within else made
    recorded: dict[str, tuple[float, ...]] = {}
    for at in scopes.scopes_of(family, document):
        found = _figures(family, evaluation, at, made)
        if found is not None:
            recorded[scopes.scope_key(at)] = found
    if not recorded:
        raise UserFault("what it watches has no figures in any configuration", made.name, "mend that first")
    return edits.put_guard(family, document_id, edits.replace(made, recorded=recorded))


def in_words(
    family: Family,
    evaluation: Evaluation | None,
    at: Scope,
    text: str,
    quantity: str,
    unit: str,
    sketch: Sketch | None = None,
) -> str:
    """What a text typed into a field of a quantity comes to, `= 4.4 mm`, or what is wrong with it; "" for nothing."""
    if evaluation is None or not text:
        return ""
    try:
        full = complete(text, quantity, unit)
        value = come_to(family, evaluation, at, full, units.QUANTITIES[quantity], sketch)
    except UserFault as fault:
        return fault.sentence
    return f"= {units.shown(float(value), unit, 4)}"


def with_room(family: Family, document_id: str, made: Guard, within: str) -> Guard:
    """A guard whose figures may move so far; "" not at all.

    Raises:
        UserFault: the room cannot be read, or is another quantity than what is watched.
    """
    document = edits.document(family, document_id)
    if not within:
        return edits.replace(made, within=None)
    kind = None
    if made.value is not None:
        at = scopes.scope(family, document_id, "")
        kind = View(family).compiled(Node("value", at, ""), made.value, None).kind
    return edits.replace(made, within=names.bind(family, document, within, kind))


def _figures(family: Family, evaluation: Evaluation, at: Scope, made: Guard) -> tuple[float, ...] | None:
    """The figures that a guard watches in one scope, read from an evaluation; None where there are none."""
    plan = watched(View(family), Node("rule", at, made.id), made)
    try:
        asked = next(plan)
        while True:
            outcomes = [evaluation.outcomes.get(n) for n in asked]
            if any(o is None for o in outcomes):
                return None
            asked = plan.send(outcomes)
    except StopIteration as end:
        return tuple(end.value)
    except NodeFault:
        return None


def value_guard(family: Family, document_id: str, key: str, name: str, text: str) -> Guard:
    """A guard on a value, not recorded yet."""
    document = edits.document(family, document_id)
    return Guard(id=key, name=name, value=names.bind(family, document, text, None))


def body_guard(key: str, name: str, of: str, body: str, figures: tuple[Figure, ...]) -> Guard:
    """A guard on figures of a body, not recorded yet."""
    return Guard(id=key, name=name, body=Reference(of=of, item=body), figures=figures)


def come_to_now(family: Family, document_id: str, text: str) -> float:
    """What a length comes to in the first configuration of its document.

    Raises:
        UserFault: it cannot be used, or has no value.
    """
    document = edits.document(family, document_id)
    bound = names.bind_quantity(family, document, text, "length", "mm")
    at = scopes.scope(family, document_id, "")
    nodes = [
        Node("value", scopes.source_scope(family, at, r.document, r.configuration), r.item) for r in bound.refs.values()
    ]
    value = come_to(family, ask(family, nodes), at, bound.text, LENGTH)
    return float(value)
