"""The range of a document: its configurations against what drives it, its own values, switches and results."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView, QVBoxLayout, QWidget

from architectonic.describe.assembly.plans import weighed
from architectonic.describe.results import Node
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.tables.cells import KIND, ROW_HEIGHT, CellDelegate, GridCell, decimals
from architectonic.family import edits, names, scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import MATCH, AnyDocument, Assembly, Layout, Model, Parameter, Part, Valued
from architectonic.family.scopes import Scope
from architectonic.quantities import units
from architectonic.session.feeds.sources import SourceRow, groups_of
from architectonic.session.model import measuring


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
        headers, cells = self._range(document) if document is not None else ([], [])
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

    def _value(self, document: AnyDocument, p: Parameter, row: str, shown: bool) -> GridCell:
        at = Scope(document.id, row)
        key, expression = scopes.cell(self.desk.family, at, p)
        text = names.shown_text(self.desk.family, document, expression)
        value = self.desk.evaluation.value(Node("value", at, p.id)) if self.desk.evaluation else None
        figure = "…" if value is None else f"{value / units.factor(p.unit):.{decimals(p)}f}"
        kind = "computed" if expression.refs else ("own" if key else "inherited")
        return GridCell(figure, text, kind, p.id, row, shown=shown, marked=kind == "own")

    def _range(self, document: AnyDocument) -> tuple[list[str], list[list[GridCell]]]:
        """Values that drive it and its own, switches, then what it comes to: of measurements, bodies and instances."""
        switched = [o for o in getattr(document, "build", ()) if isinstance(o, BodyOperation)]
        taken = self._taken(document)
        called = Counter(_last(t.name) for t, _ in taken)
        headers = ["Configuration"]
        for t, v in taken:  # where two are called alike, what they stand in tells them apart
            of = self.desk.family.documents[t.document].name if t.name == _last(t.name) else t.name[: t.name.rfind(".")]
            headers.append(f"{f'{of} ' if called[_last(t.name)] > 1 else ''}{_last(t.name)}\n{names.unit_of(v)}")
        headers += [f"{p.name}\n{p.unit}" for p in document.parameters]
        headers += [_two_lines(o.name) for o in switched]
        results = self._results(document)
        headers += [header for header, _ in results]
        cells = []
        at = self.desk.main.at
        for row, name in scopes.configurations(self.desk.family, document):
            there = Scope(document.id, row)
            shown = at == there
            parent = next((r.parent for r in document.configurations if r.id == row), "")
            line = [GridCell(f"└ {name}" if parent else name, name, "name", row, shown=shown)]
            line += [self._figure(there, t, v, shown) for t, v in taken]
            line += [self._value(document, p, row, shown) for p in document.parameters]
            for o in switched:
                on = scopes.is_on(self.desk.family, there, o.switch)
                kind = "switch" if row in o.switch.own else "inherited switch"
                line.append(GridCell("on" if on else "off", "", kind, o.id, row, shown=shown))
            line += [GridCell(read(there), "", "result", shown=shown) for _, read in results]
            cells.append(line)
        return headers, cells

    def _taken(self, document: AnyDocument) -> list[tuple[SourceRow, Valued]]:
        """Values of other documents that this one reads, and dimensions of its sketches that have a name."""
        rows = [r for g in groups_of(self.desk.main.subject) for r in g.rows]
        found = [(r, edits.value_item(self.desk.family, r.document, r.item)[2]) for r in rows]
        return [(r, v) for r, v in found if not isinstance(v, Parameter) or r.document != document.id]

    def _figure(self, there: Scope, row: SourceRow, item: Valued, shown: bool) -> GridCell:
        """What a value comes to in a configuration; it is changed where it lives."""
        at = (
            there
            if row.document == there.document
            else scopes.source_scope(self.desk.family, there, row.document, MATCH)
        )
        value = self.desk.evaluation.value(Node("value", at, row.item)) if self.desk.evaluation else None
        unit = names.unit_of(item)
        text = "…" if value is None else f"{value / units.factor(unit):.2f}"
        return GridCell(text, "", "result", shown=shown)

    def _results(self, document: AnyDocument) -> list[tuple[str, Callable[[Scope], str]]]:
        """What a document comes to: a heading, and how its figure is read in a configuration."""
        evaluation = self.desk.evaluation

        def read(what: str, item: str, told: Callable[[Any], str]) -> Callable[[Scope], str]:
            def figure(there: Scope) -> str:
                found = evaluation.outcomes.get(Node(what, there, item)) if evaluation is not None else None
                if found is None:
                    return "…"
                return "—" if found.value is None else told(found.value)

            return figure

        found: list[tuple[str, Callable[[Scope], str]]] = []
        for m in document.measurements if isinstance(document, Model) else ():
            found.append((m.name, read("value", m.id, lambda v, what=m.what: measuring.figure(what, v))))  # type: ignore[misc]
        for body, record in document.bodies.items() if isinstance(document, (Layout, Part)) else ():
            found.append((f"{record.name} mass\ng", read("mass", body, lambda v: f"{v:.1f}")))
            found.append(
                (f"{record.name} volume\ncm³", read("measure", body, lambda v: f"{v['volume_mm3'] / 1000:.2f}"))
            )
            found.append((f"{record.name} box\nmm", read("measure", body, lambda v: _box(v["box_mm"]))))
        if isinstance(document, Assembly):
            found.append(("Instances", read("assembly", "", lambda v: str(len(v)))))
            found.append(
                ("Mass\ng", read("assembly", "", lambda v: "—" if weighed(v) is None else f"{weighed(v):.1f}"))
            )
        return found

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


def _last(name: str) -> str:
    """The last part of a dotted name."""
    return name[name.rfind(".") + 1 :]


def _box(box: Sequence[float]) -> str:
    """`150.0 × 150.0 × 18.0`."""
    return " × ".join(f"{high - low:.1f}" for low, high in zip(box[:3], box[3:], strict=True))


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
        layout.setContentsMargins(16, 10, 16, 34)
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
