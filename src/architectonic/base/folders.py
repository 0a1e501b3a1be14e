"""Where the program keeps things on this machine (XDG folders; each can be moved by an environment variable)."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

import platformdirs

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


def of_family(key: str) -> str:
    """What is called after a family is kept under this name, whatever its id is."""
    return hashlib.sha256(key.encode("utf-8", "replace")).hexdigest()[:24]
