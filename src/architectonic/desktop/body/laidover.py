"""What is laid over the shown bodies: other configurations or alternates, seen through each other with a slider between them; and what an open
sentence shows in place of bodies."""

from __future__ import annotations

from typing import Any, NamedTuple

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QSlider

from architectonic.check.attention import scope_name
from architectonic.describe.results import Node, Outcome
from architectonic.desktop.body.view import BodyView
from architectonic.family.scopes import Scope, scopes_of
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.targets import Look
from architectonic.render.camera import BodyMesh
from architectonic.render.pictures import Seen, alike, bodies_of, meshes_of

AT_FIRST = 25
"""Where the slider stands: the shown one whole, the others faint."""


LOOK = (
    "QSlider::groove:horizontal { height: 3px; background: #CFC8BA; border-radius: 1px; }"
    "QSlider::sub-page:horizontal { height: 3px; background: #8E2A6B; border-radius: 1px; }"
    "QSlider::handle:horizontal { width: 12px; height: 12px; margin: -6px 0; border-radius: 7px;"
    " background: #FDFCF9; border: 2px solid #8E2A6B; }"
)


class Other(NamedTuple):
    """Another state of the shown document: its configuration and alternate, "" for the one that is shown."""

    configuration: str = ""
    alternate: str = ""


class BesideEvaluation:
    """An evaluation with what was asked for beside it."""

    def __init__(self, evaluation: Evaluation, found: dict[Node, Outcome]) -> None:
        self.family, self._evaluation, self._found = evaluation.family, evaluation, found

    def value(self, node: Node) -> Any:
        """The value of a node; None where it has none, or is not known."""
        outcome = self._found.get(node)
        return self._evaluation.value(node) if outcome is None else outcome.value


class LaidOver:
    """What one canvas shows of other states of its document.

    Attributes:
        others: those that are laid over; of: the document that they are of.
        meshes: their bodies, by scope.
        instead: what stands in place of bodies: mesh, colour, opacity; covered: the bodies.
    """

    def __init__(self, canvas: BodyView) -> None:
        self.canvas = canvas
        self.others: list[Other] = []
        self.of = ""
        self.meshes: dict[Scope, list[Seen]] = {}
        self.instead: list[tuple[BodyMesh, str, float]] = []
        self.covered: frozenset[str] = frozenset()
        self.slider = QSlider(Qt.Orientation.Horizontal, canvas)
        self.slider.setRange(0, 100)
        self.slider.setValue(AT_FIRST)
        self.slider.setFixedWidth(180)
        self.slider.setAccessibleName("between the shown one and those laid over it")
        self.slider.setToolTip("left: the shown one; right: those laid over it")
        self.slider.valueChanged.connect(lambda _: canvas.show_again())
        self.slider.setStyleSheet(LOOK)
        self.slider.hide()
        canvas.desk.answered.connect(self._on_answered)

    def lay(self, others: list[Other]) -> None:
        """Lay these over; none for the shown one alone."""
        self.others, self.of = others, self.canvas.shown.document_id
        self.refresh()
        self.canvas.show_again()

    def _on_answered(self) -> None:
        if self.others and self.refresh():
            self.canvas.show_again()

    def scopes(self) -> list[Scope]:
        """Those that are laid over the shown one."""
        at, document = self.canvas.shown.at, self.canvas.shown.document
        if at is None or document is None or document.id != self.of:
            return []
        known = scopes_of(self.canvas.desk.family, document)
        wanted = (
            Scope(at.document, o.configuration or at.configuration, o.alternate or at.alternate) for o in self.others
        )
        return [s for s in dict.fromkeys(wanted) if s != at and s in known]

    def refresh(self) -> bool:
        """Follow the evaluation; whether anything is another picture than before."""
        evaluation = self.canvas.shown.evaluation
        found: dict[Scope, list[Seen]] = {}
        for s in self.scopes() if evaluation is not None else ():
            assert evaluation is not None
            wanted = [b.node("mesh") for b in bodies_of(evaluation, Look(s))]
            missing = [n for n in wanted if n not in evaluation.outcomes]
            answers = self.canvas.desk.answers(missing, evaluation.family) if missing else {}
            found[s] = meshes_of(BesideEvaluation(evaluation, answers), Look(s))
        same = found.keys() == self.meshes.keys() and all(alike(found[k], self.meshes[k]) for k in found)
        self.meshes = found
        self.slider.setVisible(bool(found))
        self.slider.move(self.canvas.width() - 200, 10)
        return not same

    @property
    def share(self) -> float:
        """How opaque the shown one is."""
        return min(1.0, 2.0 - self.slider.value() / 50) if self.meshes else 1.0

    def bodies(self) -> list[tuple[BodyMesh, str, float]]:
        """Mesh, colour and opacity of what is laid over."""
        share = max(0.08, min(1.0, self.slider.value() / 50))
        over = [(m, colour, share) for seen in self.meshes.values() for _, m, colour in seen]
        return [*over, *self.instead]

    def uncovered(self, seen: list[Seen]) -> list[Seen]:
        """Those of some bodies that nothing stands in for."""
        return [s for s in seen if s[0].path or s[0].body not in self.covered]

    def stand_in(self, covered: frozenset[str], instead: list[tuple[BodyMesh, str, float]]) -> None:
        """Show something in place of bodies of the document; nothing for nothing."""
        same = covered == self.covered and len(instead) == len(self.instead)
        if same and all(a[0] is b[0] and a[1:] == b[1:] for a, b in zip(instead, self.instead, strict=True)):
            return
        self.covered, self.instead = covered, instead
        self.canvas.show_again()

    def paint(self, p: QPainter) -> None:
        """The names of what is laid over, each at the body that lies farthest from where it is shown."""
        evaluation, at = self.canvas.shown.evaluation, self.canvas.shown.at
        if evaluation is None or at is None:
            return
        here = {x.instance: x.placement for x in evaluation.value(Node("assembly", at, "")) or ()}
        taken: list[QPointF] = []
        for scope in self.scopes():
            seen = self.meshes.get(scope, [])
            if not seen:
                continue
            moved = [m for b, m, _ in seen if b.path and m.stands != here.get(b.path[0])] or [m for _, m, _ in seen]
            flat = self.canvas.to_screen(moved[-1].points)
            x, y = flat.mean(axis=0)
            name = scope_name(evaluation.family, scope)
            at_ = QPointF(float(x) + 18, float(y) + 4)
            while any(abs(t.x() - at_.x()) < 90 and abs(t.y() - at_.y()) < 24 for t in taken):
                at_ += QPointF(0, 24)
            taken.append(at_)
            self.canvas.plate(p, at_, name)
