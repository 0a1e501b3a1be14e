"""Files of others are read in a process of their own, with limits of memory and computing: whatever a file does to its
reader, the program goes on, and the reading can be stopped at any moment.

The process says what it found as data (msgpack), never as something that runs.
"""

from __future__ import annotations

import contextlib
import errno
import os
import resource
import select
import subprocess
import sys
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

import msgspec

from architectonic.base.cancel import Watch
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.base.processes import limits, spent
from architectonic.base.processes.pipes import packed, unpacked
from architectonic.exchange import picturefile
from architectonic.exchange import spreadsheet as sheets
from architectonic.exchange.picturefile import PictureFile
from architectonic.exchange.spreadsheet import Grid

if TYPE_CHECKING:
    from architectonic.exchange.dxf import Plot

SILENT = 3 * spent.STILL
"""Seconds after which a disk that gives nothing is given up."""


class _Said(msgspec.Struct, omit_defaults=True):
    """What the process says: how far it is, or, at last, what it found or why it found nothing."""

    share: float = -1.0
    found: msgspec.Raw = msgspec.Raw(b"")
    refused: tuple[str, str, str] | None = None
    unreadable: tuple[str, str] | None = None


def _drawn(file: Path, _: str, watch: Watch) -> tuple[str, list[tuple[str, Any]], dict[str, int]]:
    from architectonic.exchange import dxf

    plot = dxf.read(file, watch)
    return plot.unit, [(t.layer, t.curve) for t in plot.curves], dict(plot.left_out)


class _Reader(NamedTuple):
    """How a kind of file is read, and the type of what is told of it; what reads the others is not loaded for one."""

    read: Callable[[Path, str, Watch], Any]
    gives: Callable[[], Any]


def _type_of_drawn() -> Any:
    from architectonic.family.records import Curve

    return tuple[str, list[tuple[str, Curve]], dict[str, int]]


READERS = {
    "drawing": _Reader(_drawn, _type_of_drawn),
    "spreadsheet": _Reader(sheets.read, lambda: Grid),
    "picture": _Reader(lambda file, _, watch: picturefile.read(file, watch), lambda: PictureFile),
}


def drawing(file: Path, watch: Watch | None = None) -> Plot:
    """The curves of a DXF drawing; raises like `exchange.dxf.read`."""
    from architectonic.exchange.dxf import Plot, Taken

    unit, curves, left_out = _asked("drawing", file, "", watch or Watch())
    return Plot(unit, [Taken(layer, curve) for layer, curve in curves], Counter(left_out))


def spreadsheet(file: Path, sheet: str = "", watch: Watch | None = None) -> Grid:
    """A spreadsheet; raises like `exchange.spreadsheet.read`."""
    found: Grid = _asked("spreadsheet", file, sheet, watch or Watch())
    return found


def picture(file: Path, watch: Watch | None = None) -> PictureFile:
    """A picture; raises like `exchange.picturefile.read`."""
    found: PictureFile = _asked("picture", file, "", watch or Watch())
    return found


def _asked(kind: str, file: Path, more: str, watch: Watch) -> Any:
    """What a process reads from a file.

    Raises:
        UserFault: it cannot be used, or asks for more memory or computing than a file may.
        EnvironmentFault: it cannot be read, or its disk does not answer.
        Cancelled: it was asked to stop.
    """
    process = subprocess.Popen(
        [sys.executable, "-m", "architectonic.exchange.apart", kind, str(file.absolute()), more],
        stdout=subprocess.PIPE,
        stdin=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
        env=os.environ | {spent.PARENT: str(os.getpid()), "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"},
    )
    assert process.stdout is not None
    try:
        said = _heard(process, process.stdout.fileno(), file.name, watch)
    finally:
        process.kill()
        process.stdout.close()
        with contextlib.suppress(subprocess.TimeoutExpired):  # one that waits for a dead disk is left behind
            process.wait(timeout=1)
    if said.refused is not None:
        raise UserFault(*said.refused)
    if said.unreadable is not None:
        raise EnvironmentFault(*said.unreadable)
    return msgspec.msgpack.decode(said.found, type=READERS[kind].gives())


def _heard(process: subprocess.Popen[bytes], pipe: int, name: str, watch: Watch) -> _Said:
    poll, known, got = select.poll(), spent.Spent(process.pid), bytearray()
    poll.register(pipe, select.POLLIN)
    while True:
        watch.token.check()
        if not poll.poll(spent.LOOKS * 1000):
            if known.look()[1] > SILENT:
                raise EnvironmentFault(
                    f"{name} cannot be read: its disk does not answer", "look whether it is connected"
                )
            continue
        chunk = os.read(pipe, 1 << 20)
        if not chunk:
            memory, computing = limits.of_reading()
            much = f"reading it takes more than {computing} s of computing or {memory / 1e9:g} GB of memory"
            raise UserFault(much, name, "take out what is not needed")
        got += chunk
        while (message := unpacked(got)) is not None:
            said = msgspec.msgpack.decode(message, type=_Said)
            if said.share < 0:
                return said
            watch.at(said.share)


# --- in the process of its own -------------------------------------------------------------------------------


def _say(said: _Said) -> None:
    sys.stdout.buffer.write(packed(msgspec.msgpack.encode(said)))
    sys.stdout.buffer.flush()


def _found(kind: str, file: Path, more: str) -> _Said:
    watch = Watch(None, lambda share: _say(_Said(share=max(0.0, share))))
    try:
        found = msgspec.msgpack.encode(READERS[kind].read(file, more, watch))
        return _Said(found=msgspec.Raw(found))
    except UserFault as fault:
        return _Said(refused=(fault.what, fault.where, fault.mend))
    except EnvironmentFault as fault:
        return _Said(unreadable=(fault.what, fault.mend))
    except Exception as fault:  # a reader raises whatever its parsers raise
        if (
            isinstance(fault, (MemoryError, RecursionError))
            or getattr(fault, "errno", 0) == errno.ENOMEM
            or limits.full()
        ):
            return _Said(refused=("there is more in it than can be read", file.name, "take out what is not needed"))
        return _Said(refused=(f"it cannot be read ({type(fault).__name__})", file.name, "write it again"))


def main() -> None:
    """Read one file, within limits."""
    spent.end_with_parent()
    memory, computing = limits.of_reading()
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CPU, (computing, computing))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    _, kind, file, more = sys.argv
    _say(_found(kind, Path(file), more))


if __name__ == "__main__":
    main()
