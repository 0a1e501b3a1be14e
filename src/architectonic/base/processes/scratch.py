"""Folders of one run for what nobody keeps; those of runs that were killed are cleared by the next one."""

from __future__ import annotations

import atexit
import contextlib
import os
import re
import shutil
import tempfile
import threading
from pathlib import Path

from architectonic.base.processes.claims import started

_own: list[Path] = []
_lock = threading.Lock()
_NAME = re.compile(r"architectonic-(\d+)-(\d+)-(\d+)-")


def _space() -> str:
    """Where numbers of processes mean the same (namespaces(7))."""
    with contextlib.suppress(OSError):
        return re.sub(r"\D", "", str(Path("/proc/self/ns/pid").readlink()))
    return "0"


def place(what: str) -> Path:
    """A folder of this process for something, which ends with it; others may not look into it.

    Raises:
        OSError: none can be made.
    """
    with _lock:
        if not _own or not _own[0].is_dir():
            _own[:] = [_made()]
    found = _own[0] / what
    found.mkdir(exist_ok=True)
    return found


def _made() -> Path:
    clear()
    made = Path(tempfile.mkdtemp(prefix=f"architectonic-{_space()}-{os.getpid()}-{started(os.getpid())}-"))
    atexit.register(_end, made, os.getpid())
    return made


def _end(folder: Path, pid: int) -> None:
    if os.getpid() == pid:  # not in a child that was forked
        shutil.rmtree(folder, True)


def clear() -> int:
    """Delete the folders of runs that live no more; how many."""
    count = 0
    for folder in Path(tempfile.gettempdir()).glob("architectonic-*-*-*-*"):
        known = _NAME.match(folder.name)
        with contextlib.suppress(OSError):
            own = known is not None and folder.lstat().st_uid == os.getuid() and not folder.is_symlink()
            if own and known is not None and known[1] == _space() and started(int(known[2])) != int(known[3]):
                shutil.rmtree(folder, True)
                count += 1
    return count
