"""The drawing beside the sentence of a hole: the first hole cut open along its axis, to scale, as the sentence says it now."""

from __future__ import annotations

import math
from collections.abc import Iterable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from architectonic.describe.operations.holes.section import Drilled
from architectonic.describe.results import HoleSet, HolesResult, Node
from architectonic.desktop.kit import theme
from architectonic.desktop.pane.desk import Desk
from architectonic.family.operations.holes.hole import Hole
from architectonic.family.records import Model
from architectonic.quantities import units
from architectonic.render.palette import colour_of

WIDE, HIGH = 254, 196
SCALES = (50.0, 20.0, 10.0, 5.0, 2.0, 1.0, 0.5, 0.2, 0.1)
"""Scales of ISO 5455."""
PER_MM = 96 / 25.4
"""Pixels of a millimetre at true size."""
POINT = math.radians(118)


def scale_words(scale: float) -> str:
    """`2 : 1`, `1 : 5`."""
    return f"{scale:g} : 1" if scale >= 1 else f"1 : {1 / scale:g}"


class HoleDrawing(QWidget):
    """Follows an open sentence; empty while nothing is known of its holes.

    Signals:
        held (bool): the sentence of holes was opened, or closed.
    """

    held = pyqtSignal(bool)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.record: Hole | None = None
        self._last: tuple[HoleSet, Drilled | None, bool] | None = None
        self.setFixedWidth(WIDE)
        self.setMinimumHeight(HIGH)
        self.setAccessibleName("the hole, cut open, to scale")
        desk.evaluated.connect(self.update)
        desk.answered.connect(self.update)

    def sizeHint(self) -> QSize:
        """Its size."""
        return QSize(WIDE, HIGH)

    def hold(self, record: Hole | None) -> None:
        """Draw this operation's holes."""
        was, self.record, self._last = self.record, record, None
        self.setVisible(record is not None)
        if was is not None or record is not None:
            self.held.emit(record is not None)

    def known(self) -> tuple[HoleSet, Drilled | None, bool] | None:
        """The hole set, what the first hole goes through, and whether that is of now; the last known while nothing is."""
        main, record = self.desk.main, self.record
        if record is None or main.at is None or self.desk.evaluation is None:
            return None
        holes = self.desk.evaluation.value(Node("holes", main.at, record.id))
        if not isinstance(holes, HolesResult):
            return None if self._last is None else (*self._last[:2], False)
        node = Node("drilled", main.at, record.id)
        outcome = self.desk.answers([node]).get(node)
        if outcome is None and self._last is not None:
            return holes.set, self._last[1], False
        found = outcome.value if outcome is not None else None
        self._last = (holes.set, found if isinstance(found, Drilled) else None, True)
        return self._last

    # --- painting -------------------------------------------------------------------------------------

    def paintEvent(self, _: QPaintEvent | None) -> None:
        """The hole."""
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(QPen(QColor(theme.HAIR), 1))
        p.drawLine(self.width() - 1, 0, self.width() - 1, self.height())
        known = self.known()
        if known is None:
            p.setPen(QColor(theme.SOFT))
            p.setFont(theme.font(11))
            words = "Pick a place: the hole is drawn here to scale."
            p.drawText(
                QRectF(14, 0, WIDE - 28, self.height()), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words
            )
            return
        _Sheet(p, self, *known).draw()


class _Sheet:
    """One drawing: depth runs down the page."""

    def __init__(self, p: QPainter, of: HoleDrawing, holes: HoleSet, drilled: Drilled | None, current: bool) -> None:
        self.p, self.of, self.holes, self.drilled, self.current = p, of, holes, drilled, current
        depth = drilled.depth if drilled is not None else holes.depth or 2 * holes.widest
        acted = drilled.acted if drilled is not None else (("", 0.0, depth),)
        self.spans = [(b, a, e, True) for b, a, e in acted]
        self.spans += [(b, a, e, False) for b, a, e in (drilled.beside if drilled is not None else ())]
        self.end = max((e for _, _, e, on in self.spans if on), default=depth) if self.through else depth
        tip = 0.0 if self.through or self._flat() else self._narrow() / 2 / math.tan(POINT / 2)
        reach = self.end + (holes.step[1] if holes.step is not None else 0.0) + tip
        self.low = min(0.0, *(a for _, a, _, on in self.spans if on)) if self.spans else 0.0
        self.high = min(max([reach, *(e for _, _, e, _ in self.spans)]), 1.6 * reach + holes.widest)
        room_x, room_y = WIDE - 136.0, of.height() - 58.0
        fits = min(room_x / holes.widest / 1.5, room_y / max(self.high - self.low, 0.1)) / PER_MM
        self.scale = next((s for s in SCALES if s <= fits), SCALES[-1])
        self.k = self.scale * PER_MM if self.scale <= fits else fits * PER_MM
        self.middle = 128.0
        self.top = 34.0 + (room_y - (self.high - self.low) * self.k) / 2 - self.low * self.k

    @property
    def through(self) -> bool:
        """Whether it goes on to the end of the material, or to a face."""
        return self.holes.depth is None

    def _flat(self) -> bool:
        return self.of.record is not None and self.of.record.flat

    def _narrow(self) -> float:
        return self.holes.step[0] if self.holes.step is not None else self.holes.diameter

    def at(self, r: float, depth: float) -> QPointF:
        """A point of the section on the page."""
        return QPointF(self.middle + r * self.k, self.top + depth * self.k)

    def profile(self) -> list[tuple[float, float]]:
        """(radius, depth) from the mouth to the axis."""
        h, r = self.holes, self.holes.diameter / 2
        made: list[tuple[float, float]] = []
        if h.counterbore is not None:
            wide, deep = h.counterbore[0] / 2, h.counterbore[1]
            made += [(wide, 0.0), (wide, deep), (r, deep)]
        elif h.countersink is not None:
            wide = h.countersink[0] / 2
            made += [(wide, 0.0), (r, (wide - r) / math.tan(h.countersink[1] / 2))]
        else:
            made.append((r, 0.0))
        made.append((r, self.end))
        end, narrow = self.end, r
        if h.step is not None:
            narrow, end = h.step[0] / 2, self.end + h.step[1]
            made += [(narrow, self.end), (narrow, end)]
        tip = 0.0 if self.through or self._flat() else narrow / math.tan(POINT / 2)
        return [*made, (0.0, end + tip)]

    def draw(self) -> None:
        """Material, the hole, its axis and dimensions."""
        p = self.p
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.SOFT))
        p.drawText(QPointF(10, 18), "Hole 1" if self.current else "Hole 1, as it was last")
        words = scale_words(self.scale)
        p.drawText(QPointF(WIDE - 12 - QFontMetricsF(p.font()).horizontalAdvance(words), 18), words)
        half = max(1.5 * self.holes.widest / 2, self.holes.widest / 2 + 14 / self.k)
        for body, a, e, on in self.spans:
            self._material(body, max(a, self.low), min(e, self.high), half, on)
        self._bore()
        self._axis()
        self._dimensions(half)

    def _material(self, body: str, a: float, e: float, half: float, on: bool) -> None:
        document = self.of.desk.main.document
        colour = colour_of(document, body) if isinstance(document, Model) and body in document.bodies else theme.BROWN
        box = QRectF(self.at(-half, a), self.at(half, e))
        self.p.setPen(QPen(QColor(theme.INK if on else theme.SOFT), 1.0 if on else 0.7))
        self.p.setBrush(theme.colour(colour, 0.35 if on else 0.15))
        self.p.drawRect(box)
        self.p.setPen(Qt.PenStyle.NoPen)
        self.p.setBrush(QBrush(theme.colour(theme.INK, 0.35 if on else 0.15), Qt.BrushStyle.BDiagPattern))
        self.p.drawRect(box)
        if isinstance(document, Model) and body in document.bodies and e > a:
            x, y = box.right() + 8, box.center().y()
            self.p.setFont(theme.font(10))
            self.p.setPen(QColor(theme.SOFT))
            name = QFontMetricsF(self.p.font()).elidedText(
                document.bodies[body].name, Qt.TextElideMode.ElideMiddle, WIDE - x - 8
            )
            self.p.drawText(QPointF(x, y - 1), name)
            self.p.drawText(QPointF(x, y + 11), units.shown(e - a, "mm", 2))

    def _bore(self) -> None:
        outline = [self.at(r, d) for r, d in self.profile()]
        left = [QPointF(2 * self.middle - q.x(), q.y()) for q in reversed(outline)]
        self.p.setBrush(QColor(theme.FIELD))
        self.p.setPen(QPen(QColor(theme.INK), 1.4))
        self.p.drawPolygon(QPolygonF([*outline, *left]))
        if self.holes.thread:  # a thread is drawn as a thin line beside its wall (ISO 6410)
            thread = self.holes.diameter / 2 + 0.54 * self.holes.pitch
            deep = min(self.holes.thread_depth or self.end, self.end)
            self.p.setPen(QPen(QColor(theme.PLUM), 0.9))
            for side in (-1, 1):
                self.p.drawLine(self.at(side * thread, 0.0), self.at(side * thread, deep))
            if not self.through:
                self.p.drawLine(self.at(-thread, deep), self.at(thread, deep))

    def _axis(self) -> None:
        pen = QPen(QColor(theme.PLUM), 1)
        pen.setDashPattern([10, 3, 2, 3])
        self.p.setPen(pen)
        self.p.drawLine(self.at(0, self.low) + QPointF(0, -10), self.at(0, self.high) + QPointF(0, 10))

    def _dimensions(self, half: float) -> None:
        h, p = self.holes, self.p
        wall = max(self.profile()[-2][1] - 6 / self.k, 0.0) if h.step is None else self.end - 6 / self.k
        name = h.thread or f"Ø{h.diameter:.4g}"
        first = (name, h.tolerance) if h.tolerance else (name,)
        y = min((wall + self._recess()) / 2, self.end - 34 / self.k)  # apart from what is said of its end
        self._left(self.at(-h.diameter / 2, y), first)
        if h.counterbore is not None:
            told = f"Ø{h.counterbore[0]:.4g}, {h.counterbore[1]:.4g} deep"
            self._across(h.counterbore[0] / 2, told)
        elif h.countersink is not None:
            self._across(h.countersink[0] / 2, f"Ø{h.countersink[0]:.4g}, {math.degrees(h.countersink[1]):.4g}°")
        p.setFont(theme.font(11))
        if not self.through:
            self._left(self.at(-half, self.end), (f"{self.end:.4g} deep",), True)
        else:
            words = "through" if h.through else "up to its end"
            self._left(self.at(-h.diameter / 2, self.end), (words, f"{self.end:.4g}"), True)

    def _recess(self) -> float:
        if self.holes.counterbore is not None:
            return self.holes.counterbore[1]
        if self.holes.countersink is not None:
            wide, angle = self.holes.countersink
            return (wide - self.holes.diameter) / 2 / math.tan(angle / 2)
        return 0.0

    def _left(self, to: QPointF, words: Iterable[str], line: bool = False) -> None:
        """Words at the left, with a line to what they mean."""
        p = self.p
        p.setFont(theme.font(11, 600))
        y = to.y()
        p.setPen(QPen(QColor(theme.PLUM), 1))
        p.drawLine(QPointF(62, y), QPointF(to.x() - (0 if line else 2), y))
        p.setPen(QColor(theme.PLUM_TEXT))
        for k, text in enumerate(words):
            p.setFont(theme.font(11, 600 if not k else 400))
            wide = QFontMetricsF(p.font()).horizontalAdvance(text)
            p.drawText(QPointF(max(56 - wide, 6.0), y + 4 + 13 * k), text)

    def _across(self, r: float, text: str) -> None:
        """A dimension over the mouth."""
        p, y = self.p, self.at(0, 0).y() - 7
        a, b = self.at(-r, 0).x(), self.at(r, 0).x()
        p.setPen(QPen(QColor(theme.PLUM), 1))
        p.drawLine(QPointF(a, y), QPointF(b, y))
        for x, s in ((a, 1), (b, -1)):
            p.drawPolyline(QPolygonF([QPointF(x + 5 * s, y - 3), QPointF(x, y), QPointF(x + 5 * s, y + 3)]))
        p.setFont(theme.font(11, 600))
        p.setPen(QColor(theme.PLUM_TEXT))
        wide = QFontMetricsF(p.font()).horizontalAdvance(text)
        p.drawText(QPointF(self.middle - wide / 2, y - 5), text)
