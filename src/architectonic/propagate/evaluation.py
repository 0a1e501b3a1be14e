"""What an evaluation gives: outcomes, what each node read, and what it cost."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from architectonic.describe.results import Node, Outcome
from architectonic.family.records import Family
from architectonic.family.walk import index

BY_RECORD = frozenset({"value", "rule"})
"""Nodes whose plan reads nothing of its document but its own record, and other nodes."""


def _source(family: Family, node: Node) -> Any:
    """What of the family a node's plan may read by itself: its record or its document; compared by identity."""
    document = family.documents.get(node.document)
    return index(document).get(node.item) if document is not None and node.what in BY_RECORD else document


Progress = Callable[[int, int], None]
"""Called with recipes done and at most to do."""


@dataclass
class Work:
    """What an evaluation cost.

    Attributes:
        nodes: how many were asked for; looked_into: whose plan ran.
        computed: recipes computed; reused: recipes found by key.
        reasons: for each computed recipe, the node and why it ran.
    """

    nodes: int = 0
    looked_into: int = 0
    computed: int = 0
    reused: int = 0
    kernel_seconds: float = 0.0
    total_seconds: float = 0.0
    reasons: list[tuple[Node, str, str]] = field(default_factory=list)


@dataclass(frozen=True)
class Evaluation:
    """Outcomes of all nodes that were asked for, and what each read."""

    family: Family
    outcomes: dict[Node, Outcome]
    noted: Mapping[Node, Sequence[tuple[Node, Outcome]]]
    made: Mapping[Node, Sequence[str]]
    work: Work

    @property
    def keys(self) -> dict[Node, tuple[str, ...]]:
        """Keys of the recipes that each node asked for."""
        return {node: tuple(keys) for node, keys in self.made.items()}

    @property
    def reads(self) -> dict[Node, tuple[Node, ...]]:
        """What each node read."""
        return {node: tuple(read for read, _ in reads) for node, reads in self.noted.items()}

    def value(self, node: Node) -> Any:
        """The value of a node, None when it has none."""
        found = self.outcomes.get(node)
        return None if found is None else found.value


class _Trace(NamedTuple):
    source: Any
    skeleton: Any
    reads: tuple[tuple[Node, Outcome], ...]
    keys: tuple[str, ...]
    outcome: Outcome
