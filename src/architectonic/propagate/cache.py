"""Results by key: in memory, then on disk. Environment faults are never kept."""

from __future__ import annotations

import contextlib
import threading
from pathlib import Path
from typing import Any

import msgspec
from cachetools import LRUCache

from architectonic.base import stores
from architectonic.base.problem import Problem
from architectonic.describe.measured import FairnessResult, Gauged, SeamSeen, SurveyResult
from architectonic.describe.models.operations import CHANGE_BODIES
from architectonic.describe.operations.holes.section import Drilled
from architectonic.describe.operations.surfaces.pieces import PieceSeen
from architectonic.describe.results import Found, Frame, HoleFound, Made, PlacedRegion

_TYPES: dict[str, Any] = {
    "face": Frame,
    "find": Found,
    "section": Found,
    "gauge": Gauged,
    "shared": float,
    "clash": float,
    "apart": float,
    "likeness": str,
    "stood": list[str],
    "box": tuple[float, ...],
    "outline": PlacedRegion,
    "bored": list[HoleFound],
    "drilled": Drilled,
    "threaded": list[str],
    "survey": SurveyResult,
    "fairness": FairnessResult,
    "pieces": tuple[PieceSeen, ...],
    "space_curve": Found,
    "seams": tuple[SeamSeen, ...],
    **dict.fromkeys(CHANGE_BODIES, list[str]),
    "measure": dict[str, Any],
    "mesh": dict[str, Any],
}
MEMORY = 48_000_000
"""What results in memory may take together, bytes, as far as that is known; the store on disk has the costly ones."""
OFTEN = 500
"""After so many results it is looked whether the store on disk holds too much."""
ON_DISK = frozenset(_TYPES)
"""Kinds worth a file: those that need the kernel. Numeric ones are quicker to compute than to read."""


def _weight(made: Made) -> int:
    """About how much a result takes, bytes: arrays as they are, texts and records by their number."""
    value = made.value
    if isinstance(value, dict):
        return 1000 + sum(len(v) if isinstance(v, bytes) else 120 * _count(v) for v in value.values())
    regions = getattr(value, "regions", ())
    pieces = sum(len(loop) for region in regions for loop in region.loops)
    return 1000 + 500 * len(getattr(value, "curves", ())) + 700 * pieces


def _count(value: Any) -> int:
    """How many things are in a list of lists."""
    if isinstance(value, dict):
        return 1 + sum(_count(v) for v in value.values())
    return 1 + sum(_count(v) for v in value) if isinstance(value, (list, tuple)) else 1


class _Stored(msgspec.Struct):
    kind: str
    value: msgspec.Raw = msgspec.Raw(b"\xc0")
    problem: Problem | None = None


def decode_value(kind: str, raw: bytes | msgspec.Raw) -> Any:
    """A result from its encoding."""
    return msgspec.msgpack.decode(raw, type=_TYPES.get(kind, Any))


class ResultCache:
    """Results of recipes.

    Args:
        folder: where they are kept between runs; None keeps them in memory only.
    """

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder
        self._memory: LRUCache[str, Made] = LRUCache(MEMORY, getsizeof=_weight)
        self._lock = threading.Lock()
        self._written = 0

    def get(self, key: str, kind: str) -> Made | None:
        """The result of a key, or None."""
        with self._lock:  # looking also notes the use
            found: Made | None = self._memory.get(key)
        if found is None and self._folder is not None and kind in ON_DISK:
            data = stores.read(self._path(key), key)
            if data is None:
                return None
            try:
                stored = msgspec.msgpack.decode(data, type=_Stored)
                value = None if stored.problem else decode_value(kind, stored.value)
                found = self._keep(Made(key, value, stored.problem))
            except msgspec.DecodeError:  # written by another version
                return None
        return found

    def put(self, made: Made, kind: str) -> None:
        """Keep a result."""
        self._keep(made)
        if self._folder is None or kind not in ON_DISK:
            return
        raw = msgspec.Raw(msgspec.msgpack.encode(made.value))
        with contextlib.suppress(OSError):  # a full disk costs the cache, never the result
            content = msgspec.msgpack.encode(_Stored(kind, raw, made.problem))
            stores.write(self._path(made.key), made.key, content)
        self._written += 1
        if self._written % OFTEN == 0:
            threading.Thread(target=stores.prune, args=(self._folder,), daemon=True).start()

    def _keep(self, made: Made) -> Made:
        """In memory, unless it alone would fill it."""
        with self._lock, contextlib.suppress(ValueError):
            self._memory[made.key] = made
        return made

    def _path(self, key: str) -> Path:
        assert self._folder is not None
        return self._folder / "results" / key[:2] / key
