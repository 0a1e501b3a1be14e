"""Asking long work to stop."""

from __future__ import annotations

import threading
from collections.abc import Callable

from architectonic.base.errors import ArchitectonicError


class Cancelled(ArchitectonicError):
    """Raised by work that was asked to stop; it leaves no result behind."""


class CancelToken:
    """Shared between who asks and who works; safe across threads."""

    def __init__(self) -> None:
        self._event = threading.Event()

    def cancel(self) -> None:
        """Ask the work to stop at its next safe point."""
        self._event.set()

    @property
    def cancelled(self) -> bool:
        """True once `cancel` was called."""
        return self._event.is_set()

    def check(self) -> None:
        """Raise `Cancelled` if the work should stop."""
        if self._event.is_set():
            raise Cancelled("cancelled")


class Watch:
    """What long work says of how far it is, and where it stops when it is asked to.

    Args:
        told: called with the share that is done, 0 to 1, from the thread that works.

    Attributes:
        words: how far it is in words; "" where the share says enough.
    """

    def __init__(self, token: CancelToken | None = None, told: Callable[[float], object] = lambda _: None) -> None:
        self.token, self._told = token or CancelToken(), told
        self.words = ""

    def at(self, share: float, words: str = "") -> None:
        """So much is done.

        Raises:
            Cancelled: the work should stop.
        """
        self.token.check()
        self.words = words
        self._told(share)
