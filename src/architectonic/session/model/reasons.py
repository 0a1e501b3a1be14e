"""Why something is there: from a face or edge to the operations that made it, to what they read, and on to its source."""

from __future__ import annotations

from typing import NamedTuple

from architectonic.base.labels import atoms
from architectonic.describe.models.operations import sentence
from architectonic.describe.words.sentences import face_words
from architectonic.family import names
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import (
    SELF,
    Assembly,
    Datum,
    Family,
    Layout,
    Part,
    Reference,
    Sketch,
    Socket,
    ValueRef,
)
from architectonic.family.walk import index, pointers_in

AnyModel = Layout | Part | Assembly


class Reason(NamedTuple):
    """One link of the chain: what it is to the one before, its words, and where it is found."""

    relation: str
    words: str
    document: str
    item: str


def reasons(family: Family, document_id: str, label: str) -> list[Reason]:
    """The chain behind a face or edge, the operation that made it first.

    Operations come from its label, in the order of the build list; after each what it reads, then what that reads.
    """
    document = family.documents[document_id]
    if not isinstance(document, (Layout, Part, Assembly)):
        return []
    made = {a.split(":")[0] for a in atoms(label)}
    found: list[Reason] = []
    told: set[str] = set()
    for operation in document.build:
        if operation.id in made and isinstance(operation, BodyOperation):
            role = face_words(document, label) if not label.startswith("(") else "it lies between faces of"
            found.append(Reason(f"made by ({role})" if not found else "and by", sentence(family, document, operation), document_id, operation.id))  # fmt: skip
            found += _read(family, document, operation, told, 0)
    return found


def _read(family: Family, document: AnyModel, record: object, told: set[str], depth: int) -> list[Reason]:
    """What a record reads, each thing once: values, sketches and datums with what they read, and sources of feeds."""
    found: list[Reason] = []
    for p in pointers_in(record):
        of = p.document if isinstance(p, (ValueRef,)) else getattr(p, "of", "")
        if not of or f"{of}/{getattr(p, 'item', '')}" in told:
            continue
        told.add(f"{of}/{p.item}")  # type: ignore[union-attr]
        if isinstance(p, ValueRef):
            found += _value(family, document, p)
        elif isinstance(p, Reference) and of == SELF:
            entry = index(document).get(p.item)
            if isinstance(entry, (Sketch, Datum)) and depth < 3:
                relation = "drawn in" if isinstance(entry, Sketch) else "placed on"
                found.append(Reason(relation, sentence(family, document, entry), document.id, entry.id))
                found += _read(family, document, entry, told, depth + 1)
            elif isinstance(entry, Socket):
                source = family.documents.get(entry.source.of)
                inner = index(source).get(entry.source.item) if source is not None else None
                feed = next((f.name for f in document.feeds.values() if p.item in f.sockets), "a feed")
                name = f"{source.name} / {getattr(inner, 'name', 'something')}" if source else "something that is gone"
                found.append(Reason(f"fed by {feed}", name, entry.source.of, entry.source.item))
    if isinstance(record, Sketch):
        for constraint in record.constraints:
            if constraint.value is not None:
                for ref in constraint.value.refs.values():
                    key = f"{ref.document}/{ref.item}"
                    if key not in told:
                        told.add(key)
                        found += _value(family, document, ref)
    return found


def _value(family: Family, document: AnyModel, ref: ValueRef) -> list[Reason]:
    source = document if ref.document == SELF else family.documents.get(ref.document)
    if source is None:
        return []
    key = names.Lookup(family, document).key(ref)
    return [Reason("driven by", key or "a value that is gone", source.id, ref.item)]
