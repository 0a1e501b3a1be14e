"""Parts: bodies made from what drives them."""

from __future__ import annotations

from typing import Any

from architectonic.describe.documents.kind import DocumentKind, Told
from architectonic.describe.results import Node, Plan, fault
from architectonic.describe.view import View
from architectonic.family import edits
from architectonic.family.documents.part import Part
from architectonic.family.records import Family
from architectonic.family.scopes import Scope, said


def plan_part_item(view: View, node: Node) -> Plan:
    """Ids of the bodies of a part item and of those that stand under it."""
    yield []
    found = view.document(node)
    if not isinstance(found, Part) or all(i.id != node.item for i in found.part_items):
        raise fault("item.missing", "the part item that stands here is gone", "fill it with something else", "missing")
    return tuple(b for i in edits.below(found, node.item) for b in i.bodies)


def told(family: Family, document: Part, at: Scope, value: Told) -> dict[str, Any]:
    """Its part items."""
    found = []
    for item in document.part_items:
        present = [b for b in item.bodies if value(Node("measure", at, b)) is not None]
        masses = [value(Node("mass", at, b)) for b in present]
        pieces = len(present) if item.apart else min(len(present), 1)
        materials = dict.fromkeys(document.bodies[b].material for b in present)
        names = {i.id: i.name for i in document.part_items}
        found.append(
            {
                "name": item.name,
                "number": item.number,
                "description": item.note,
                "material": said(family, at, "material") or ", ".join(m for m in materials if m),
                "finish": item.finish,
                "supply": item.supply,
                "under": names.get(item.within),
                "bodies": [document.bodies[b].name for b in present],
                "quantity": pieces * item.quantity,
                "mass_g": None if None in masses or not pieces else sum(masses) / pieces,
            }
        )
    return {"items": found}


KIND = DocumentKind(
    Part,
    views=("Bodies", "Sketch", "Range", "Checks"),
    plans={"part_item": plan_part_item},
    told=told,
    sign=(
        ((8.0, 1.8), (14.0, 4.8), (8.0, 7.8), (2.0, 4.8), (8.0, 1.8)),
        ((2.0, 4.8), (2.0, 11.0), (8.0, 14.2), (14.0, 11.0), (14.0, 4.8)),
        ((8.0, 7.8), (8.0, 14.2)),
    ),
)
