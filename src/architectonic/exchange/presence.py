"""Who has a family folder open: one small file for each window, which says so, and that it still lives.

It is advice, never a lock: saving holds its own (exchange.folder). What cannot be written or read is not missed.
"""

from __future__ import annotations

import contextlib
import math
import os
import time
from pathlib import Path

import msgspec

from architectonic.base import files as plain
from architectonic.base.errors import EnvironmentFault
from architectonic.base.ids import new_id
from architectonic.base.processes import claims
from architectonic.base.processes.claims import Claim

PREFIX = ".open-"
MOST = 2000
"""Bytes of such a file, at most."""


class Presence:
    """This window in a family's folder."""

    def __init__(self, folder: Path) -> None:
        self.folder, self._path = folder, folder / f"{PREFIX}{new_id()}"
        self._said = -claims.BEAT
        self._claim = claims.mine()

    def say(self) -> None:
        """Say that it is here, where that was not said lately."""
        if time.monotonic() - self._said < claims.BEAT:
            return
        self._said = time.monotonic()
        with contextlib.suppress(OSError):
            if self._path.exists():
                os.utime(self._path)
            elif self.folder.is_dir():
                plain.write(self._path, msgspec.json.encode(self._claim))

    def leave(self) -> None:
        """Be here no more: nothing that is under way says so again."""
        self._said = math.inf
        with contextlib.suppress(OSError):
            self._path.unlink()

    def others(self) -> list[Claim]:
        """Who else is here, the first first; what dead windows of this machine left is taken away."""
        found = []
        for path in self.folder.glob(f"{PREFIX}*"):
            if path == self._path:
                continue
            try:
                known = path.lstat()
                claim = msgspec.json.decode(plain.read(path), type=Claim) if known.st_size <= MOST else None
            except (OSError, EnvironmentFault, msgspec.DecodeError, UnicodeDecodeError):
                continue
            if claim is not None and claims.is_alive(claim, known.st_mtime):
                found.append(claim)
            elif claim is not None and claim.host == self._claim.host:
                with contextlib.suppress(OSError):
                    path.unlink()
        return sorted(found, key=lambda c: c.since)
