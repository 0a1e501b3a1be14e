"""A grid of cells that is made anew from the family and the last evaluation, typed into, copied and pasted."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QLocale, QModelIndex, Qt

from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.tables.cells import KIND, LEFT, SWITCHES, TYPED, GridCell
from architectonic.exchange.spreadsheet import decimal_comma, number_text
from architectonic.family.records import Family

Edit = Callable[[Family], Family]
READ = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
TYPED_IN = READ | Qt.ItemFlag.ItemIsEditable
SEEN = 4000
"""Cells that are compared with what they were; beyond, all that is seen is painted anew."""


class CellModel(QAbstractTableModel):
    """Cells of the shown document, each made when somebody looks at it.

    Attributes:
        active: whether somebody looks at all; nothing is read while nobody does.
        headers: of the columns; keys: of the rows.
    """

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.headers: list[str] = []
        self.keys: list[str] = []
        self.active = False
        self._cells: dict[tuple[int, int], GridCell] = {}
        refresh = soon(self, self.refresh)
        for signal in (desk.family_changed, desk.main.changed, desk.evaluated):
            signal.connect(refresh)

    @abstractmethod
    def content(self) -> tuple[list[str], list[str]]:
        """Headings and keys of rows of now."""

    @abstractmethod
    def made(self, row: int, column: int) -> GridCell:
        """A cell of now."""

    @abstractmethod
    def typed(self, row: int, column: int, text: str) -> tuple[str, Edit]:
        """The label of an edit and the edit: a text typed into a cell, "" to empty it."""

    @abstractmethod
    def toggle(self, index: QModelIndex) -> None:
        """Turn a switch on or off."""

    def cell(self, row: int, column: int) -> GridCell:
        """A cell by its place."""
        found = self._cells.get((row, column))
        if found is None:
            found = self._cells[row, column] = self.made(row, column)
        return found

    @property
    def cells(self) -> list[list[GridCell]]:
        """Every cell."""
        return [[self.cell(r, c) for c in range(len(self.headers))] for r in range(len(self.keys))]

    def refresh(self) -> None:
        """Follow the family while the grid is on the screen; the least is told to the views."""
        if not self.active:
            return
        was, self._cells = self._cells, {}
        headers, keys = self.content()
        if headers != self.headers or keys != self.keys:
            self.beginResetModel()
            self.headers, self.keys = headers, keys
            self.endResetModel()
            return
        changed = (
            set(range(len(keys))) if len(was) > SEEN else {r for (r, c), old in was.items() if self.cell(r, c) != old}
        )
        if changed:
            self.dataChanged.emit(self.index(min(changed), 0), self.index(max(changed), len(headers) - 1))

    # --- Qt -------------------------------------------------------------------------------------------

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        """Rows of the grid."""
        return 0 if parent.isValid() else len(self.keys)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        """Columns of the grid."""
        return 0 if parent.isValid() else len(self.headers)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        """Names of columns, over figures at the right."""
        if role == Qt.ItemDataRole.TextAlignmentRole and orientation == Qt.Orientation.Horizontal and self.keys:
            cell = self.cell(0, section)
            left = cell.left or cell.kind in LEFT
            side = (
                Qt.AlignmentFlag.AlignHCenter
                if cell.kind in SWITCHES
                else Qt.AlignmentFlag.AlignLeft
                if left
                else Qt.AlignmentFlag.AlignRight
            )
            return int(side | Qt.AlignmentFlag.AlignVCenter)
        wanted = orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole
        return self.headers[section] if wanted and section < len(self.headers) else None

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        """Text, expression while edited, and the cell itself for the delegate."""
        if not index.isValid():
            return None
        cell = self.cell(index.row(), index.column())
        if role == KIND:
            return cell
        if role == Qt.ItemDataRole.DisplayRole:
            return cell.text
        if role == Qt.ItemDataRole.EditRole:
            return cell.expression
        if role == Qt.ItemDataRole.ToolTipRole:
            return cell.told or (cell.expression if cell.kind in ("own", "inherited", "computed") else None)
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """What may be typed in."""
        if not index.isValid():
            return Qt.ItemFlag.NoItemFlags
        return TYPED_IN if self.editable(index.row(), index.column()) else READ

    def editable(self, row: int, column: int) -> bool:
        """Whether a cell can be typed into."""
        return self.cell(row, column).kind in TYPED

    def setData(self, index: QModelIndex, value: Any, role: int = 0) -> bool:
        """Type into a cell: the edit goes through the desk."""
        cell, text = self.cell(index.row(), index.column()), str(value).strip()
        return text != cell.expression and self.desk.apply(*self.typed(index.row(), index.column(), text))

    def copied(self, cells: list[tuple[int, int]]) -> str:
        """Cells as spreadsheets take them: rows by lines, columns by tabs; what can be typed as it is typed."""
        lines: dict[int, list[str]] = {}
        for row, column in sorted(cells):
            cell = self.cell(row, column)
            lines.setdefault(row, []).append(cell.expression or cell.text)
        return "\n".join("\t".join(line) for line in lines.values())

    def paste(self, row: int, column: int, text: str, chosen: Sequence[tuple[int, int]] = ()) -> bool:
        """Lines and tabs into cells from one on, all or nothing, as one edit; cells that are results are passed over.

        Args:
            chosen: a single text goes into all of them.
        """
        block = [line.rstrip("\r").split("\t") for line in text.rstrip("\n").split("\n")]
        flat = [c.strip() for line in block for c in line]
        comma = decimal_comma(flat, otherwise=QLocale().decimalPoint() == ",")
        block = [[number_text(c.strip(), comma) for c in line] for line in block]
        if len(block) == 1 and len(block[0]) == 1 and len(chosen) > 1:
            return self.put([(r, c, block[0][0]) for r, c in chosen if self.editable(r, c)], "paste into")
        return self.place(block, row, column)

    def place(self, block: list[list[str]], row: int, column: int) -> bool:
        """A block of texts from a cell on."""
        return self.put(
            [
                (row + i, column + j, value)
                for i, line in enumerate(block)
                for j, value in enumerate(line)
                if row + i < len(self.keys) and column + j < len(self.headers) and self.editable(row + i, column + j)
            ],
            "paste into",
        )

    def put(self, cells: Sequence[tuple[int, int, str]], verb: str = "type into") -> bool:
        """Texts into cells as one edit, all or nothing."""
        changes = [self.typed(r, c, text)[1] for r, c, text in cells]

        def pasted(family: Family) -> Family:
            for change in changes:
                family = change(family)
            return family

        return bool(changes) and self.desk.apply(f"{verb} {counted(len(changes), 'cell')}", pasted)
