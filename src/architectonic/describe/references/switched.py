"""Whether operations, joints and rules of placement are on: said outright, or by a condition."""

from __future__ import annotations

from architectonic.describe.references.value import evaluate
from architectonic.describe.results import Node, Plan, needed
from architectonic.describe.view import View
from architectonic.family import scopes
from architectonic.family.operations.base import Operation
from architectonic.family.records import Bond
from architectonic.quantities.compiled import TRUTH


def plan_on(view: View, node: Node) -> Plan:
    """Whether something is on in the node's scope."""
    said = scopes.turned(view.family, node.at, view.record(node).switch)[1]
    if isinstance(said, bool):
        return said
    holds = yield from evaluate(view, node, said, TRUTH)
    return bool(holds)


def is_on(view: View, node: Node, record: Operation | Bond) -> Plan:
    """Sub-plan: whether something of the node's document is on.

    Raises:
        NodeFault: its condition cannot be worked out.
    """
    said = scopes.turned(view.family, node.at, record.switch)[1]
    if isinstance(said, bool):
        return said
    (outcome,) = yield [Node("on", node.at, record.id)]
    return needed(outcome, f"the switch of {record.name}")
