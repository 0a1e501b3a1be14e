"""What goes on in the folder of the shown family: who else has it open, and what others saved there."""

from __future__ import annotations

import os
import threading
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer, pyqtSignal

from architectonic.base.errors import ArchitectonicError
from architectonic.base.processes.claims import Claim
from architectonic.desktop.kit.aside import Aside
from architectonic.desktop.pane.desk import Desk
from architectonic.exchange.folder import Stored
from architectonic.exchange.locking import doubtful
from architectonic.exchange.presence import Presence
from architectonic.session.open import leftovers
from architectonic.session.open.journal import Left
from architectonic.session.open.session import Session

SETTLING = 200
"""A folder is looked at when nothing happened in it for so long, ms."""
PATIENCE = 1.0
"""Seconds that the end waits for a disk: one that does not answer keeps no window from closing."""
AGAIN = 4000
"""Folders on other machines tell nothing: they are looked at so often, ms."""


class Around(NamedTuple):
    """What is around a session.

    Attributes:
        others: who else has the folder open; newer: files that others changed; left: edits of sessions that live no more.
        disk: the type of the file system, where its locks may not reach other machines.
    """

    others: tuple[Claim, ...] = ()
    newer: tuple[str, ...] = ()
    left: tuple[Left, ...] = ()
    disk: str = ""


class FolderWatch(QObject):
    """Looks at the folder beside the event loop.

    Signals:
        changed: what is around differs from what it was.
    """

    changed = pyqtSignal()

    def __init__(self, desk: Desk, parent: QObject) -> None:
        super().__init__(parent)
        self.desk, self.around = desk, Around()
        self._reader = Aside(self)
        self._watcher = QFileSystemWatcher(self)
        self._settle = QTimer(self, interval=SETTLING, timeout=self.look)  # type: ignore[call-arg]
        self._settle.setSingleShot(True)
        self._again = QTimer(self, interval=AGAIN, timeout=self.look)  # type: ignore[call-arg]
        self._watcher.directoryChanged.connect(lambda _: self._settle.start())
        self._presence: Presence | None = None
        self._session: Session | None = None
        self._busy = False
        self._known: tuple[tuple[Stored, list[tuple[str, int, int, int]]], tuple[str, ...]] | None = None
        desk.family_changed.connect(self._settle.start)
        self.look()
        self._again.start()

    def close(self) -> None:
        """Look no more, and be here no more."""
        self._again.stop()
        self._settle.stop()
        self._reader.close()
        if self._presence is not None:
            leaving = threading.Thread(target=self._presence.leave, daemon=True, name="leaving a folder")
            leaving.start()
            leaving.join(PATIENCE)

    def _turn_to(self, session: Session) -> Presence:
        if self._presence is None or session is not self._session or self._presence.folder != session.stored.folder:
            if self._presence is not None:
                self._reader.run(self._presence.leave, lambda _: None)
            self._session, self._presence = session, Presence(session.stored.folder)
            if self._watcher.directories():
                self._watcher.removePaths(self._watcher.directories())
            self._watcher.addPath(str(session.stored.folder))
        return self._presence

    def look(self) -> None:
        """Look now, unless a look is under way."""
        if self._busy:
            return
        session, self._busy = self.desk.session, True
        presence = self._turn_to(session)
        self._reader.run(lambda: self._around(session, presence), lambda found: self._on_found(session, found))

    def _on_found(self, session: Session, found: Around | None) -> None:
        self._busy = False
        if session is not self.desk.session:
            self.look()
        elif found is not None and found != self.around:
            self.around = found
            self.changed.emit()

    def _around(self, session: Session, presence: Presence) -> Around | None:
        """What is around now; files are read only when one of them was touched."""
        try:
            presence.say()
            if session.journal:
                session.journal.beat()
            stamp = (session.stored, _stamp(session.stored.folder))
            if self._known is None or self._known[0][0] is not stamp[0] or self._known[0][1] != stamp[1]:
                self._known = stamp, tuple(session.changed_by_others())
            disk = doubtful(session.stored.folder)
            return Around(tuple(presence.others()), self._known[1], tuple(leftovers.left(session)), disk)
        except (ArchitectonicError, OSError):
            return None  # the folder is gone or does not answer: saving says so


def _stamp(folder: Path) -> list[tuple[str, int, int, int]]:
    with os.scandir(folder) as entries:
        found = [(e.name, e.stat(follow_symlinks=False)) for e in entries if e.name.endswith(".json")]
    return sorted((name, known.st_mtime_ns, known.st_size, known.st_ino) for name, known in found)
