"""Pieces of an open trim in the picture: what stays whole, what goes hatched, what is not decided in plum; tags to click."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFontMetricsF, QImage, QPainter, QPen, QPolygonF

from architectonic.describe.results import Node
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.kit import theme
from architectonic.desktop.sentences.blanks.pieces import PiecesField
from architectonic.desktop.sentences.card import SentenceCard
from architectonic.family import edits
from architectonic.family.operations.surfaces.trim import Trim
from architectonic.family.scopes import InPlace, Scope
from architectonic.render.camera import BodyMesh
from architectonic.render.palette import colour_of
from architectonic.render.picking import Picker
from architectonic.session.model import trimming
from architectonic.session.model.trimming import Consequence, ShownPiece

HIGH = 22.0
DROPPED, ASKED = 0.16, 0.55
"""How opaque a piece is that goes, and one that is asked about."""
APART = 6.0


class _Tag(NamedTuple):
    number: int
    box: QRectF
    at: QPointF
    words: str
    state: str


class TrimTags:
    """Reads an open trim and writes into its blank of pieces.

    Args:
        canvas: where they stand; card: the sentence.
    """

    def __init__(self, canvas: BodyCanvas, card: SentenceCard) -> None:
        self.canvas, self.card = canvas, card
        self.over = -1
        self._pieces: list[ShownPiece] = []
        self._meshes: list[BodyMesh] = []
        self._asked: tuple[Trim, int] | None = None
        self._asked_of: object = None
        self._follows: list[Consequence] = []
        canvas.desk.evaluated.connect(self.follow_evaluation)

    @property
    def field(self) -> PiecesField | None:
        """What holds the pieces; None where no trim is open."""
        found = next((b for b in self.card.blanks.values() if isinstance(b, PiecesField)), None)
        return found if isinstance(self.card.record, Trim) else None

    def follow_evaluation(self, *_: object) -> None:
        """The pieces as they are now, in place of the surfaces that they are of."""
        field, evaluation, at = self.field, self.canvas.desk.evaluation, self.canvas.shown.at
        if field is None or evaluation is None or at is None:
            if self._pieces:
                self._pieces, self._meshes, self._follows, self._asked = [], [], [], None
                self.canvas.laid.stand_in(frozenset(), [])
            return
        assert isinstance(self.card.record, Trim)
        record = edits.replace(self.card.record, pieces=field.choices)
        found = trimming.shown(evaluation, at, record)
        meshes = self._meshes_of(at, record.id, len(found))
        if len(meshes) != len(found) or not found:
            return
        self._pieces, self._meshes = found, meshes
        field.see(found)
        self._stand()
        self._ask_what_follows(record)

    @property
    def _waits(self) -> int:
        """The first piece that nobody has decided on, once one is kept; -1 for none."""
        if self.field is None or not self.field.choices:
            return -1
        return next((k for k, p in enumerate(self._pieces) if p.keep is None), -1)

    def _ask_what_follows(self, record: Trim) -> None:
        """What follows from each way to decide on the piece that waits, worked out beside the event loop."""
        at, settled, number = self.canvas.shown.at, self.canvas.desk.settled, self._waits
        asked = (record, number)
        if number < 0 or at is None or settled is None or (asked == self._asked and settled is self._asked_of):
            return
        self._asked, self._asked_of, self._follows = asked, settled, []
        pieces = list(self._pieces)

        def done(found: list[Consequence]) -> None:
            if self._asked is asked:
                self._follows = found
                self.canvas.update()

        self.canvas.desk.work.run(
            "What each choice leads to",
            lambda watch: trimming.consequences(settled.family, at, record, pieces, number),
            done,
            lambda fault: None,
        )

    def _meshes_of(self, at: Scope, operation: str, count: int) -> list[BodyMesh]:
        evaluation = self.canvas.desk.evaluation
        assert evaluation is not None
        made = [evaluation.value(Node("piece", at, operation, str(k))) for k in range(count)]
        return [BodyMesh.from_result(m) for m in made if m]

    def _stand(self) -> None:
        document, at = self.canvas.shown.document, self.canvas.shown.at
        bodies = getattr(document, "bodies", {})
        instead = []
        for piece, mesh in zip(self._pieces, self._meshes, strict=True):
            own = colour_of(bodies, piece.seen.of, 0)
            colour = theme.PLUM if piece.keep is None else own
            instead.append((mesh, colour, 1.0 if piece.keep else ASKED if piece.keep is None else DROPPED))
        assert at is not None
        self.canvas.laid.stand_in(frozenset(p.seen.of for p in self._pieces), instead)

    # --- tags -----------------------------------------------------------------------------------------

    def tags(self) -> list[_Tag]:
        """A tag for every piece, beside a point of it that is seen, none over another."""
        if self.field is None or not self._pieces:
            return []
        metrics = QFontMetricsF(theme.font(11, 600))
        made: list[_Tag] = []
        for number, (piece, mesh) in enumerate(zip(self._pieces, self._meshes, strict=True)):
            state = "kept" if piece.keep else "dropped" if piece.keep is not None else "keep or drop?"
            words = piece.name
            anchor = self._anchor(mesh)
            wide = metrics.horizontalAdvance(f"{words}  {state}") + 34
            box = QRectF(anchor.x() + 26, anchor.y() - 30, wide, HIGH)
            box = self._inside(box)
            while any(t.box.adjusted(-APART, -APART, APART, APART).intersects(box) for t in made):
                box.translate(0.0, HIGH + APART)
            made.append(_Tag(number, box, anchor, words, state))
        return made

    def _anchor(self, mesh: BodyMesh) -> QPointF:
        """The middle of the triangle that lies nearest to the middle of all, on the screen."""
        corners = mesh.points[mesh.triangles].astype(float)
        middles = corners.mean(axis=1)
        sizes = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
        flat = self.canvas.to_screen(middles)
        middle = (flat[:, :2] * sizes[:, None]).sum(axis=0) / max(float(sizes.sum()), 1e-12)
        x, y = flat[int(np.argmin(np.linalg.norm(flat[:, :2] - middle, axis=1)))][:2]
        return QPointF(float(x), float(y))

    def _inside(self, box: QRectF) -> QRectF:
        right, low = self.canvas.width() - 10.0, self.canvas.height() - 10.0
        return box.translated(min(0.0, right - box.right()), max(0.0, 10.0 - box.top()) + min(0.0, low - box.bottom()))

    def _at(self, q: QPointF) -> int:
        tag = next((t.number for t in self.tags() if t.box.contains(q)), -1)
        if tag >= 0 or not self._pieces:
            return tag
        keys = [InPlace((), Scope("", ""), str(k)) for k in range(len(self._meshes))]
        hits = Picker(list(zip(keys, self._meshes, strict=True))).at(
            self.canvas.camera, q.x(), q.y(), self.canvas.width(), self.canvas.height()
        )
        return next((int(h.body.body) for h in hits if h.kind == "face"), -1)

    @property
    def under(self) -> bool:
        """Whether the pointer is on a piece or its tag."""
        return self.over >= 0

    def hover(self, at: QPointF) -> bool:
        """Whether another piece lies under the pointer than before."""
        before, self.over = self.over, self._at(at) if self.field is not None else -1
        return before != self.over

    def take(self, at: QPointF) -> bool:
        """Keep the piece that is pressed, or drop it."""
        field = self.field
        number = self._at(at) if field is not None else -1
        if field is None or number < 0:
            return False
        field.turn(number)
        self.follow_evaluation()
        return True

    def follow(self, at: QPointF) -> bool:
        """Nothing is dragged."""
        return False

    def let_go(self) -> None:
        """Nothing was held."""

    # --- painting -------------------------------------------------------------------------------------

    def paint(self, p: QPainter) -> None:
        """Hatches over what goes, dashed edges around what is asked about, and the tags."""
        field = self.field
        if field is None or not self._pieces:
            return
        self._hatch(p)
        for piece, mesh in zip(self._pieces, self._meshes, strict=True):
            if piece.keep is None:
                p.setPen(QPen(QColor(theme.PLUM), 2, Qt.PenStyle.DashLine))
                for run in self._edges(mesh):
                    p.drawPolyline(run)
        lit = self.over if self.over >= 0 else field.at if field.button.hasFocus() else -1
        for tag in self.tags():
            self._tag(p, tag, tag.number == lit)
            if tag.number == self._waits:
                for k, follows in enumerate(self._follows):
                    self.canvas.plate(p, QPointF(tag.box.left(), tag.box.bottom() + 16 + 22 * k), follows.words)

    def _edges(self, mesh: BodyMesh) -> list[QPolygonF]:
        flat = self.canvas.to_screen(mesh.lines)
        runs = zip(mesh.line_starts, mesh.line_starts[1:], strict=False)
        return [QPolygonF([QPointF(float(x), float(y)) for x, y, *_ in flat[a:b]]) for a, b in runs]

    def _hatch(self, p: QPainter) -> None:
        """Lines at 45 degrees over what goes, never over what stays."""
        if all(piece.keep is not False for piece in self._pieces):
            return
        mask = QImage(self.canvas.size(), QImage.Format.Format_ARGB32_Premultiplied)
        mask.fill(Qt.GlobalColor.transparent)
        q = QPainter(mask)
        q.setPen(Qt.PenStyle.NoPen)
        for stays in (False, True):
            if stays:
                q.setCompositionMode(QPainter.CompositionMode.CompositionMode_Clear)
            q.setBrush(QColor(theme.INK))
            for piece, mesh in zip(self._pieces, self._meshes, strict=True):
                if piece.keep is not False if stays else piece.keep is False:
                    flat = self.canvas.to_screen(mesh.points)[:, :2]
                    for t in flat[mesh.triangles]:
                        q.drawPolygon(QPolygonF([QPointF(float(x), float(y)) for x, y in t]))
        q.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceIn)
        q.fillRect(mask.rect(), QBrush(theme.colour(theme.INK, 0.42), Qt.BrushStyle.BDiagPattern))
        q.end()
        p.drawImage(0, 0, mask)

    def _tag(self, p: QPainter, tag: _Tag, lit: bool) -> None:
        asked = tag.state.endswith("?")
        edge = QColor(theme.PLUM if asked or lit else theme.LINE)
        p.setPen(QPen(QColor(theme.INK), 1))
        p.drawLine(tag.at, QPointF(min(max(tag.at.x(), tag.box.left()), tag.box.right()), tag.box.center().y()))
        p.setBrush(QColor(theme.INK))
        p.drawEllipse(tag.at, 2, 2)
        p.setPen(QPen(edge, 2 if lit else 1.2, Qt.PenStyle.DashLine if asked else Qt.PenStyle.SolidLine))
        p.setBrush(QColor(theme.PLUM_TINT if asked else theme.FIELD))
        p.drawRoundedRect(tag.box, 3, 3)
        mark = QRectF(tag.box.left() + 6, tag.box.top() + 5, 12, 12)
        p.setPen(QPen(QColor(theme.PLUM if asked else theme.INK), 1.2))
        p.setBrush(
            QBrush(theme.colour(theme.INK, 0.6), Qt.BrushStyle.BDiagPattern)
            if tag.state == "dropped"
            else QBrush(QColor(theme.FIELD))
        )
        p.drawRect(mark)
        if tag.state == "kept":
            p.drawPolyline(QPolygonF([mark.topLeft() + QPointF(*c) for c in ((2.5, 6.5), (5.0, 9.0), (9.5, 3.0))]))
        p.setFont(theme.font(11, 600))
        p.setPen(QColor(theme.PLUM_TEXT if asked else theme.INK))
        left = tag.box.left() + 24
        p.drawText(QPointF(left, tag.box.top() + 15), tag.words)
        left += QFontMetricsF(p.font()).horizontalAdvance(tag.words) + 6
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.PLUM_TEXT if asked else theme.SOFT))
        p.drawText(QPointF(left, tag.box.top() + 15), tag.state)
