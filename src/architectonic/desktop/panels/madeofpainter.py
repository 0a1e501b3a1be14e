"""Made of, painted: names and marks of the bodies, rows with switches and dots, headings, the marker."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen, QPolygonF

from architectonic.describe.models.documents import kind_of
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.signs import paint_state
from architectonic.desktop.panels.rowplan import LEFT, REASON, ROW, SWITCH, RowPlan, Rows
from architectonic.session.model.entries import Entry


class MadeOfPainter:
    """Paints one list."""

    def __init__(self, of: Rows, plan: RowPlan) -> None:
        self.of, self.plan = of, plan

    def paint(self, p: QPainter) -> None:
        """Head, columns, rows."""
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.of.rect(), QColor(theme.PANEL))
        p.setFont(theme.font(13, 600))
        p.setPen(QColor(theme.INK))
        p.drawText(QPointF(LEFT, 21), "Made of")
        document = self.of.desk.main.document
        note = kind_of(document).note if document is not None else ""
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.SOFT))
        p.drawText(QPointF(LEFT + 58, 21), note)
        self._paint_columns(p)
        if not self.of.entries:
            p.setFont(theme.font(11))
            p.setPen(QColor(theme.SOFT))
            p.drawText(
                QRectF(LEFT, self.plan.head + 6, self.of.width() - 2 * LEFT, 44),
                Qt.TextFlag.TextWordWrap,
                self._empty(),
            )
        for k, (y, entry) in enumerate(self.plan.tops()):
            later = k >= self.plan.marked
            if entry.folded is None:
                self._paint_row(p, entry.upto or k + 1, y, entry, later)
            else:
                self._paint_heading(p, y, entry, later)
        if self.plan.has_marker:
            self._paint_marker(p)
        if self.of.dragged and self.of.over >= 0:
            p.setPen(QPen(QColor(theme.PLUM), 2, Qt.PenStyle.DashLine))
            y = self.plan.gap(self.of.over)
            p.drawLine(QPointF(4, y), QPointF(self.of.width() - 4, y))

    def _paint_marker(self, p: QPainter) -> None:
        """A rule with a tab at the right: later rows are not shown, new ones go in here."""
        y = self.plan.marker_y()
        p.setFont(theme.font(11, 600))
        p.setPen(QPen(QColor(theme.PLUM), 2))
        width = QFontMetricsF(p.font()).horizontalAdvance("up to here")
        p.drawLine(QPointF(0, y), QPointF(30, y))
        p.drawLine(QPointF(46 + width, y), QPointF(self.of.width() - 8, y))
        p.drawText(QPointF(38, y + 4), "up to here")
        p.setBrush(QColor(theme.PLUM))
        p.setPen(Qt.PenStyle.NoPen)
        right = float(self.of.width())
        p.drawPolygon(QPolygonF([QPointF(right - 9, y), QPointF(right, y - 6), QPointF(right, y + 6)]))

    def _empty(self) -> str:
        document = self.of.desk.main.document
        if document is None:
            return "Make a document first: the button with the document's name, in the head band."
        return kind_of(document).empty

    def _paint_columns(self, p: QPainter) -> None:
        p.setFont(theme.font(11))
        bottom = self.plan.head + sum(self.plan.height(e) for e in self.of.entries)
        for k, column in enumerate(self.of.columns):
            x = self.plan.column_x(k)
            p.setPen(QPen(QColor(theme.HAIR), 1))
            p.drawLine(QPointF(x, 8), QPointF(x, bottom))
            p.setBrush(QColor(column.colour))
            p.setPen(QPen(QColor(theme.SOFT), 1))
            p.drawRoundedRect(QRectF(x + 6, self.plan.head - 15, 10, 10), 2, 2)
            if column.overlaps:
                paint_state(p, "out of rule", x + 11, self.plan.head - 10)
            p.save()
            p.setPen(QColor(theme.INK))
            p.translate(x + 15, self.plan.head - 20)
            p.rotate(-90)
            p.drawText(QPointF(0, 0), column.name)
            p.restore()
        p.setPen(QPen(QColor(theme.LINE), 1))
        p.drawLine(QPointF(0, self.plan.head - 0.5), QPointF(self.of.width(), self.plan.head - 0.5))

    def _paint_row(self, p: QPainter, number: int, y: float, entry: Entry, later: bool) -> None:
        chosen = entry.id == self.of.desk.main.operation
        height = self.plan.height(entry)
        if entry.problem:
            p.fillRect(QRectF(0, y, self.of.width(), height), QColor(theme.RED_TINT))
        elif chosen:
            p.fillRect(QRectF(0, y, self.of.width(), height), QColor(theme.PLUM_TINT))
        if chosen:
            p.fillRect(QRectF(0, y, 3, height), QColor(theme.PLUM))
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.SOFT))
        p.drawText(
            QRectF(LEFT - 8, y, 16, ROW), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, str(number)
        )
        self._paint_rest(p, y, entry, later, chosen)

    def _paint_rest(self, p: QPainter, y: float, entry: Entry, later: bool, chosen: bool) -> None:
        """Switch, words, note, dots and reason."""
        if entry.problem:
            paint_state(p, entry.problem.severity, LEFT + 24, y + ROW / 2)
        elif entry.on is not None:
            self._paint_switch(p, LEFT + 15, y + ROW / 2, entry.on)
        p.setPen(QColor(theme.INK if entry.on is not False and not later else theme.SOFT))
        p.setFont(theme.font(12, 600 if chosen or entry.inside else 500))
        for k, line in enumerate(self.plan.wrap(entry.text, self.plan.text_width(entry), 12)):
            p.drawText(QPointF(LEFT + SWITCH + 8, y + 15.5 + 16 * k), line)
        if entry.note:
            p.setFont(theme.font(11, 600 if "free" in entry.note or "not" in entry.note else 400))
            p.setPen(QColor(theme.OCHRE_TEXT if "free" in entry.note or "not" in entry.note else theme.SOFT))
            right = self.plan.column_x(0) - 6 if self.of.columns else self.of.width() - LEFT
            p.drawText(
                QRectF(right - 90, y, 90, ROW), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, entry.note
            )
        self._paint_dots(p, y, entry, chosen)
        if entry.problem:
            p.setPen(QColor(theme.RED_TEXT))
            p.setFont(theme.font(11))
            top = y + self.plan.lines(entry) * 16 + 5
            for k, line in enumerate(self.plan.wrap(self.plan.reason(entry), self.of.width() - LEFT - SWITCH - 34, 11)):
                p.drawText(QPointF(LEFT + SWITCH + 8, top + 11 + REASON * k), line)

    def _paint_heading(self, p: QPainter, y: float, entry: Entry, later: bool) -> None:
        """The heading of a stretch: an arrow that folds it, its switch and its name."""
        height = self.plan.height(entry)
        p.fillRect(QRectF(0, y, self.of.width(), height), QColor(theme.RED_TINT if entry.problem else theme.HAIR))
        x, middle = LEFT + 1, y + ROW / 2
        p.setBrush(QColor(theme.INK))
        p.setPen(Qt.PenStyle.NoPen)
        arrow = [(-3, -4), (3, 0), (-3, 4)] if entry.folded else [(-4, -3), (4, -3), (0, 3)]
        p.drawPolygon(QPolygonF([QPointF(x + dx, middle + dy) for dx, dy in arrow]))
        self._paint_rest(p, y, entry, later, entry.id == self.of.desk.main.operation)

    def _paint_switch(self, p: QPainter, x: float, y: float, on: bool) -> None:
        p.setPen(QPen(QColor(theme.INK if on else theme.SOFT), 1.2))
        p.setBrush(QColor(theme.INK) if on else Qt.BrushStyle.NoBrush)
        p.drawRoundedRect(QRectF(x, y - 5, 18, 10), 5, 5)
        p.setBrush(QColor(theme.FIELD) if on else QColor(theme.SOFT))
        p.setPen(Qt.PenStyle.NoPen)
        p.drawEllipse(QPointF(x + (13 if on else 5), y), 3, 3)

    def _paint_dots(self, p: QPainter, y: float, entry: Entry, chosen: bool) -> None:
        ink = QColor(theme.PLUM if chosen else theme.INK if entry.on is not False else theme.SOFT)
        for k, dot in enumerate(entry.dots):
            at = QPointF(self.plan.column_x(k) + 11, y + ROW / 2)
            if dot:
                p.setPen(QPen(ink, 1.3))
                p.setBrush(Qt.BrushStyle.NoBrush)
                if dot == "makes":
                    p.drawEllipse(at, 5, 5)
                p.setBrush(ink)
                p.setPen(Qt.PenStyle.NoPen)
                p.drawEllipse(at, 2.4 if dot == "makes" else 3.2, 2.4 if dot == "makes" else 3.2)
