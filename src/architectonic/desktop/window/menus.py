"""Menus of the window, and what Find or do finds."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu

from architectonic.desktop.window.find import Entry
from architectonic.desktop.window.headband import fill
from architectonic.family.names import values_of

if TYPE_CHECKING:
    from architectonic.desktop.window.shell import Shell


class Menus:
    """Menus at the pointer."""

    def __init__(self, shell: Shell) -> None:
        self.shell = shell

    def context(self, at: QPoint) -> None:
        """What fits the selection, at the pointer."""
        menu = QMenu(self.shell)
        self._entries(menu, self.shell.verbs.verbs())
        menu.addSeparator()
        edit = menu.addMenu("Edit")
        assert edit is not None
        fill(edit, self.shell.actions_, "edit")
        menu.popup(self.shell.canvas.mapToGlobal(at))

    def feed(self, feed: str, at: QPoint) -> None:
        """What can be done with a feed; each of its sockets can be pointed elsewhere."""
        self.shell.desk.main.operation = feed
        self.shell.desk.main.selection_changed.emit()
        document = self.shell.desk.main.document
        menu = QMenu(self.shell)
        if document is not None and feed in document.links:
            self.shell.files.link_menu(feed, menu)
            menu.popup(at)
            return
        if document is not None and any(r.id == feed for r in document.checked):
            self.shell.rules.menu(feed, menu)
            menu.popup(at)
            return
        self._entries(menu, ("feed.show", "operation.rename", "operation.delete"), short=True)
        self.shell.commands.models.add_sizes(menu, feed)
        menu.addSeparator()
        for number, (key, socket) in enumerate(getattr(document, "feeds", {})[feed].sockets.items(), 1):
            entry = menu.addAction(f"Point {socket.takes} {number} elsewhere…")
            assert entry is not None
            entry.triggered.connect(partial(self.shell.feed_card.start, key))
            if socket.takes == "region" and document is not None and document.kind == "part":
                push = menu.addAction(f"Extrude region {number}…")
                assert push is not None
                push.triggered.connect(partial(self.shell.commands.models.extrude_fed, key))
        menu.popup(at)

    def _entries(self, menu: QMenu, keys: tuple[str, ...], short: bool = False) -> None:
        for key in keys:
            action = self.shell.actions_.actions[key]
            entry = menu.addAction(action.short if short and action.short else action.title)
            assert entry is not None
            entry.setEnabled(action.enabled())
            entry.triggered.connect(lambda _=False, k=key: self.shell.actions_.run(k))


def findable(shell: Shell) -> list[Entry]:
    """Everything that Find or do knows: actions, documents, values, operations."""
    desk = shell.desk
    found: list[Entry] = [(a.title.rstrip("…"), a.run) for a in shell.actions_.actions.values() if a.enabled()]
    for document in desk.family.documents.values():
        found.append((f"{document.name} ({document.kind})", partial(desk.show, document.id)))
        for key, item in values_of(document):
            found.append((f"{document.name}: {key}", partial(shell.focus_value, document.id, item.id)))
        for operation in getattr(document, "build", ()):
            found.append((f"{document.name}: {operation.name}", partial(shell.go_to, document.id, operation.id)))
    return found
