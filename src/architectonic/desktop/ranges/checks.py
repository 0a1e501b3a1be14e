"""The canvas of checks: the matrix of a document, and below it what the chosen cell says and what would mend it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSizePolicy, QSplitter, QVBoxLayout, QWidget

from architectonic.check.cells import CheckCell
from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.signs import paint_state
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.ranges.drawer import CellDrawer
from architectonic.desktop.ranges.matrixgrid import MARKS, WORDS, MatrixModel, MatrixView
from architectonic.session.ranges.matrix import Matrix


class Legend(QWidget):
    """What the marks mean."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(28)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Mark and word, in one line."""
        p, x = QPainter(self), 26.0
        p.setFont(theme.font(11))
        for state, word in WORDS.items():
            paint_state(p, MARKS[state], x, 14)
            p.setPen(QColor(theme.SOFT))
            p.drawText(QPointF(x + 12, 18), word)
            x += 12 + p.fontMetrics().horizontalAdvance(word) + 26


class ChecksCanvas(QWidget):
    """The matrix of the shown document.

    Args:
        go: shows an item of a document, such as a rule.

    Signals:
        shown: somebody begins to look at it.
    """

    shown = pyqtSignal()

    def __init__(self, desk: Desk, go: Callable[[str, str], object]) -> None:
        super().__init__()
        self.setObjectName("canvas")
        self.desk, self._go = desk, go
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Expanding)  # it takes the room there is
        self.model = MatrixModel()
        self.view = MatrixView(self.model)
        self.drawer = CellDrawer(desk)
        self.told, self.following = QLabel(), QPushButton("Next that does not hold  N")
        self.told.setObjectName("soft")
        self.following.clicked.connect(self.view.next_bad)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        top = QHBoxLayout()
        top.setContentsMargins(16, 6, 16, 4)
        top.addWidget(self.told, 1)
        top.addWidget(self.following)
        layout.addLayout(top)
        parts = QSplitter(Qt.Orientation.Vertical)
        parts.addWidget(self.view)
        parts.addWidget(self.drawer)
        parts.setStretchFactor(0, 1)
        parts.setSizes([340, 290])
        layout.addWidget(parts, 1)
        layout.addWidget(Legend())
        selection = self.view.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(lambda *_: self._say())
        self.view.opened.connect(self.open)
        self.view.first = self.drawer.pressed
        self.drawer.leads.connect(self.open)
        self.drawer.row.connect(self.show_row)
        self.drawer.asked_for.connect(self.view.setFocus)
        refresh = soon(self, self.refresh)
        for signal in (desk.evaluated, desk.main.changed, desk.family_changed):
            signal.connect(refresh)

    def refresh(self) -> None:
        """Follow the evaluation while somebody looks."""
        evaluation, document = self.desk.evaluation, self.desk.main.document
        if not self.isVisible() or evaluation is None or document is None:
            return
        if document.id not in evaluation.family.documents:
            return
        matrix = Matrix(evaluation.family, evaluation, document.id)
        self.model.show(matrix)
        if not self.view.currentIndex().isValid() and not self.view.next_bad() and matrix.columns:
            self.view.setCurrentIndex(self.model.index(0, 0))
        self._say()

    def _say(self) -> None:
        matrix = self.model.matrix
        if matrix is None:
            return
        cells = [matrix.cell(r, c).state for r in range(len(matrix.rows)) for c in range(len(matrix.columns))]
        asked, known = sum(s != "off" for s in cells), sum(s not in ("off", "updating") for s in cells)
        causes = matrix.causes()
        wrong = sum(s in ("out of rule", "failing") for s in cells)
        told = (
            f"{counted(len(causes), 'cause')}, {counted(wrong, 'cell')}" if causes else "everything that is known holds"
        )
        self.told.setText(
            f"{known} of {asked} cells looked at; {told if asked == known or causes else 'being worked out'}"
        )
        self.following.setEnabled(bool(wrong))
        index = self.view.currentIndex()
        there = self.model.cell(index) is not None
        self.drawer.say(matrix, index.row() if there else -1, index.column() if there else -1)

    @property
    def cell(self) -> CheckCell | None:
        """The one that is chosen."""
        return self.model.cell(self.view.currentIndex())

    def open(self) -> None:
        """Go where the chosen cell leads: the document in that row and alternate, and what is asked there."""
        cell = self.cell
        if cell is not None:
            self.desk.show(cell.at.document, cell.at.configuration, cell.at.alternate)
            if cell.ask.item:
                self._go(cell.ask.document, cell.ask.item)

    def show_row(self) -> None:
        """Show the row of the chosen cell."""
        matrix, index = self.model.matrix, self.view.currentIndex()
        if matrix is not None and index.isValid() and index.row() < len(matrix.rows):
            self.desk.show(size=matrix.rows[index.row()].key)

    def showEvent(self, event: object) -> None:
        """Catch up with what changed meanwhile."""
        super().showEvent(event)  # type: ignore[arg-type]
        self.shown.emit()
        self.refresh()
