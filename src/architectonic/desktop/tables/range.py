"""A part's range: its configurations against parameters, switches and results."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView, QVBoxLayout, QWidget

from architectonic.describe.results import Node
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.tables.cells import KIND, ROW_HEIGHT, CellDelegate, GridCell, decimals
from architectonic.family import edits, names, scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import Layout, Parameter, Part
from architectonic.family.scopes import Scope
from architectonic.quantities import units


class RangeModel(QAbstractTableModel):
    """Cells of the shown document, made anew from the family and the last evaluation."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.headers: list[str] = []
        self.cells: list[list[GridCell]] = []
        self.active = False
        refresh = soon(self, self.refresh)
        for signal in (desk.family_changed, desk.main.changed, desk.evaluated):
            signal.connect(refresh)

    # --- content --------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Follow the family while the grid is on the screen; the least is told to the views."""
        if not self.active:
            return
        document = self.desk.main.document
        headers, cells = self._range(document) if isinstance(document, (Layout, Part)) else ([], [])
        shape = (len(cells), len(headers))
        if shape != (len(self.cells), len(self.headers)) or headers != self.headers:
            self.beginResetModel()
            self.headers, self.cells = headers, cells
            self.endResetModel()
        else:
            changed = [i for i, (a, b) in enumerate(zip(self.cells, cells, strict=True)) if a != b]
            self.cells = cells
            for i in changed:
                self.dataChanged.emit(self.index(i, 0), self.index(i, len(headers) - 1))

    def _value(self, document: Layout | Part, p: Parameter, row: str, shown: bool) -> GridCell:
        at = Scope(document.id, row)
        key, expression = scopes.cell(self.desk.family, at, p)
        text = names.shown_text(self.desk.family, document, expression)
        value = self.desk.evaluation.value(Node("value", at, p.id)) if self.desk.evaluation else None
        figure = "…" if value is None else f"{value / units.factor(p.unit):.{decimals(p)}f}"
        kind = "computed" if expression.refs else ("own" if key else "inherited")
        return GridCell(figure, text, kind, p.id, row, shown=shown, marked=kind == "own")

    def _range(self, document: Layout | Part) -> tuple[list[str], list[list[GridCell]]]:
        switched = [o for o in document.build if isinstance(o, BodyOperation)]
        bodies = list(document.bodies)
        headers = [
            "Configuration",
            *(f"{p.name}\n{p.unit}" for p in document.parameters),
            *(_two_lines(o.name) for o in switched),
        ]
        headers += [f"{document.bodies[b].name} {what}" for b in bodies for what in ("mass\ng", "volume\ncm³")]
        cells = []
        at, evaluation = self.desk.main.at, self.desk.evaluation
        for row, name in scopes.configurations(self.desk.family, document):
            there = Scope(document.id, row)
            shown = at == there
            parent = next((r.parent for r in document.configurations if r.id == row), "")
            line = [GridCell(f"└ {name}" if parent else name, name, "name", row, shown=shown)]
            line += [self._value(document, p, row, shown) for p in document.parameters]
            for o in switched:
                on = scopes.is_on(self.desk.family, there, o.switch)
                kind = "switch" if row in o.switch.own else "inherited switch"
                line.append(GridCell("on" if on else "off", "", kind, o.id, row, shown=shown))
            for b in bodies:
                mass = evaluation.value(Node("mass", there, b)) if evaluation else None
                measured = evaluation.value(Node("measure", there, b)) if evaluation else None
                volume = None if measured is None else measured["volume_mm3"] / 1000
                line.append(GridCell("…" if mass is None else f"{mass:.1f}", "", "result", shown=shown))
                line.append(GridCell("…" if volume is None else f"{volume:.2f}", "", "result", shown=shown))
            cells.append(line)
        return headers, cells

    # --- Qt -------------------------------------------------------------------------------------------

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        """Rows of the grid."""
        return 0 if parent.isValid() else len(self.cells)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        """Columns of the grid."""
        return 0 if parent.isValid() else len(self.headers)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        """Names of columns."""
        wanted = orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole
        return self.headers[section] if wanted and section < len(self.headers) else None

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        """Text, expression while edited, and the cell itself for the delegate."""
        if not index.isValid():
            return None
        cell = self.cells[index.row()][index.column()]
        if role == Qt.ItemDataRole.DisplayRole:
            return cell.text
        if role == Qt.ItemDataRole.EditRole:
            return cell.expression
        if role == KIND:
            return cell
        if role == Qt.ItemDataRole.ToolTipRole:
            return cell.expression if cell.kind in ("own", "inherited", "computed") else None
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """What may be typed in."""
        if not index.isValid():
            return Qt.ItemFlag.NoItemFlags
        base = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        typed = self.cells[index.row()][index.column()].kind in ("own", "inherited", "computed")
        return base | Qt.ItemFlag.ItemIsEditable if typed else base

    def setData(self, index: QModelIndex, value: Any, role: int = 0) -> bool:
        """Type into a cell: the edit goes through the desk."""
        cell = self.cells[index.row()][index.column()]
        document, text = self.desk.main.document_id, str(value).strip()
        if text == cell.expression:
            return False
        name = self.headers[index.column()].split("\n")[0]
        where = self.cells[index.row()][0].expression
        if not text:
            return self.desk.apply(
                f"{name} of {where} as the others", lambda f: edits.clear_cell(f, document, cell.item, cell.key)
            )
        label = f"{name} of {where} {cell.text} → {text}"
        return self.desk.apply(label, lambda f: edits.set_value(f, document, cell.item, text, cell.key))

    def toggle(self, index: QModelIndex) -> None:
        """Switch an operation on or off in one configuration."""
        cell = self.cells[index.row()][index.column()]
        document = self.desk.main.document_id
        name, where = self.headers[index.column()].replace("\n", " "), self.cells[index.row()][0].expression
        on = cell.text == "off"
        self.desk.apply(
            f"{name} {'on' if on else 'off'} in {where}",
            lambda f: edits.set_switch(f, document, cell.item, on, cell.key),
        )


def _two_lines(name: str) -> str:
    """A long name parted at the space nearest its middle."""
    spaces = [i for i, c in enumerate(name) if c == " "]
    if len(name) < 12 or not spaces:
        return name
    at = min(spaces, key=lambda i: abs(i - len(name) / 2))
    return f"{name[:at]}\n{name[at + 1 :]}"


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
        ("16.0", True, "common value or its parent's", False),
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


class RangeGrid(QWidget):
    """The grid with its legend."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("canvas")
        self.model = RangeModel(desk)
        self.view = QTableView()
        self.view.setModel(self.model)
        grid_view(self.view)
        self.view.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.view.clicked.connect(self._on_clicked)
        self._sized = False
        self.model.modelReset.connect(self._on_reset)
        self.model.dataChanged.connect(self._size_columns)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 56, 16, 34)
        layout.addWidget(self.view)
        self._size_columns()

    def _size_columns(self) -> None:
        metrics = self.fontMetrics()
        for k, header in enumerate(self.model.headers):
            sample = [header, *(row[k].text for row in self.model.cells[:50])]
            width = max((metrics.horizontalAdvance(part) for t in sample for part in t.split("\n")), default=60) + 22
            value = any(row[k].kind in ("own", "inherited", "computed") for row in self.model.cells)
            self.view.setColumnWidth(
                k, max(74 if value else 56, min(width, 260), self.view.columnWidth(k) if self._sized else 0)
            )
        self._sized = True

    def showEvent(self, event: object) -> None:
        """Catch up with what changed meanwhile."""
        super().showEvent(event)  # type: ignore[arg-type]
        self.model.active = True
        self.model.refresh()

    def hideEvent(self, event: object) -> None:
        """Nobody looks: nothing is read."""
        super().hideEvent(event)  # type: ignore[arg-type]
        self.model.active = False

    def _on_reset(self) -> None:
        self._sized = False
        self._size_columns()

    def _on_clicked(self, index: QModelIndex) -> None:
        cell: GridCell = index.data(KIND)
        if cell.kind in ("switch", "inherited switch"):
            self.model.toggle(index)

    def paintEvent(self, _: object) -> None:
        """The legend: how the ways of writing a value read."""
        p = QPainter(self)
        p.fillRect(self.rect(), QColor(theme.PAPER))
        paint_legend(p, 26.0, self.height() - 14.0, "Enter applies, an emptied cell follows the others again")
