"""The shapes a worker knows: recent ones in memory, all of them in the shared folder."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Sequence
from pathlib import Path

from architectonic.base import stores
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.worker.protocol import shape_path

RECENT = 400
WRITTEN = 24_000_000
"""What recent shapes take together as files, bytes; in memory they are a few times as large."""


class ShapeLost(Exception):
    """A shape is neither in memory nor on disk."""

    def __init__(self, key: str) -> None:
        super().__init__(key)
        self.key = key


def stored(store: Path, key: str) -> Labelled:
    """A shape of a store by key.

    Raises:
        ShapeLost: it must be made again.
    """
    return _read((store,), key)[0]


def _read(folders: Sequence[Path], key: str) -> tuple[Labelled, int]:
    for store in folders:
        path = shape_path(store, key)
        data = stores.read(path, key)
        if data is not None:
            break
    else:
        raise ShapeLost(key)
    try:
        return Labelled.from_bytes(data), len(data)
    except ValueError:  # written by another version: it makes room for the one that is made now
        path.unlink(missing_ok=True)
        raise ShapeLost(key) from None


class Shapes:
    """Labelled shapes by key.

    Attributes:
        spare: where shapes go while the store takes none.
    """

    def __init__(self) -> None:
        self.spare: Path | None = None
        self._store: Path | None = None
        self._recent: OrderedDict[str, tuple[Labelled, int]] = OrderedDict()
        self._size = 0

    def get(self, store: Path, key: str) -> Labelled:
        """A shape by key.

        Raises:
            ShapeLost: it must be made again.
        """
        self._turn_to(store)
        known = self._recent.get(key)
        if known is None:
            known = _read([store, *([self.spare] if self.spare else [])], key)
        self._keep(key, *known)
        return known[0]

    def put(self, store: Path, key: str, shape: Labelled) -> None:
        """Keep a shape and write it for the others; a reader never sees half a file.

        Raises:
            OSError: neither the store nor the spare one takes it.
        """
        self._turn_to(store)
        data = shape.to_bytes()
        self._keep(key, shape, len(data))
        path = shape_path(store, key)
        if path.exists():
            stores.used(path)
            return
        try:
            stores.write(path, key, data)
        except OSError:
            if self.spare is None:
                raise
            stores.write(shape_path(self.spare, key), key, data)

    def _turn_to(self, store: Path) -> None:
        """Forget the shapes of another store: those of this one must be in its folder, where other processes read them."""
        if store != self._store:
            self._store, self._size = store, 0
            self._recent.clear()

    def _keep(self, key: str, shape: Labelled, size: int) -> None:
        self._size += size - (self._recent[key][1] if key in self._recent else 0)
        self._recent[key] = shape, size
        self._recent.move_to_end(key)
        while len(self._recent) > 1 and (len(self._recent) > RECENT or self._size > WRITTEN):
            _, (_, gone) = self._recent.popitem(last=False)
            self._size -= gone
