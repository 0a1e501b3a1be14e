"""Bodies coloured by a survey, with the legend of its colours and tags at the worst places."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPen

from architectonic.describe.measured import SurveyPlace
from architectonic.describe.references.surveys import SURVEYS
from architectonic.desktop.body.view import BodyView
from architectonic.desktop.kit import theme
from architectonic.family.scopes import InPlace
from architectonic.render.palette import BANDS, UNKNOWN
from architectonic.render.tint import Cells
from architectonic.session.model.surveying import Surveyed, band_ends, cells, figure


class SurveyColours:
    """What one canvas shows of a survey.

    Attributes:
        found: the survey, None for the bodies' own colours; limit: what its figures should not go beyond.
        chosen: the place that was gone to.
    """

    def __init__(self, canvas: BodyView) -> None:
        self.canvas = canvas
        self.found: Surveyed | None = None
        self.limit = 0.0
        self.chosen: SurveyPlace | None = None
        self._cells: dict[str, Cells] = {}

    def show(self, found: Surveyed | None, limit: float = 0.0) -> None:
        """Colour by a survey; None for the bodies' own colours."""
        self.found, self.limit, self.chosen = found, limit, None
        self._cells = {}
        if found is not None:
            self._cells = {b: cells(of, found.what, limit) for b, of in found.of.items() if of.values}
        self.canvas.show_again()

    def clear(self) -> None:
        """Forget it: what it was of is not shown any more, or not as it was."""
        self.found, self.chosen, self._cells = None, None, {}

    def cells(self, bodies: list[InPlace]) -> dict[int, Cells]:
        """What bodies are coloured by, by their place in the list."""
        return {k: self._cells[b.body] for k, b in enumerate(bodies) if not b.path and b.body in self._cells}

    def paint(self, p: QPainter) -> None:
        """Dots and tags at the worst places, and the legend."""
        if self.found is None:
            return
        if self._cells:
            self._paint_legend(p)
        first = [p for _, p in self.found.places[:1]]
        shown = (self.found.beyond(self.limit) or first)[:40]
        if shown:
            flat = self.canvas.camera.project(
                np.array([s.at for s in shown]), self.canvas.width(), self.canvas.height()
            )
            for k, place in enumerate(shown):
                at = QPointF(flat[k, 0], flat[k, 1])
                chosen = place is self.chosen
                p.setPen(QPen(QColor(theme.FIELD), 1.5))
                p.setBrush(QColor(theme.PLUM if chosen else theme.INK))
                p.drawEllipse(at, 5 if chosen else 3.5, 5 if chosen else 3.5)
            for k, place in enumerate(shown):
                if k == 0 or place is self.chosen:
                    words = f"{figure(self.found.what, place.value)}{self._extreme if k == 0 else ''}"
                    self.canvas.plate(p, QPointF(flat[k, 0] + 10, flat[k, 1] - 4), words)

    @property
    def _extreme(self) -> str:
        assert self.found is not None
        return ", the most" if SURVEYS[self.found.what].most else ", the least"

    def _paint_legend(self, p: QPainter) -> None:
        assert self.found is not None
        kind = SURVEYS[self.found.what]
        ends = band_ends(self.found.what, self.limit)
        first, last = ("over", "under") if kind.most else ("under", "over")
        words = [f"{first} {ends[0]}", f"{ends[0]} to {ends[1]}", f"{ends[1]} to {ends[2]}", f"{last} {ends[2]}"]
        colours = list(BANDS)
        if any(np.isnan(c.values).any() for c in self._cells.values()):
            words, colours = [*words, f"no {kind.figure}"], [*colours, UNKNOWN]
        self.canvas.legend(p, list(zip(words, colours, strict=True)), kind.title, top=True)
