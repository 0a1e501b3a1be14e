"""What can be done with models: sketches, datums, feeds and operations, as actions over the desk."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any, Literal

from PyQt6.QtWidgets import QMenu

from architectonic.base.ids import new_id
from architectonic.describe.models.operations import SENTENCES
from architectonic.describe.results import SketchResult
from architectonic.describe.words.acting import Bodies, Does, OneBody
from architectonic.describe.words.candidates import planes
from architectonic.describe.words.spoken import Sentence, anywhere, outlined
from architectonic.desktop.commands.sketch import SketchCommands
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import asking
from architectonic.desktop.sentences import newdatums
from architectonic.desktop.sentences.card import SentenceCard
from architectonic.desktop.sentences.feedcard import FeedCard
from architectonic.desktop.sentences.tracecard import TraceCard
from architectonic.desktop.sketch.drawtools import DrawTools
from architectonic.family import edits, names
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.holes.hole import HolePlace
from architectonic.family.records import MATCH, AnyOperation, Datum, Model, Reference, Sketch, Trace
from architectonic.family.scopes import alternates, configurations
from architectonic.session.model import building


class ModelCommands:
    """Callbacks about the shown model; new operations go in at the marker."""

    def __init__(
        self,
        desk: Desk,
        prompt: Prompt,
        card: SentenceCard,
        feeds: FeedCard,
        traces: TraceCard,
        tools: DrawTools,
        open_sketch: Callable[[], object],
    ) -> None:
        self.desk, self.prompt, self.card, self.feeds, self.tools = desk, prompt, card, feeds, tools
        self.open_sketch = open_sketch
        self.traces = traces
        self._last = ""
        self.sketches = SketchCommands(desk, prompt, tools)

    def actions(self) -> list[Action]:
        """The actions that begin or change the sentence of an operation."""
        desk = self.desk

        return [
            *self.sketches.actions(),
            Action("sketch.new", "New sketch…", self.new_sketch, self._is_model, tells="Curves on a plane or on a flat face.", wants="wants a part or layout"),
            Action("datum.new", "Datum plane…", lambda: self.new_datum("Plane"), self._is_model, also=("reference plane", "work plane"), tells="A plane by what is chosen: faces, lines, points.", wants="wants a part or layout"),
            Action("datum.axis", "Datum axis…", lambda: self.new_datum("Axis"), self._is_model, tells="A line by planes, points, a round face.", wants="wants a part or layout"),
            Action("datum.point", "Datum point…", lambda: self.new_datum("Point"), self._is_model, tells="A place by what crosses or by coordinates.", wants="wants a part or layout"),
            Action("sketch.trace", "Trace…", self.trace, self._can_trace, also=("project", "convert", "include"), tells="Edges, outlines or sections of others, which lead.", wants="wants a sketch"),
            Action("sketch.own", "Make the chosen traced curves own", self.make_own, lambda: bool(self._traced()), short="Make own", tells="Chosen traced curves follow nothing any more.", wants="wants traced curves"),
            Action("feed.new", "Take from…", self.feeds.start, self._is_model, also=("derive", "reference", "link"), tells="Planes, curves, regions, bodies of another document.", wants="wants a part or layout"),
            Action("feed.show", "Show where it comes from", self.show_source, self._has_feed, tells="Its source, beside this document.", wants="wants a chosen feed"),
            *(self._making(kind, sentence) for kind, (_, sentence) in SENTENCES.items()),
            Action("operation.again", "The kind of operation used last, again…", self.again, lambda: bool(self._last) and isinstance(self.desk.main.document, Model), keys="Ctrl+R", short="Again…", tells="A new sentence of the kind used last.", wants="wants one that was used"),
            Action("operation.edit", "Edit this operation…", self.edit_operation, lambda: self._chosen() is not None, short="Edit…", tells="Opens the sentence of the chosen row.", wants="wants a chosen row"),
            Action("operation.until", "Up to here", self.up_to_here, lambda: desk.main.operation in {o.id for o in desk.main.build}, also=("roll back", "history"), tells="Shows the part as it is after the chosen row.", wants="wants a chosen row"),
            Action("operation.rename", "Rename this operation…", self.rename_operation, lambda: bool(desk.main.operation), short="Rename…", tells="A name of your own for the chosen row.", wants="wants a chosen row"),
        ]  # fmt: skip

    # --- feeds ----------------------------------------------------------------------------------------

    def _has_feed(self) -> bool:
        return self.desk.main.operation in getattr(self.desk.main.document, "feeds", {})

    def add_sizes(self, menu: QMenu, feed: str) -> None:
        """Which configuration of its source a feed takes."""
        document, desk = self.desk.main.document, self.desk
        assert isinstance(document, Model)
        sockets = list(document.feeds[feed].sockets.values())
        source = desk.family.documents.get(sockets[0].source.of) if sockets else None
        if source is None:
            return
        now = sockets[0].source
        inner = menu.addMenu("Takes the size")
        assert inner is not None

        def taking(rule: str, word: str) -> Callable[[], object]:
            key = document.id
            return lambda: desk.apply(f"{word} taken", lambda f: edits.take_configuration(f, key, feed, rule))

        def taking_alternate(alternate: str, word: str) -> Callable[[], object]:
            key = document.id
            return lambda: desk.apply(f"{word} taken", lambda f: edits.take_alternate(f, key, feed, alternate))

        for rule, word in (
            (MATCH, "that matches"),
            *((r, f"always {n}") for r, n in configurations(desk.family, source)),
        ):
            entry = inner.addAction(word)
            assert entry is not None
            entry.setCheckable(True)
            entry.setChecked(now.chosen is None and now.configuration == rule)
            entry.triggered.connect(taking(rule, word))
        entry = inner.addAction("that an expression names…")
        assert entry is not None
        entry.setCheckable(True)
        entry.setChecked(now.chosen is not None)
        entry.triggered.connect(lambda _=False: self.choose_size(feed))
        rows = alternates(source)
        others = menu.addMenu("Takes the alternate") if rows else None
        for word, alternate in [("its first", ""), *((a.name, a.id) for a in rows)] if others is not None else ():
            assert others is not None
            entry = others.addAction(word)
            assert entry is not None
            entry.setCheckable(True)
            entry.setChecked(now.alternate == alternate)
            entry.triggered.connect(taking_alternate(alternate, word))

    def choose_size(self, feed: str) -> None:
        """Ask for the expression that names the configuration a feed takes."""
        document = self.desk.main.document
        assert isinstance(document, Model)
        chosen = next((s.source.chosen for s in document.feeds[feed].sockets.values() if s.source.chosen), None)
        source = self.desk.family.documents[next(iter(document.feeds[feed].sockets.values())).source.of]
        rows = [name for _, name in configurations(self.desk.family, source)]
        text = names.shown_text(self.desk.family, document, chosen) if chosen else rows[0]
        key = document.id
        self.prompt.ask(
            f"{document.feeds[feed].name} takes the size",
            [("that this names", asking(text, self.desk.main))],
            lambda typed: self.desk.apply(
                f"size by {typed}", lambda f: edits.take_configuration(f, key, feed, MATCH, typed)
            ),
        )

    def show_source(self) -> None:
        """Show the source of the chosen feed beside."""
        feed = getattr(self.desk.main.document, "feeds", {}).get(self.desk.main.operation)
        for socket in feed.sockets.values() if feed else ():
            self.desk.show_beside(socket.source.of, socket.source.item)
            return

    # --- sketches -------------------------------------------------------------------------------------

    def _is_model(self) -> bool:
        return isinstance(self.desk.main.document, Model)

    def new_sketch(self) -> None:
        """Ask for a name and a plane: a standard one, a datum, a fed plane or the picked face."""
        choices = dict(planes(self.desk.main.subject))
        order = list(choices)
        order.sort(key=lambda n: (n != "the picked face", n != "top"))  # what was picked is what is meant

        def done(name: str, plane: str) -> bool:
            along: Literal["x", "y"] = "y" if plane == "right" else "x"
            made = Sketch(id=new_id(), name=name, plane=choices[plane], along=along)
            if not self._add(f"new sketch {name}", made):
                return False
            self.open_sketch()
            if not self.tools.tool:
                self.tools.start("line")
            return True

        number = 1 + sum(isinstance(o, Sketch) for o in self.desk.main.build)
        self.prompt.ask(
            "New sketch", [("name", f"Outline {number}" if number > 1 else "Outline"), ("on the plane", order)], done
        )

    def _can_trace(self) -> bool:
        return self.tools.canvas.sketch is not None and self.tools.canvas.isVisible()

    def trace(self) -> None:
        """Offer what can be traced into the shown sketch."""
        self.tools.stop()
        self.traces.start()

    def _traced(self) -> list[str]:
        sketch = self.tools.canvas.sketch
        chosen = self.desk.main.curves if sketch is not None else []
        return [k for k in chosen if sketch is not None and isinstance(sketch.curves.get(k), Trace)]

    def make_own(self) -> None:
        """Chosen traced curves follow nothing any more."""
        self.traces.make_own(self._traced())

    def new_datum(self, gives: str) -> None:
        """Open the sentence of a datum that fits what is chosen."""
        newdatums.begin(self.card, gives)

    def _add(self, label: str, operation: AnyOperation) -> bool:
        """Put an operation in at the marker and choose it."""
        main = self.desk.main
        key, before = main.document_id, main.after_marker
        ok = self.desk.apply(label, lambda f: edits.add_operation(f, key, operation, before))
        if ok:
            if main.until:
                main.until = operation.id
            main.operation, main.curves, main.picks = operation.id, [], []
            main.selection_changed.emit()
        return ok

    def up_to_here(self) -> None:
        """Put the marker after the chosen operation; again to show everything."""
        main = self.desk.main
        main.show_until("" if main.until == main.operation else main.operation)

    def _making(self, kind: str, sentence: Sentence) -> Action:
        """The action that opens a new sentence of a kind."""

        def can() -> bool:
            document = self.desk.main.document
            if not isinstance(document, Model) or not document.holds_bodies:
                return False
            return bool(document.bodies or document.makes_bodies) and sentence.needs(document)

        short, title = f"{sentence.short or sentence.title}…", f"{sentence.title}…"
        return Action(
            f"operation.{kind}",
            title,
            partial(self.make, kind),
            can,
            short=short,
            also=sentence.also,
            tells=outlined(sentence),
            wants=f"wants {sentence.wants}" if sentence.needs is not anywhere else "wants a part",
        )

    def _picked(self) -> dict[str, Any]:
        """What is chosen, by the blanks that it fills."""
        main = self.desk.main
        faces, edges = main.subject.picked("face"), main.subject.picked("edge")
        sketch, labels = main.regions
        regions = [Reference(item=sketch, label=label) for label in labels]
        feed = getattr(main.document, "feeds", {}).get(main.operation)
        sockets = feed.sockets if feed is not None else {}
        fed = [Reference(item=k) for k, s in sockets.items() if s.takes == "region"]
        flat = [f for f in faces if f.witness is not None and f.witness.kind == "plane"]
        found = {
            "regions": tuple(regions or fed or flat or self._only_region()),
            "faces": tuple(faces),
            "edges": tuple(edges),
            "path": tuple(edges),
            "places": tuple(HolePlace(at=Reference(item=k)) for k, s in sockets.items() if s.takes == "holes"),
        }
        chosen: dict[str, Any] = {k: v for k, v in found.items() if v}
        bodies = dict.fromkeys(r.item for r in (*faces, *edges))
        return {**chosen, "acts_on": tuple(bodies)} if bodies else chosen

    def _only_region(self) -> list[Reference]:
        """The region of the chosen sketch, when it has just one and so nothing to choose."""
        main = self.desk.main
        solved = main.value("solve", main.operation) if main.operation else None
        regions = solved.regions if isinstance(solved, SketchResult) else ()
        return [Reference(item=main.operation, label=r.label) for r in regions] if len(regions) == 1 else []

    def make(self, kind: str, more: dict[str, Any] | None = None) -> None:
        """Open the sentence of a new operation; what is chosen fills its blanks."""
        document = self.desk.main.document
        assert isinstance(document, Model)
        self._last = kind
        chosen = {**self._picked(), **(more or {})}
        held = next((b for b in SENTENCES[kind][1].blanks if b.field == "acts_on"), None)
        if not isinstance(held, Bodies) or isinstance(held, (Does, OneBody)):
            chosen.pop("acts_on", None)
        self.card.start(building.new(kind, document, chosen), True)

    def _chosen(self) -> BodyOperation | Datum | None:
        """The chosen operation, if it has a sentence to edit."""
        for o in self.desk.main.build:
            if o.id == self.desk.main.operation and isinstance(o, (BodyOperation, Datum)):
                return o
        return None

    def again(self) -> None:
        """Open a new sentence of the kind that was used last."""
        self.make(self._last)

    def edit_operation(self) -> None:
        """Open the sentence of the chosen operation."""
        record = self._chosen()
        if record is not None:
            self.card.start(record, False)

    def rename_operation(self) -> None:
        """Ask for the new name."""
        document, item = self.desk.main.document_id, self.desk.main.operation
        old = getattr(self._item(), "name", "")
        self.prompt.ask(
            f"Rename {old}",
            [("name", old)],
            lambda name: self.desk.apply(f"{old} is now {name}", lambda f: edits.rename_item(f, document, item, name)),
        )

    def _item(self) -> object:
        """The chosen operation, instance or feed."""
        document, item = self.desk.main.document, self.desk.main.operation
        entries = [getattr(document, field, ()) for field in ("build", "instances", "bonds", "measurements")]
        return next((e for field in entries for e in field if e.id == item), getattr(document, "feeds", {}).get(item))
