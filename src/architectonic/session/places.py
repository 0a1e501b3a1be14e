"""Where the program keeps things on this machine (XDG folders), and the engine that serves a session."""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path

import platformdirs

from architectonic.propagate.cache import ResultCache
from architectonic.propagate.evaluator import Evaluator
from architectonic.worker.client import WorkerPool

APP = "architectonic"


def cache_folder() -> Path:
    """Shapes and results by key; safe to delete."""
    return Path(os.environ.get("ARCHITECTONIC_CACHE") or platformdirs.user_cache_dir(APP))


def state_folder() -> Path:
    """The journal of unsaved edits."""
    return Path(os.environ.get("ARCHITECTONIC_STATE") or platformdirs.user_state_dir(APP))


def data_folder() -> Path:
    """Copies of the demo family."""
    return Path(os.environ.get("ARCHITECTONIC_DATA") or platformdirs.user_data_dir(APP))


@dataclass
class Engine:
    """An evaluator with its worker processes."""

    pool: WorkerPool
    evaluator: Evaluator

    @staticmethod
    def start(store: Path | None = None, workers: int = 2) -> Engine:
        """Worker processes on a store (the user's cache folder by default); they start on first use."""
        folder = store or cache_folder()
        pool = WorkerPool(folder, workers)
        return Engine(pool, Evaluator(pool, ResultCache(folder)))

    def close(self) -> None:
        """End the processes."""
        self.pool.close()
