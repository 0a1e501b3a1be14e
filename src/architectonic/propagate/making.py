"""Recipes of one pass: found by key, computed here, or made by the executor; what waits for them."""

from __future__ import annotations

import logging
import queue
import time
from typing import Any, NamedTuple, Protocol

from architectonic.base.errors import EnvironmentFault
from architectonic.base.problem import Problem
from architectonic.describe.registry import COMPUTED_HERE
from architectonic.describe.results import Made, Node, NodeFault, Recipe
from architectonic.propagate.cache import ResultCache, decode_value
from architectonic.propagate.evaluation import Progress, Work
from architectonic.propagate.keys import encode, key_of
from architectonic.propagate.ports import Executor, MadeReply
from architectonic.propagate.waiting import Task

_log = logging.getLogger(__name__)


class Means(Protocol):
    """What recipes are made with; it lives longer than a pass."""

    executor: Executor
    cache: ResultCache

    def remember(self, key: str, recipe: Recipe, payload: bytes) -> None:
        """How something is made."""

    def recipe_of(self, key: str) -> tuple[Recipe, bytes] | None:
        """The same again; None when that is not known any more."""

    def forget(self) -> None:
        """Believe nothing of last time."""


class Arrived(NamedTuple):
    """A result and who waited for it.

    Attributes:
        passing: it failed for a reason that may be gone the next time.
    """

    tasks: list[Task]
    made: Made
    passing: bool


def broken(defect: Exception) -> Problem:
    """What is told of something whose evaluation ended in a defect: it fails, and nothing else does with it."""
    _log.debug("a plan or a computation failed", exc_info=defect)
    return Problem(
        code="defect",
        what=f"this cannot be evaluated: its record is broken, or the program is ({type(defect).__name__})",
        mend="undo what was done last, or take it from an earlier state",
    )


class Waited(NamedTuple):
    """What has been waited for the longest.

    Attributes:
        node: who wants it; more: how many others are waited for; seconds: for how long nothing has come at all.
    """

    node: Node
    more: int
    seconds: float


class Making:
    """What a pass has asked for and not got yet.

    Attributes:
        open: who waits, by key; urgency: of what is asked for from now on (propagate.ports).
        fresh: keys of what was not known before.
    """

    def __init__(self, owner: Means, work: Work, progress: Progress | None, urgency: int) -> None:
        self.owner, self.work, self.progress, self.urgency = owner, work, progress, urgency
        self.open: dict[str, list[Task]] = {}
        self.fresh: set[str] = set()
        self._asked: dict[str, tuple[Recipe, bytes]] = {}
        self._last = time.monotonic()
        self._arrived: queue.SimpleQueue[tuple[str, MadeReply | None, BaseException | None]] = queue.SimpleQueue()

    def want(self, task: Task, recipe: Recipe) -> Made | None:
        """The result of a recipe, or None when the task must wait for it."""
        payload = encode(recipe.payload)
        key = key_of(recipe, payload)
        self.owner.remember(key, recipe, payload)
        self._asked[key] = (recipe, payload)
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
            except Exception as defect:
                return Made(key, None, broken(defect))
            self.owner.cache.put(made, recipe.kind)
            return made
        waiting = self.open.setdefault(key, [])
        waiting.append(task)
        if len(waiting) == 1:
            if len(self.open) == 1:
                self._last = time.monotonic()
            self._submit(key)
        return None

    def waited(self) -> Waited | None:
        """What is waited for, as seen from any thread; None for nothing."""
        waiting = list(self.open.values())  # oldest first, in one step: the pass goes on meanwhile
        return Waited(waiting[0][0].node, len(waiting) - 1, time.monotonic() - self._last) if waiting else None

    def _submit(self, key: str) -> None:
        recipe, payload = self._asked[key]
        future = self.owner.executor.submit(key, recipe.kind, payload, recipe.shapes, self.urgency)
        future.add_done_callback(
            lambda f: self._arrived.put(
                (
                    key,
                    None if f.cancelled() or f.exception() else f.result(),
                    None if f.cancelled() else f.exception(),
                )
            )
        )

    def receive(self) -> Arrived | None:
        """Wait for a reply; None when there is none yet."""
        try:
            key, reply, failure = self._arrived.get(timeout=0.05)
        except queue.Empty:
            return None
        recipe, _ = self._asked[key]
        if reply is not None and reply.lost:
            self._make_again(reply.lost, key)
            return None
        made: Made
        passing = reply is None or bool(reply.defect)
        if reply is None or reply.defect:
            what = (
                str(failure)
                if isinstance(failure, EnvironmentFault)
                else (reply.defect if reply else "the worker was closed")
            )
            made = Made(key, None, Problem(code="environment", what=what, mend="try again"))
        else:
            self.work.computed += 1
            self.fresh.add(key)
            self.work.kernel_seconds += reply.seconds
            made = Made(key, None if reply.problem else decode_value(recipe.kind, reply.value), reply.problem)
            self.owner.cache.put(made, recipe.kind)
        tasks = self.open.pop(key)
        self._last = time.monotonic()
        if self.progress:
            self.progress(self.work.computed, self.work.computed + len(self.open))
        return Arrived(tasks, made, passing)

    def _make_again(self, lost: str, key: str) -> None:
        """A shape vanished from the store: make what made it, then ask again."""
        source = lost.split(".", 1)[0]
        known = self.owner.recipe_of(source)
        if known is None:  # it was asked for so long ago that nobody knows how it was made
            self.owner.forget()
            self._arrived.put(
                (key, None, EnvironmentFault("a shape is gone from the store", "change anything to make it anew"))
            )
            return
        recipe, payload = known
        again = self.owner.executor.submit(source, recipe.kind, payload, recipe.shapes, self.urgency)

        def then(f: Any) -> None:
            if f.cancelled() or f.exception():
                self._arrived.put((key, None, None if f.cancelled() else f.exception()))
            elif f.result().lost:
                self._make_again(f.result().lost, key)
            else:
                self._submit(key)

        again.add_done_callback(then)
