"""Why something is there: from a face or edge to the operations that made it, to what they read, on to its source, and
down to the values that nothing else decides.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from architectonic.base.labels import atoms
from architectonic.describe.models.operations import sentence
from architectonic.describe.words.sentences import face_words
from architectonic.family import edits, names
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import (
    SELF,
    AnyDocument,
    Datum,
    Family,
    Model,
    Reference,
    Sketch,
    Socket,
    ValueRef,
)
from architectonic.family.walk import index, pointers_in

AnyModel = Model


class Reason(NamedTuple):
    """One link of the chain: what it is to the one before, its words, where it is found, and how far down it is."""

    relation: str
    words: str
    document: str
    item: str
    depth: int = 0


Figure = Callable[[str, str], str]
"""The figure of a value of a document, as it is shown; "" when it is not known."""
DEEPEST = 12
"""Links below one another; circles are refused before they are stored."""


def reasons(family: Family, document_id: str, label: str, figure: Figure = lambda document, item: "") -> list[Reason]:
    """The chain behind a face or edge, the operation that made it first.

    Operations come from its label, in the order of the build list; below each what it reads, below that what decides that,
    down to plain values, in whatever document they are.
    """
    document = family.documents[document_id]
    if not isinstance(document, Model):
        return []
    made = {a.split(":")[0] for a in atoms(label)}
    chain = _Chain(family, figure)
    for operation in document.build:
        if operation.id in made and isinstance(operation, BodyOperation):
            role = face_words(document, label) if not label.startswith("(") else "it lies between faces of"
            relation = f"made by ({role})" if not chain.found else "and by"
            chain.add(relation, sentence(family, document, operation), document_id, operation.id, 0)
            chain.read(document, operation, 1)
    return chain.found


class _Chain:
    """Links in the order in which they are told, each thing once."""

    def __init__(self, family: Family, figure: Figure) -> None:
        self.family, self.figure = family, figure
        self.found: list[Reason] = []
        self._told: set[tuple[str, str]] = set()

    def add(self, relation: str, words: str, document: str, item: str, depth: int) -> bool:
        """One more link; False when it is told already."""
        if (document, item) in self._told or depth > DEEPEST:
            return False
        self._told.add((document, item))
        self.found.append(Reason(relation, words, document, item, depth))
        return True

    def read(self, document: AnyModel, record: object, depth: int) -> None:
        """What a record reads: values, sketches and datums with what they read, and sources of feeds."""
        for p in pointers_in(record):
            if isinstance(p, ValueRef):
                self.value(document, p, depth)
            elif isinstance(p, Reference) and p.of == SELF:
                self._thing(document, index(document).get(p.item), p.item, depth)
        for constraint in record.constraints if isinstance(record, Sketch) else ():
            if constraint.value is not None:
                for ref in constraint.value.refs.values():
                    self.value(document, ref, depth)

    def _thing(self, document: AnyModel, entry: object, item: str, depth: int) -> None:
        if isinstance(entry, (Sketch, Datum)):
            relation = "drawn in" if isinstance(entry, Sketch) else "placed on"
            if self.add(relation, sentence(self.family, document, entry), document.id, entry.id, depth):
                self.read(document, entry, depth + 1)
        elif isinstance(entry, Socket):
            source = self.family.documents.get(entry.source.of)
            feed = next((f.name for f in document.feeds.values() if item in f.sockets), "a feed")
            if not isinstance(source, Model):
                self.add(f"fed by {feed}", "something that is gone", document.id, item, depth)
                return
            inner = index(source).get(entry.source.item)
            name = f"{source.name} / {getattr(inner, 'name', 'something that is gone')}"
            if self.add(f"fed by {feed}", name, source.id, entry.source.item, depth) and inner is not None:
                self.read(source, inner, depth + 1)

    def value(self, document: AnyDocument, ref: ValueRef, depth: int) -> None:
        """A value with its figure, and below it what its expression reads."""
        source = document if ref.document == SELF else self.family.documents.get(ref.document)
        if source is None:
            return
        _, sketch, item = edits.value_item(self.family, source.id, ref.item)
        key = names.Lookup(self.family, document).key(ref) or "a value that is gone"
        expression = getattr(item, "common", None) or getattr(item, "value", None)
        text = names.shown_text(self.family, source, expression, sketch) if expression is not None else ""
        figure = self.figure(source.id, ref.item)
        told = f"{key} = {text}" if expression is not None and expression.refs else key
        if self.add("driven by", f"{told}, {figure}" if figure else told, source.id, ref.item, depth) and expression:
            for inner in expression.refs.values():
                self.value(source, inner, depth + 1)
