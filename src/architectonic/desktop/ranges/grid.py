"""The canvas of a range: the grid, what is sought in it, the formula of the chosen cell, and pictures of the rows."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSizePolicy, QSplitter, QVBoxLayout, QWidget

from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit.seek import SeekField
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.ranges.model import RangeModel
from architectonic.desktop.ranges.sheet import RowSheet
from architectonic.desktop.ranges.view import RangeView
from architectonic.desktop.tables.gridlook import CellGrid
from architectonic.family import names, scopes
from architectonic.session.tables.columns import SwitchColumn, ValueColumn

ASIDE = 76
"""Room around what stands above the grid, px."""


class RangeGrid(QWidget):
    """The grid with what is sought above it, its legend below, and the contact sheet of its rows."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("canvas")
        self.desk, self.model = desk, RangeModel(desk)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Expanding)  # it takes the room there is
        self.view = RangeView(self.model)
        self.sheet = RowSheet(self.model, self._go)
        self.seek = SeekField("seek rows", self._on_sought)
        self.counted, self.formula = QLabel(""), QLabel("")
        self.counted.setObjectName("soft")
        self.formula.setTextFormat(Qt.TextFormat.PlainText)
        self.all = QPushButton("Show all rows")
        self.all.clicked.connect(self.show_all)
        line = QHBoxLayout()
        line.setContentsMargins(16, 8, 16, 0)
        line.addWidget(self.counted)
        line.addWidget(self.all)
        line.addStretch(1)
        line.addWidget(self.formula)
        line.addSpacing(12)
        line.addWidget(self.seek)
        grid = CellGrid(self.model, self.view, (16, 2, 16, 30), "▌ differs from its parent")
        parts = QSplitter(Qt.Orientation.Vertical)
        parts.addWidget(grid)
        parts.addWidget(self.sheet)
        parts.setSizes([330, 330])
        parts.setCollapsible(0, False)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(line)
        layout.addWidget(parts, 1)
        selection = self.view.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(self._on_current)
        lay, tell = soon(self, self.view.lay_left), soon(self, self._tell)
        self.model.modelReset.connect(lay)
        for signal in (self.model.modelReset, self.model.dataChanged, desk.evaluated):
            signal.connect(tell)

    def _on_current(self, current: QModelIndex, _: QModelIndex) -> None:
        """The row one works in is the configuration that is shown."""
        self._tell()
        key, main = self.view.row, self.desk.main
        if key and main.at is not None and main.at.configuration != key and self.view.hasFocus():
            self.desk.show(size=key)

    def _go(self, key: str) -> None:
        """Show a row."""
        self.view.setFocus()
        self.view.choose(key, max(0, self.view.currentIndex().column()))

    def _tell(self) -> None:
        """How many rows there are, and what the chosen cell says."""
        model = self.model
        hidden = model.total - len(model.rows)
        told = counted(model.total, "configuration")
        told = f"{len(model.rows)} of {told}" if hidden else told
        only = [f"{c.title} is {model.only[c.key] or 'blank'}" for c in model.columns if c.key in model.only]
        self.counted.setText(", ".join([told, *only]))
        self.all.setVisible(bool(hidden or model.only or model.sorted_by[0]))
        text = self._formula()
        room = self.width() - self.counted.sizeHint().width() - self.seek.width() - ASIDE - 120 * self.all.isVisible()
        self.formula.setText(self.formula.fontMetrics().elidedText(text, Qt.TextElideMode.ElideMiddle, max(room, 60)))
        self.formula.setToolTip(text)

    def _formula(self) -> str:
        """`wall of AT 355 is pick(length < 400 mm, 1.5 mm, 2 mm)`."""
        index, model, family = self.view.currentIndex(), self.model, self.desk.family
        document = model.document
        if document is None or not 0 < index.column() <= len(model.columns) or not 0 <= index.row() < len(model.rows):
            return ""
        column, row = model.columns[index.column() - 1], model.rows[index.row()]
        if isinstance(column, ValueColumn):
            cell, said = scopes.cell(family, model.at(row.key), column.record)
            text = names.shown_text(family, document, said, column.sketch)
        elif isinstance(column, SwitchColumn):
            cell, turned = scopes.turned(family, model.at(row.key), column.record(family).switch)
            text = "on" if turned is True else "off"
            if not isinstance(turned, bool):
                text = f"on when {names.shown_text(family, document, turned)}"
        else:
            return ""
        own = cell in column.own(family, model.at(row.key))
        whose = f", as {names.row_name(family, document.id, cell)}" if cell else ", common to all"
        return f"{column.title} of {row.name}: {text}{'' if own else whose}"

    def show_all(self) -> None:
        """Every row, in the order of the document."""
        self.seek.setText("")
        self.model.sought, self.model.only, self.model.sorted_by = "", {}, ("", False)
        self.model.refresh()

    def _on_sought(self, text: str) -> None:
        self.model.sought = text
        self.model.refresh()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Ctrl+F seeks."""
        if event is not None and event.matches(QKeySequence.StandardKey.Find):
            self.seek.begin()
            return
        super().keyPressEvent(event)
