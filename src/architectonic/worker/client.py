"""The Executor that runs recipes in worker processes.

Each worker is served by one thread, so that a crash or a hang costs the request it was working on and nothing else:
it is tried once more in a fresh process, and then told as an environment fault (docs/decisions/0009).
"""

from __future__ import annotations

import atexit
import contextlib
import itertools
import os
import queue
import subprocess
import sys
import threading
from concurrent.futures import Future
from pathlib import Path

import msgspec

from architectonic.base import kept, kinds
from architectonic.base.errors import EnvironmentFault
from architectonic.worker.protocol import Reply, Request, receive, send

HANGS_AFTER = 60.0
"""Seconds after which a request counts as hung, unless its kind says more."""


SPARE = -1
"""The slot of the process that serves only what somebody waits for."""
Entry = tuple[int, int, Request | None, "Future[Reply]"]
"""Urgency, order, request and what is promised for it."""


class WorkerProcess:
    """One process and its pipes.

    Attributes:
        kinds: the packages of further kinds that it knows; busy: it works on something.
    """

    def __init__(self) -> None:
        self.kinds, self.busy = os.environ.get(kinds.VARIABLE, ""), False
        environment = os.environ | {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}
        self.process = subprocess.Popen(
            [sys.executable, "-m", "architectonic.worker.server"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL if not os.environ.get("ARCHITECTONIC_WORKER_LOG") else None,
            env=environment,
        )

    def ask(self, request: Request, seconds: float) -> Reply:
        """Send a request and wait for its reply.

        Raises:
            EnvironmentFault: the process died, or did not answer in time and was killed.
        """
        assert self.process.stdin and self.process.stdout
        hung = threading.Event()

        def give_up() -> None:
            hung.set()
            self.kill()

        watch = threading.Timer(seconds, give_up)
        watch.daemon = True
        watch.start()
        self.busy = True
        try:
            send(self.process.stdin, request)
            data = receive(self.process.stdout)
        except OSError:
            data = None
        finally:
            self.busy = False
            watch.cancel()
        if data is None:
            self.kill()
            if hung.is_set():
                raise EnvironmentFault(
                    f"the geometry worker did not answer within {seconds:.0f} s", "try again or simplify"
                )
            raise EnvironmentFault("the geometry worker stopped working on this", "try again or change the operation")
        return msgspec.msgpack.decode(data, type=Reply)

    def kill(self) -> None:
        """End the process at once."""
        self.process.kill()
        self.process.wait()
        for stream in (self.process.stdin, self.process.stdout):
            with contextlib.suppress(OSError):
                if stream:
                    stream.close()


MOST_IDLE = 3
"""Processes that are kept for the next pool when one is closed."""
_idle: list[WorkerProcess] = []
_idle_lock = threading.Lock()


def _taken() -> WorkerProcess:
    """A process that an earlier pool has left, warm, or a new one: requests say themselves which store they mean."""
    with _idle_lock:
        for worker in [w for w in _idle if w.kinds == os.environ.get(kinds.VARIABLE, "")]:
            _idle.remove(worker)
            if worker.process.poll() is None:
                return worker
            worker.kill()
    return WorkerProcess()


def _left(worker: WorkerProcess) -> None:
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


class WorkerPool:
    """Runs requests on several worker processes; the most urgent first.

    Processes start on first use and stay warm, also for the next pool. `submit` may be called from any thread.
    """

    def __init__(self, store: Path, workers: int = 2, hangs_after: float = HANGS_AFTER) -> None:
        self.store = store
        self._count = max(1, workers)
        self._hangs_after = hangs_after
        self._queue: queue.PriorityQueue[Entry] = queue.PriorityQueue()
        self._order = itertools.count()
        self._threads: list[threading.Thread] = []
        self._workers: dict[int, WorkerProcess] = {}
        self._closed = False
        self._lock = threading.Lock()
        self._now: queue.Queue[Entry] = queue.Queue()
        self._spare: threading.Thread | None = None
        self._spare_stands = threading.Event()

    def submit(self, key: str, kind: str, payload: bytes, shapes: tuple[str, ...], urgency: int = 0) -> Future[Reply]:
        """Queue a recipe; a lower urgency number goes first. The future fails with EnvironmentFault."""
        future: Future[Reply] = Future()
        request = Request(key, kind, msgspec.Raw(payload), shapes, str(self.store), kept.folders())
        entry = (urgency, next(self._order), request, future)
        if urgency < 0 and self._spare_stands.is_set():
            self._now.put(entry)
            return future
        self._queue.put(entry)
        self.warm()
        if urgency < 0:
            self.stand_by()
        return future

    def stand_by(self) -> None:
        """Have one more process ready that serves nothing but what somebody waits for; it starts beside the others."""
        with self._lock:
            if not self._closed and self._spare is None:
                self._spare = threading.Thread(
                    target=self._serve, args=(SPARE, self._now, self._spare_stands), daemon=True
                )
                self._spare.start()

    def warm(self) -> None:
        """Start the processes if they are not running."""
        with self._lock:
            if self._closed:
                return
            while len(self._threads) < self._count:
                thread = threading.Thread(target=self._serve, args=(len(self._threads), self._queue), daemon=True)
                self._threads.append(thread)
                thread.start()

    def processes(self) -> list[int]:
        """Ids of the running processes."""
        return [w.process.pid for w in self._workers.values() if w.process.poll() is None]

    def _serve(self, slot: int, entries: queue.Queue[Entry], stands: threading.Event | None = None) -> None:
        worker = self._workers[slot] = _taken()
        if stands is not None:
            with contextlib.suppress(EnvironmentFault):
                worker.ask(Request("", "measure", msgspec.Raw(b"\x90"), ("",), str(self.store)), self._hangs_after)
                stands.set()  # it has loaded the kernel
        while True:
            _, _, request, future = entries.get()
            if request is None:
                _left(worker)
                return
            if not future.set_running_or_notify_cancel():
                continue
            for attempt in (1, 2):
                try:
                    if worker.process.poll() is not None:
                        worker.kill()  # it ended by itself: its pipes are still open
                        worker = self._workers[slot] = WorkerProcess()
                    future.set_result(worker.ask(request, self._hangs_after))
                    break
                except EnvironmentFault as fault:
                    if self._closed or attempt == 2:
                        future.set_exception(fault)
                        break

    def close(self) -> None:
        """Let all processes go, those in mid work at once; requests that wait are cancelled."""
        with self._lock:
            self._closed = True
            started = len(self._threads)
        with contextlib.suppress(queue.Empty):
            while True:
                self._queue.get_nowait()[3].cancel()
        for _ in range(started):
            self._queue.put((-1_000_000, next(self._order), None, Future()))
        self._now.put((-1_000_000, next(self._order), None, Future()))
        for worker in list(self._workers.values()):
            if worker.busy:  # what it works on is wanted no more
                worker.kill()
        for thread in (*self._threads, *([self._spare] if self._spare else [])):
            thread.join(timeout=5)
