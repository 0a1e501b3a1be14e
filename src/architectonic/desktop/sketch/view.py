"""What the helpers of a sketch canvas see of it: the shown sketch, and where it lies on the screen."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, pyqtSignal
from PyQt6.QtWidgets import QWidget

from architectonic.base.places import FIXED
from architectonic.describe.drawn.readings import XY
from architectonic.describe.results import Node, SketchResult
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.pane import Pane
from architectonic.desktop.pane.protocols import Offering
from architectonic.desktop.sketch.sizefields import SizeFields
from architectonic.family.records import Constraint, Model, Sketch
from architectonic.session.sketch.sketching import drawn


class SketchView(QWidget):
    """A sketch seen square on.

    Attributes:
        scale, centre: pixels of a millimetre, and the point in the middle.
        labels, mark_boxes: where dimensions and marks were painted last.
        over_hover, over_region, over_curve: what lies under the pointer.
        tracing: the card that offers what can be traced; sizes: the fields for sizes typed while drawing.
        live: the solution of the moment while a point is pulled or a dimension is played.
        arrows: what can still move, while it is asked for.
        carried: a dimension whose text is being moved.
        box: a selection box that is being drawn.

    Signals:
        state_told (str, str, str): how free the sketch is, in words, in a word or two, and in a colour.
    """

    state_told = pyqtSignal(str, str, str)

    def __init__(self, desk: Desk, shown: Pane) -> None:
        super().__init__()
        self.desk, self.shown = desk, shown
        self.scale, self.centre = 1.0, (0.0, 0.0)
        self._framed = ""
        self.labels: list[tuple[QRectF, Constraint]] = []
        self.mark_boxes: list[tuple[QRectF, Constraint]] = []
        self.over_hover = self.over_region = self.over_curve = ""
        self.tracing: Offering | None = None
        self.sizes = SizeFields(self)
        self.live: SketchResult | None = None
        self._told = ("", "", "")
        self.arrows: dict[str, list[XY]] = {}
        self.carried: tuple[str, XY] | None = None
        self.box: QRectF | None = None
        self.grid = self.quiet = self.marks = self.cut = False  # see canvas.TOGGLES

    def tell_state(self, words: str, brief: str, colour: str) -> None:
        """Tell how free the sketch is, when that is new."""
        if (words, brief, colour) != self._told:
            self._told = (words, brief, colour)
            self.state_told.emit(words, brief, colour)

    @property
    def sketch(self) -> Sketch | None:
        """The sketch that is shown."""
        document = self.shown.document
        if not isinstance(document, Model):
            return None
        found = [o for o in document.build if isinstance(o, Sketch)]
        chosen = [o for o in found if o.id == self.shown.operation]
        return next(iter(chosen or found), None)

    @property
    def offering(self) -> Offering | None:
        """The card that offers what can be traced, while it is open."""
        return self.tracing if self.tracing is not None and self.tracing.active else None

    @property
    def solved(self) -> SketchResult | None:
        """Its solution in the shown configuration; while a point is pulled, that of the moment."""
        if self.live is not None:
            return self.live
        sketch, at, evaluation = self.sketch, self.shown.at, self.shown.evaluation
        if sketch is None or at is None or evaluation is None:
            return None
        value = evaluation.value(Node("solve", at, sketch.id))
        if value is None and self.shown.subject.disagreeing(sketch.id):
            return drawn(sketch)
        return value if isinstance(value, SketchResult) else None

    @property
    def fails(self) -> bool:
        """Whether it is known that the sketch has no solution: not while it is still being solved."""
        sketch, at, evaluation = self.sketch, self.shown.at, self.shown.evaluation
        if sketch is None or at is None or evaluation is None:
            return False
        found = evaluation.outcomes.get(Node("solve", at, sketch.id))
        return found is not None and found.value is None

    def grid_step(self) -> float:
        """Spacing of the grid, mm: 1, 2 or 5 times a power of ten that is wide enough to see; 0 while it is off."""
        if not self.grid:
            return 0.0
        least = 14.0 / self.scale
        power = 10.0 ** math.floor(math.log10(least))
        return next(power * k for k in (1, 2, 5, 10) if power * k >= least)

    def out_of_picking(self) -> frozenset[str]:
        """Curves that cannot be picked now: traced and helper curves while they are dimmed."""
        solved = self.solved
        if not self.quiet or solved is None:
            return frozenset()
        return frozenset(k for k, c in solved.curves.items() if c.fixed or (c.helper and c.kind != "point"))

    def to_screen(self, p: XY) -> QPointF:
        """Sketch coordinates to pixels."""
        return QPointF(
            self.width() / 2 + (p[0] - self.centre[0]) * self.scale,
            self.height() / 2 - (p[1] - self.centre[1]) * self.scale,
        )

    def to_sketch(self, q: QPointF) -> XY:
        """Pixels to sketch coordinates."""
        return (
            (q.x() - self.width() / 2) / self.scale + self.centre[0],
            (self.height() / 2 - q.y()) / self.scale + self.centre[1],
        )

    def frame_later(self) -> None:
        """Show the whole sketch as soon as it is solved anew."""
        self._framed = ""

    def show_hold(self, places: tuple[str, ...]) -> None:
        """Light what a proposal is about."""
        self.shown.curves = [p for p in places if p not in FIXED]
        self.update()
