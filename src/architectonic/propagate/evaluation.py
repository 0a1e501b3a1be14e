"""What an evaluation gives: outcomes, what each node read, and what it cost."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from architectonic.describe.results import Node, Outcome
from architectonic.family.records import Family

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

    @cached_property
    def troubled(self) -> tuple[Node, ...]:
        """Those that have a problem."""
        return tuple(n for n, o in self.outcomes.items() if o.problem is not None)

    @cached_property
    def checks(self) -> tuple[Node, ...]:
        """Rules, guards, and those that come by themselves."""
        return tuple(n for n in self.outcomes if n[0] in ("rule", "mating"))

    def value(self, node: Node) -> Any:
        """The value of a node, None when it has none."""
        found = self.outcomes.get(node)
        return None if found is None else found.value
