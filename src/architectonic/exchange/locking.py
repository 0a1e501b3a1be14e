"""One lock for a family folder: many may read, or one may write (flock(2))."""

from __future__ import annotations

import contextlib
import fcntl
import os
import stat
import time
from collections.abc import Iterator
from pathlib import Path

from architectonic.base.errors import EnvironmentFault, UserFault

LOCK = ".lock"
PATIENCE = 10.0
"""Seconds that somebody else's save is waited for."""
STEP = 0.01


def _open(path: Path) -> int:
    handle = os.open(path, os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC, 0o666)
    if not stat.S_ISREG(os.fstat(handle).st_mode):
        os.close(handle)
        raise UserFault("the lock of this family is no ordinary file", LOCK, "take it out of the folder")
    return handle


@contextlib.contextmanager
def locked(folder: Path, write: bool) -> Iterator[bool]:
    """Hold the lock of a folder; False where it cannot be held for reading, as on a disk that may not be written.

    Raises:
        EnvironmentFault: somebody else holds it for long, or it cannot be written there.
        UserFault: something else stands in its place.
    """
    try:
        handle = _open(folder / LOCK)
    except OSError as fault:
        if write:
            raise EnvironmentFault(
                f"{folder} cannot be written ({fault.strerror})", "free space or choose another folder"
            ) from None
        yield False
        return
    try:
        _wait(handle, fcntl.LOCK_EX if write else fcntl.LOCK_SH)
        yield True
    finally:
        os.close(handle)  # which lets go of it


def _wait(handle: int, how: int) -> None:
    end = time.monotonic() + PATIENCE
    while True:
        try:
            fcntl.flock(handle, how | fcntl.LOCK_NB)
            return
        except BlockingIOError:
            if time.monotonic() > end:
                raise EnvironmentFault("another program is saving this family", "try again in a moment") from None
            time.sleep(STEP)
        except OSError:  # a disk that knows no locks
            return
