"""Bills: what some documents weigh together."""

from __future__ import annotations

from architectonic.describe.documents.kind import DocumentKind
from architectonic.describe.results import Node
from architectonic.family.scopes import scope, size_of
from outpost.family.documents.bill import Bill


def nodes(family, document, at):
    """The weight of everything."""
    return (Node("weight", at, ""),)


def plan_weight(view, node):
    """Masses of all bodies of the listed parts in the same size, g."""
    total = 0.0
    for key in view.document(node).of:
        there = scope(view.family, key, size_of(view.family, node.at))
        (finished,) = yield [Node("finished", there, "")]
        masses = yield [Node("mass", there, b.id) for b in finished.value.bodies]
        total += sum(m.value for m in masses)
    return total


def told(family, document, at, value):
    """Its entry in a report."""
    return {"weight_g": value(Node("weight", at, ""))}


KIND = DocumentKind(
    Bill,
    views=("Values",),
    sign=(((3.0, 2.0), (13.0, 2.0), (13.0, 14.0), (3.0, 14.0), (3.0, 2.0)), ((5.0, 6.0), (11.0, 6.0))),
    note="what is weighed",
    empty="Nothing is weighed yet.",
    pictured=False,
    nodes=nodes,
    plans={"weight": plan_weight},
    told=told,
)
