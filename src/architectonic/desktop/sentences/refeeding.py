"""Feeds that have lost something: what each place held beside what it may hold now, and taking several at once."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtGui import QImage

from architectonic.describe.results import Node, SketchResult
from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.thumbnails import sketch
from architectonic.desktop.sentences.feedcard import FeedCard
from architectonic.family.records import Model, Sketch
from architectonic.family.scopes import Scope
from architectonic.session.feeds import refinding
from architectonic.session.feeds.feeding import Offer
from architectonic.session.feeds.refinding import Lost

WIDE, HIGH = 170, 110
"""Of each picture, in pixels."""
MOST = 3
"""Candidates that are listed for each place."""


class Refeeding:
    """The card about one feed."""

    def __init__(self, desk: Desk, cards: ListCard, feeds: FeedCard) -> None:
        self.desk, self.cards, self.feeds = desk, cards, feeds
        self._open: tuple[str, str, list[Lost]] | None = None  # title, feed, what is lost
        desk.answered.connect(self._paint)

    def lost(self) -> list[Lost]:
        """What the chosen feed has lost."""
        main = self.desk.main
        if main.at is None or self.desk.evaluation is None or not main.operation:
            return []
        return refinding.lost_by(self.desk.evaluation, main.at, main.operation)

    def start(self) -> None:
        """Show each place beside what it may hold."""
        main, lost, document = self.desk.main, self.lost(), self.desk.main.document
        if not isinstance(document, Model) or not lost:
            return
        rows: list[tuple[tuple[str, ...], Callable[[], object]]] = []
        for one in lost:
            was = refinding.words(one.was, one.takes)
            for number, other in enumerate(one.likely[:MOST]):
                told = "likeliest" if number == 0 else "also near"
                chosen = {one.socket: (one.source, other.offer)}
                words = (told, other.words, refinding.words(other.witness, one.takes), was)
                rows.append((words, partial(self._take, document.id, chosen)))
            if not one.likely:
                rows.append((("nothing like it", "is left in its source", "", was), partial(self._point, one.socket)))
        first = {one.socket: (one.source, one.likely[0].offer) for one in lost if one.likely}
        many = f" of all {len(first)}" if len(first) > 1 else ""
        choices: list[tuple[str, Callable[[], object]]] = []
        if first:
            choices.append((f"Take the likeliest{many}", partial(self._take, document.id, first)))
        choices.append(("Choose in the picture…", partial(self._point, lost[0].socket)))
        name = document.feeds[main.operation].name
        count = "One thing" if len(lost) == 1 else f"{len(lost)} things"
        title = f"{count} that {name} took {'is' if len(lost) == 1 else 'are'} gone; what may be meant now"
        self.cards.start(title, ("", "may be", "it is", "in place of"), rows, choices, "Leave it")
        self._open = (title, main.operation, lost)
        self._paint()

    def _take(self, document: str, chosen: dict[str, tuple[Scope, Offer]]) -> bool:
        desk, evaluation = self.desk, self.desk.evaluation
        assert evaluation is not None
        what = f"mend {counted(len(chosen), 'thing')} taken"
        return desk.apply(what, lambda f: refinding.mend(f, evaluation, document, chosen))

    def _point(self, socket: str) -> None:
        """Its source stands beside, and what is clicked there is taken."""
        self.feeds.start(socket)

    # --- pictures -------------------------------------------------------------------------------------

    def _paint(self) -> None:
        """The sketch as it was, with what was taken lit, and those that stand in for it now."""
        if self._open is None:
            return
        title, _, lost = self._open
        if not self.cards.isVisible() or self.cards.title.text() != title:  # the card is asked something else by now
            self._open = None
            return
        feeds = getattr(self.desk.main.document, "feeds", {})
        held = {s: socket.source for feed in feeds.values() for s, socket in feed.sockets.items()}
        pictures: list[tuple[str, QImage]] = []
        for item in dict.fromkeys(held[o.socket].item for o in lost if o.socket in held):
            source = next(o.source for o in lost if held[o.socket].item == item)
            family = self.desk.session.history.last_with(source.document, item)
            record = next((o for o in getattr(family.documents[source.document], "build", ()) if o.id == item), None) if family else None  # fmt: skip
            node = Node("solve", source, item)
            answer = self.desk.answers([node], family).get(node) if isinstance(record, Sketch) else None
            if record is not None and answer is not None and isinstance(answer.value, SketchResult):
                lit = {held[o.socket].label for o in lost if held[o.socket].item == item}
                pictures.append((f"{record.name}, when it was there", sketch(answer.value, WIDE, HIGH, lit)))
        if not pictures:
            return
        self._open = None  # once is enough
        evaluation = self.desk.evaluation
        firsts = [(o.source, o.likely[0].offer) for o in lost if o.likely]
        for source, item in dict.fromkeys((s, f.item) for s, f in firsts):
            solved = evaluation.value(Node("solve", source, item)) if evaluation is not None else None
            if isinstance(solved, SketchResult):
                lit = {f.label for s, f in firsts if (s, f.item) == (source, item)}
                name = next(o.name for o in getattr(self.desk.family.documents[source.document], "build", ()) if o.id == item)  # fmt: skip
                pictures.append((f"{name}, the likeliest lit", sketch(solved, WIDE, HIGH, lit)))
        self.cards.show_pictures(pictures)
