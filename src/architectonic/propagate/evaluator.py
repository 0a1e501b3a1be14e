"""Demand-driven evaluation of a family.

Each node is a plan (a generator) driven here: it asks for nodes and recipes and is sent their outcomes. Nothing is
kept between evaluations but results by key and, for each node, what it read last time; when its document and all it
read are unchanged, the node is not looked into again (verifying traces: Mokhov, Mitchell & Peyton Jones, Build Systems
a la Carte, ICFP 2018). So incremental evaluation equals evaluation from scratch by construction.

What no changed record can reach by those reads is not even visited: an edit costs what it touches, not what there is.
"""

from __future__ import annotations

import queue
import time
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Any

import msgspec
from cachetools import LRUCache

from architectonic.base.cancel import Cancelled, CancelToken
from architectonic.base.errors import EnvironmentFault
from architectonic.base.problem import Problem
from architectonic.describe.models.states import Passed
from architectonic.describe.registry import COMPUTED_HERE, PLANS
from architectonic.describe.results import Made, Node, NodeFault, Outcome, Plan, Recipe
from architectonic.describe.view import View
from architectonic.family import scopes
from architectonic.family.records import Family
from architectonic.family.walk import index
from architectonic.propagate.cache import ResultCache, decode_value
from architectonic.propagate.evaluation import BY_RECORD, Evaluation, Progress, Work, _source, _Trace
from architectonic.propagate.keys import encode, key_of
from architectonic.propagate.ports import SHOWN, Executor, MadeReply
from architectonic.propagate.waiting import Task, circle_through

RECIPES = 20_000
"""Of so many recipes it is known how to make their shapes again, when they are lost."""


SURPLUS = 20_000
"""Traces that may be kept of nodes that are not asked for any more, beside four for each that is."""


class Evaluator:
    """Evaluates families, one at a time; keeps results and traces between calls.

    Args:
        executor: makes kernel recipes.
        cache: results by key.
        urgency: of its recipes, when a call says nothing else (propagate.ports).
    """

    def __init__(self, executor: Executor, cache: ResultCache | None = None, urgency: int = SHOWN) -> None:
        self.executor, self.urgency = executor, urgency
        self.cache = cache or ResultCache()
        self._traces: dict[Node, _Trace] = {}
        self._readers: dict[Node, set[Node]] = defaultdict(set)
        self._valid: set[Node] = set()
        self._of: Family | None = None
        self._recipes: LRUCache[str, tuple[Recipe, bytes]] = LRUCache(RECIPES)

    def remember(self, key: str, recipe: Recipe, payload: bytes) -> None:
        """How something is made that others may have to make again: packed, it takes a tenth of the room."""
        if recipe.kind not in COMPUTED_HERE:  # what is computed here makes no shape
            self._recipes[key] = (recipe._replace(payload=None), payload)

    def evaluate(
        self,
        family: Family,
        targets: Iterable[Node],
        cancel: CancelToken | None = None,
        progress: Progress | None = None,
        urgency: int | None = None,
    ) -> Evaluation:
        """Evaluate `targets` and all they need; the first targets go first.

        Raises:
            Cancelled: `cancel` was used; finished results stay in the cache.
        """
        return self.begin(family, cancel, progress, urgency).all(list(targets))

    def begin(
        self,
        family: Family,
        cancel: CancelToken | None = None,
        progress: Progress | None = None,
        urgency: int | None = None,
    ) -> Pass:
        """One pass over a family, in which one thing can be asked after the other; it ends when the next one begins."""
        self._turn_to(family)
        return Pass(self, family, cancel or CancelToken(), progress, self.urgency if urgency is None else urgency)

    def forget(self) -> None:
        """Look into everything anew at the next evaluation."""
        self._traces.clear()
        self._readers.clear()
        self._valid.clear()

    def _drop_surplus(self, seen: int) -> None:
        """Traces of what is there no more: those that no change has reached stay."""
        if len(self._traces) > SURPLUS + 4 * seen:
            self._traces = {n: t for n, t in self._traces.items() if n in self._valid}
            self._readers = defaultdict(set)
            for node, trace in self._traces.items():
                for read, _ in trace.reads:
                    self._readers[read].add(node)

    def knows(self, recipe: Recipe) -> bool:
        """Whether the result of a recipe is at hand."""
        return self.cache.get(key_of(recipe, encode(recipe.payload)), recipe.kind) is not None

    def recipe_of(self, key: str) -> tuple[Recipe, bytes] | None:
        """How a result was made, with its payload encoded; None when that is not known any more."""
        return self._recipes.get(key)

    def _turn_to(self, family: Family) -> None:
        """Forget as valid what the change of family may reach, by the reads of last time."""
        before, self._of = self._of, family
        if before is family:
            return
        if before is None or scopes.skeleton(before) != scopes.skeleton(family):
            self._valid.clear()
            return
        changed: dict[str, set[str]] = {k: set() for k, d in family.documents.items() if before.documents[k] is not d}
        for key, items in changed.items():
            old, new = index(before.documents[key]), index(family.documents[key])
            items.update(k for k in {**old, **new} if old.get(k) is not new.get(k))
        stack = [
            n
            for n in self._valid
            if n.document in changed and (n.what not in BY_RECORD or n.item in changed[n.document])
        ]
        self._valid.difference_update(stack)
        while stack:
            for reader in self._readers.get(stack.pop(), ()):
                if reader in self._valid:
                    self._valid.discard(reader)
                    stack.append(reader)


class Pass:
    """One evaluation of a family, which may be asked for more and more of it.

    Attributes:
        urgency: of the recipes from now on (propagate.ports).
    """

    def __init__(
        self, owner: Evaluator, family: Family, cancel: CancelToken, progress: Progress | None, urgency: int
    ) -> None:
        self.owner, self.urgency = owner, urgency
        self.family = family
        self.view = View(family)
        self.skeleton = scopes.skeleton(family)
        self.cancel = cancel
        self.progress = progress
        self.done: dict[Node, Outcome] = {}
        self.reads: dict[Node, Sequence[tuple[Node, Outcome]]] = {}
        self.keys: dict[Node, Sequence[str]] = {}
        self.tasks: dict[Node, Task] = {}
        self.ready: list[tuple[Task, Any]] = []
        self.making: dict[str, list[Task]] = {}
        self.asked: dict[str, tuple[Recipe, bytes]] = {}
        self.arrived: queue.SimpleQueue[tuple[str, MadeReply | None, BaseException | None]] = queue.SimpleQueue()
        self.untraced: set[Node] = set()
        self.fresh: set[str] = set()
        self.work = Work()

    # --- driving --------------------------------------------------------------------------------------

    def all(self, targets: list[Node]) -> Evaluation:
        """Evaluate `targets` and all they need, beside what was asked before.

        Returns:
            What is known by now; it stays as it is when more is asked.

        Raises:
            Cancelled: it was asked to stop; finished results stay in the cache.
        """
        started = time.perf_counter()
        for node in reversed(targets):
            self._demand(node)
        while self.ready or self.making:
            if self.cancel.cancelled:
                raise Cancelled("evaluation was cancelled")
            while self.ready:
                task, value = self.ready.pop()
                self._step(task, value)
                if self.cancel.cancelled:
                    raise Cancelled("evaluation was cancelled")
            if self.making:
                self._receive()
        self.work.nodes = len(self.done)
        self.work.total_seconds += time.perf_counter() - started
        self.owner._drop_surplus(len(self.done))
        work = replace(self.work, reasons=list(self.work.reasons))
        return Evaluation(self.family, dict(self.done), dict(self.reads), dict(self.keys), work)

    def _demand(self, node: Node) -> None:
        if node in self.done or node in self.tasks:
            return
        if node in self.owner._valid:
            self._take_valid(node)
        else:
            task = self.tasks[node] = Task(node, self._driven(node))
            self.ready.append((task, None))

    def _take_valid(self, start: Node) -> None:
        """Last time's outcome of a node that nothing has touched, and of all that it read."""
        traces, done = self.owner._traces, self.done
        stack = [start]
        while stack:
            node = stack.pop()
            if node not in done:
                trace = traces[node]
                done[node] = trace.outcome
                self.reads[node], self.keys[node] = trace.reads, trace.keys
                self.work.reused += len(trace.keys)
                stack += [read for read, _ in trace.reads]

    def _step(self, task: Task, value: Any) -> None:
        """Run a plan until it waits or ends."""
        if self.tasks.get(task.node) is not task:
            return  # it was ended as part of a circle
        while True:
            try:
                asked = task.plan.send(value)
            except StopIteration as end:
                self._finish(task, end.value)
                return
            if isinstance(asked, Recipe):
                made = self._make(task, asked)
                if made is None:
                    return
                value = made
                continue
            task.asked = asked
            task.open = {n for n in asked if n not in self.done}
            if not task.open:
                value = [self.done[n] for n in asked]
                continue
            for node in asked:
                if node in task.open:
                    self._demand(node)
            task.open = {n for n in task.open if n not in self.done}
            if not task.open:
                value = [self.done[n] for n in asked]
                continue
            for node in [n for n in asked if n in task.open]:
                circle = circle_through(self.tasks, task.node, node)
                if circle:
                    self._break(circle)
                    return
            for node in task.open:
                self.tasks[node].waiters.append(task)
            return

    def _driven(self, node: Node) -> Plan:
        """The node's plan with its reads recorded, or last time's outcome when nothing it read has changed."""
        source = _source(self.family, node)
        trace = self.owner._traces.get(node)
        reason = "asked for the first time"
        if trace is not None and trace.skeleton == self.skeleton:
            reason = "its own record changed" if trace.source is not source else ""
            if not reason:
                for read, before in trace.reads:
                    (now,) = yield [read]
                    if now is not before and now != before:
                        reason = f"{self.view.where(read)} changed"
                        break
                else:
                    self.reads[node], self.keys[node] = trace.reads, trace.keys
                    self.work.reused += len(trace.keys)
                    return trace.outcome
        self.work.looked_into += 1
        reads: list[tuple[Node, Outcome]] = []
        keys: list[str] = []
        self.reads[node], self.keys[node] = reads, keys
        outcome = yield from self._plan(node, reads, keys, reason)
        return outcome

    def _plan(self, node: Node, reads: list[tuple[Node, Outcome]], keys: list[str], reason: str) -> Plan:
        try:
            plan = PLANS[node.what](self.view, node)
            value: Any = None
            while True:
                asked = plan.send(value)
                if isinstance(asked, Recipe):
                    value = yield asked
                    keys.append(value.key)
                    if value.key in self.fresh:
                        self.fresh.discard(value.key)
                        self.work.reasons.append((node, asked.kind, reason))
                else:
                    value = yield asked
                    reads.extend(zip(asked, value, strict=True))
        except StopIteration as end:
            return Outcome(end.value)
        except NodeFault as fault:
            return Outcome(None, self._placed(node, fault.problem))
        except Passed as passed:
            problem = passed.outcome.problem
            return Outcome(passed.outcome.value, problem and self._placed(node, problem))

    def _placed(self, node: Node, problem: Problem) -> Problem:
        return problem if problem.where else msgspec.structs.replace(problem, where=self.view.where(node))

    def _finish(self, task: Task, outcome: Outcome) -> None:
        node = task.node
        self.done[node] = outcome
        del self.tasks[node]
        owner, source = self.owner, _source(self.family, node)
        reads = self.reads.get(node, ())
        if node in self.untraced or any(r in self.untraced for r, _ in reads):
            self.untraced.add(node)
            owner._traces.pop(node, None)
            owner._valid.discard(node)
        else:
            owner._traces[node] = _Trace(source, self.skeleton, tuple(reads), tuple(self.keys.get(node, ())), outcome)
            owner._valid.add(node)
            for read, _ in reads:
                owner._readers[read].add(node)
        for waiter in task.waiters:
            waiter.open.discard(node)
            if not waiter.open and self.tasks.get(waiter.node) is waiter:
                self.ready.append((waiter, [self.done[n] for n in waiter.asked]))

    # --- circles --------------------------------------------------------------------------------------

    def _break(self, circle: list[Node]) -> None:
        """Every node of a circle gets the same problem, its path drawn from its smallest member."""
        first = circle.index(min(circle))
        turned = circle[first:] + circle[:first]
        names = list(dict.fromkeys(self.view.where(n) for n in turned))
        path = " → ".join([*names, names[0]])
        problem = Problem(
            code="circle",
            what=f"these need each other: {path}",
            mend="take one of them from an earlier stage",
            severity="conflict",
        )
        for node in turned:
            self.untraced.add(node)
            task = self.tasks[node]
            task.plan.close()
            self._finish(task, Outcome(None, self._placed(node, problem)))

    # --- recipes --------------------------------------------------------------------------------------

    def _make(self, task: Task, recipe: Recipe) -> Made | None:
        """The result of a recipe, or None when the task must wait for it."""
        payload = encode(recipe.payload)
        key = key_of(recipe, payload)
        self.owner.remember(key, recipe, payload)
        self.asked[key] = (recipe, payload)
        found = self.owner.cache.get(key, recipe.kind)
        if found is not None:
            self.work.reused += 1
            return found
        if recipe.kind in COMPUTED_HERE:
            self.work.computed += 1
            self.fresh.add(key)
            try:
                made = Made(key, COMPUTED_HERE[recipe.kind](recipe.payload), None)
            except NodeFault as fault:
                made = Made(key, None, fault.problem)
            self.owner.cache.put(made, recipe.kind)
            return made
        waiting = self.making.setdefault(key, [])
        waiting.append(task)
        if len(waiting) == 1:
            self._submit(key)
        return None

    def _submit(self, key: str) -> None:
        recipe, payload = self.asked[key]
        future = self.owner.executor.submit(key, recipe.kind, payload, recipe.shapes, self.urgency)
        future.add_done_callback(
            lambda f: self.arrived.put(
                (
                    key,
                    None if f.cancelled() or f.exception() else f.result(),
                    None if f.cancelled() else f.exception(),
                )
            )
        )

    def _receive(self) -> None:
        """Wait for a reply and wake who waits for it."""
        try:
            key, reply, failure = self.arrived.get(timeout=0.05)
        except queue.Empty:
            return
        recipe, _ = self.asked[key]
        if reply is not None and reply.lost:
            self._make_again(reply.lost, key)
            return
        made: Made
        if reply is None or reply.defect:
            what = (
                str(failure)
                if isinstance(failure, EnvironmentFault)
                else (reply.defect if reply else "the worker was closed")
            )
            made = Made(key, None, Problem(code="environment", what=what, mend="try again"))
            for task in self.making[key]:
                self.untraced.add(task.node)
        else:
            self.work.computed += 1
            self.fresh.add(key)
            self.work.kernel_seconds += reply.seconds
            made = Made(key, None if reply.problem else decode_value(recipe.kind, reply.value), reply.problem)
            self.owner.cache.put(made, recipe.kind)
        for task in self.making.pop(key):
            self.ready.append((task, made))
        if self.progress:
            self.progress(self.work.computed, self.work.computed + len(self.making))

    def _make_again(self, lost: str, key: str) -> None:
        """A shape vanished from the store: make what made it, then ask again."""
        source = lost.split(".", 1)[0]
        known = self.owner._recipes.get(source)
        if known is None:  # it was asked for so long ago that nobody knows how it was made
            self.owner.forget()
            self.arrived.put(
                (key, None, EnvironmentFault("a shape is gone from the store", "change anything to make it anew"))
            )
            return
        recipe, payload = known
        again = self.owner.executor.submit(source, recipe.kind, payload, recipe.shapes, self.urgency)

        def then(f: Any) -> None:
            if f.cancelled() or f.exception():
                self.arrived.put((key, None, None if f.cancelled() else f.exception()))
            elif f.result().lost:
                self._make_again(f.result().lost, key)
            else:
                self._submit(key)

        again.add_done_callback(then)
