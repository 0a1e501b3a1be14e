"""Parameters and sketch dimensions: expressions evaluated in a scope."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.base.places import FIXED, curve_of
from architectonic.describe.drawn.readings import read_out
from architectonic.describe.results import Node, Outcome, Plan, fault, needed
from architectonic.describe.view import View
from architectonic.family import scopes
from architectonic.family.names import dimension_of
from architectonic.family.records import (
    ANGLES,
    Bond,
    Constraint,
    Expression,
    Instance,
    Measurement,
    Parameter,
    Reference,
    Sketch,
)
from architectonic.quantities.compiled import Kind, NameKind
from architectonic.quantities.nodes import ExpressionFault
from architectonic.quantities.units import LENGTH, Dimension


def evaluate(
    view: View,
    node: Node,
    expression: Expression,
    expected: Kind | None,
    given: dict[str, float] | None = None,
    own: tuple[str, ...] = (),
) -> Plan:
    """Sub-plan: the value of an expression standing at `node`, rounded to the grid.

    Args:
        given: values of some of its names, which are not asked for; own: names among them that are plain numbers of the
            place where it stands.
    """
    known = given or {}
    sources = {k: n for k, n in view.value_nodes(node, expression).items() if k not in known}
    # Sources are read before the expression is compiled: whether they exist, and what they are, is then a read that is
    # noted, and looked at again when it changes.
    outcomes = yield list(sources.values())
    environment = {name: _given(name, outcome) for name, outcome in zip(sources, outcomes, strict=True)} | known
    compiled = view.compiled(node, expression, expected, own)
    try:
        value = compiled(environment)
    except ExpressionFault as problem:
        raise fault("expression.no_value", problem.what, problem.mend) from None
    if isinstance(value, (bool, str)):
        return value
    return tolerance.length(value) if isinstance(expected, Dimension) and expected == LENGTH else tolerance.ratio(value)


def plan_source(view: View, node: Node, reference: Reference) -> Plan:
    """Sub-plan: the scope that a reference takes from: by size, a fixed one, or the one its expression names."""
    row = reference.configuration
    if reference.chosen is not None:
        row = yield from _plan_choice(view, node, reference.chosen, reference.of)
    return view.source(node, reference.of, row, reference.alternate)


def plan_filled(view: View, node: Node, instance: Instance) -> Plan:
    """Sub-plan: the scope that an instance shows in the node's scope, None where nothing fills it."""
    _, filled = scopes.fill(view.family, node.at, instance)
    if not filled.document:
        return None
    row = filled.configuration
    if filled.chosen is not None:
        row = yield from _plan_choice(view, node, filled.chosen, filled.document)
    return view.source(node, filled.document, row, filled.alternate)


def _plan_choice(view: View, node: Node, chosen: Expression, of: str) -> Plan:
    """The configuration of a source that an expression names."""
    name = yield from evaluate(view, node, chosen, NameKind(tuple(chosen.choices)))
    if chosen.choices[name] not in view.configurations(node, of):
        raise fault("source.missing", f"the configuration “{name}” is gone", "choose another one", "missing")
    return chosen.choices[name]


def _given(name: str, outcome: Outcome) -> float:
    """The value of a name; a source that is gone is told here, where it can be mended."""
    if outcome.problem is not None and outcome.problem.code == "source.missing":
        raise fault("source.missing", f"“{name}” has lost its source", "type the expression again", "missing")
    return float(needed(outcome, name))


def plan_value(view: View, node: Node) -> Plan:
    """The value of a parameter or of a sketch dimension, in internal units."""
    record = view.record(node)
    if isinstance(record, Parameter) or (isinstance(record, Constraint) and record.value is not None):
        _, expression = scopes.cell(view.family, node.at, record)
    elif isinstance(record, Measurement):
        (outcome,) = yield [Node("gauged", node.at, record.id)]
        return needed(outcome).value
    elif isinstance(record, Bond) and record.moves:
        _, driven = scopes.driven(view.family, node.at, record, record.moves)
        if driven is None:  # what nothing drives is where it came to stand
            (outcome,) = yield [Node("joint", node.at, record.id)]
            return getattr(needed(outcome, record.name), record.moves)
        expression = driven
    elif isinstance(record, Constraint) and record.reads:
        value = yield from _reading(view, node, record)
        return value
    else:
        raise fault("source.missing", "has no value", "point it at a parameter", "missing")
    value = yield from evaluate(view, node, expression, dimension_of(record))
    return value


def _reading(view: View, node: Node, record: Constraint) -> Plan:
    """What a read-out shows: measured on the solved sketch."""
    sketch = next(o for o in view.model(node).build if isinstance(o, Sketch) and record in o.constraints)
    (outcome,) = yield [Node("solve", node.at, sketch.id)]
    solved = needed(outcome, sketch.name)
    if any(curve_of(p) not in solved.curves and p not in FIXED for p in record.of):
        raise fault("reading.lost", "what it measures is gone", "delete it, or measure something else", "missing")
    found = read_out(solved, record.kind, record.of, record.branch)
    return tolerance.ratio(found) if record.kind in ANGLES else tolerance.length(found)
