"""How a kind of operation is declared: once, in its own module, as KIND."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from typing import Literal, NamedTuple

from architectonic.base.kinds import declared
from architectonic.describe.recipes import BodyInput
from architectonic.describe.results import Plan
from architectonic.describe.words.spoken import Sentence
from architectonic.family.operations.base import BodyOperation

Group = Literal["solids", "edge treatments", "holes", "patterns and mirrors", "marks", "bodies", "surfaces", "checks"]
GROUPS: tuple[Group, ...] = (
    "solids",
    "edge treatments",
    "holes",
    "patterns and mirrors",
    "marks",
    "bodies",
    "surfaces",
    "checks",
)


class OperationKind(NamedTuple):
    """Everything that the program knows about a kind of operation on bodies.

    Attributes:
        record: how it is stored (family.operations).
        sentences: how it is said; several where its field `by` says how.
        plan: view, node, record and the state it is given, to the state after it.
        recipe: what is asked of the kernel, whose value lists the bodies with a new shape; "" for nothing. Its maker is
            `make` in the module of the same name below make.operations.
        given: type of the recipe's input.
        version: of its code; a kind whose results change gets a new one, so that older ones are not taken for its own.
        group, rank: under which heading of verbs it stands, and where there.
    """

    record: type[BodyOperation]
    sentences: tuple[Sentence, ...]
    plan: Callable[..., Plan]
    recipe: str = ""
    given: type = BodyInput
    version: int = 0
    group: Group = "solids"
    rank: int = 50


@cache
def _kinds() -> dict[type[BodyOperation], OperationKind]:
    return {k.record: k for k in declared("describe.operations", OperationKind)}


def kind_of(record: BodyOperation) -> OperationKind:
    """The declaration of an operation's kind."""
    return _kinds()[type(record)]
