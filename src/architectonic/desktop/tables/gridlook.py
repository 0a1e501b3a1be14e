"""What all grids look like: rows, headings, widths of columns, and the legend."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QModelIndex, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QGuiApplication, QKeyEvent, QKeySequence, QPainter, QPen
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView, QVBoxLayout, QWidget

from architectonic.desktop.kit import theme
from architectonic.desktop.tables.cellmodel import CellModel
from architectonic.desktop.tables.cells import INDENT, KIND, ROW_HEIGHT, SWITCHES, TYPED, CellDelegate
from architectonic.session.tables.columns import GridColumn


class GridView(QTableView):
    """A grid in which copying and pasting belong to the cells."""

    def event(self, event: QEvent | None) -> bool:
        """Copy and paste belong to the cells here, whatever they mean to the rest of the window."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            if event.matches(QKeySequence.StandardKey.Copy) or event.matches(QKeySequence.StandardKey.Paste):
                event.accept()
                return True
        return super().event(event)

    def chosen(self) -> list[tuple[int, int]]:
        """Places of the chosen cells, by rows."""
        selection = self.selectionModel()
        areas = selection.selection() if selection is not None else None
        found: list[tuple[int, int]] = []
        for k in range(areas.count() if areas is not None else 0):
            assert areas is not None
            area = areas[k]
            found += [
                (r, c) for r in range(area.top(), area.bottom() + 1) for c in range(area.left(), area.right() + 1)
            ]
        return sorted(found)


class CellView(GridView):
    """A grid with the habits of spreadsheets.

    Signals:
        row_deleted: Delete on the name of a row.
    """

    row_deleted = pyqtSignal()

    def __init__(self, model: CellModel) -> None:
        super().__init__()
        self._of = model
        self.setModel(model)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Copy and paste as spreadsheets do; Delete empties cells, or deletes the row on its name; Ctrl+D fills down."""
        assert event is not None
        model, chosen, clipboard = self._of, self.chosen(), QGuiApplication.clipboard()
        control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if clipboard is None:
            super().keyPressEvent(event)
        elif event.matches(QKeySequence.StandardKey.Copy):
            clipboard.setText(model.copied(chosen))
        elif event.matches(QKeySequence.StandardKey.Paste) and chosen:
            model.paste(*min(chosen), clipboard.text(), chosen)
        elif event.key() == Qt.Key.Key_D and control:
            self.fill_down()
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and chosen:
            if any(column == 0 for _, column in chosen):
                self.row_deleted.emit()
            else:
                model.put([(r, c, "") for r, c in chosen if model.editable(r, c)])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.currentIndex().isValid():
            if self.state() != QAbstractItemView.State.EditingState:  # else it ends the typing
                self.edit(self.currentIndex())
        else:
            super().keyPressEvent(event)

    def fill_down(self) -> None:
        """What the first chosen row has, in the rows below it too."""
        model, chosen = self._of, self.chosen()
        if not chosen:
            return
        first = chosen[0][0]
        model.put(
            [(r, c, model.cell(first, c).expression) for r, c in chosen if r > first and c and model.editable(r, c)]
        )


LOOKED_AT = 40
"""Rows from which the width of a column is taken."""


def headings(columns: Sequence[GridColumn]) -> list[str]:
    """Of columns: the group over the first one of it, then title and unit."""
    groups = [c.group for c in columns]
    return [
        "\n".join((c.group if k == 0 or groups[k - 1] != c.group else "", f"{c.title} {c.unit}".strip()))
        for k, c in enumerate(columns)
    ]


def grid_view(view: QTableView) -> None:
    """What all grids have in common."""
    view.setItemDelegate(CellDelegate(view))
    view.setShowGrid(False)
    view.setEditTriggers(
        QAbstractItemView.EditTrigger.AnyKeyPressed
        | QAbstractItemView.EditTrigger.DoubleClicked
        | QAbstractItemView.EditTrigger.EditKeyPressed
    )
    vertical, horizontal = view.verticalHeader(), view.horizontalHeader()
    assert vertical is not None and horizontal is not None
    vertical.hide()
    vertical.setDefaultSectionSize(ROW_HEIGHT)
    horizontal.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
    horizontal.setHighlightSections(False)


def paint_legend(p: QPainter, x: float, y: float, last: str) -> None:
    """How the ways of writing a value read, in one line."""
    for sample, italic, word, dotted in (
        ("16.0", True, "common or its parent's", False),
        ("16.0", False, "its own", False),
        ("16.0", False, "computed", True),
    ):
        p.setFont(theme.font(11, 400, italic))
        p.setPen(QColor(theme.SOFT if italic else theme.INK))
        p.drawText(QPointF(x, y), sample)
        width = p.fontMetrics().horizontalAdvance(sample)
        if dotted:
            p.setPen(QPen(QColor(theme.SOFT), 1, Qt.PenStyle.DotLine))
            p.drawLine(QPointF(x, y + 3), QPointF(x + width, y + 3))
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.SOFT))
        p.drawText(QPointF(x + width + 7, y), word)
        x += width + 7 + p.fontMetrics().horizontalAdvance(word) + 24
    p.drawText(QPointF(x, y), last)


def size_columns(view: QTableView, model: CellModel, grow: bool) -> None:
    """Columns as wide as what stands in them.

    Args:
        grow: they may only become wider: nothing moves under the pointer while values change.
    """
    metrics = view.fontMetrics()
    for k, header in enumerate(model.headers):
        cells = [model.cell(r, k) for r in range(min(len(model.keys), LOOKED_AT))]
        texts = [
            (header, 0),
            *((c.text, INDENT * c.depth + 16 * bool(c.state)) for c in cells if c.kind != "ghost" or not k),
        ]
        width = (
            max((metrics.horizontalAdvance(part) + more for t, more in texts for part in t.split("\n")), default=60)
            + 22
        )
        value = any(c.kind in TYPED for c in cells)
        view.setColumnWidth(k, max(74 if value else 56, min(width, 260), view.columnWidth(k) if grow else 0))


class CellGrid(QWidget):
    """A view of cells over a legend; while nobody looks nothing is read.

    Args:
        margins: around the view, the legend below it; last: the last words of the legend.
    """

    def __init__(self, model: CellModel, view: QTableView, margins: tuple[int, int, int, int], last: str) -> None:
        super().__init__()
        self.setObjectName("canvas")
        self._model, self._last, self._foot = model, last, margins[3]
        view.clicked.connect(self._on_clicked)
        model.modelReset.connect(lambda: size_columns(view, model, False))
        model.dataChanged.connect(lambda: size_columns(view, model, True))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(*margins)
        layout.addWidget(view)

    def showEvent(self, event: object) -> None:
        """Catch up with what changed meanwhile."""
        super().showEvent(event)  # type: ignore[arg-type]
        self._model.active = True
        self._model.refresh()

    def hideEvent(self, event: object) -> None:
        """Nobody looks: nothing is read."""
        super().hideEvent(event)  # type: ignore[arg-type]
        self._model.active = False

    def _on_clicked(self, index: QModelIndex) -> None:
        if index.data(KIND).kind in SWITCHES:
            self._model.toggle(index)

    def paintEvent(self, _: object) -> None:
        """The legend: how the ways of writing a value read."""
        p = QPainter(self)
        p.fillRect(self.rect(), QColor(theme.PAPER))
        paint_legend(p, 26.0, self.height() - self._foot / 2 + 4, self._last)
