"""The Executor that runs recipes on a cluster of dask.distributed: the same calls as of the pool on this machine.

Shapes go along with the request and come back with the reply, so that the machines share no folder. A process of the
cluster needs this package and nothing else: nothing is installed or kept there.
"""

from __future__ import annotations

import threading
from concurrent.futures import Future
from pathlib import Path
from typing import Any

import msgspec

from architectonic.base import kept, stores
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.base.processes.scratch import place
from architectonic.worker.client import WorkerPool
from architectonic.worker.protocol import Reply, shape_path

HERE = frozenset({"step", "look", "outside"})
"""Kinds that read or write files of this machine."""
CONNECTS = 10
"""Seconds that a cluster has to answer."""
_there: list[tuple[Path, WorkerPool]] = []
_lock = threading.Lock()


class ClusterPool:
    """Runs requests on a cluster; those about files of this machine run in processes of its own.

    Raises:
        UserFault: the packages of a cluster are not installed.
        EnvironmentFault: nobody answers at the address.
    """

    def __init__(self, address: str, store: Path, workers: int = 2) -> None:
        try:
            from distributed import Client
        except ImportError:
            raise UserFault(
                "a cluster needs dask.distributed", address, "install it: pip install architectonic[cluster]"
            ) from None
        self.store, self.here = store, WorkerPool(store, workers)
        try:
            self._client: Any = Client(address, timeout=CONNECTS, set_as_default=False)
        except (OSError, ValueError, TimeoutError) as fault:
            raise EnvironmentFault(f"no cluster answers at {address}", "check the address, and that it runs") from fault

    @property
    def workers(self) -> int:
        """Processes of the cluster."""
        return len(self._client.scheduler_info(n_workers=-1)["workers"])

    def submit(self, key: str, kind: str, payload: bytes, shapes: tuple[str, ...], urgency: int = 0) -> Future[Reply]:
        """Start a recipe; a lower urgency number goes first. The future fails with EnvironmentFault."""
        if kind in HERE:
            return self.here.submit(key, kind, payload, shapes, urgency)
        promised: Future[Reply] = Future()
        blobs: dict[str, bytes] = {}
        for shape in shapes:
            data = stores.read(shape_path(self.store, shape), shape)
            if data is None:
                promised.set_result(Reply(lost=shape))
                return promised
            blobs[shape] = data
        asked = self._client.submit(
            make_there, key, kind, payload, shapes, blobs, pure=False, priority=-urgency, retries=1
        )

        def arrived(done: Any) -> None:
            try:
                told, made = done.result()
                for shape, data in made.items():
                    stores.write(shape_path(self.store, shape), shape, data)
                promised.set_result(msgspec.msgpack.decode(told, type=Reply))
            except Exception as fault:  # whatever a cluster raises
                promised.set_exception(EnvironmentFault(f"the cluster did not make {kind} ({fault})", "try it again"))

        asked.add_done_callback(arrived)
        return promised

    def abandon(self, promised: Future[Reply]) -> None:
        """What was promised is wanted no more: here it is ended, on the cluster it is done in vain."""
        self.here.abandon(promised)

    def close(self) -> None:
        """Leave the cluster as it was."""
        self._client.close()
        self.here.close()

    def warm(self) -> None:
        """It runs already."""

    def processes(self) -> list[int]:
        """Of this machine."""
        return self.here.processes()

    def stand_by(self) -> None:
        """A cluster stands ready."""


def make_there(
    key: str, kind: str, payload: bytes, shapes: tuple[str, ...], blobs: dict[str, bytes]
) -> tuple[bytes, dict[str, bytes]]:
    """Make a recipe in a process of the cluster, apart from it: what goes wrong in the kernel ends only that.

    Returns:
        The encoded reply, and the shapes that were made by key.
    """
    store, pool = _pool()
    for shape, data in blobs.items():
        if not shape_path(store, shape).exists():
            stores.write(shape_path(store, shape), shape, data)
    reply = pool.submit(key, kind, payload, shapes).result()
    folder = shape_path(store, key).parent
    made = {p.name: stores.read(p, p.name) for p in folder.glob(f"{key}.*")} if folder.exists() else {}
    return msgspec.msgpack.encode(reply), {name: data for name, data in made.items() if data is not None}


def _pool() -> tuple[Path, WorkerPool]:
    """The one process that works for this one, and its store, which ends with it."""
    with _lock:
        if not _there:
            store = place("cluster")
            kept.told(())
            _there.append((store, WorkerPool(store, 1)))
        return _there[0]
