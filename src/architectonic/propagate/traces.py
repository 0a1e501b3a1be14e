"""What every node read last time, which of them nothing has touched since, and the last answer of many nodes.

A node is valid while nothing that it reads has changed: its outcome is taken as it is. The last answer goes further:
when much the same is asked again, it is taken over whole, but for what a change has reached, and what is not wanted any
more is left out of it. An edit of one cell of a range of 120,000 values then costs what it touches.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import Any, NamedTuple

import msgspec

from architectonic.describe.results import Node, Outcome
from architectonic.family import scopes
from architectonic.family.records import AnyDocument, Constraint, Family, Parameter
from architectonic.family.scopes import Scope
from architectonic.family.walk import index
from architectonic.propagate.evaluation import Evaluation

BY_RECORD = frozenset({"value", "rule"})
"""Nodes whose plan reads nothing of its document but its own record, and other nodes."""

SURPLUS = 20_000
"""Traces that may be kept of nodes that are not asked for any more, beside four for each that is."""


SKELETONS = 8
"""Of so many states of rows and alternates it is known again that they are the same: an undone edit is nothing new."""


class Traced(NamedTuple):
    """What a node came to, and by what: its record or document, what scopes mean, what it read, its recipes."""

    source: Any
    skeleton: Any
    reads: tuple[tuple[Node, Outcome], ...]
    keys: tuple[str, ...]
    outcome: Outcome


class Known(NamedTuple):
    """Outcomes with what was read for them and their recipes, by node."""

    done: dict[Node, Outcome]
    reads: dict[Node, Sequence[tuple[Node, Outcome]]]
    keys: dict[Node, Sequence[str]]


def source_of(family: Family, node: Node) -> Any:
    """What of the family a node's plan may read by itself: its record or its document; compared by identity."""
    document = family.documents.get(node.document)
    return index(document).get(node.item) if document is not None and node.what in BY_RECORD else document


def _touched(family: Family, document: AnyDocument, old: Any, new: Any) -> Iterable[Scope]:
    """Scopes in which a changed record may say something else: where only cells differ, those that they reach."""
    if isinstance(new, (Parameter, Constraint)) and type(old) is type(new):
        kept: dict[str, Any] = {"own": old.own}
        kept |= {"common": old.common} if isinstance(old, Parameter) else {"value": old.value}
        if msgspec.structs.replace(new, **kept) == old:
            return scopes.reached(family, document, scopes.changed_cells(old, new))
    return scopes.scopes_of(family, document)


class Traces:
    """The memory of an evaluator between its passes.

    Attributes:
        by_node: what is known of last time; valid: of which of it holds for the present family.
        skeleton: what scopes of the present family are made of; as long as they mean the same, it is one object.
    """

    def __init__(self) -> None:
        self.by_node: dict[Node, Traced] = {}
        self.valid: set[Node] = set()
        self._readers: dict[Node, set[Node]] = defaultdict(set)
        self._broad: dict[str, set[Node]] = defaultdict(set)  # those that may read all of a document
        self.skeleton: Any = None
        self._skeletons: list[Any] = []
        self._of: Family | None = None
        self._answer: Evaluation | None = None
        self._wanted: set[Node] = set()
        self._reached: set[Node] = set()

    def forget(self) -> None:
        """Look into everything anew."""
        self.by_node.clear()
        self._readers.clear()
        self._broad.clear()
        self._invalid()

    def _invalid(self) -> None:
        self.valid.clear()
        self._reached.clear()
        self._wanted, self._answer = set(), None

    def turn_to(self, family: Family) -> None:
        """Forget as valid what the change of family may reach, by the reads of last time."""
        before, self._of = self._of, family
        if before is family:
            return
        skeleton = scopes.skeleton(family)
        if before is None or skeleton != self.skeleton:
            self.skeleton = next((k for k in self._skeletons if k == skeleton), skeleton)
            others = [k for k in self._skeletons if k is not self.skeleton]
            self._skeletons = [self.skeleton, *others[: SKELETONS - 1]]
            self._invalid()
            return
        stack = [
            n
            for key, document in family.documents.items()
            if before.documents[key] is not document
            for n in self._changed(family, before.documents[key], document)
            if n in self.valid
        ]
        self.valid.difference_update(stack)
        self._reached.update(stack)
        while stack:
            for reader in self._readers.get(stack.pop(), ()):
                if reader in self.valid:
                    self.valid.discard(reader)
                    self._reached.add(reader)
                    stack.append(reader)

    def _changed(self, family: Family, before: AnyDocument, document: AnyDocument) -> Iterator[Node]:
        old, new = index(before), index(document)
        for key in {**old, **new}:
            if old.get(key) is not new.get(key):
                for at in _touched(family, document, old.get(key), new.get(key)):
                    for what in BY_RECORD:
                        yield Node(what, at, key)
        yield from self._broad.get(document.id, ())

    def keep(self, node: Node, trace: Traced) -> None:
        """What a node came to holds from now on."""
        self.by_node[node] = trace
        self.valid.add(node)
        self._note(node, trace.reads)
        if node.what not in BY_RECORD:
            self._broad[node.document].add(node)

    def lose(self, node: Node, reads: Iterable[tuple[Node, Outcome]]) -> None:
        """What a node came to holds for this pass only."""
        self.by_node.pop(node, None)
        self.valid.discard(node)
        self._note(node, reads)

    def _note(self, node: Node, reads: Iterable[tuple[Node, Outcome]]) -> None:
        for read, _ in reads:
            self._readers[read].add(node)

    def answered(self, answer: Evaluation, wanted: set[Node], passing: Iterable[Node]) -> None:
        """A pass has answered; it is taken over by the next ones unless the one that is kept answers far more.

        Args:
            passing: what of it holds for this pass only.
        """
        if self._answer is not None and 2 * len(answer.outcomes) < len(self._answer.outcomes):
            return
        self._answer, self._wanted, self._reached = answer, set(wanted), set(passing)
        if len(self.by_node) > SURPLUS + 4 * len(answer.outcomes):
            self._drop_surplus()

    def _drop_surplus(self) -> None:
        """Traces of what is there no more: those that no change has reached stay."""
        self.by_node = {n: t for n, t in self.by_node.items() if n in self.valid}
        self._readers, self._broad = defaultdict(set), defaultdict(set)
        for node, trace in self.by_node.items():
            self.keep(node, trace)
        for node in self._reached:
            self._note(node, self._answer.noted.get(node, ()) if self._answer is not None else ())

    def taken_over(self, wanted: set[Node], more: Iterable[Node]) -> TakenOver | None:
        """The last answer for a pass that wants half of the same or more; None when there is none."""
        answer = self._answer
        if answer is None or 2 * len(self._wanted.intersection(more)) < len(self._wanted):
            return None
        known = Known(dict(answer.outcomes), dict(answer.noted), dict(answer.made))
        for node in self._reached:
            for part in known:
                part.pop(node, None)
        doubtful = [n for n in self._wanted if n not in wanted]
        doubtful += [read for node in self._reached for read, _ in answer.noted.get(node, ())]
        return TakenOver(known, doubtful, self._readers.get)


class TakenOver(NamedTuple):
    """The part of the last answer that still holds, and what of it may not be wanted any more."""

    known: Known
    doubtful: list[Node]
    readers: Callable[[Node, Iterable[Node]], Iterable[Node]]

    def leave_out(self, known: Known, wanted: set[Node]) -> None:
        """Take out of what is known what nobody wants and nothing reads."""
        waiting = self.doubtful
        while waiting:
            node = waiting.pop()
            if node in known.done and node not in wanted and not self._is_read(known, node):
                del known.done[node]
                known.keys.pop(node, None)
                waiting += [read for read, _ in known.reads.pop(node, ())]

    def _is_read(self, known: Known, node: Node) -> bool:
        return any(
            reader in known.done and any(read == node for read, _ in known.reads.get(reader, ()))
            for reader in self.readers(node, ())
        )
