"""Whether operations, joints and rules of placement are on, as far as it is known."""

from __future__ import annotations

from architectonic.describe.results import Node
from architectonic.family import scopes
from architectonic.family.operations.base import Operation
from architectonic.family.records import Bond, Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation


def is_on(family: Family, evaluation: Evaluation | None, at: Scope, record: Operation | Bond) -> bool | None:
    """On, off, or None while its condition is not worked out, or cannot be."""
    said = scopes.turned(family, at, record.switch)[1]
    if isinstance(said, bool):
        return said
    found = evaluation.value(Node("on", at, record.id)) if evaluation is not None else None
    return None if found is None else bool(found)
