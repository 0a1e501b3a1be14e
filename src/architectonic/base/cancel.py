"""Asking long work to stop."""

from __future__ import annotations

import threading

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
