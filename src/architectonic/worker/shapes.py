"""The shapes a worker knows: recent ones in memory, all of them in the shared folder."""

from __future__ import annotations

import contextlib
import os
from collections import OrderedDict
from pathlib import Path

from architectonic.kernel.shapes.labelled import Labelled
from architectonic.worker.protocol import shape_path

RECENT = 400


class ShapeLost(Exception):
    """A shape is neither in memory nor on disk."""

    def __init__(self, key: str) -> None:
        super().__init__(key)
        self.key = key


class Shapes:
    """Labelled shapes by key."""

    def __init__(self) -> None:
        self._recent: OrderedDict[str, Labelled] = OrderedDict()

    def get(self, store: Path, key: str) -> Labelled:
        """A shape by key.

        Raises:
            ShapeLost: it must be made again.
        """
        found = self._recent.get(key)
        if found is None:
            try:
                found = Labelled.from_bytes(shape_path(store, key).read_bytes())
            except (OSError, ValueError):
                raise ShapeLost(key) from None
        self._keep(key, found)
        return found

    def put(self, store: Path, key: str, shape: Labelled) -> None:
        """Keep a shape and write it for the others; a reader never sees half a file."""
        self._keep(key, shape)
        path = shape_path(store, key)
        if path.exists():
            return
        path.parent.mkdir(parents=True, exist_ok=True)
        part = path.with_name(f"{path.name}.{os.getpid()}.part")
        try:
            part.write_bytes(shape.to_bytes())
            part.replace(path)
        finally:
            with contextlib.suppress(OSError):
                part.unlink()

    def _keep(self, key: str, shape: Labelled) -> None:
        self._recent[key] = shape
        self._recent.move_to_end(key)
        while len(self._recent) > RECENT:
            self._recent.popitem(last=False)
