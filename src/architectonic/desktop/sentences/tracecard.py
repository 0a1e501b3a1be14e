"""Tracing in a sketch: everything visible is offered on its plane; what is clicked is brought in, with an offset at once."""

from __future__ import annotations

from typing import Any, Literal, NamedTuple

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from architectonic.base.errors import UserFault
from architectonic.base.labels import pair
from architectonic.describe.words import taking
from architectonic.describe.words.blanks import counted
from architectonic.describe.words.spoken import Sentence
from architectonic.desktop.body.space import away
from architectonic.desktop.kit import theme
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sentences.blankcard import BlankCard
from architectonic.desktop.sentences.blanks.fields import FlagField, ListField
from architectonic.desktop.sentences.blanks.picks import OfferedField
from architectonic.desktop.sketch.canvas import LayoutCanvas
from architectonic.family.names import identifier
from architectonic.family.records import Family, Model
from architectonic.family.references import After, Stage
from architectonic.family.scopes import InPlace
from architectonic.propagate.targets import Look
from architectonic.render.camera import BodyMesh
from architectonic.session.feeds import traceable, tracing
from architectonic.session.feeds.sources import likely_source
from architectonic.session.feeds.traceable import How, Traceable
from architectonic.session.feeds.tracing import Wish

NEAR = 8.0
HINT = "Click edges, curves and points; [ and ] step to what lies behind. B hides what stands around."
EMPTY = "Nothing else is visible yet: show another document beside, or put the sketch after some geometry."


class Tracing(NamedTuple):
    """What the sentence of a trace says; see `Wish`.

    Attributes:
        reach: how much a click takes; stage: id of the operation that things of others are taken after, "" for finished.
    """

    things: tuple[Traceable, ...] = ()
    how: How = "projected"
    reach: str = taking.ALONE
    stage: str = ""
    offset: str = ""
    side: Literal["inside", "outside"] = "inside"
    helper: bool = True
    own: bool = False


class TraceCard(BlankCard):
    """What is traced, how, and how far away. While it is open the sketch canvas offers what can be brought in."""

    def __init__(self, parent: QWidget, desk: Desk, canvas: LayoutCanvas) -> None:
        super().__init__(parent, desk)
        self.canvas = canvas
        canvas.tracing = self
        self.things: list[Traceable] = []
        self.over: list[int] = []
        self.deep = 0
        self.chosen: list[int] = []
        self._said: Sentence | None = None
        self._stages: dict[str, Stage] = {}
        self._busy = False
        desk.evaluated.connect(self.refresh)

    def start(self) -> None:
        """Offer what can be traced into the shown sketch."""
        self.chosen, self.over, self.deep, self._said = [], [], 0, None
        self.show()
        self.raise_()
        self.refresh()
        if not self.things and self.desk.beside.document is None and not self.desk.main.behind():
            self.desk.show_beside(likely_source(self.desk.family, self.desk.main.document_id))
        self.canvas.setFocus()

    @property
    def active(self) -> bool:
        """Whether something is being traced."""
        return self.isVisible()

    @property
    def untouched(self) -> bool:
        """Whether nothing is chosen."""
        return not self.chosen

    def refresh(self) -> None:
        """Follow the evaluation; what is chosen stays chosen while it is offered."""
        sketch, at, evaluation = self.canvas.sketch, self.desk.main.at, self.desk.evaluation
        if not self.isVisible() or sketch is None or at is None or evaluation is None:
            return
        kept = [self._key(self.things[k]) for k in self.chosen]
        main, beside = self.desk.main, self.desk.beside
        others = main.behind()
        if beside.look is not None and beside.document_id != main.document_id and beside.look not in others:
            others.append(beside.look)
        others = [k for k in others if k.at != at]
        self.things = traceable.offered(self.desk.family, evaluation, at, sketch.id, others, main.until)
        self.chosen = [k for k, t in enumerate(self.things) if self._key(t) in kept]
        self.over = []
        self._open(others)
        self._say()
        self.canvas.update()

    def _key(self, t: Traceable) -> tuple[object, ...]:
        return t.at, t.takes, t.item, t.label, t.how

    def _open(self, others: list[Look]) -> None:
        """The sentence; where there are other stages to take from than before, with those."""
        self._stages, told = {"": "finished"}, [("", "finished")]
        for key in dict.fromkeys(look.at.document for look in others):
            document = self.desk.family.documents[key]
            for o in getattr(document, "build", ()):
                if hasattr(o, "does") or hasattr(o, "edges"):
                    self._stages[o.id] = After(after=o.id)
                    told.append((o.id, f"as after {o.name} of {document.name}"))
        said = taking.trace(tuple(told))
        if said == self._said:
            return
        kept = self._kept()
        self._said = said
        self.begin(said.title)
        start = Tracing()._replace(**{k: v for k, v in kept.items() if k != "stage" or v in self._stages})
        for blank in said.blanks:
            self.add_blank(start, blank, True)

    def _kept(self) -> dict[str, Any]:
        """What the sentence says that can be used; nothing before it was opened."""
        document = self.desk.main.document
        kept: dict[str, Any] = {}
        if self._said is None or not isinstance(document, Model):
            return kept
        for field, held in self.blanks.items():
            try:
                kept[field] = held.read(self.desk.family, document)[field]
            except UserFault:
                continue
        return kept

    def _wished(self) -> dict[str, Any]:
        """What the sentence says now, by blank."""
        assert isinstance(self.desk.main.document, Model)
        return self.read(self.desk.family, self.desk.main.document)

    def _word(self, field: str) -> str:
        """What a list of the sentence stands on."""
        held = self.blanks[field]
        assert isinstance(held, ListField)
        return str(held.list.currentData())

    def on_changed(self, field: str) -> None:
        """Say what a click would take now; a whole outline is taken to be filled, until a person says otherwise."""
        helper = self.blanks["helper"]
        if field == "reach" and isinstance(helper, FlagField) and not helper.by_hand:
            outlined = self._word("reach") in (taking.LOOP, taking.OUTLINE)
            if helper.button.isChecked() == outlined:
                helper.turn(by_hand=False)
        self._say()

    # --- choosing -------------------------------------------------------------------------------------

    def hover(self, q: QPointF) -> None:
        """Find everything under the pointer, the nearest first; of equals what lies in front."""
        found = []
        for k, t in enumerate(self.things):
            flat = np.array([[p.x(), p.y()] for p in map(self.canvas.to_screen, map(tuple, t.points.tolist()))])
            gap = away(flat, q)
            limit = NEAR + 3 if len(t.points) == 1 else NEAR
            if gap < limit:
                found.append((round(gap / 3) + (0 if len(t.points) == 1 else 1), -t.depth, k))
        order = [k for _, _, k in sorted(found)]
        if order != self.over:
            self.over, self.deep = order, 0
            self._say(self._words(self.things[order[0]]) if order else "")
            self.canvas.update()

    def step(self, by: int) -> None:
        """Through what lies behind."""
        if self.over:
            self.deep = (self.deep + by) % len(self.over)
            self._say(self._words(self.things[self.over[self.deep]]))
            self.canvas.update()

    def click(self, _: QPointF) -> None:
        """Choose what is under the pointer, as far as it is meant; again to let it go."""
        if not self.over:
            return
        group = self._group(self.over[self.deep])
        if all(k in self.chosen for k in group):
            self.chosen = [k for k in self.chosen if k not in group]
        else:
            self.chosen += [k for k in group if k not in self.chosen]
        self._say()
        self.canvas.update()

    def _mesh(self, t: Traceable) -> BodyMesh | None:
        return self.desk.main.mesh(InPlace(t.path, t.at, t.item))

    def _group(self, k: int) -> list[int]:
        """A thing with all that is meant with it."""
        thing = self.things[k]
        mesh = self._mesh(thing) if thing.takes == "edge" else None
        if mesh is None or self._word("reach") == taking.ALONE:
            return [k]
        if self._word("reach") == taking.ONWARDS:
            labels = traceable.chain(mesh, thing.label)
        elif self._word("reach") == taking.LOOP:
            labels = traceable.loop(mesh, self._facing(mesh, thing.label), thing.label)
        else:
            labels = traceable.outline(mesh, self._facing(mesh, thing.label))
        same = {
            t.label: n
            for n, t in enumerate(self.things)
            if (t.at, t.path, t.item, t.takes) == (thing.at, thing.path, thing.item, "edge")
        }
        return [same[label] for label in labels if label in same]

    def _facing(self, mesh: BodyMesh, edge: str) -> str:
        """Of the faces around an edge the one that is seen most square on."""
        frame = self.desk.main.value("frame", self.canvas.sketch.id if self.canvas.sketch else "")
        best, most = "", -1.0
        for face in pair(edge):
            k = mesh.faces.index(face) if face in mesh.faces else -1
            plane = mesh.planes[k] if k >= 0 else None
            seen = abs(float(np.dot(plane[1], frame.normal))) if plane and frame is not None else 0.0
            if seen > most:
                best, most = face, seen
        return best

    # --- words and picture ----------------------------------------------------------------------------

    def _say(self, told: str = "", bad: bool = False) -> None:
        sketch = self.canvas.sketch
        count = len(self.chosen)
        things = self.blanks["things"]
        assert isinstance(things, OfferedField)
        each = f"{count or 'nothing yet'}{'' if not count else ' thing' if count == 1 else ' things'}"
        things.hold([self.things[k] for k in self.chosen], f"{each} into {sketch.name if sketch is not None else ''}")
        cut, offset = self._word("how") == "section", self.blanks["offset"].said
        self.blanks["reach"].show(not cut)
        self.blanks["side"].show(bool(offset))
        self.blanks["helper"].show(not cut and not offset)
        fed = any(self.things[k].at != self.desk.main.at for k in self.chosen)
        self.blanks["stage"].show(fed and len(self._stages) > 1)
        self.say(told or (HINT if self.things else EMPTY), bad)

    def paint(self, p: QPainter) -> None:
        """Everything on offer, faint; what is chosen and what a click would take, in plum; a name for the latter."""
        to = self.canvas.to_screen
        under = set(self._group(self.over[self.deep])) if self.over else set()
        p.setBrush(Qt.BrushStyle.NoBrush)
        for k, t in enumerate(self.things):
            chosen, hovered = k in self.chosen, k in under
            colour = (
                theme.colour(theme.PLUM, 1.0 if chosen else 0.5)
                if chosen or hovered
                else theme.colour(theme.MOSS, 0.45)
            )
            p.setPen(QPen(colour, 3 if chosen else 4 if hovered else 1))
            points = [to((float(x), float(y))) for x, y in t.points]
            if len(points) == 1:
                p.drawEllipse(points[0], 4, 4)
            else:
                p.drawPolyline(QPolygonF(points))

    def _words(self, t: Traceable) -> str:
        """What a click would take, and where it lies."""
        where = (
            "" if abs(t.depth) < 1e-6 else f", {abs(t.depth):.1f} mm {'before' if t.depth > 0 else 'behind'} the plane"
        )
        more = f"   {self.deep + 1} of {len(self.over)} here" if len(self.over) > 1 else ""
        return f"{t.words[0].upper()}{t.words[1:]}{where}{more}"

    # --- outcome --------------------------------------------------------------------------------------

    def keep(self) -> None:
        """Trace, as one undoable step; what has to be looked at in geometry for it is looked at beside the event loop."""
        desk, sketch, at = self.desk, self.canvas.sketch, self.desk.main.at
        if sketch is None or at is None or desk.evaluation is None or self._busy:
            return
        try:
            said = Tracing(**self._wished())
        except UserFault as fault:
            self._say(fault.sentence, True)
            return
        wish = Wish(
            said.how,
            said.own,
            said.helper,
            said.offset,
            said.side,
            self._stages[said.stage],
            alternate=desk.alternates.get(desk.main.context, ""),
        )
        count = counted(len(said.things), "thing")

        def traced(family: Family) -> Family:
            return tracing.trace(family, at, sketch.id, list(said.things), wish)

        self._busy = True
        self._say("Tracing …")
        desk.apply_aside(f"trace {count} into {sketch.name}", traced, self._on_kept)

    def _on_kept(self, done: bool) -> None:
        self._busy = False
        if done:
            self.leave()
        elif self.isVisible():
            self._say(self.desk.refusal, True)

    def leave(self) -> None:
        """Close; nothing is offered any more, and what is still being traced is let go."""
        self.hide()
        if self._busy:
            self.desk.work.cancel()
        self.things, self.chosen, self.over = [], [], []
        self.canvas.update()

    def make_own(self, keys: list[str]) -> bool:
        """Chosen traced curves become drawn ones, where they stand."""
        sketch, at, solved = self.canvas.sketch, self.desk.main.at, self.canvas.solved
        if sketch is None or at is None or solved is None:
            raise UserFault("there is no sketch to work on", "")
        return self.desk.apply(
            f"make {identifier(sketch.name)} own", lambda f: tracing.make_own(f, at, sketch.id, keys, solved)
        )
