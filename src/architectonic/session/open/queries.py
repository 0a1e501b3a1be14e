"""Questions about a few nodes, answered at once while somebody draws.

Most need numbers alone. A sketch that traces edges of bodies needs the geometry of those too: the engine of the
running program is asked then, whose results are found by key. Answers depend on the family alone, whoever answers.
"""

from __future__ import annotations

from architectonic.describe.results import Node
from architectonic.family.records import Family
from architectonic.propagate.cache import ResultCache
from architectonic.propagate.evaluator import Evaluation, Evaluator
from architectonic.propagate.ports import Executor, NoExecutor

_serving: list[tuple[Executor, ResultCache]] = []


def serve(executor: Executor, cache: ResultCache) -> None:
    """Let an engine answer from now on."""
    _serving.append((executor, cache))


def retire(executor: Executor) -> None:
    """An engine ends: the one before it answers again, or numbers alone."""
    _serving[:] = [(e, c) for e, c in _serving if e is not executor]


def fresh() -> Evaluator:
    """An evaluator of its own, for many questions about variants of one family."""
    return Evaluator(*_serving[-1]) if _serving else Evaluator(NoExecutor())


def ask(family: Family, nodes: list[Node]) -> Evaluation:
    """Evaluate some nodes of a family."""
    return fresh().evaluate(family, nodes)
