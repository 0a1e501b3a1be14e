"""Files outside a family's folder that may be read for it: those that somebody linked on this machine.

A family that comes from somebody else may name any file; nothing outside its folder is read because it says so.
"""

from __future__ import annotations

import contextlib
import json
from pathlib import Path

from architectonic.base import folders
from architectonic.base.errors import UserFault
from architectonic.family.records import Family

FOLDER = "allowed"
_here: set[tuple[str, str]] = set()
"""What was allowed in this process: also where nothing can be written down."""


def _place(family: str) -> Path:
    return folders.state_folder() / FOLDER / f"{folders.of_family(family)}.json"


def _known(family: str) -> list[str]:
    try:
        read = json.loads(_place(family).read_text("utf-8"))
    except (OSError, ValueError):
        return []
    return [p for p in read if isinstance(p, str)] if isinstance(read, list) else []


def allow(family: Family, file: Path) -> None:
    """A file was linked here by somebody: it may be read for this family from now on."""
    path, key = str(file.resolve()), family.head.id
    if (key, path) in _here:
        return
    _here.add((key, path))
    known = _known(key)
    if path not in known:
        with contextlib.suppress(OSError):
            place = _place(key)
            place.parent.mkdir(parents=True, exist_ok=True)
            part = place.with_suffix(".part")
            part.write_text(json.dumps([*known, path]), "utf-8")
            part.replace(place)


def refuse_strange(family: Family, folder: Path, file: Path) -> None:
    """Refuse a file that lies outside the family's folder and was linked by nobody here.

    Raises:
        UserFault: it is one.
    """
    path = file.resolve()
    if (
        path.is_relative_to(folder.resolve())
        or (family.head.id, str(path)) in _here
        or str(path) in _known(family.head.id)
    ):
        return
    raise UserFault(
        "it lies outside the family's folder and was not linked on this machine",
        file.name,
        "point the link at it to let it be read",
    )
