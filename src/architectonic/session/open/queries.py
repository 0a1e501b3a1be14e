"""The one way to ask for what a family comes to: which family, which nodes, how urgent.

An engine serves; the program's own thread of updates asks for whole documents, hands on the sketch ask for a few nodes
and wait, which is quick: they go before everything else, and a worker of their own stands ready for what of them needs
geometry. Answers depend on the family alone, whoever asks.
"""

from __future__ import annotations

import threading
from collections.abc import Sequence
from typing import TypeVar

import msgspec

from architectonic.base.cancel import Cancelled, CancelToken, Watch
from architectonic.base.errors import EnvironmentFault
from architectonic.base.problem import Problem
from architectonic.describe.results import Node, Value
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.cache import ResultCache
from architectonic.propagate.evaluation import Evaluation, Progress
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.ports import NOW, SHOWN, Executor, NoExecutor
from architectonic.propagate.targets import Look, all_scopes
from architectonic.propagate.whole import evaluate_scopes

Found = TypeVar("Found")


class Questions:
    """Answers a few nodes at a time, from any thread, and remembers what it looked at."""

    def __init__(self, executor: Executor, cache: ResultCache | None = None, urgency: int = NOW) -> None:
        self.executor = executor
        self._evaluator = Evaluator(executor, cache, urgency)
        self._lock = threading.Lock()

    def ask(self, family: Family, nodes: Sequence[Node]) -> Evaluation:
        """Evaluate some nodes of a family."""
        with self._lock:
            return self._evaluator.evaluate(family, nodes)

    def everything(self, family: Family, wanted: list[Scope], cancel: CancelToken | None = None) -> Evaluation:
        """Evaluate all that is reported of some scopes.

        Raises:
            Cancelled: `cancel` was used.
        """
        with self._lock:
            return evaluate_scopes(self._evaluator, family, wanted, cancel=cancel)


_serving: list[Questions] = []
_numbers = Questions(NoExecutor())


def serve(executor: Executor, cache: ResultCache) -> None:
    """Let an engine answer from now on."""
    _serving.append(Questions(executor, cache))


def retire(executor: Executor) -> None:
    """An engine ends: the one before it answers again, or numbers alone."""
    _serving[:] = [q for q in _serving if q.executor is not executor]


def ask(family: Family, nodes: Sequence[Node]) -> Evaluation:
    """Evaluate some nodes of a family at once, before all else that is being worked on."""
    return (_serving[-1] if _serving else _numbers).ask(family, nodes)


def numbers(family: Family, nodes: Sequence[Node]) -> Evaluation:
    """Evaluate what needs numbers alone; what needs geometry is left without a value."""
    return _numbers.ask(family, nodes)


def made(kind: str, given: Value, gives: type[Found], watch: Watch | None = None) -> Found | Problem:
    """What a worker makes of something that is of no family, or why it does not.

    Raises:
        EnvironmentFault: nobody serves, or the worker failed.
        Cancelled: it was asked to stop.
    """
    if not _serving:
        raise EnvironmentFault(f"{kind} needs the geometry kernel")
    payload = msgspec.msgpack.encode(given)
    executor = _serving[-1].executor
    promised = executor.submit(f"{kind}-{threading.get_ident()}", kind, payload, (), NOW)
    while watch is not None:
        try:
            promised.result(0.05)
            break
        except TimeoutError:
            try:
                watch.at(0.5)
            except Cancelled:
                executor.abandon(promised)
                raise
    reply = promised.result()
    if reply.defect:
        raise EnvironmentFault(reply.defect)
    return reply.problem or msgspec.msgpack.decode(reply.value, type=gives)


def variant(urgency: int = NOW) -> Questions:
    """Somebody of one's own to ask, for many questions about variants of one family."""
    if not _serving:
        return Questions(NoExecutor())
    return Questions(_serving[-1].executor, _serving[-1]._evaluator.cache, urgency)


def whole(
    evaluator: Evaluator,
    family: Family,
    wanted: list[Scope] | None = None,
    meshes: tuple[Look, ...] = (),
    cancel: CancelToken | None = None,
    progress: Progress | None = None,
) -> Evaluation:
    """Evaluate everything in some scopes, or in all; the first ones are ready first.

    Args:
        meshes: whose bodies are wanted as triangles.
    """
    return evaluate_scopes(evaluator, family, wanted or all_scopes(family), meshes, cancel, progress, urgency=SHOWN)
