"""The list of everything that needs attention: one entry for each root cause, what hangs on it below, each with its mend."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from architectonic.check.attention import Cause, Follower, Item, causes
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.pane.desk import Desk
from architectonic.family.records import Model
from architectonic.family.walk import index

Row = tuple[tuple[str, ...], Callable[[], object] | None]
HEADINGS = ("", "where", "what", "in", "to mend")
MOST = 6
"""What hangs on an entry is listed up to so many; the others are counted."""


class AttentionList:
    """Shows it on the list card; a row leads to what it is about, and to its mend where there is one.

    Args:
        go: shows an item of a document; mend: opens the mend of the item that is shown, True if it has one.
    """

    def __init__(self, desk: Desk, cards: ListCard, go: Callable[[str, str], object], mend: Callable[[], bool]) -> None:
        self.desk, self.cards, self.go, self.mend = desk, cards, go, mend
        self._wanted = False
        self._gone: set[tuple[str, str]] = set()
        desk.evaluated.connect(self._on_evaluated)

    def actions(self) -> list[Action]:
        """The action that opens it."""
        tells = "One entry for each cause, what hangs on it, and its mend."
        return [Action("view.attention", "What needs attention", self.start, keys="F8", menu="view", tells=tells, also=("errors", "problems", "failing"))]  # fmt: skip

    def start(self) -> None:
        """Open it; while everything is current, say so."""
        desk, found = self.desk, causes(self.desk.attention)
        rows = [row for cause in found for row in self._rows(cause)]
        cancel = [("Cancel the update", desk.cancel)] if desk.updating else []
        if not found:
            told = "Every document is current in every configuration."
            self.cards.start("Being updated; nothing is known to need attention yet." if desk.updating else told, (), [], cancel)  # fmt: skip
            return
        title = "One thing needs attention" if len(found) == 1 else f"{len(found)} things need attention"
        self.cards.start(f"{title}; Enter goes to the chosen one and opens its mend", HEADINGS, rows, [], "Close")

    def when_known(self) -> None:
        """Open it once the present change is worked out, if anything needs attention then."""
        self._wanted = True

    def _on_evaluated(self) -> None:
        """After a change that took away what others take it opens by itself."""
        desk = self.desk
        if desk.updating:
            return
        gone = {cause.gone for cause in causes(desk.attention) if cause.gone[1]}
        wanted, self._wanted = self._wanted or (bool(desk.last_change) and bool(gone - self._gone)), False
        self._gone = gone
        if wanted and desk.attention:
            self.start()

    # --- rows -----------------------------------------------------------------------------------------

    def _rows(self, cause: Cause) -> list[Row]:
        if not cause.gone[1]:
            (item,) = cause.items
            return [(_words(item), self._to(item)), *self._following(item.following, "   ")]
        document, gone = cause.gone
        source = self.desk.family.documents.get(document)
        family = self.desk.session.history.last_with(document, gone)
        name = getattr(index(family.documents[document]).get(gone), "name", "") if family is not None else ""
        sizes = ", ".join(dict.fromkeys(s for i in cause.items for s in i.configurations))
        where = source.name if source is not None else "a document that is gone"
        what = f"{name or 'something that others take'} is gone"
        first = partial(self._open, *next(iter(self._takers(cause))))
        rows: list[Row] = [((cause.severity, where, what, sizes, "mend what took it, or undo"), first)]
        for (taker, feed), items in self._takers(cause).items():
            named = self._name(taker, feed, items)
            lost = ", ".join(i.where.rpartition(", ")[2].rpartition(" / ")[2] for i in items)
            many = f"lost {lost}"
            rows.append((("", f"   {named}", many, "", "what may be meant now"), partial(self._open, taker, feed)))
            rows += self._following([f for i in items for f in i.following], "      ")
        return rows

    def _takers(self, cause: Cause) -> dict[tuple[str, str], list[Item]]:
        """Entries by who took: the feed of a document, or the item itself."""
        found: dict[tuple[str, str], list[Item]] = {}
        for item in cause.items:
            document = self.desk.family.documents.get(item.document)
            feeds = document.feeds if isinstance(document, Model) else {}
            taker = next((k for k, feed in feeds.items() if item.item in feed.sockets), item.item)
            found.setdefault((item.document, taker), []).append(item)
        return found

    def _name(self, document: str, feed: str, items: list[Item]) -> str:
        shown = self.desk.family.documents[document]
        feeds = shown.feeds if isinstance(shown, Model) else {}
        return f"{shown.name} / {feeds[feed].name}" if feed in feeds else items[0].where

    def _following(self, following: tuple[Follower, ...] | list[Follower], indent: str) -> list[Row]:
        rows: list[Row] = [
            (("", f"{indent}{f.where}", "has no result because of it", "", ""), partial(self.go, f.document, f.item))
            for f in following[:MOST]
        ]
        if len(following) > MOST:
            rows.append((("", f"{indent}and {len(following) - MOST} more", "", "", ""), None))
        return rows

    def _to(self, item: Item) -> Callable[[], object]:
        return partial(self._open, item.document, item.item)

    def _open(self, document: str, item: str) -> None:
        if document in self.desk.family.documents:  # one that could not be read is nowhere
            self.go(document, item)
            self.mend()


def _words(item: Item) -> tuple[str, ...]:
    return (item.severity, item.where, item.what, ", ".join(item.configurations), item.mend)
