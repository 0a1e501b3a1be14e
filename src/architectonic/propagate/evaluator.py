"""Demand-driven evaluation of a family.

Each node is a plan (a generator) driven here: it asks for nodes and recipes and is sent their outcomes. Nothing is
kept between evaluations but results by key and, for each node, what it read last time; when its document and all it
read are unchanged, the node is not looked into again (verifying traces: Mokhov, Mitchell & Peyton Jones, Build Systems
a la Carte, ICFP 2018). So incremental evaluation equals evaluation from scratch by construction.

What no changed record can reach by those reads is not even visited: an edit costs what it touches, not what there is.
"""

from __future__ import annotations

import time
from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Any

import msgspec
from cachetools import LRUCache

from architectonic.base.cancel import Cancelled, CancelToken
from architectonic.base.problem import Problem
from architectonic.describe.models.states import Passed
from architectonic.describe.registry import COMPUTED_HERE, PLANS
from architectonic.describe.results import Node, NodeFault, Outcome, Plan, Recipe
from architectonic.describe.view import View
from architectonic.family.records import Family
from architectonic.propagate.cache import ResultCache
from architectonic.propagate.evaluation import Evaluation, Progress, Work
from architectonic.propagate.keys import encode, key_of
from architectonic.propagate.making import Making, broken
from architectonic.propagate.ports import SHOWN, Executor
from architectonic.propagate.traces import Known, TakenOver, Traced, Traces, source_of
from architectonic.propagate.waiting import Task, circle_through

RECIPES = 20_000
"""Of so many recipes it is known how to make their shapes again, when they are lost."""


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
        self.traces = Traces()
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
        self.traces.turn_to(family)
        return Pass(self, family, cancel or CancelToken(), progress, self.urgency if urgency is None else urgency)

    def forget(self) -> None:
        """Look into everything anew at the next evaluation."""
        self.traces.forget()

    def knows(self, recipe: Recipe) -> bool:
        """Whether the result of a recipe is at hand."""
        return self.cache.get(key_of(recipe, encode(recipe.payload)), recipe.kind) is not None

    def recipe_of(self, key: str) -> tuple[Recipe, bytes] | None:
        """How a result was made, with its payload encoded; None when that is not known any more."""
        return self._recipes.get(key)


class Pass:
    """One evaluation of a family, which may be asked for more and more of it.

    Attributes:
        making: its recipes, with the urgency of those to come.
    """

    def __init__(
        self, owner: Evaluator, family: Family, cancel: CancelToken, progress: Progress | None, urgency: int
    ) -> None:
        self.owner = owner
        self.family = family
        self.view = View(family)
        self.skeleton = owner.traces.skeleton
        self.cancel = cancel
        self.done: dict[Node, Outcome] = {}
        self.reads: dict[Node, Sequence[tuple[Node, Outcome]]] = {}
        self.keys: dict[Node, Sequence[str]] = {}
        self.tasks: dict[Node, Task] = {}
        self.ready: list[tuple[Task, Any]] = []
        self.untraced: set[Node] = set()
        self.work = Work()
        self.making = Making(owner, self.work, progress, urgency)
        self.wanted: set[Node] = set()
        self.taken: TakenOver | None = None
        self.handed_out = False  # what is known is in an answer, and copied before more is

    # --- driving --------------------------------------------------------------------------------------

    def all(self, targets: list[Node]) -> Evaluation:
        """Evaluate `targets` and all they need, beside what was asked before.

        Returns:
            What is known by now; it stays as it is when more is asked.

        Raises:
            Cancelled: it was asked to stop; finished results stay in the cache.
        """
        started = time.perf_counter()
        if self.handed_out:
            self.done, self.reads, self.keys, self.handed_out = (
                dict(self.done),
                dict(self.reads),
                dict(self.keys),
                False,
            )
        self._take_over(targets)
        for node in reversed([n for n in targets if n not in self.done]):
            self._demand(node)
        while self.ready or self.making.open:
            if self.cancel.cancelled:
                raise Cancelled("evaluation was cancelled")
            while self.ready:
                task, value = self.ready.pop()
                self._step(task, value)
                if self.cancel.cancelled:
                    raise Cancelled("evaluation was cancelled")
            arrived = self.making.receive() if self.making.open else None
            if arrived is not None:
                self.untraced.update(task.node for task in arrived.tasks if arrived.passing)
                self.ready += [(task, arrived.made) for task in arrived.tasks]
        if self.taken is not None:
            self.taken.leave_out(Known(self.done, self.reads, self.keys), self.wanted)
        self.work.nodes = len(self.done)
        self.work.total_seconds += time.perf_counter() - started
        work = replace(self.work, reasons=list(self.work.reasons))
        answer, self.handed_out = Evaluation(self.family, self.done, self.reads, self.keys, work), True
        self.owner.traces.answered(answer, self.wanted, self.untraced)
        return answer

    def _take_over(self, targets: list[Node]) -> None:
        """Begin with the last answer where much the same is wanted."""
        self.wanted.update(targets)
        if self.taken is None:
            self.taken = self.owner.traces.taken_over(self.wanted, targets)
            if self.taken is not None:
                known = self.taken.known
                self.work.reused += sum(map(len, known.keys.values()))
                known.done.update(self.done)
                known.reads.update(self.reads)
                known.keys.update(self.keys)
                self.done, self.reads, self.keys = known

    def _demand(self, node: Node) -> None:
        if node in self.done or node in self.tasks:
            return
        if node in self.owner.traces.valid:
            self._take_valid(node)
        else:
            task = self.tasks[node] = Task(node, self._driven(node))
            self.ready.append((task, None))

    def _take_valid(self, start: Node) -> None:
        """Last time's outcome of a node that nothing has touched, and of all that it read."""
        traces, done = self.owner.traces.by_node, self.done
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
                made = self.making.want(task, asked)
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
        source = source_of(self.family, node)
        trace = self.owner.traces.by_node.get(node)
        reason = "asked for the first time"
        if trace is not None and trace.skeleton is self.skeleton:
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
                    if value.key in self.making.fresh:
                        self.making.fresh.discard(value.key)
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
        except Exception as defect:  # a broken record costs what it is about, not the evaluation
            return Outcome(None, self._placed(node, broken(defect)))

    def _placed(self, node: Node, problem: Problem) -> Problem:
        return problem if problem.where else msgspec.structs.replace(problem, where=self.view.where(node))

    def _finish(self, task: Task, outcome: Outcome) -> None:
        node = task.node
        self.done[node] = outcome
        del self.tasks[node]
        traces, reads = self.owner.traces, tuple(self.reads.get(node, ()))
        if node in self.untraced or any(r in self.untraced for r, _ in reads):
            self.untraced.add(node)
            traces.lose(node, reads)
        else:
            keys = tuple(self.keys.get(node, ()))
            traces.keep(node, Traced(source_of(self.family, node), self.skeleton, reads, keys, outcome))
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
