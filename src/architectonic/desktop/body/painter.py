"""What is painted over the picture of a 3D canvas: highlights, names, axes, and the list of what is hidden."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen, QPolygonF

from architectonic.base import tolerance
from architectonic.describe.models.documents import kind_of
from architectonic.describe.results import Node
from architectonic.describe.words.sentences import face_words
from architectonic.desktop.body.laidover import LaidOver
from architectonic.desktop.body.looks.opening import Opening
from architectonic.desktop.body.space import Space
from architectonic.desktop.body.spacepainter import SpacePainter
from architectonic.desktop.body.view import BodyView
from architectonic.desktop.kit import theme
from architectonic.family.scopes import InPlace
from architectonic.render.picking import RayHit
from architectonic.session.model import measuring


class BodyPainter:
    """Paints one canvas; where the rows of the list of hidden bodies stand is kept for the pointer."""

    def __init__(self, canvas: BodyView, space: Space, opening: Opening, laid: LaidOver) -> None:
        self.canvas, self.space, self.opening, self.laid = canvas, space, opening, laid
        self.layouts = SpacePainter(space)
        self.hidden_rows: list[tuple[QRectF, InPlace | None]] = []

    def paint(self, p: QPainter) -> None:
        """Layouts, then what is hovered and picked, then names."""
        canvas = self.canvas
        if not canvas.meshes and not canvas.around and not self.space.things():
            self._paint_empty(p)
            return
        self.layouts.paint(p)
        for body, face in self.lit_faces():
            self._paint_pick(p, "face", body, face, 0.3)
        for kind, body, label in canvas.shown.picks:
            self._paint_pick(p, kind, body, label, 0.55)
        for label in canvas.shown.subject.at_fault(canvas.shown.standing or canvas.shown.operation):
            self._paint_fault(p, label)
        self._paint_gauge(p)
        hit = canvas.current() if self.space.over_region is None else None
        if hit is not None:
            self._paint_pick(p, hit.kind, hit.body, hit.label, 0.4)
            self._paint_name(p, hit)
        self._paint_axes(p)
        self.opening.paint(p)
        self.laid.paint(p)
        for handle in canvas.handles:
            handle.paint(p)
        if canvas.hidden:
            self._paint_hidden(p)

    def _paint_gauge(self, p: QPainter) -> None:
        """The length between two picked things, where it lies."""
        desk, at = self.canvas.desk, self.canvas.shown.at
        of = self.canvas.shown.things() if self.canvas.shown is desk.main else ()
        if at is None or len(of) != 2 or not desk.main.picks:
            return
        nodes = measuring.asked(at, of)
        answers = desk.answers(nodes.values())
        lengths = measuring.told({w: answers[n] for w, n in nodes.items() if n in answers and w != "angle"})
        found = next(((w, g) for w, g in lengths if g.value > tolerance.FEATURE and len(g.ends) == 2), None)
        if found is None:
            return
        flat = self.canvas.camera.project(np.array(found[1].ends), self.canvas.width(), self.canvas.height())
        a, b = (QPointF(x, y) for x, y, _ in flat)
        p.setPen(QPen(QColor(theme.PLUM), 1.4, Qt.PenStyle.DashLine))
        p.drawLine(a, b)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(theme.PLUM))
        p.drawEllipse(a, 3, 3)
        p.drawEllipse(b, 3, 3)
        self.canvas.plate(p, (a + b) / 2 + QPointF(8, -8), measuring.figure(found[0], found[1].value))

    def lit_faces(self) -> list[tuple[InPlace, str]]:
        """Faces made by operations that the driver under the pointer moves."""
        lit = self.canvas.shown.lit
        return [
            (b, face)
            for b, mesh, _ in self.canvas.meshes
            for face in (mesh.faces if lit and b.document == self.canvas.shown.document_id else ())
            if face.split(":")[0] in lit
        ]

    def _paint_hidden(self, p: QPainter) -> None:
        """What is hidden, by name; a click brings one back."""
        names = [(b, f"{self.canvas.body_name(b)} is hidden, show") for b in sorted(self.canvas.hidden)]
        rows: list[tuple[InPlace | None, str]] = [(None, f"{len(names)} hidden, show all")] if len(names) > 1 else []
        rows += names
        p.setFont(theme.font(11))
        self.hidden_rows = []
        y = self.canvas.height() - 14 - 18 * len(rows)
        for key, text in rows:
            width = QFontMetricsF(p.font()).horizontalAdvance(text)
            box = QRectF(self.canvas.width() - width - 18, y, width + 8, 18)
            p.setPen(QColor(theme.INK if key is None else theme.SOFT))
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
            self.hidden_rows.append((box, key))
            y += 18

    def _paint_empty(self, p: QPainter) -> None:
        document = self.canvas.shown.document
        p.setFont(theme.font(14, 600))
        p.setPen(QColor(theme.INK))
        layout = document is not None and not (document.holds_bodies or document.placeable)
        failing = self._first_failing()
        title = "Building…" if self.canvas.desk.updating else "Nothing here yet" if layout else "No bodies here yet"
        title = f"{failing[0]} fails, so there are no bodies" if failing else title
        p.drawText(self.canvas.rect().adjusted(0, -30, 0, -30), Qt.AlignmentFlag.AlignCenter, title)
        p.setFont(theme.font(12))
        p.setPen(QColor(theme.SOFT))
        if not self.canvas.desk.updating:
            hint = kind_of(document).begin if document is not None else ""
            hint = failing[1] if failing else hint
            p.drawText(self.canvas.rect().adjusted(0, 10, 0, 10), Qt.AlignmentFlag.AlignCenter, hint)

    def _first_failing(self) -> tuple[str, str] | None:
        """The first operation that fails, and why, when nothing comes of the build list."""
        shown, evaluation = self.canvas.shown, self.canvas.shown.evaluation
        if shown.at is None or evaluation is None:
            return None
        for operation in shown.build:
            outcome = evaluation.outcomes.get(Node("state", shown.at, operation.id))
            if outcome is not None and outcome.problem is not None:
                return operation.name, f"{outcome.problem.what}; {outcome.problem.mend}".strip("; ")
        return None

    def _paint_pick(self, p: QPainter, kind: str, body: InPlace, label: str, alpha: float) -> None:
        mesh = self.canvas.mesh(body, label)
        if mesh is None:
            return
        if kind == "edge" and label in mesh.edges:
            k = mesh.edges.index(label)
            points = mesh.lines[mesh.line_starts[k] : mesh.line_starts[k + 1]]
            flat = self.canvas.camera.project(points, self.canvas.width(), self.canvas.height())
            p.setPen(QPen(QColor(theme.PLUM), 3))
            p.drawPolyline(QPolygonF([QPointF(x, y) for x, y, _ in flat]))
        elif kind == "vertex" and label in mesh.corners:
            x, y, _ = self.canvas.camera.project(mesh.corners[label], self.canvas.width(), self.canvas.height())[0]
            p.setPen(QPen(QColor(theme.FIELD), 1.5))
            p.setBrush(QColor(theme.PLUM))
            p.drawEllipse(QPointF(x, y), 5, 5)
        elif kind == "face" and label in mesh.faces:
            flat = self.canvas.camera.project(mesh.points, self.canvas.width(), self.canvas.height())
            chosen = mesh.triangles[mesh.face == mesh.faces.index(label)]
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(theme.colour(theme.PLUM, alpha))
            p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            corners = flat[chosen]
            a, b = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
            facing = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0] < 0
            for t in corners[facing]:
                p.drawPolygon(QPolygonF([QPointF(x, y) for x, y, _ in t]))
            p.setRenderHint(QPainter.RenderHint.Antialiasing)

    def _paint_fault(self, p: QPainter, label: str) -> None:
        """An edge at fault: in red, with a ringed cross at its middle."""
        for body, _, _ in self.canvas.meshes:
            mesh = self.canvas.mesh(body, label)
            if mesh is None or label not in mesh.edges:
                continue
            k = mesh.edges.index(label)
            points = mesh.lines[mesh.line_starts[k] : mesh.line_starts[k + 1]]
            flat = self.canvas.camera.project(points, self.canvas.width(), self.canvas.height())
            p.setPen(QPen(QColor(theme.RED), 3))
            p.drawPolyline(QPolygonF([QPointF(x, y) for x, y, _ in flat]))
            middle = (len(flat) - 1) // 2
            x, y, _ = flat[middle : middle + 2].mean(axis=0)
            p.setPen(QPen(QColor(theme.RED), 1.4))
            p.setBrush(QColor(theme.FIELD))
            p.drawEllipse(QPointF(x, y), 7, 7)
            for side in (-1, 1):
                p.drawLine(QPointF(x - 3, y - 3 * side), QPointF(x + 3, y + 3 * side))

    def _paint_name(self, p: QPainter, hit: RayHit) -> None:
        behind = (
            f"   {self.canvas.deep + 1} of {len(self.canvas.over)} here, [ ] behind"
            if len(self.canvas.over) > 1
            else ""
        )
        text = f"{self.describe(hit.kind, hit.body, hit.label)}{behind}"
        self.canvas.plate(p, QPointF(hit.x + 14, hit.y - 14), text)

    def describe(self, kind: str, body: InPlace, label: str) -> str:
        """A face, edge or vertex in words: which operation made it, and its role there."""
        document = self.canvas.desk.family.documents.get(body.document)
        name = self.canvas.body_name(body)
        return f"{kind} of {name} · {face_words(document, label)}"

    def _paint_axes(self, p: QPainter) -> None:
        right, up, _ = self.canvas.camera.axes()
        at = QPointF(38, self.canvas.height() - 34)
        p.setFont(theme.font(10))
        for name, axis in (("x", (1, 0, 0)), ("y", (0, 1, 0)), ("z", (0, 0, 1))):
            d = QPointF(24 * float(np.dot(axis, right)), -24 * float(np.dot(axis, up)))
            p.setPen(QPen(QColor(theme.INK), 1.3))
            p.drawLine(at, at + d)
            p.drawText(at + d * 1.32 + QPointF(-3, 4), name)
