"""What holds on to an operation: shown before it is deleted, and mended after."""

from __future__ import annotations

from typing import NamedTuple

from architectonic.base.labels import atoms
from architectonic.family import edits
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import SELF, Constraint, Family, Fill, Reference, Sketch, ValueRef
from architectonic.family.references import operation_of
from architectonic.family.walk import items, leads_to, pointers_in


class Dependant(NamedTuple):
    """Something that takes from an operation: its document and id, its name, and what it takes, in words."""

    document: str
    item: str
    name: str
    what: str


def dependants(family: Family, document_id: str, operation_id: str) -> list[Dependant]:
    """Everything that refers to an operation, to what it made, or to bodies that come from it, in the order of documents."""
    operation = edits.operation(family, document_id, operation_id)
    bodies = operation.makes if isinstance(operation, BodyOperation) else ()
    values = {c.id for c in operation.constraints} if isinstance(operation, Sketch) else set()
    found = []
    for document in family.documents.values():
        for key, record in items(document):
            if (key == operation_id and document.id == document_id) or isinstance(record, Constraint) or key in bodies:
                continue
            for p in pointers_in(record):
                if isinstance(p, Fill):
                    continue
                of = leads_to(p)
                if (document.id if of == SELF else of) != document_id:
                    continue
                what = _taken(p, operation_id, bodies, values)
                if what:
                    name = getattr(record, "name", "") or document.name
                    found.append(Dependant(document.id, key, name, what))
                    break
            else:
                acts = getattr(record, "changes", ()) if document.id == document_id else ()
                if set(acts) & set(bodies):
                    found.append(Dependant(document.id, key, getattr(record, "name", ""), "acts on its body"))
    return found


def _taken(p: Reference | ValueRef, operation: str, bodies: tuple[str, ...], values: set[str]) -> str:
    """What a pointer takes of an operation; "" for nothing."""
    if isinstance(p, ValueRef):
        return "takes one of its values" if p.item in values else ""
    if p.item == operation:
        return "takes a curve or region of it" if p.label else "stands on it"
    if any(a.split(":")[0] == operation for a in atoms(p.label)):
        return "takes an edge of its faces" if p.label.startswith("(") else "takes a face that it made"
    if p.item in bodies:
        return "takes its body"
    return "takes the model as it is after it" if operation_of(p.stage) == operation else ""
