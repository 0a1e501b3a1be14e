"""The operations on bodies, one entry for each kind."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from architectonic.describe import extrude, fillet
from architectonic.describe.results import Plan
from architectonic.family.records import Extrude, Fillet


class OperationKind(NamedTuple):
    """How an operation on bodies is evaluated."""

    word: str
    plan: Callable[..., Plan]


OPERATIONS: dict[type, OperationKind] = {
    Extrude: OperationKind("extrude", extrude.plan),
    Fillet: OperationKind("fillet", fillet.plan),
}
