"""How benchmarks take time."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable


def median(action: Callable[[], object], runs: int = 5) -> float:
    """Median seconds of some runs."""
    times = []
    for _ in range(runs):
        started = time.perf_counter()
        action()
        times.append(time.perf_counter() - started)
    return statistics.median(times)
