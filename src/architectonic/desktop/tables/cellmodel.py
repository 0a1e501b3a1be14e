"""A grid of cells that is made anew from the family and the last evaluation, typed into, copied and pasted."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt

from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.tables.cells import KIND, TYPED, GridCell
from architectonic.family.records import Family

Edit = Callable[[Family], Family]


class CellModel(QAbstractTableModel):
    """Cells of the shown document.

    Attributes:
        active: whether somebody looks; nothing is read while nobody does.
    """

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.headers: list[str] = []
        self.cells: list[list[GridCell]] = []
        self.active = False
        refresh = soon(self, self.refresh)
        for signal in (desk.family_changed, desk.main.changed, desk.evaluated):
            signal.connect(refresh)

    @abstractmethod
    def content(self) -> tuple[list[str], list[list[GridCell]]]:
        """Headings and rows of now."""

    @abstractmethod
    def typed(self, row: int, column: int, text: str) -> tuple[str, Edit]:
        """The label of an edit and the edit: a text typed into a cell, "" to empty it."""

    @abstractmethod
    def toggle(self, index: QModelIndex) -> None:
        """Turn a switch on or off."""

    def refresh(self) -> None:
        """Follow the family while the grid is on the screen; the least is told to the views."""
        if not self.active:
            return
        headers, cells = self.content()
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
            return cell.told or (cell.expression if cell.kind in ("own", "inherited", "computed") else None)
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """What may be typed in."""
        if not index.isValid():
            return Qt.ItemFlag.NoItemFlags
        base = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return base | Qt.ItemFlag.ItemIsEditable if self.editable(index.row(), index.column()) else base

    def editable(self, row: int, column: int) -> bool:
        """Whether a cell can be typed into."""
        return self.cells[row][column].kind in TYPED

    def setData(self, index: QModelIndex, value: Any, role: int = 0) -> bool:
        """Type into a cell: the edit goes through the desk."""
        cell, text = self.cells[index.row()][index.column()], str(value).strip()
        return text != cell.expression and self.desk.apply(*self.typed(index.row(), index.column(), text))

    def copied(self, cells: list[tuple[int, int]]) -> str:
        """Cells as spreadsheets take them: rows by lines, columns by tabs; what can be typed as it is typed."""
        lines: dict[int, list[str]] = {}
        for row, column in sorted(cells):
            cell = self.cells[row][column]
            lines.setdefault(row, []).append(cell.expression or cell.text)
        return "\n".join("\t".join(line) for line in lines.values())

    def paste(self, row: int, column: int, text: str) -> bool:
        """Lines and tabs into cells from one on, all or nothing, as one edit; cells that are results are passed over."""
        changes = [
            self.typed(row + i, column + j, value.strip())[1]
            for i, line in enumerate(text.rstrip("\n").split("\n"))
            for j, value in enumerate(line.rstrip("\r").split("\t"))
            if row + i < len(self.cells) and column + j < len(self.headers) and self.editable(row + i, column + j)
        ]

        def pasted(family: Family) -> Family:
            for change in changes:
                family = change(family)
            return family

        return bool(changes) and self.desk.apply(f"paste into {len(changes)} cells", pasted)
