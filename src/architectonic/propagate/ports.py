"""What evaluation needs from outside: someone who makes recipes with the kernel."""

from __future__ import annotations

from concurrent.futures import Future
from typing import Any, Protocol

import msgspec

from architectonic.base.errors import EnvironmentFault
from architectonic.base.problem import Problem

NOW, SHOWN, LATER = -1, 0, 1
"""How urgent a recipe is: somebody waits for it with the pointer in hand; it is on the screen; the rest of the family."""


class MadeReply(Protocol):
    """The shape of a reply (worker.protocol.Reply)."""

    @property
    def value(self) -> msgspec.Raw: ...
    @property
    def problem(self) -> Problem | None: ...
    @property
    def lost(self) -> str: ...
    @property
    def defect(self) -> str: ...
    @property
    def seconds(self) -> float: ...


class Executor(Protocol):
    """Makes recipes; worker.client.WorkerPool, or a fake in tests."""

    def submit(self, key: str, kind: str, payload: bytes, shapes: tuple[str, ...], urgency: int = 0) -> Future[Any]:
        """Start making; the future gives a MadeReply and fails with EnvironmentFault when the machine failed."""
        ...

    def abandon(self, promised: Future[Any]) -> None:
        """What was promised is wanted no more: it is not begun, or ended at once."""
        ...


class NoExecutor:
    """For evaluating numbers alone: parameters, rules, sketches, datums."""

    def submit(self, key: str, kind: str, payload: bytes, shapes: tuple[str, ...], urgency: int = 0) -> Future[Any]:
        """Refuse: a node needed geometry, and is left without a value."""
        refused: Future[Any] = Future()
        refused.set_exception(EnvironmentFault(f"{kind} needs the geometry kernel"))
        return refused

    def abandon(self, promised: Future[Any]) -> None:
        """It is refused already."""
