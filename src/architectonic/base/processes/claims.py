"""Who holds something: a process on a machine, and whether it still lives.

On this machine a process is known by its number and the moment it started, so that a number that is given away again
deceives nobody. Of another machine only what it says is known: it lives as long as it says so often enough.
"""

from __future__ import annotations

import contextlib
import getpass
import os
import platform
import time
from functools import lru_cache
from pathlib import Path

import msgspec

SILENT = 120.0
"""Seconds after which a process of another machine that says nothing is held to be gone."""
BEAT = 30.0
"""Seconds after which one says again that it lives."""


class Claim(msgspec.Struct, frozen=True):
    """A process that holds something.

    Attributes:
        boot: of the machine since it was started last; started: of the process, in ticks since then.
        since: seconds since 1970.
    """

    host: str
    boot: str
    pid: int
    started: int
    user: str
    since: float


@lru_cache(maxsize=1)
def _boot() -> str:
    with contextlib.suppress(OSError):
        return Path("/proc/sys/kernel/random/boot_id").read_text("ascii").strip()
    return ""


def started(pid: int) -> int:
    """When a process of this machine started, ticks since the machine did (proc(5), field 22); -1 when there is none."""
    if pid <= 0:
        return -1
    with contextlib.suppress(OSError, ValueError, IndexError):
        told = Path(f"/proc/{pid}/stat").read_text("utf-8", "replace")
        state, *fields = told.rpartition(")")[2].split()
        return -1 if state in "ZX" else int(fields[18])
    return -1


def mine() -> Claim:
    """A claim of this process."""
    try:
        user = getpass.getuser()
    except (OSError, KeyError):  # nobody knows its number
        user = str(os.getuid())
    return Claim(platform.node(), _boot(), os.getpid(), started(os.getpid()), user, time.time())


def is_alive(claim: Claim, touched: float) -> bool:
    """Whether who made a claim still lives.

    Args:
        touched: when it was said last, seconds since 1970.
    """
    if claim.host == platform.node():
        return claim.boot == _boot() and started(claim.pid) == claim.started >= 0
    return time.time() - touched < SILENT


def moment(seconds: float) -> str:
    """When something was, as people say it: `10:32`, or with the day where it was another one."""
    now, then = time.localtime(), time.localtime(seconds)
    return time.strftime("%H:%M" if now[:3] == then[:3] else "%d %b %H:%M", then)


def told(claim: Claim) -> str:
    """Who, where, since when."""
    return f"{claim.user} on {claim.host}, since {moment(claim.since)} (process {claim.pid})"
