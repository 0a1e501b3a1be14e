"""Results by key: in memory, then on disk. Environment faults are never kept."""

from __future__ import annotations

import contextlib
import os
from pathlib import Path
from typing import Any

import msgspec

from architectonic.base.problem import Problem
from architectonic.describe.models.operations import CHANGE_BODIES
from architectonic.describe.results import Found, Frame, Gauged, Made, PlacedRegion

_TYPES: dict[str, Any] = {
    "face": Frame,
    "find": Found,
    "section": Found,
    "gauge": Gauged,
    "shared": float,
    "likeness": str,
    "box": tuple[float, ...],
    "outline": PlacedRegion,
    **dict.fromkeys(CHANGE_BODIES, list[str]),
    "measure": dict[str, Any],
    "mesh": dict[str, Any],
}
ON_DISK = frozenset(_TYPES)
"""Kinds worth a file: those that need the kernel. Numeric ones are quicker to compute than to read."""


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
        self._memory: dict[str, Made] = {}

    def get(self, key: str, kind: str) -> Made | None:
        """The result of a key, or None."""
        found = self._memory.get(key)
        if found is None and self._folder is not None and kind in ON_DISK:
            try:
                stored = msgspec.msgpack.decode(self._path(key).read_bytes(), type=_Stored)
                value = None if stored.problem else decode_value(kind, stored.value)
                found = self._memory[key] = Made(key, value, stored.problem)
            except (OSError, msgspec.DecodeError):
                return None
        return found

    def put(self, made: Made, kind: str) -> None:
        """Keep a result."""
        self._memory[made.key] = made
        if self._folder is None or kind not in ON_DISK:
            return
        raw = msgspec.Raw(msgspec.msgpack.encode(made.value))
        path = self._path(made.key)
        part = path.with_name(f"{path.name}.{os.getpid()}.part")
        with contextlib.suppress(OSError):  # a full disk costs the cache, never the result
            path.parent.mkdir(parents=True, exist_ok=True)
            part.write_bytes(msgspec.msgpack.encode(_Stored(kind, raw, made.problem)))
            part.replace(path)

    def _path(self, key: str) -> Path:
        assert self._folder is not None
        return self._folder / "results" / key[:2] / key
