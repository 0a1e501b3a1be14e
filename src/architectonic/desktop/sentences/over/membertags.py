"""Numbered tags of the members of an open sentence, over the picture: a click leaves one out or takes it in again."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.kit import theme
from architectonic.desktop.pane.protocols import Handle
from architectonic.desktop.sentences.blanks.holes import MembersField
from architectonic.desktop.sentences.card import SentenceCard
from architectonic.desktop.sentences.over.holeview import HoleView
from architectonic.desktop.sentences.over.leadtags import LeadTags
from architectonic.desktop.sentences.over.pushhandle import PushHandle
from architectonic.desktop.sentences.over.trimtags import TrimTags
from architectonic.family.operations.base import BodyOperation
from architectonic.session.model.members import Member, members

HIGH = 17.0
MANY = 60
"""Of more members than so many only dots are drawn."""


def over(canvas: BodyCanvas, card: SentenceCard) -> tuple[Handle, ...]:
    """What stands over the picture while a sentence is open: tags of its members, its arrow."""
    return MemberTags(canvas, card), TrimTags(canvas, card), LeadTags(canvas, card), PushHandle(canvas, card)


class MemberTags:
    """Reads an open sentence and writes into its blank of members that are left out.

    Args:
        canvas: where they stand; card: the sentence.
    """

    def __init__(self, canvas: BodyCanvas, card: SentenceCard) -> None:
        self.canvas, self.card = canvas, card
        self.view = HoleView(canvas, card.drawing)
        self.over = ""

    @property
    def field(self) -> MembersField | None:
        """What holds the members that are left out; None where the open sentence has none."""
        found = next((b for b in self.card.blanks.values() if isinstance(b, MembersField)), None)
        return found if self.card.record is not None else None

    def tags(self) -> list[tuple[Member, QRectF]]:
        """Every member with the box of its tag, on the screen."""
        shown, evaluation, record = self.canvas.shown, self.canvas.desk.evaluation, self.card.record
        if self.field is None or evaluation is None or shown.at is None or not isinstance(record, BodyOperation):
            return []
        found = members(evaluation, shown.at, record.id)
        if not found:
            return []
        flat = self.canvas.to_screen(np.array([m.at for m in found]))
        metrics = QFontMetricsF(theme.font(11, 600))
        made = []
        for m, (x, y) in zip(found, flat, strict=True):
            wide = 9.0 if len(found) > MANY else metrics.horizontalAdvance(str(m.number)) + 10
            high = 9.0 if len(found) > MANY else HIGH
            made.append((m, QRectF(x - wide / 2, y + 7, wide, high)))
        return made

    def _at(self, q: QPointF) -> str:
        return next((m.key for m, box in self.tags() if box.adjusted(-2, -2, 2, 2).contains(q)), "")

    @property
    def under(self) -> bool:
        """Whether the pointer is on a tag."""
        return bool(self.over)

    def hover(self, at: QPointF) -> bool:
        """Whether another tag lies under the pointer than before."""
        before, self.over = self.over, self._at(at)
        return before != self.over

    def take(self, at: QPointF) -> bool:
        """Leave out the member whose tag is pressed, or take it in again."""
        key, field = self._at(at), self.field
        if not key or field is None:
            return False
        button = self.card.clause_of(field)
        if button is not None and not button.isChecked():
            button.setChecked(True)
        field.turn(key)
        return True

    def follow(self, at: QPointF) -> bool:
        """Nothing is dragged."""
        return False

    def let_go(self) -> None:
        """Nothing was held."""

    def paint(self, p: QPainter) -> None:
        """The tags."""
        found = self.tags()
        p.setFont(theme.font(11, 600))
        for m, box in found:
            lit = m.key == self.over
            p.setPen(
                QPen(
                    QColor(theme.SOFT if m.out else theme.PLUM),
                    2.0 if lit else 1.0,
                    Qt.PenStyle.DashLine if m.out else Qt.PenStyle.SolidLine,
                )
            )
            p.setBrush(QColor(theme.FIELD if m.out else theme.PLUM_TINT))
            p.drawRoundedRect(box, 3, 3)
            if len(found) <= MANY:
                p.setPen(QColor(theme.SOFT if m.out else theme.PLUM_TEXT))
                p.drawText(box, Qt.AlignmentFlag.AlignCenter, str(m.number))
            if m.out:
                p.setPen(QPen(QColor(theme.SOFT), 1.2))
                p.drawLine(box.bottomLeft(), box.topRight())
