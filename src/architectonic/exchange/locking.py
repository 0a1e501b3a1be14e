"""One lock for a family folder: many may read, or one may write (flock(2)).

On a file system whose locks do not work, or do not reach other machines, a file that only one can make (open(2), O_EXCL)
stands for the lock besides; it names who holds it, so that what the dead left is taken away.
"""

from __future__ import annotations

import contextlib
import errno
import fcntl
import os
import stat
import time
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple

import msgspec

from architectonic.base import files as plain
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.base.ids import new_id
from architectonic.base.processes import claims
from architectonic.base.processes.claims import Claim

LOCK = ".lock"
HELD = ".lock.held"
"""Stands while somebody reads or writes where locks are doubtful."""
PATIENCE = 10.0
"""Seconds that somebody else's save is waited for."""
STEP = 0.01
UNKNOWN = (errno.ENOLCK, errno.ENOTSUP, errno.ENOSYS, errno.EINVAL)
"""What flock(2) says where there are no locks."""
LOCAL = ("9p", "vboxsf", "fuse")
"""Types of file systems whose flock(2) may be seen by this machine alone; of FUSE all that go on (`fuse.sshfs`)."""
LOCAL_BY_OPTION = {
    "nfs": ("nolock", "local_lock=all", "local_lock=flock"),
    "nfs4": ("local_lock=all", "local_lock=flock"),
    "cifs": ("nobrl",),
    "smb3": ("nobrl",),
}
"""Those that see them on this machine alone when mounted so (nfs(5), mount.cifs(8))."""


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
        works = _wait(handle, fcntl.LOCK_EX if write else fcntl.LOCK_SH)
        with contextlib.nullcontext() if works and not doubtful(folder) else _held(folder / HELD):
            yield True
    finally:
        os.close(handle)  # which lets go of it


def _wait(handle: int, how: int) -> bool:
    """Wait for the lock; False where there is none."""
    end = time.monotonic() + PATIENCE
    while True:
        try:
            fcntl.flock(handle, how | fcntl.LOCK_NB)
            return True
        except BlockingIOError:
            _patient(end)
        except OSError as fault:
            if fault.errno not in UNKNOWN:
                raise EnvironmentFault(
                    f"the lock of this family does not work ({fault.strerror})", "try again"
                ) from None
            return False


def _patient(end: float) -> None:
    if time.monotonic() > end:
        raise EnvironmentFault("another program is saving this family", "try again in a moment") from None
    time.sleep(STEP)


def doubtful(folder: Path) -> str:
    """The type of the file system of a folder, where its locks may not reach other machines; "" elsewhere."""
    with contextlib.suppress(OSError):
        return _doubtful(folder.stat().st_dev)
    return ""


@lru_cache(maxsize=64)
def _doubtful(device: int) -> str:
    table = Path("/proc/self/mountinfo").read_text("utf-8", "replace")
    return told_by(table, f"{os.major(device)}:{os.minor(device)}")


def told_by(table: str, device: str) -> str:
    """What a table of mounts (proc(5), /proc/pid/mountinfo) says of the locks of a device, `major:minor`."""
    for line in reversed(table.splitlines()):
        before, _, after = line.partition(" - ")
        fields, kind, *rest = before.split(), *after.split()
        if len(fields) < 6 or fields[2] != device:
            continue
        options = {*fields[5].split(","), *(rest[-1].split(",") if rest else [])}
        if kind in LOCAL or kind.startswith("fuse.") or options & set(LOCAL_BY_OPTION.get(kind, ())):
            return kind
        return ""
    return ""


@contextlib.contextmanager
def _held(path: Path) -> Iterator[None]:
    """Hold a file that only one can make.

    Raises:
        EnvironmentFault: somebody else holds it for long, or it cannot be made.
    """
    mine = msgspec.json.encode(claims.mine())
    end = time.monotonic() + PATIENCE
    while True:
        try:
            handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o666)
            break
        except FileExistsError:
            if not _freed(path):
                _patient(end)
        except OSError as fault:
            told = f"{path.parent} cannot be written ({fault.strerror})"
            raise EnvironmentFault(told, "free space or choose another folder") from None
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(mine)
        yield
    finally:
        with contextlib.suppress(OSError):
            path.unlink()


def _freed(path: Path) -> bool:
    """Take away what a dead process holds; True when it is worth while to try again at once."""
    found = _holder(path)
    if found is None or found.lives:
        return False
    aside = path.with_name(f"{path.name}-{new_id()}")
    try:
        path.rename(aside)  # one of those who want to free it does so
        if plain.read(aside) != found.said:  # somebody who lives took it meanwhile: it is theirs
            os.link(aside, path)
    except (OSError, EnvironmentFault):
        return False
    finally:
        with contextlib.suppress(OSError):
            aside.unlink()
    return True


class _Holder(NamedTuple):
    said: bytes
    lives: bool


def _holder(path: Path) -> _Holder | None:
    """Who made the file; None when that is not known."""
    try:
        touched, said = path.lstat().st_mtime, plain.read(path)
    except (OSError, EnvironmentFault):
        return None
    try:
        return _Holder(said, claims.is_alive(msgspec.json.decode(said, type=Claim), touched))
    except msgspec.DecodeError:  # it is being written, or was left half written
        return _Holder(said, time.time() - touched < claims.SILENT)
