"""Taking things of the document beside into the main one: what is chosen there, told as a sentence, kept with Enter."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtWidgets import QWidget

from architectonic.base.errors import UserFault
from architectonic.describe.words import taking
from architectonic.describe.words.blanks import counted
from architectonic.describe.words.spoken import Sentence
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sentences.blankcard import BlankCard
from architectonic.desktop.sentences.blanks.fields import ListField
from architectonic.desktop.sentences.blanks.picks import OfferedField
from architectonic.desktop.sketch.canvas import LayoutCanvas
from architectonic.family.names import check_name
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import Datum, Model, Sketch
from architectonic.session.feeds import feeding
from architectonic.session.feeds.feeding import Offer
from architectonic.session.feeds.sources import likely_source
from architectonic.session.model import holefacts
from architectonic.session.picking import picked

HINT = "In the left pane click curves, regions, flat faces or the wall of a hole for all of its set; Shift chooses several."


class Taking(NamedTuple):
    """What the sentence of a feed says.

    Attributes:
        datum: id of one of the source, "" for none; into: whether its curves are traced into the open sketch.
    """

    things: tuple[Offer, ...] = ()
    datum: str = ""
    name: str = ""
    into: bool = False


class FeedCard(BlankCard):
    """Takes what is chosen in the second pane, or points one socket at it. Enter keeps, Esc leaves."""

    def __init__(self, parent: QWidget, desk: Desk, sketches: LayoutCanvas) -> None:
        super().__init__(parent, desk)
        self.sketches = sketches
        self.socket = ""
        self._said: tuple[str, Sentence | None] = ("", None)
        desk.beside.selection_changed.connect(self.refresh)
        desk.beside.changed.connect(self.refresh)

    def start(self, socket: str = "") -> None:
        """Open for a new feed, or to point a socket elsewhere; a driver is shown beside when none is."""
        desk = self.desk
        self.socket, self._said = socket, ("", None)
        if desk.beside.document is None or desk.beside.document_id == desk.main.document_id:
            desk.show_beside(likely_source(desk.family, desk.main.document_id))
        if desk.beside.document is None:
            desk.told.emit("There is nothing to take yet: draw something in a layout or another part first.", True)
            return
        self.show()
        self.raise_()
        self.refresh()
        self.setFocus()

    # --- the sentence ---------------------------------------------------------------------------------

    def _sentence(self) -> Sentence:
        """As it can be said of the source of now."""
        desk = self.desk
        if self.socket:
            return taking.POINTED
        datums = [(o.id, f"datum {o.name}") for o in desk.beside.build if isinstance(o, Datum)]
        own = desk.beside.document_id == desk.main.document_id
        sketch = self._sketch()
        return taking.feed((("", "no datum plane"), *datums), sketch.name if sketch is not None else "", own)

    def _sketch(self) -> Sketch | None:
        """The sketch that curves can be traced into."""
        main = self.desk.main
        return next((o for o in main.build if o.id == main.operation and isinstance(o, Sketch)), None)

    def _open(self, sentence: Sentence) -> None:
        self.begin(sentence.title)
        start = Taking(name=self._free_name())
        for blank in sentence.blanks:
            self.add_blank(start, blank, True)

    def _free_name(self) -> str:
        document, source = self.desk.main.document, self.desk.beside.document
        taken = [f.name for f in document.feeds.values()] if isinstance(document, Model) else []
        base = f"from {source.name}" if source else "feed"
        for number in range(1, 100):
            name = base if number == 1 else f"{base} {number}"
            try:
                return check_name(name, taken, "feed")
            except UserFault:
                continue
        return base

    def on_changed(self, field: str) -> None:
        """Say what would be taken."""
        self.refresh()

    def offers(self) -> list[Offer]:
        """What is chosen beside: curves, points of them, regions, planar faces, the sets of holes, a path, a datum."""
        shown = self.desk.beside
        sketch = self.sketches.sketch
        found = [Offer("curve", sketch.id, k) for k in shown.curves] if sketch is not None else []
        found += [Offer("region", shown.regions[0], k) for k in shown.regions[1]]
        for kind, body, label in shown.picks:
            mesh = shown.mesh(body)
            seen = picked.witness(mesh, kind, label) if mesh is not None else None
            if kind == "face" and seen is not None and seen.kind == "plane":
                found.append(Offer("face", body.body, label, seen))
                continue
            holes = holefacts.of_face(shown.subject, body, label) if kind == "face" else None
            if holes is not None and any(o.id == holes[0].operation for o in shown.build):
                found.append(Offer("holes", holes[0].operation))
        chosen = next((o for o in shown.build if o.id == shown.operation), None)
        if isinstance(chosen, BodyOperation) and chosen.draws:
            found.append(Offer("path", chosen.id))
        datum = self.blanks.get("datum")
        if isinstance(datum, ListField) and datum.list.currentData():
            found.append(Offer("plane", datum.list.currentData()))
        return list(dict.fromkeys(found))

    @property
    def untouched(self) -> bool:
        """Whether nothing is chosen beside."""
        return not self.offers()

    def refresh(self) -> None:
        """Say what would be taken."""
        desk = self.desk
        source, target = desk.beside.document, desk.main.document
        if not self.isVisible():
            return
        if source is None or target is None:
            self.leave()
            return
        said = (source.id, self._sentence())
        if said != self._said:
            self._said = said
            self._open(said[1])
        offers = self.offers()
        kinds = [taking.noun(o.takes, o.label) for o in offers]
        counts = {k: kinds.count(k) for k in ("curve", "point", "region", "face", "hole set", "plane")}
        told = ", ".join(counted(n, k) for k, n in counts.items() if n) or "nothing yet"
        things = self.blanks["things"]
        assert isinstance(things, OfferedField)
        things.hold(offers, f"{told} of {source.name}")
        if "into" in self.blanks:
            self.blanks["into"].show(counts["curve"] > 0)
        self.answers[1].setEnabled(bool(offers))
        self.say(HINT)

    # --- results --------------------------------------------------------------------------------------

    def keep(self) -> None:
        """Make the feed, or point the socket, as one undoable step."""
        desk = self.desk
        target, source, evaluation, document = desk.main.at, desk.beside.at, desk.evaluation, desk.main.document
        if target is None or source is None or evaluation is None or not isinstance(document, Model):
            return
        said = Taking(**self.read(desk.family, document))
        offers, into = list(said.things), ""
        if self.socket:
            if len(offers) != 1:
                self.say("Choose exactly one thing to point it at.", True)
                return
            done = desk.apply(
                "point a feed elsewhere",
                lambda f: feeding.point_at(f, evaluation, target.document, self.socket, source, offers[0]),
            )
        else:
            curves = any(o.takes == "curve" for o in offers)
            into = desk.main.operation if said.into and curves else ""
            done = desk.apply(
                f"take {counted(len(offers), 'thing')} {said.name}",
                lambda f: feeding.take(f, evaluation, target, source, offers, said.name, into),
            )
        if done:
            self.leave()
            made = getattr(desk.main.document, "feeds", {}).keys() - document.feeds.keys()
            if made and not into:
                desk.main.select(*made)  # what was taken is lit, and what is done next takes it

    def leave(self) -> None:
        """Close and let go of what was chosen beside."""
        self.hide()
        self.socket = ""
        shown = self.desk.beside
        shown.curves, shown.picks, shown.regions = [], [], ("", ())
        shown.selection_changed.emit()
