"""How fair a part runs: lines of light reflected in its faces, and combs of curvature on its edges."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPen

from architectonic.base.cancel import Watch
from architectonic.describe.measured import FairnessResult
from architectonic.describe.results import Node
from architectonic.desktop.body.view import BodyView
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.soon import soon
from architectonic.family.scopes import InPlace
from architectonic.quantities import units
from architectonic.render.camera import BodyMesh
from architectonic.render.pictures import Seen
from architectonic.render.tint import Stripes
from architectonic.session.open import queries

TOOTH = 60.0
"""The longest tooth of a comb, pixels."""


class FairView:
    """What one canvas shows of how fair its bodies run; a body that has changed shows nothing until it is looked at again.

    Attributes:
        striped, combed: whether stripes and combs are shown.
    """

    def __init__(self, canvas: BodyView) -> None:
        self.canvas = canvas
        self.striped = self.combed = False
        self._of: dict[InPlace, tuple[BodyMesh, FairnessResult]] = {}
        canvas.desk.evaluated.connect(soon(canvas, self.look_again))  # once the canvas has the bodies as they are now

    def clear(self) -> None:
        """Neither of them: another document is shown."""
        self.striped = self.combed = False
        self._of = {}

    def show(self, striped: bool, combed: bool) -> None:
        """Show stripes, combs, both or neither."""
        self.striped, self.combed = striped, combed
        self.canvas.show_again()
        self.look_again()

    def look_again(self) -> None:
        """Look at the bodies as they are now, beside the event loop."""
        settled = self.canvas.desk.settled
        if not (self.striped or self.combed) or settled is None or self.canvas.desk.evaluation is not settled:
            return  # what is previewed shows none
        bodies = [(b, mesh) for b, mesh, _ in self.canvas.meshes if not b.path and not self._is_of(b, mesh)]
        if not bodies:
            return

        def work(watch: Watch) -> dict[InPlace, tuple[BodyMesh, FairnessResult]]:
            found = {}
            for k, (b, mesh) in enumerate(bodies):
                watch.at(k / len(bodies))
                node = Node("fairness", b.at, b.body)
                value = queries.ask(settled.family, [node]).value(node)
                if isinstance(value, FairnessResult):
                    found[b] = (mesh, value)
            return found

        self.canvas.desk.work.run("Stripes and combs", work, self._take)

    def _take(self, found: dict[InPlace, tuple[BodyMesh, FairnessResult]]) -> None:
        self._of |= found
        self.canvas.show_again()

    def _is_of(self, body: InPlace, mesh: BodyMesh) -> bool:
        """Whether what is known of a body is of this picture of it."""
        known = self._of.get(body)
        return known is not None and np.array_equal(known[0].points, mesh.points)

    def stripes(self, shown: list[Seen]) -> dict[int, Stripes]:
        """What bodies are striped by, by their place in the list."""
        found = {}
        for k, (body, mesh, _) in enumerate(shown):
            if self.striped and self._is_of(body, mesh):
                result = self._of[body][1]
                found[k] = Stripes(
                    np.frombuffer(result.points, np.float32).reshape(-1, 3),
                    np.frombuffer(result.normals, np.float32).reshape(-1, 3),
                    np.frombuffer(result.triangles, np.int32).reshape(-1, 3),
                )
        return found

    # --- combs ----------------------------------------------------------------------------------------

    def combs(self) -> list[tuple[np.ndarray, np.ndarray]]:
        """Points and curvatures along the picked edges, and those of picked faces; of all edges where none is picked."""
        picks = self.canvas.shown.picks
        found = []
        for body, mesh, _ in self.canvas.meshes:
            if body in self.canvas.hidden or not self._is_of(body, mesh):
                continue
            result = self._of[body][1]
            starts = np.frombuffer(result.starts, np.int32)
            at, bends = (np.frombuffer(b, np.float32).reshape(-1, 3) for b in (result.at, result.bends))
            wanted = {p.label for p in picks if p.body == body}
            for label, a, b in zip(result.edges, starts, starts[1:], strict=False):
                if not picks or any(label == w or w in label for w in wanted):
                    found.append((at[a:b], bends[a:b]))
        return found

    def paint(self, p: QPainter) -> None:
        """Combs, and what their longest tooth is."""
        combs = self.combs() if self.combed else []
        if not combs:
            return
        most = max(float(np.linalg.norm(b, axis=1).max()) for _, b in combs)
        scale = TOOTH / most * 2 * self.canvas.camera.scale / max(1, self.canvas.height())
        for at, bends in combs:
            feet, tips = self.canvas.to_screen(at), self.canvas.to_screen(at - scale * bends)
            p.setPen(QPen(theme.colour(theme.PLUM, 0.55), 1))
            for (x, y), (u, v) in zip(feet, tips, strict=True):
                p.drawLine(QPointF(x, y), QPointF(u, v))
            p.setPen(QPen(QColor(theme.PLUM), 1.6))
            for (x, y), (u, v) in pairwise(tips):
                p.drawLine(QPointF(x, y), QPointF(u, v))
        longest = f"longest tooth: radius {units.shown(1 / most, 'mm', 2)}"
        self.canvas.legend(p, [(longest, theme.PLUM)], "Curvature along edges")
