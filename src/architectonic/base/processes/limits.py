"""What reading a file of others may take, and how a process is held to it."""

from __future__ import annotations

import contextlib
import os
import resource
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

MEMORY = 2_000_000_000
"""Bytes that reading a file may take."""
COMPUTING = 60
"""Seconds of computing that it may take."""
VARIABLES = {"ARCHITECTONIC_READ_MEMORY": MEMORY, "ARCHITECTONIC_READ_SECONDS": COMPUTING}
"""Variables that set other limits."""
FULL = 0.9
"""By this share of its memory a reader that fails has failed for want of it: parsers say so in whatever way they like."""


class Allowance(NamedTuple):
    """Bytes, and seconds."""

    memory: int
    computing: int


def of_reading() -> Allowance:
    """What reading one file may take."""
    return Allowance(*(int(os.environ.get(name) or most) for name, most in VARIABLES.items()))


def full() -> bool:
    """Whether this process has come near to what it may hold."""
    most = resource.getrlimit(resource.RLIMIT_AS)[0]
    return most != resource.RLIM_INFINITY and _held("VmPeak") > FULL * most


def _held(what: str) -> int:
    """Bytes, as proc(5) tells them of this process."""
    status = Path("/proc/self/status").read_text("ascii", "replace").splitlines()
    return next((int(line.split()[1]) * 1024 for line in status if line.startswith(what)), 0)


@contextlib.contextmanager
def room(more: int) -> Iterator[None]:
    """Let this process take so many more bytes than it holds, and no more; whatever allocates them fails then."""
    before = resource.getrlimit(resource.RLIMIT_AS)
    resource.setrlimit(resource.RLIMIT_AS, (_held("VmSize") + more, before[1]))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_AS, before)
