"""The operations on bodies, read from their declarations; sentences, recipes and versions follow."""

from __future__ import annotations

from architectonic.base.kinds import declared
from architectonic.describe.operations.kind import GROUPS, OperationKind
from architectonic.describe.words.blanks import Telling
from architectonic.describe.words.sentences import datum, target
from architectonic.describe.words.spoken import Sentence, told_by
from architectonic.family.operations.base import BodyOperation, Operation
from architectonic.family.operations.drawing.datum import Datum
from architectonic.family.records import Family, Model, Sketch, Underlay

_ORDERED = sorted(declared("describe.operations", OperationKind), key=lambda k: (GROUPS.index(k.group), k.rank))
OPERATIONS: dict[type[BodyOperation], OperationKind] = {k.record: k for k in _ORDERED}
SENTENCES: dict[str, tuple[OperationKind, Sentence]] = {s.key: (k, s) for k in _ORDERED for s in k.sentences if s.opens}
CHANGE_BODIES = tuple(k.recipe for k in OPERATIONS.values() if k.recipe)
"""Recipes whose value lists the bodies that have a new shape."""


def sentence_of(operation: BodyOperation) -> Sentence:
    """The sentence of an operation, by its kind; of a move by how it moves, where verbs share a kind by what it does."""
    found = OPERATIONS[type(operation)].sentences
    by, does = getattr(operation, "by", None), getattr(operation, "does", "")
    fitting = [s for s in found if s.by is None or isinstance(by, s.by)]
    return next((s for s in fitting if s.key == does), fitting[0])


def sentence(family: Family, document: Model, operation: Operation) -> str:
    """What an operation does, in one line."""
    if isinstance(operation, Sketch):
        return f"Sketch {operation.name}, on {target(family, document, operation.plane)}"
    if isinstance(operation, Datum):
        return f"{operation.gives.capitalize()} {operation.name}, {datum(family, document, operation.by)}"
    if isinstance(operation, Underlay):
        return f"Underlay {operation.name}, on {target(family, document, operation.plane)}"
    assert isinstance(operation, BodyOperation)
    return told_by(sentence_of(operation), Telling(family, document), operation)
