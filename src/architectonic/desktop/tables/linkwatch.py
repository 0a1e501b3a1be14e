"""Watching the files that drive values and give bodies: what they say is read beside the event loop, and told."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer

from architectonic.desktop.kit.aside import Aside
from architectonic.desktop.pane.desk import Desk
from architectonic.family.records import Family
from architectonic.session.files import outside, unread
from architectonic.session.files.outside import Stale
from architectonic.session.tables import spreadsheets
from architectonic.session.tables.spreadsheets import Seen

SETTLING = 300
"""A file is read when it has been left alone for so long, ms: writers write in pieces."""
AGAIN = 5000
"""Folders on other machines tell nothing: times and sizes are compared so often, ms."""


class LinkWatch(QObject):
    """Looks at linked files when they or the links change."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.seen: list[Seen] = []
        self._files: dict[Path, tuple[int, int] | None] = {}
        self._watcher = QFileSystemWatcher(self)
        self._settle = QTimer(self, interval=SETTLING, timeout=self.look)  # type: ignore[call-arg]
        self._settle.setSingleShot(True)
        self._again = QTimer(self, interval=AGAIN, timeout=self._compare)  # type: ignore[call-arg]
        self._watcher.fileChanged.connect(lambda _: self._settle.start())
        self._watcher.directoryChanged.connect(lambda _: self._settle.start())
        self._reader = Aside(self)
        self._links: object = None
        desk.family_changed.connect(self._on_family)
        self._on_family()

    def close(self) -> None:
        """Look no more."""
        self._again.stop()
        self._settle.stop()
        self._reader.close()

    def _on_family(self) -> None:
        family, stored = self.desk.family, self.desk.session.stored
        links = (
            (stored.folder, stored.unread),
            *((d.id, k, v) for d in family.documents.values() for k, v in d.links.items()),
            *((d.id, o.id, o) for d, o in outside.operations(family)),
        )
        if links != self._links:
            self._links = links
            self.look()

    def look(self) -> None:
        """Read the linked files beside the event loop."""
        folder, family = self.desk.session.stored.folder, self.desk.family
        files = {folder / link.file for d in family.documents.values() for link in d.links.values()}
        files |= {outside.file_of(o, folder) for _, o in outside.operations(family)}
        if not files:
            self._again.stop()
            self._follow({})
            self._on_arrived(family, ([], []))
            return
        self._again.start()
        self._reader.run(lambda: {f: _stamp(f) for f in files}, self._follow)
        self._reader.run(
            lambda: (spreadsheets.look(family, folder), outside.stale(family, folder)),
            lambda both: self._on_arrived(family, both),
        )

    def _follow(self, stamps: dict[Path, tuple[int, int] | None]) -> None:
        """Watch the files that are there, and the folders of all."""
        self._files = stamps
        old = [*self._watcher.files(), *self._watcher.directories()]
        wanted = [str(p) for f, stamp in stamps.items() for p in ((f, f.parent) if stamp else (f.parent,))]
        if set(old) != set(wanted):
            if old:
                self._watcher.removePaths(old)
            if wanted:
                self._watcher.addPaths(list(dict.fromkeys(wanted)))

    def _compare(self) -> None:
        known = dict(self._files)

        def then(changed: bool) -> None:
            if changed:
                self._settle.start()

        self._reader.run(lambda: any(_stamp(f) != stamp for f, stamp in known.items()), then)

    def _on_arrived(self, family: Family, both: tuple[list[Seen], list[Stale]]) -> None:
        """Tell what needs attention; files that may, are taken at once when nothing is wrong with them."""
        seen, stale = both
        if family is not self.desk.family and any(
            family.documents.get(s.document) is not self.desk.family.documents.get(s.document) for s in seen
        ):
            self._settle.start()  # the table was edited meanwhile
            return
        self.seen = seen
        unreadable = unread.entries(self.desk.session.stored)
        self.desk.attend(
            [*unreadable, *spreadsheets.entries(self.desk.family, seen), *outside.entries(self.desk.family, stale)]
        )
        for one in self.pending():
            link = self.desk.family.documents[one.document].links[one.link]
            if link.at_once and one.difference is not None and not one.difference.faults:
                self.take(one)
                return

    def pending(self) -> list[Seen]:
        """Files that have new values."""
        known = self.desk.family.documents
        return [
            s
            for s in self.seen
            if s.difference and s.difference.changes and s.document in known and s.link in known[s.document].links
        ]

    def take(self, seen: Seen) -> bool:
        """Accept the new values of a file as one step that can be undone."""
        difference = seen.difference
        assert difference is not None
        link = self.desk.family.documents[seen.document].links[seen.link]
        name = Path(link.file).name
        done = self.desk.apply(f"new values of {name}", lambda f: spreadsheets.take(f, seen.document, difference))
        if done:
            self.look()
        return done


def _stamp(file: Path) -> tuple[int, int] | None:
    try:
        found = file.stat()
    except OSError:
        return None
    return found.st_mtime_ns, found.st_size
