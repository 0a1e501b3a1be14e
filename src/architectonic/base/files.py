"""Reading and writing single files of others: never anything that is no ordinary file, never through a link."""

from __future__ import annotations

import contextlib
import os
import stat
from pathlib import Path

from architectonic.base.errors import EnvironmentFault


def read(path: Path) -> bytes:
    """The content of an ordinary file; a pipe or a device is refused, as reading one may never end.

    Raises:
        EnvironmentFault: it is none, or cannot be read.
    """
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    except OSError as fault:
        raise EnvironmentFault(
            f"{path.name} cannot be read ({fault.strerror or fault})", "check that it exists and may be read"
        ) from None
    with os.fdopen(handle, "rb") as stream:
        if not stat.S_ISREG(os.fstat(handle).st_mode):
            raise EnvironmentFault(f"{path.name} is no ordinary file and is not read", "take it out of the folder")
        try:
            return stream.read()
        except OSError as fault:
            raise EnvironmentFault(f"{path.name} cannot be read ({fault.strerror or fault})") from None


def refuse_irregular(path: Path) -> None:
    """Refuse what is no ordinary file, for those that open it themselves.

    Raises:
        EnvironmentFault: it is none, or is not there.
    """
    try:
        regular = stat.S_ISREG(path.stat().st_mode)
    except OSError as fault:
        raise EnvironmentFault(f"{path.name} cannot be read: {fault.strerror or fault}") from None
    if not regular:
        raise EnvironmentFault(f"{path.name} is no ordinary file and is not read")


def write(path: Path, data: bytes) -> None:
    """Write a file that was not there, onto the disk; what stands in its place is taken away, never written through.

    Raises:
        OSError: it cannot be.
    """
    with contextlib.suppress(FileNotFoundError):
        path.unlink()
    flags = os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC
    with os.fdopen(os.open(path, flags, 0o666), "wb") as stream:
        stream.write(data)
        stream.flush()
        os.fsync(stream.fileno())
