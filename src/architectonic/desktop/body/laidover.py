"""What is laid over the shown bodies: other alternates, seen through each other with a slider between them; and what an open
sentence shows in place of bodies."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QSlider

from architectonic.describe.results import Node
from architectonic.desktop.body.view import BodyView
from architectonic.family.scopes import Scope, alternate_name
from architectonic.propagate.targets import Look
from architectonic.render.camera import BodyMesh
from architectonic.render.pictures import Seen, alike, meshes_of

AT_FIRST = 25
"""Where the slider stands: the shown one whole, the others faint."""


LOOK = (
    "QSlider::groove:horizontal { height: 3px; background: #CFC8BA; border-radius: 1px; }"
    "QSlider::sub-page:horizontal { height: 3px; background: #8E2A6B; border-radius: 1px; }"
    "QSlider::handle:horizontal { width: 12px; height: 12px; margin: -6px 0; border-radius: 7px;"
    " background: #FDFCF9; border: 2px solid #8E2A6B; }"
)


class LaidOver:
    """What one canvas shows of other alternates.

    Attributes:
        alternates: ids of those that are laid over.
        meshes: their bodies, by alternate.
        instead: what stands in place of bodies: mesh, colour, opacity; covered: the bodies.
    """

    def __init__(self, canvas: BodyView) -> None:
        self.canvas = canvas
        self.alternates: list[str] = []
        self.meshes: dict[str, list[Seen]] = {}
        self.instead: list[tuple[BodyMesh, str, float]] = []
        self.covered: frozenset[str] = frozenset()
        self.slider = QSlider(Qt.Orientation.Horizontal, canvas)
        self.slider.setRange(0, 100)
        self.slider.setValue(AT_FIRST)
        self.slider.setFixedWidth(180)
        self.slider.setAccessibleName("between the shown alternate and those laid over it")
        self.slider.setToolTip("left: the shown alternate; right: those laid over it")
        self.slider.valueChanged.connect(lambda _: canvas.show_again())
        self.slider.setStyleSheet(LOOK)
        self.slider.hide()

    def lay(self, alternates: list[str]) -> None:
        """Lay these over; none for the shown one alone."""
        self.alternates = alternates
        self.refresh()
        self.canvas.show_again()

    def scopes(self) -> list[Scope]:
        """Those that are laid over the shown one."""
        at = self.canvas.shown.at
        known = [a.id for a in getattr(self.canvas.shown.document, "alternates", ())]
        wanted = [k for k in self.alternates if at is not None and k in known and k != at.alternate]
        return [at._replace(alternate=k) for k in wanted] if at is not None else []

    def refresh(self) -> bool:
        """Follow the evaluation; whether anything is another picture than before."""
        evaluation = self.canvas.shown.evaluation
        found = {s.alternate: meshes_of(evaluation, Look(s)) for s in self.scopes()} if evaluation is not None else {}
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
            seen = self.meshes.get(scope.alternate, [])
            if not seen:
                continue
            moved = [m for b, m, _ in seen if m.stands != here.get(b.path[0])] or [m for _, m, _ in seen]
            flat = self.canvas.to_screen(moved[-1].points)
            x, y = flat.mean(axis=0)
            name = alternate_name(evaluation.family, scope)
            at_ = QPointF(float(x) + 18, float(y) + 4)
            while any(abs(t.x() - at_.x()) < 90 and abs(t.y() - at_.y()) < 24 for t in taken):
                at_ += QPointF(0, 24)
            taken.append(at_)
            self.canvas.plate(p, at_, name)
