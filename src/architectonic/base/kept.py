"""Files that a family keeps by content: where they lie, and how one is found by its name, which says what is in it.

A name stands for one content, so that it does not matter in which of the folders it is found. Worker processes are told the
folders with each request.
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable
from pathlib import Path

from architectonic.base.errors import EnvironmentFault
from architectonic.base.processes.scratch import place

FOLDER = "kept"
"""Folder inside a family."""
_folders: dict[str, None] = {}
_scratch: list[Path] = []


def known(folder: Path) -> None:
    """Look into a folder too, before the others."""
    _folders.pop(str(folder), None)
    _folders[str(folder)] = None


def told(folders: Iterable[str]) -> None:
    """Look into these folders, and no others."""
    _folders.clear()
    _folders.update(dict.fromkeys(folders))


def folders() -> tuple[str, ...]:
    """Where to look, the latest last."""
    return tuple(_folders)


def scratch() -> Path:
    """A folder of this process, for families that have none yet."""
    if not _scratch:
        _scratch.append(place("kept"))
        known(_scratch[0])
    return _scratch[0]


def find(name: str) -> Path | None:
    """The file of a name; None where it lies in none of the folders, or is not what its name says."""
    for folder in reversed(_folders):
        path = Path(folder) / name
        if path.is_file() and name == name_of(path.read_bytes(), path.suffix, name.rsplit("-", 1)[0]):
            return path
    return None


def name_of(data: bytes, suffix: str, stem: str) -> str:
    """What a content is called."""
    plain = re.sub(r"[^\w-]+", "-", stem).strip("-")[:40] or "file"
    return f"{plain}-{hashlib.blake2b(data, digest_size=12).hexdigest()}{suffix}"


def keep(folder: Path, data: bytes, suffix: str, stem: str) -> str:
    """Keep a content in a folder; its name there.

    Raises:
        EnvironmentFault: it cannot be written.
    """
    name = name_of(data, suffix, stem)
    target = folder / name
    try:
        if not target.exists():
            folder.mkdir(parents=True, exist_ok=True)
            part = target.with_name(f".{name}.part")
            part.write_bytes(data)
            part.replace(target)
    except OSError as fault:
        raise EnvironmentFault(f"{stem} cannot be kept in {folder}: {fault.strerror or fault}") from None
    known(folder)
    return name
