"""Families that were open last, so that they are opened again by a click."""

from __future__ import annotations

import json
from pathlib import Path

from architectonic.base import folders

KEPT = 8
FILE = "recent.json"


def recent() -> list[Path]:
    """Folders of families that were open last and are still there, the latest first; [] when nothing is known."""
    try:
        read = json.loads((folders.state_folder() / FILE).read_text("utf-8"))
    except (OSError, ValueError):
        return []
    found = [Path(p) for p in read if isinstance(p, str)] if isinstance(read, list) else []
    return [p for p in found if p.is_dir()][:KEPT]


def remember(folder: Path) -> None:
    """A family is open; what cannot be noted is not missed."""
    here = folder.resolve()
    listed = [here, *(p for p in recent() if p != here)][:KEPT]
    try:
        folders.state_folder().mkdir(parents=True, exist_ok=True)
        (folders.state_folder() / FILE).write_text(json.dumps([str(p) for p in listed]), "utf-8")
    except OSError:
        return
