"""Tracing in a sketch: everything visible is offered on its plane; what is clicked is brought in, with an offset at once."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLabel, QWidget

from architectonic.base.errors import UserFault
from architectonic.base.labels import pair
from architectonic.desktop.body.space import away
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.cards import WrappedCard
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import NameField
from architectonic.desktop.sketch.canvas import LayoutCanvas
from architectonic.family.names import identifier, offered
from architectonic.family.references import After
from architectonic.family.scopes import InPlace
from architectonic.propagate.targets import Look
from architectonic.render.camera import BodyMesh
from architectonic.session.feeds import traceable, tracing
from architectonic.session.feeds.traceable import How, Traceable
from architectonic.session.feeds.tracing import Wish

NEAR = 8.0
ALONE, ONWARDS, OUTLINE = "this alone", "all that goes on smoothly", "the whole outline of its face"
HOWS: dict[str, How] = {
    "as it is seen": "projected",
    "where it crosses": "crossing",
    "the section of its body": "section",
}


class TraceCard(WrappedCard):
    """What is traced, how, and how far away. While it is open the sketch canvas offers what can be brought in."""

    def __init__(self, parent: QWidget, desk: Desk, canvas: LayoutCanvas) -> None:
        super().__init__(parent, 860)
        self.desk, self.canvas = desk, canvas
        canvas.tracing = self
        self.things: list[Traceable] = []
        self.over: list[int] = []
        self.deep = 0
        self.chosen: list[int] = []
        self.title = QLabel()
        self.title.setStyleSheet("font-size: 14px; font-weight: 600;")
        self.how = self._combo(list(HOWS), "how it is traced")
        self.reach = self._combo([ALONE, ONWARDS, OUTLINE], "how much of it")
        self.stage = self._combo([], "the stage it is taken at")
        self.offset = NameField("", parent, self._names, lambda _: "")
        self.offset.setPlaceholderText("none, or wall + 0.5 mm")
        self.offset.setMinimumWidth(150)
        self.offset.setAccessibleName("offset of what is traced")
        self.side = self._combo(["inside", "outside"], "to which side it is offset")
        self.own = QCheckBox("as own curves")
        self.taken = QLabel("taken")
        self.taken.setObjectName("soft")
        offset = QLabel("offset by")
        offset.setObjectName("soft")
        for widget in (
            self.title,
            self.how,
            self.reach,
            self.taken,
            self.stage,
            offset,
            self.offset,
            self.side,
            self.own,
        ):
            self.line.addWidget(widget)
        desk.evaluated.connect(self.refresh)

    def _combo(self, words: list[str], name: str) -> QComboBox:
        made = QComboBox()
        made.addItems(words)
        made.setAccessibleName(name)
        made.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        made.currentIndexChanged.connect(lambda _: self._say())
        return made

    def _names(self) -> list[str]:
        document, sketch = self.desk.main.document, self.canvas.sketch
        return offered(self.desk.family, document, sketch) if document is not None else []

    def start(self) -> None:
        """Offer what can be traced into the shown sketch."""
        self.chosen, self.over, self.deep = [], [], 0
        self.offset.setText("")
        self.show()
        self.raise_()
        self.refresh()
        self.canvas.setFocus()

    @property
    def active(self) -> bool:
        """Whether something is being traced."""
        return self.isVisible()

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
        self._fill_stages(others)
        self._say()
        self.canvas.update()

    def _key(self, t: Traceable) -> tuple[object, ...]:
        return t.at, t.takes, t.item, t.label, t.how

    def _fill_stages(self, others: list[Look]) -> None:
        """Stages of the other documents that have any: finished, or as after one of their operations."""
        shown = self.stage.currentData()
        self.stage.blockSignals(True)
        self.stage.clear()
        self.stage.addItem("finished", "finished")
        for key in dict.fromkeys(look.at.document for look in others):
            document = self.desk.family.documents[key]
            for o in getattr(document, "build", ()):
                if hasattr(o, "does") or hasattr(o, "edges"):
                    self.stage.addItem(f"as after {o.name} of {document.name}", After(after=o.id))
        same = (i for i in range(self.stage.count()) if self.stage.itemData(i) == shown)
        self.stage.setCurrentIndex(next(same, 0))
        self.stage.blockSignals(False)

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
        return self.desk.main.mesh(InPlace((), t.at, t.item))

    def _group(self, k: int) -> list[int]:
        """A thing with all that is meant with it."""
        thing = self.things[k]
        mesh = self._mesh(thing) if thing.takes == "edge" else None
        if mesh is None or self.reach.currentText() == ALONE:
            return [k]
        if self.reach.currentText() == ONWARDS:
            labels = traceable.chain(mesh, thing.label)
        else:
            labels = traceable.outline(mesh, self._facing(mesh, thing.label))
        same = {
            t.label: n for n, t in enumerate(self.things) if (t.at, t.item, t.takes) == (thing.at, thing.item, "edge")
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
        name = sketch.name if sketch is not None else ""
        count = len(self.chosen)
        self.title.setText(
            f"Trace {count or 'nothing yet'}{'' if not count else ' thing' if count == 1 else ' things'} into {name}"
        )
        section = self.how.currentText() == "the section of its body"
        self.reach.setEnabled(not section)
        fed = any(self.things[k].at != self.desk.main.at for k in self.chosen)
        for widget in (self.taken, self.stage):
            widget.setVisible(fed and self.stage.count() > 1)
        text = told or "Click edges, curves and points; [ and ] step to what lies behind. B hides what stands around."
        if not self.things and not told:
            text = (
                "Nothing else is visible yet: open a document beside this one, or place the sketch after some geometry."
            )
        self.say(text, bad)

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

    def wish(self) -> Wish:
        """How things are traced, as the card says."""
        return Wish(
            how=HOWS[self.how.currentText()],
            own=self.own.isChecked(),
            offset=self.offset.text().strip(),
            side=1 if self.side.currentText() == "inside" else -1,
            stage=self.stage.currentData() or "finished",
            among=self.desk.main.context,
        )

    def keep(self) -> None:
        """Trace, as one undoable step; what cannot be is told and the card stays."""
        sketch, at, evaluation = self.canvas.sketch, self.desk.main.at, self.desk.evaluation
        if sketch is None or at is None or evaluation is None:
            return
        things, wish = [self.things[k] for k in self.chosen], self.wish()
        count = f"{len(things)} thing{'s' if len(things) != 1 else ''}"
        done = self.desk.apply(
            f"trace {count} into {sketch.name}",
            lambda f: tracing.trace(f, at, sketch.id, things, wish),
        )
        if done:
            self.leave()
        else:
            self._say(self.desk.refusal, True)

    def leave(self) -> None:
        """Close; nothing is offered any more."""
        self.hide()
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
