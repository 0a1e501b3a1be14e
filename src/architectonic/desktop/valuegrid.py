"""Grids of values: a table's parameters against sizes, and a part's range of configurations."""

from __future__ import annotations

from typing import Any, NamedTuple

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from architectonic.describe.results import Node
from architectonic.desktop import theme
from architectonic.desktop.soon import soon
from architectonic.desktop.workbench import Workbench
from architectonic.family import edits, names, scopes
from architectonic.family.records import Extrude, Fillet, Model, Parameter
from architectonic.family.scopes import Scope
from architectonic.quantities import units

KIND = Qt.ItemDataRole.UserRole
ROW_HEIGHT = 28


class Cell(NamedTuple):
    """What a cell shows: text, expression, how it came about, and whether it can be typed in.

    `kind` is name, note, own, inherited, computed, switch, inherited switch or result.
    """

    text: str
    expression: str
    kind: str
    item: str = ""
    key: str = ""


class GridModel(QAbstractTableModel):
    """Cells of the shown document, made anew from the family and the last evaluation."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.bench = bench
        self.headers: list[str] = []
        self.cells: list[list[Cell]] = []
        self.shown_row = self.shown_column = -1
        self.active = False
        refresh = soon(self, self.refresh)
        for signal in (bench.family_changed, bench.main.changed, bench.evaluated):
            signal.connect(refresh)

    # --- content --------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Follow the family while the grid is on the screen; the least is told to the views."""
        if not self.active:
            return
        document = self.bench.main.document
        headers, cells = (
            ([], []) if document is None else (self._range() if isinstance(document, Model) else self._table())
        )
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

    def _table(self) -> tuple[list[str], list[list[Cell]]]:
        document = self.bench.main.document
        assert document is not None
        rows = scopes.configurations(self.bench.family, document)
        headers = ["Name", *(name for _, name in rows), "Unit", "Note"]
        self.shown_row = -1
        at = self.bench.main.at
        self.shown_column = 1 + [r for r, _ in rows].index(at.configuration) if at else -1
        cells = []
        for p in document.parameters:
            line = [Cell(p.name, p.name, "name", p.id)]
            line += [self._value(p, row) for row, _ in rows]
            cells.append([*line, Cell(p.unit, p.unit, "result"), Cell(p.note, p.note, "note", p.id)])
        return headers, cells

    def _value(self, p: Parameter, row: str) -> Cell:
        document = self.bench.main.document
        assert document is not None
        at = Scope(document.id, row)
        key, expression = scopes.cell(self.bench.family, at, p)
        text = names.shown_text(self.bench.family, document, expression)
        value = self.bench.evaluation.value(Node("value", *at, p.id)) if self.bench.evaluation else None
        shown = "…" if value is None else f"{value / units.factor(p.unit):.{_decimals(p)}f}"
        kind = "computed" if expression.refs else ("own" if key else "inherited")
        return Cell(shown, text, kind, p.id, row)

    def _range(self) -> tuple[list[str], list[list[Cell]]]:
        document = self.bench.main.document
        assert isinstance(document, Model)
        switched = [o for o in document.build if isinstance(o, (Extrude, Fillet))]
        bodies = list(document.bodies)
        headers = [
            "Configuration",
            *(f"{p.name}\n{p.unit}" for p in document.parameters),
            *(_two_lines(o.name) for o in switched),
        ]
        headers += [f"{document.bodies[b].name} {what}" for b in bodies for what in ("mass\ng", "volume\ncm³")]
        cells = []
        at, evaluation = self.bench.main.at, self.bench.evaluation
        for k, (row, name) in enumerate(scopes.configurations(self.bench.family, document)):
            there = Scope(document.id, row)
            if at == there:
                self.shown_row = k
            parent = next((r.parent for r in document.configurations if r.id == row), "")
            line = [Cell(f"└ {name}" if parent else name, name, "name", row)]
            line += [self._value(p, row) for p in document.parameters]
            for o in switched:
                own = any(key in o.switch.own for key in (row,))
                on = scopes.is_on(self.bench.family, there, o.switch)
                line.append(Cell("on" if on else "off", "", "switch" if own else "inherited switch", o.id, row))
            for b in bodies:
                mass = evaluation.value(Node("mass", *there, b)) if evaluation else None
                measured = evaluation.value(Node("measure", *there, b)) if evaluation else None
                line.append(Cell("…" if mass is None else f"{mass:.1f}", "", "result"))
                line.append(Cell("…" if measured is None else f"{measured['volume_mm3'] / 1000:.2f}", "", "result"))
            cells.append(line)
        self.shown_column = -1
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
        if (
            orientation == Qt.Orientation.Horizontal
            and role == Qt.ItemDataRole.DisplayRole
            and section < len(self.headers)
        ):
            return self.headers[section]
        return None

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
        if role == Qt.ItemDataRole.TextAlignmentRole:
            left = cell.kind in ("name", "note") or (cell.kind == "result" and not cell.text[:1].isdigit())
            side = Qt.AlignmentFlag.AlignLeft if left else Qt.AlignmentFlag.AlignRight
            return int(side | Qt.AlignmentFlag.AlignVCenter)
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """What may be typed in."""
        if not index.isValid():
            return Qt.ItemFlag.NoItemFlags
        base = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        if self.cells[index.row()][index.column()].kind in ("own", "inherited", "computed", "name"):
            cell = self.cells[index.row()][index.column()]
            if cell.kind != "name" or not isinstance(self.bench.main.document, Model):
                return base | Qt.ItemFlag.ItemIsEditable
        return base

    def setData(self, index: QModelIndex, value: Any, role: int = 0) -> bool:
        """Type into a cell: the edit goes through the workbench."""
        cell = self.cells[index.row()][index.column()]
        document, text = self.bench.main.document_id, str(value).strip()
        if text == cell.expression:
            return False
        if cell.kind == "name":
            return self.bench.apply(
                f"{cell.text} is now {text}", lambda f: edits.rename_item(f, document, cell.item, text)
            )
        name = (
            self.cells[index.row()][0].text
            if not isinstance(self.bench.main.document, Model)
            else self.headers[index.column()].split("\n")[0]
        )
        where = dict(scopes.configurations(self.bench.family, self.bench.family.documents[document])).get(cell.key, "")
        if not text:
            return self.bench.apply(
                f"{name} of {where} as the others", lambda f: edits.clear_cell(f, document, cell.item, cell.key)
            )
        label = f"{name} of {where} {cell.text} → {text}"
        return self.bench.apply(label, lambda f: edits.set_value(f, document, cell.item, text, cell.key))

    def toggle(self, index: QModelIndex) -> None:
        """Switch an operation on or off in one configuration."""
        cell = self.cells[index.row()][index.column()]
        document = self.bench.main.document_id
        name, where = self.headers[index.column()].replace("\n", " "), self.cells[index.row()][0].expression
        on = cell.text == "off"
        self.bench.apply(
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


def _decimals(p: Parameter) -> int:
    return {"number": 2, "angle": 1}.get(p.quantity, 3 if p.unit in ("in", "ft", "m") else 2)


class CellDelegate(QStyledItemDelegate):
    """Paints how a value came about: inherited, own, computed; switches; results on a wash."""

    def paint(self, p: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """One cell."""
        assert p is not None
        cell: Cell = index.data(KIND)
        model = index.model()
        assert isinstance(model, GridModel)
        r = QRectF(option.rect)
        p.save()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        shown = index.row() == model.shown_row or index.column() == model.shown_column
        if shown:
            p.fillRect(r, QColor(theme.PLUM_TINT))
        elif cell.kind == "result":
            p.fillRect(r, theme.colour(theme.PANEL, 0.5))
        p.setPen(QPen(QColor(theme.HAIR), 1))
        p.drawLine(r.bottomLeft(), r.bottomRight())
        if cell.kind in ("switch", "inherited switch"):
            self._switch(p, r, cell)
        else:
            soft = cell.kind in ("inherited", "note") or cell.text == "…"
            p.setPen(QColor(theme.SOFT if soft else theme.INK))
            weight = 600 if cell.kind == "name" else 400
            p.setFont(theme.font(12, weight, cell.kind == "inherited"))
            left = bool(int(index.data(Qt.ItemDataRole.TextAlignmentRole)) & int(Qt.AlignmentFlag.AlignLeft))
            side = Qt.AlignmentFlag.AlignLeft if left else Qt.AlignmentFlag.AlignRight
            inner = r.adjusted(10, 0, -10, 0)
            p.drawText(inner, side | Qt.AlignmentFlag.AlignVCenter, cell.text)
            if cell.kind == "computed":
                width = p.fontMetrics().horizontalAdvance(cell.text)
                p.setPen(QPen(QColor(theme.SOFT), 1, Qt.PenStyle.DotLine))
                p.drawLine(
                    QPointF(inner.right() - width, r.center().y() + 8), QPointF(inner.right(), r.center().y() + 8)
                )
            if cell.kind == "own" and cell.key and self._differs(index):
                p.fillRect(QRectF(r.left(), r.top() + 1, 3, r.height() - 2), QColor(theme.PLUM))
        view = option.widget
        if isinstance(view, QTableView) and view.hasFocus() and view.currentIndex() == index:
            p.setPen(QPen(QColor(theme.PLUM), 2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(r.adjusted(1, 1, -1, -1))
        p.restore()

    def _differs(self, index: QModelIndex) -> bool:
        model = index.model()
        assert isinstance(model, GridModel)
        return isinstance(model.bench.main.document, Model)

    def _switch(self, p: QPainter, r: QRectF, cell: Cell) -> None:
        on, faint = cell.text == "on", cell.kind == "inherited switch"
        p.setOpacity(0.55 if faint else 1.0)
        x, y = r.center().x() - 11, r.center().y()
        p.setPen(QPen(QColor(theme.INK if on else theme.SOFT), 1.2))
        p.setBrush(QColor(theme.INK) if on else Qt.BrushStyle.NoBrush)
        p.drawRoundedRect(QRectF(x, y - 6, 22, 12), 6, 6)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(theme.FIELD) if on else QColor(theme.SOFT))
        p.drawEllipse(QPointF(x + (16 if on else 6), y), 3.6, 3.6)


class ValueGrid(QWidget):
    """The grid with its legend."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.setObjectName("canvas")
        self.model = GridModel(bench)
        self.view = QTableView()
        self.view.setModel(self.model)
        self.view.setItemDelegate(CellDelegate(self.view))
        self.view.setShowGrid(False)
        self.view.setEditTriggers(
            QAbstractItemView.EditTrigger.AnyKeyPressed
            | QAbstractItemView.EditTrigger.DoubleClicked
            | QAbstractItemView.EditTrigger.EditKeyPressed
        )
        self.view.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        vertical, horizontal = self.view.verticalHeader(), self.view.horizontalHeader()
        assert vertical is not None and horizontal is not None
        vertical.hide()
        vertical.setDefaultSectionSize(ROW_HEIGHT)
        horizontal.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        horizontal.setHighlightSections(False)
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
        cell: Cell = index.data(KIND)
        if cell.kind in ("switch", "inherited switch"):
            self.model.toggle(index)

    def paintEvent(self, _: object) -> None:
        """The legend: how the four ways of writing a value read."""
        p = QPainter(self)
        p.fillRect(self.rect(), QColor(theme.PAPER))
        if not self.model.cells:
            p.setFont(theme.font(12))
            p.setPen(QColor(theme.SOFT))
            p.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "No values yet: New value above makes the first one.")
            return
        x, y = 26.0, self.height() - 14.0
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
        p.drawText(QPointF(x, y), "Enter applies, an emptied cell follows the others again")
