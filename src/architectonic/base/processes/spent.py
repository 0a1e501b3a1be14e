"""What another process computes, and whether it stands still: a busy machine makes nothing look hung."""

from __future__ import annotations

import contextlib
import ctypes
import os
import signal
import time
from pathlib import Path

STILL = 10.0
"""Seconds after which a process that computes nothing is held to hang: it was stopped, it sleeps, or a disk does not answer."""
LOOKS = 0.25
"""Seconds between two looks at a process that works."""
PARENT = "ARCHITECTONIC_OF"
"""Variable that tells a process who started it."""
_PDEATHSIG = 1
"""Number of the request in sys/prctl.h."""


class Spent:
    """What a process has computed since now, and how long it has stood still.

    Args:
        pid: the process.
    """

    def __init__(self, pid: int) -> None:
        self._pid, self._tick = pid, os.sysconf("SC_CLK_TCK")
        self._first = self._last = self._computed()[0]
        self._moved = time.monotonic()

    def _computed(self) -> tuple[float, str]:
        """Seconds, and the state of the process (proc(5): fields 14, 15 and 3)."""
        with contextlib.suppress(OSError, ValueError, IndexError):
            fields = Path(f"/proc/{self._pid}/stat").read_text("utf-8", "replace").rpartition(")")[2].split()
            return (int(fields[11]) + int(fields[12])) / self._tick, fields[0]
        return 0.0, "?"

    def look(self) -> tuple[float, float]:
        """Seconds that it has computed, and that it has stood still; one that waits for a processor does not stand still."""
        spent, state = self._computed()
        if spent != self._last or state not in "STtD":
            self._last, self._moved = spent, time.monotonic()
        return spent - self._first, time.monotonic() - self._moved


def end_with_parent() -> None:
    """Be ended when the process that started this one is, also in the middle of work (prctl(2), PR_SET_PDEATHSIG).

    It is the thread that started it that counts: it has to live as long.
    """
    parent = os.environ.get(PARENT, "")
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None).prctl(_PDEATHSIG, signal.SIGKILL)
    if parent and str(os.getppid()) != parent:  # it ended before that was said
        os._exit(1)
