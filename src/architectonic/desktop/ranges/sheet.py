"""The contact sheet under a range: a picture of each row at one scale, made in the background when it is to be seen."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any, NamedTuple

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QObject, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QPainter, QPen
from PyQt6.QtWidgets import QAbstractItemView, QListView, QStyledItemDelegate, QStyleOptionViewItem

from architectonic.base.errors import EnvironmentFault
from architectonic.check.parts import mass_of
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.signs import paint_state
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane import thumbnails
from architectonic.desktop.ranges.model import RangeModel
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.ports import LATER
from architectonic.render.pictures import Seen, alike
from architectonic.render.small import scale_of
from architectonic.session.open.queries import variant
from architectonic.session.ranges.seen import seen

WIDE, HIGH = 208, 108
"""Of a picture, pixels."""
LINE, GAP = 24, 8
KEPT = 120
"""Pictures that are kept."""


class _Wanted(NamedTuple):
    """What is to be drawn of a family: the rows that are seen, and the scale of all."""

    family: Family
    rows: tuple[Scope, ...]
    scale: float


class RowPictures(QObject):
    """Draws rows one by one, in a thread of its own, and keeps what did not change.

    Signals:
        drawn (Scope, QImage): a row, None where there is nothing to draw.
    """

    drawn = pyqtSignal(object, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._wanted: _Wanted | None = None
        self._turn = threading.Condition()
        self._kept: dict[Scope, tuple[list[Seen], float]] = {}
        self._ended = False
        self._thread: threading.Thread | None = None

    def want(self, family: Family, rows: tuple[Scope, ...], scale: float) -> None:
        """Draw these rows, in place of those that were wanted before.

        Args:
            scale: half the height that is seen, mm.
        """
        with self._turn:
            self._wanted = _Wanted(family, rows, scale)
            self._turn.notify()
        if self._thread is None and rows:
            self._thread = threading.Thread(target=self._run, daemon=True, name="pictures of rows")
            self._thread.start()

    def end(self) -> None:
        """Draw no more."""
        with self._turn:
            self._ended = True
            self._turn.notify()

    @property
    def is_over(self) -> bool:
        """Whether it was ended."""
        return self._ended

    def _run(self) -> None:
        while True:
            with self._turn:
                self._turn.wait_for(lambda: self._wanted is not None or self._ended)
                wanted, self._wanted = self._wanted, None
            if self._ended or wanted is None:
                return
            try:
                self._draw(wanted)
            except EnvironmentFault:
                continue  # the engine is ending, or a worker died: asked again with the next change
            except RuntimeError:
                return  # the window is gone

    def _draw(self, wanted: _Wanted) -> None:
        asked = variant(LATER)
        for at in wanted.rows:
            if self._wanted is not None or self._ended:
                return
            bodies = seen(asked, wanted.family, at)
            known = self._kept.pop(at, None)
            self._kept[at] = (bodies, wanted.scale)
            while len(self._kept) > KEPT:
                self._kept.pop(next(iter(self._kept)))
            if known is None or known[1] != wanted.scale or not alike(known[0], bodies):
                meshes = [(m, c) for _, m, c in bodies]
                image = thumbnails.bodies(meshes, WIDE, HIGH, wanted.scale) if meshes else None
                with self._turn:
                    if not self.is_over:  # the window may be gone: nobody is there to be told
                        self.drawn.emit(at, image)


class RowSheetModel(QAbstractListModel):
    """The rows of a range as pictures."""

    def __init__(self, of: RangeModel, parent: QObject) -> None:
        super().__init__(parent)
        self.of = of
        self.images: dict[Scope, QImage | None] = {}
        self._rows: list[str] = []
        refresh = soon(self, self.refresh)
        of.modelReset.connect(refresh)
        of.dataChanged.connect(refresh)

    def refresh(self) -> None:
        """Follow the grid."""
        keys = [r.key for r in self.of.rows]
        if keys != self._rows:
            self.beginResetModel()
            self._rows = keys
            self.endResetModel()
        elif keys:
            self.dataChanged.emit(self.index(0), self.index(len(keys) - 1))

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        """Pictures."""
        return 0 if parent.isValid() else len(self._rows)

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        """The name of a row."""
        if not index.isValid() or index.row() >= len(self.of.rows):
            return None
        return self.of.rows[index.row()].name if role == Qt.ItemDataRole.DisplayRole else None

    def at(self, row: int) -> Scope:
        """The scope that is pictured."""
        return self.of.at(self._rows[row])

    def place(self, at: Scope) -> int:
        """Where a row is pictured, -1 for nowhere."""
        known = at.configuration in self._rows and at.document == self.of.at("").document
        return self._rows.index(at.configuration) if known else -1

    def put(self, at: Scope, image: QImage | None) -> None:
        """A picture is there."""
        self.images.pop(at, None)
        self.images[at] = image
        while len(self.images) > KEPT:
            self.images.pop(next(iter(self.images)))
        if at.configuration in self._rows:
            place = self.index(self._rows.index(at.configuration))
            self.dataChanged.emit(place, place)


class RowDelegate(QStyledItemDelegate):
    """Paints a picture with its name, its mark and what it weighs."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        """All alike."""
        return QSize(WIDE + GAP, HIGH + LINE + GAP)

    def paint(self, p: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """One row."""
        model = index.model()
        if p is None or not isinstance(model, RowSheetModel) or index.row() >= len(model.of.rows):
            return
        at = model.at(index.row())
        box = QRectF(option.rect.left() + 1, option.rect.top() + 1, WIDE, HIGH)
        shown = at == model.of.desk.main.at
        p.save()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(QPen(QColor(theme.PLUM if shown else theme.EDGE), 2 if shown else 1))
        p.setBrush(QColor(theme.FIELD))
        p.drawRoundedRect(box, 4, 4)
        image = model.images.get(at)
        if image is not None:
            p.drawImage(box.adjusted(3, 3, -3, -3), image)
        else:
            p.setPen(QColor(theme.SOFT))
            p.setFont(theme.font(11))
            told = "nothing to draw" if at in model.images else "being drawn"
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, told)
        line = QRectF(box.left(), box.bottom(), WIDE, LINE)
        cell = model.of.cell(index.row(), 0)
        paint_state(p, cell.state, line.left() + 6, line.center().y())
        p.setFont(theme.font(11))
        weight = self._weight(model, at)
        p.setPen(QColor(theme.SOFT))
        p.drawText(line, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, weight)
        room = line.adjusted(16, 0, -p.fontMetrics().horizontalAdvance(weight) - 6, 0)
        p.setFont(theme.font(11, 600 if shown else 400))
        p.setPen(QColor(theme.INK))
        text = p.fontMetrics().elidedText(
            model.of.rows[index.row()].name, Qt.TextElideMode.ElideMiddle, int(room.width())
        )
        p.drawText(room, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, text)
        p.restore()

    def _weight(self, model: RowSheetModel, at: Scope) -> str:
        """What a row weighs, where all of it is known."""
        evaluation = model.of.desk.evaluation
        mass = mass_of(evaluation, at) if evaluation is not None else None
        return "" if mass is None else f"{mass:.1f} g"


class RowSheet(QListView):
    """Pictures of the rows of a range; a click shows one, the arrow keys step."""

    def __init__(self, of: RangeModel, go: Callable[[str], object]) -> None:
        super().__init__()
        self.of, self._go = of, go
        self.pages = RowSheetModel(of, self)
        self.setModel(self.pages)
        self.setItemDelegate(RowDelegate(self))
        self.setViewMode(QListView.ViewMode.IconMode)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setMovement(QListView.Movement.Static)
        self.setUniformItemSizes(True)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setAccessibleName("Contact sheet")
        self.setStyleSheet(
            f"QListView {{ background: {theme.PAPER}; border: none; border-top: 1px solid {theme.HAIR}; padding: 8px 8px 8px 16px; }}"
        )
        self.clicked.connect(lambda index: go(self.pages.at(index.row()).configuration))
        self.pictures = RowPictures(self)
        self.pictures.drawn.connect(self.pages.put)
        self._asked: tuple[Evaluation, tuple[Scope, ...]] | None = None
        self._scaled: tuple[Evaluation, list[str], float] | None = None
        ask, bar = soon(self, self._ask), self.verticalScrollBar()
        assert bar is not None
        for signal in (of.modelReset, of.dataChanged, of.desk.evaluated, bar.valueChanged):
            signal.connect(ask)
        follow = soon(self, self._follow)
        for signal in (of.desk.main.changed, self.pages.modelReset):
            signal.connect(follow)

    def _follow(self) -> None:
        """What is shown is seen here."""
        at = self.of.desk.main.at
        place = self.pages.place(at) if at is not None and self.isVisible() else -1
        if place >= 0:
            self.scrollTo(self.pages.index(place))

    def _seen(self) -> list[Scope]:
        """Rows whose pictures are to be seen."""
        port = self.viewport()
        assert port is not None
        rect, count = port.rect(), self.pages.rowCount()
        places = (k for k in range(count) if rect.intersects(self.visualRect(self.pages.index(k))))
        return [self.pages.at(k) for k in places]

    def _ask(self) -> None:
        """The rows that are seen, once what is shown is settled."""
        desk, settled = self.of.desk, self.of.desk.settled
        if not self.isVisible() or settled is None or desk.updating:
            return
        rows = tuple(at for at in self._seen() if at.document in settled.family.documents)
        if self._asked is not None and self._asked[0] is settled and self._asked[1] == rows:
            return
        self._asked = (settled, rows)
        keys = [r.key for r in self.of.rows]
        if self._scaled is None or self._scaled[0] is not settled or self._scaled[1] != keys:
            self._scaled = (settled, keys, scale_of(settled, [self.of.at(k) for k in keys], WIDE / HIGH))
        self.pictures.want(settled.family, rows, self._scaled[2])

    def showEvent(self, event: object) -> None:
        """Draw what changed meanwhile."""
        super().showEvent(event)  # type: ignore[arg-type]
        self._ask()
