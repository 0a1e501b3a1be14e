"""One worker process and its pipes: started, asked, watched while it works, and ended."""

from __future__ import annotations

import atexit
import contextlib
import os
import select
import subprocess
import sys
import threading
from concurrent.futures import ThreadPoolExecutor

import msgspec

from architectonic.base import kinds
from architectonic.base.errors import EnvironmentFault
from architectonic.base.processes import spent
from architectonic.base.processes.pipes import packed, unpacked
from architectonic.worker.protocol import Reply, Request

LIMIT = 50.0
"""Seconds of computing after which a request is given up, unless its kind says more: of the process, not of the clock, so
that a busy machine ends nothing."""
READING = ("outside", "look")
"""Kinds that read files of others."""
LONGER = dict.fromkeys((*READING, "clash", "survey"), 300.0)
"""Those, and kinds that look at everything."""
MOST_IDLE = 3
"""Processes that are kept for the next pool when one is closed."""


class Overrun(EnvironmentFault):
    """A request took more than its kind may; it would again."""


_starter: list[ThreadPoolExecutor] = []
_starting = threading.Lock()


def _popen() -> subprocess.Popen[bytes]:
    environment = os.environ | {
        "OPENBLAS_NUM_THREADS": "1",
        "OMP_NUM_THREADS": "1",
        spent.PARENT: str(os.getpid()),
    }
    return subprocess.Popen(
        [sys.executable, "-m", "architectonic.worker.server"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL if not os.environ.get("ARCHITECTONIC_WORKER_LOG") else None,
        env=environment,
    )


def _started() -> subprocess.Popen[bytes]:
    """A new process. One thread starts them all and lives as long as this process does: a worker is ended by the kernel of
    the machine when the thread that started it ends (prctl(2), PR_SET_PDEATHSIG), and so outlives nobody.
    """
    with _starting:
        if not _starter:
            _starter.append(ThreadPoolExecutor(1, "starts workers"))
    return _starter[0].submit(_popen).result()


class WorkerProcess:
    """One process and its pipes.

    Attributes:
        kinds: the packages of further kinds that it knows; busy: it works on something.
    """

    def __init__(self) -> None:
        self.kinds, self.busy = os.environ.get(kinds.VARIABLE, ""), False
        self.process = _started()

    def ask(self, request: Request, limit: float = 0.0) -> Reply:
        """Send a request and wait for its reply.

        Args:
            limit: seconds that it may compute; 0 for what its kind may.

        Raises:
            Overrun: it computed longer, and was ended.
            EnvironmentFault: the process died, or hung and was ended.
        """
        self.busy = True
        try:
            data = self._exchanged(packed(msgspec.msgpack.encode(request)), limit or LONGER.get(request.kind, LIMIT))
        except EnvironmentFault:
            self.kill()
            raise
        finally:
            self.busy = False
        if data is None:
            self.kill()
            if request.kind in READING:
                told = "reading it ended its reader: it is damaged, or asks for more memory than a file may"
                raise EnvironmentFault(told, "write out fewer parts of it")
            raise EnvironmentFault("the geometry worker stopped working on this", "try again or change the operation")
        return msgspec.msgpack.decode(data, type=Reply)

    def _exchanged(self, message: bytes, limit: float) -> bytes | None:
        """The answer to a message; None when the process died. A process that stands still in mid message holds nobody."""
        assert self.process.stdin and self.process.stdout
        got, left_to_say, watch = bytearray(), memoryview(message), spent.Spent(self.process.pid)
        try:
            there, back = self.process.stdin.fileno(), self.process.stdout.fileno()
            os.set_blocking(there, False)
            poll = select.poll()
            poll.register(back, select.POLLIN)
            poll.register(there, select.POLLOUT)
            while True:
                events = dict(poll.poll(spent.LOOKS * 1000))
                computed, still = (0.0, 0.0) if events else watch.look()
                if computed > limit:
                    told = f"the geometry worker did not answer within {limit:g} s of computing"
                    raise Overrun(told, "simplify it")
                if still > spent.STILL:
                    raise EnvironmentFault("the geometry worker hung on this", "try again or simplify")
                if there in events:
                    left_to_say = left_to_say[os.write(there, left_to_say[:65536]) :]
                    if not left_to_say:
                        poll.unregister(there)
                if back in events:
                    chunk = os.read(back, 1 << 20)
                    if not chunk:
                        return None
                    got += chunk
                    found = unpacked(got)
                    if found is not None:
                        return found
        except EnvironmentFault:
            raise
        except (OSError, ValueError):  # the pipe is closed, by the process or by who ended it
            return None

    def kill(self) -> None:
        """End the process at once."""
        self.process.kill()
        self.process.wait()
        for stream in (self.process.stdin, self.process.stdout):
            with contextlib.suppress(OSError):
                if stream:
                    stream.close()


_idle: list[WorkerProcess] = []
_idle_lock = threading.Lock()


def taken() -> WorkerProcess:
    """A process that an earlier pool has left, warm, or a new one: requests say themselves which store they mean."""
    with _idle_lock:
        for worker in [w for w in _idle if w.kinds == os.environ.get(kinds.VARIABLE, "")]:
            _idle.remove(worker)
            if worker.process.poll() is None:
                return worker
            worker.kill()
    return WorkerProcess()


def left(worker: WorkerProcess) -> None:
    """Keep a process for the next pool, or end it."""
    with _idle_lock:
        if worker.process.poll() is None and not worker.busy and len(_idle) < MOST_IDLE:
            _idle.append(worker)
            return
    worker.kill()


@atexit.register
def end_idle() -> None:
    """End the processes that nobody has taken."""
    with _idle_lock:
        for worker in _idle:
            worker.kill()
        _idle.clear()
