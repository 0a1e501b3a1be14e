"""Menus of the window, and what Find or do finds."""

from __future__ import annotations

from collections.abc import Callable, Collection
from functools import partial
from typing import Any

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu, QWidget

from architectonic.describe.words.taking import noun
from architectonic.desktop.commands.model import ModelCommands
from architectonic.desktop.kit.actions import Registry
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sentences.feedcard import FeedCard
from architectonic.desktop.window.find import Findable
from architectonic.desktop.window.headband import fill
from architectonic.desktop.window.verbrow import VerbRow
from architectonic.family.names import values_of
from architectonic.family.operations.holes.hole import HolePlace
from architectonic.family.records import Reference


class Menus:
    """Menus at the pointer.

    Args:
        over: the canvas of the moment; link, rule: further entries for a file that drives values, or for a rule.
    """

    def __init__(
        self,
        parent: QWidget,
        desk: Desk,
        actions: Registry,
        verbs: VerbRow,
        models: ModelCommands,
        feeds: FeedCard,
        over: Callable[[], QWidget],
        link: Callable[[str, QMenu], object],
        rule: Callable[[str, QMenu], object],
    ) -> None:
        self.parent, self.desk, self.actions, self.verbs = parent, desk, actions, verbs
        self.models, self.feeds, self.over, self.link, self.rule = models, feeds, over, link, rule

    def context(self, at: QPoint) -> None:
        """What fits the selection, at the pointer."""
        menu = QMenu(self.parent)
        self._entries(menu, self.verbs.verbs())
        menu.addSeparator()
        edit = menu.addMenu("Edit")
        assert edit is not None
        fill(edit, self.actions, "edit")
        menu.popup(self.over().mapToGlobal(at))

    def feed(self, feed: str, at: QPoint) -> None:
        """What can be done with a feed; each of its sockets can be pointed elsewhere."""
        self.desk.main.operation = feed
        self.desk.main.selection_changed.emit()
        document = self.desk.main.document
        menu = QMenu(self.parent)
        if document is not None and feed in document.links:
            self.link(feed, menu)
            menu.popup(at)
            return
        if document is not None and any(r.id == feed for r in document.checked):
            self.rule(feed, menu)
            menu.popup(at)
            return
        self._entries(menu, ("feed.show", "operation.rename", "operation.delete"), short=True)
        self.models.add_sizes(menu, feed)
        menu.addSeparator()
        for number, (key, socket) in enumerate(getattr(document, "feeds", {})[feed].sockets.items(), 1):
            entry = menu.addAction(f"Point {noun(socket.takes, socket.source.label)} {number} elsewhere…")
            assert entry is not None
            entry.triggered.connect(partial(self.feeds.start, key))
            if socket.takes == "region" and document is not None and document.holds_bodies:
                push = menu.addAction(f"Extrude region {number}…")
                assert push is not None
                push.triggered.connect(partial(self._make, "extrude", {"regions": (Reference(item=key),)}))
            if socket.takes == "holes" and document is not None and document.holds_bodies:
                drill = menu.addAction(f"Drill what matches hole set {number}…")
                assert drill is not None
                places = {"places": (HolePlace(at=Reference(item=key)),)}
                drill.triggered.connect(partial(self._make, "matching_hole", places))
        menu.popup(at)

    def _make(self, kind: str, given: dict[str, Any]) -> None:
        self.actions.attempt(partial(self.models.make, kind, given))

    def _entries(self, menu: QMenu, keys: tuple[str, ...], short: bool = False) -> None:
        for key in keys:
            action = self.actions.actions[key]
            entry = menu.addAction(action.short if short and action.short else action.title)
            assert entry is not None
            entry.setEnabled(action.enabled())
            entry.triggered.connect(lambda _=False, k=key: self.actions.run(k))


def documents(desk: Desk) -> list[Findable]:
    """The documents, each with what it is."""
    return [Findable(d.name, partial(desk.show, d.id), (d.kind,), d.kind) for d in desk.family.documents.values()]


def findable(
    desk: Desk,
    actions: Registry,
    focus: Callable[[str, str], object],
    go: Callable[[str, str], object],
    here: Callable[[], Collection[str]],
) -> list[Findable]:
    """Everything that Find or do knows: actions, documents, values, operations.

    Args:
        here: ids of the actions of the canvas that is shown.
    """
    known = here()
    found = [
        Findable(a.title.rstrip("…"), partial(actions.run, a.id), (*a.also, *([a.short.rstrip("…")] if a.short else [])), a.tells, a.keys, "" if a.enabled() else a.wants or "cannot be done here", a.id in known)
        for a in actions.actions.values()
    ]  # fmt: skip
    found += documents(desk)
    for document in desk.family.documents.values():
        own = document.id == desk.main.document_id
        for key, item in values_of(document):
            found.append(Findable(f"{document.name}: {key}", partial(focus, document.id, item.id), here=own))
        for operation in getattr(document, "build", ()):
            found.append(
                Findable(f"{document.name}: {operation.name}", partial(go, document.id, operation.id), here=own)
            )
    return found
