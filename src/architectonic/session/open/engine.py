"""The engine that serves a session."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from architectonic.base.allocator import give_back
from architectonic.base.folders import cache_folder
from architectonic.propagate.cache import ResultCache
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.ports import LATER
from architectonic.session.open import queries as asking
from architectonic.worker.client import WorkerPool
from architectonic.worker.cluster import ClusterPool


@dataclass
class Engine:
    """An evaluator with its worker processes."""

    pool: WorkerPool | ClusterPool
    evaluator: Evaluator

    @staticmethod
    def start(store: Path | None = None, workers: int = 2, cluster: str = "") -> Engine:
        """Worker processes on a store (the user's cache folder by default); they start on first use.

        Args:
            cluster: the address of one that works instead.
        """
        give_back()
        folder = store or cache_folder()
        pool = ClusterPool(cluster, folder, workers) if cluster else WorkerPool(folder, workers)
        cache = ResultCache(folder)
        asking.serve(pool, cache)
        return Engine(pool, Evaluator(pool, cache))

    def aside(self) -> Engine:
        """The same processes and stores for work beside the window: its questions wait for nobody and hold nobody up."""
        return Engine(self.pool, Evaluator(self.pool, self.evaluator.cache, LATER))

    def close(self) -> None:
        """End the processes."""
        asking.retire(self.pool)
        self.pool.close()
