"""The Executor that runs recipes in worker processes.

Each worker is served by one thread, so that a crash or a hang costs the request it was working on and nothing else:
it is tried once more in a fresh process, and then told as an environment fault (docs/decisions/0009).
"""

from __future__ import annotations

import contextlib
import itertools
import queue
import threading
from concurrent.futures import Future
from pathlib import Path

import msgspec

from architectonic.base import kept
from architectonic.base.errors import EnvironmentFault
from architectonic.base.processes.scratch import place
from architectonic.worker.process import Overrun, WorkerProcess, left, taken
from architectonic.worker.protocol import Reply, Request

SPARE = -1
"""The slot of the process that serves only what somebody waits for."""
Entry = tuple[int, int, Request | None, "Future[Reply]"]
"""Urgency, order, request and what is promised for it."""


def _spare_store() -> str:
    """Where shapes go while the store takes none, as on a full disk: that costs time, never a build."""
    try:
        return str(place("shapes"))
    except OSError:
        return ""


class WorkerPool:
    """Runs requests on several worker processes; the most urgent first.

    Processes start on first use and stay warm, also for the next pool. `submit` may be called from any thread.

    Args:
        limit: seconds that a request may compute; 0 for what its kind may.
    """

    def __init__(self, store: Path, workers: int = 2, limit: float = 0.0) -> None:
        self.store = store
        self._count = max(1, workers)
        self._limit = limit
        self._queue: queue.PriorityQueue[Entry] = queue.PriorityQueue()
        self._order = itertools.count()
        self._threads: list[threading.Thread] = []
        self._workers: dict[int, WorkerProcess] = {}
        self._making: dict[Future[Reply], WorkerProcess] = {}
        self._abandoned: set[Future[Reply]] = set()
        self._closed = False
        self._spare_store = _spare_store()
        self._lock = threading.Lock()
        self._now: queue.Queue[Entry] = queue.Queue()
        self._spare: threading.Thread | None = None
        self._spare_stands = threading.Event()

    def submit(self, key: str, kind: str, payload: bytes, shapes: tuple[str, ...], urgency: int = 0) -> Future[Reply]:
        """Queue a recipe; a lower urgency number goes first. The future fails with EnvironmentFault."""
        future: Future[Reply] = Future()
        request = Request(key, kind, msgspec.Raw(payload), shapes, str(self.store), kept.folders(), self._spare_store)
        entry = (urgency, next(self._order), request, future)
        if urgency < 0 and self._spare_stands.is_set():
            self._now.put(entry)
            return future
        self._queue.put(entry)
        self.warm()
        if urgency < 0:
            self.stand_by()
        return future

    def abandon(self, promised: Future[Reply]) -> None:
        """What was promised is wanted no more: it is not begun, or its process is ended at once."""
        with self._lock:
            if promised.cancel() or promised.done():
                return
            self._abandoned.add(promised)
            worker = self._making.get(promised)
            if worker is not None:
                worker.process.kill()  # who serves it sees its end, and starts another

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
        worker = self._workers[slot] = taken()
        if stands is not None:
            with contextlib.suppress(EnvironmentFault):
                worker.ask(Request("", "measure", msgspec.Raw(b"\x90"), ("",), str(self.store)), self._limit)
                stands.set()  # it has loaded the kernel
        while True:
            _, _, request, future = entries.get()
            if request is None:
                left(worker)
                return
            if not future.set_running_or_notify_cancel():
                continue
            for attempt in (1, 2):
                try:
                    if worker.process.poll() is not None:
                        worker.kill()  # it ended by itself: its pipes are still open
                        worker = self._workers[slot] = WorkerProcess()
                    with self._lock:
                        self._making[future] = worker
                        if future in self._abandoned:
                            raise EnvironmentFault("it is wanted no more")
                    future.set_result(worker.ask(request, self._limit))
                    break
                except EnvironmentFault as fault:
                    vain = self._closed or future in self._abandoned or isinstance(fault, Overrun)
                    if vain or attempt == 2:
                        future.set_exception(fault)
                        break
            with self._lock:
                self._making.pop(future, None)
                self._abandoned.discard(future)

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
