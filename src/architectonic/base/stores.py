"""Bounded stores on disk: files by key below a folder, the least recently used of which go when there are too many.

Whatever stands here can be made again, so that deleting any of it, at any time, costs time and nothing else. Nothing of it is
believed: a file that is not what was written is dropped.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
from pathlib import Path
from typing import NamedTuple

PARTS = ("results", "shapes")
"""Folders of a store: results of recipes, and the shapes that workers share."""
LIMIT_MB = 2048
"""What a store may hold unless ARCHITECTONIC_CACHE_LIMIT says otherwise, MB."""
ROOM = 0.8
"""To this share of the limit a full store is emptied, so that it is not full again at once."""


DIGEST = 16
"""Bytes of the digest over key and content that every file begins with."""


def _digest(key: str, data: bytes) -> bytes:
    found = hashlib.blake2b(key.encode() + b"\0", digest_size=DIGEST)
    found.update(data)
    return found.digest()


def sealed(key: str, content: bytes) -> bytes:
    """A content with its digest before it."""
    return _digest(key, content) + content


def unsealed(key: str, data: bytes) -> bytes | None:
    """The content that was sealed under a key; None when it is not that."""
    content = data[DIGEST:]
    return content if data[:DIGEST] == _digest(key, content) else None


def read(path: Path, key: str) -> bytes | None:
    """The content that was written under a key; None when there is none. One that differs from what was written, or that
    stands under another key, is believed in nothing: it is taken away, to be made again.
    """
    try:
        data = path.read_bytes()
    except OSError:
        return None
    content = unsealed(key, data)
    if content is None:
        with contextlib.suppress(OSError):
            path.unlink()
        return None
    used(path)
    return content


def write(path: Path, key: str, content: bytes) -> None:
    """Write a content under a key; a reader never sees half a file.

    Raises:
        OSError: it cannot be written.
    """
    part, data = Path(f"{path}.{os.getpid()}.part"), sealed(key, content)
    try:
        try:
            part.write_bytes(data)
        except FileNotFoundError:  # the first of its folder
            path.parent.mkdir(parents=True, exist_ok=True)
            part.write_bytes(data)
        part.replace(path)
    except BaseException:
        with contextlib.suppress(OSError):
            part.unlink()
        raise


class Held(NamedTuple):
    """What a store holds: files and bytes."""

    files: int
    size: int


def limit() -> int:
    """What a store may hold, bytes."""
    try:
        return int(float(os.environ.get("ARCHITECTONIC_CACHE_LIMIT") or LIMIT_MB) * 1e6)
    except ValueError:
        return int(LIMIT_MB * 1e6)


def _files(folder: Path) -> list[tuple[float, int, Path]]:
    """Last use, size and path of every file of a store; others may take some away meanwhile."""
    found = []
    for part in PARTS:
        for path in (folder / part).rglob("*"):
            with contextlib.suppress(OSError):
                known = path.stat()
                if path.is_file():
                    found.append((known.st_mtime, known.st_size, path))
    return found


def held(folder: Path) -> Held:
    """What a store holds now."""
    found = _files(folder)
    return Held(len(found), sum(size for _, size, _ in found))


def used(path: Path) -> None:
    """Note that a file was used."""
    with contextlib.suppress(OSError):
        os.utime(path)


def prune(folder: Path, most: int | None = None) -> Held:
    """Delete what was used longest ago, when a store holds too much; returns what went.

    Args:
        most: bytes that it may hold; the limit of this machine by default.
    """
    most = limit() if most is None else most
    found = sorted(_files(folder), key=lambda f: (f[0], str(f[2])))
    total, files, size = sum(f[1] for f in found), 0, 0
    if total <= most:
        return Held(0, 0)
    for _, bytes_, path in found:
        if total - size <= most * ROOM:
            break
        with contextlib.suppress(OSError):
            path.unlink()
            files, size = files + 1, size + bytes_
    return Held(files, size)
