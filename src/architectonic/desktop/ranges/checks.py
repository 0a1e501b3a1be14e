"""The canvas of checks: the matrix of a document, and below it what the chosen cell says and where it leads."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QSizePolicy, QSplitter, QVBoxLayout, QWidget

from architectonic.check.cells import CheckCell
from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.signs import paint_state
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.ranges.matrixgrid import MARKS, WORDS, MatrixModel, MatrixView
from architectonic.session.ranges.matrix import Matrix

LINE = 22
SAYS = {
    "holds": "it holds", "near": "it holds, near its limit", "out of rule": "it is out of rule", "failing": "it cannot be worked out",
    "updating": "it is being worked out", "off": "it is not asked here",
}  # fmt: skip


class RowFigures(QWidget):
    """One figure over all rows: a bead for each on a line, and the limit of each."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[tuple[str, CheckCell]] = []
        self.current = -1
        self.setMinimumWidth(300)

    def show_rows(self, rows: list[tuple[str, CheckCell]], current: int) -> None:
        """Those that have figures."""
        self.rows, self.current = rows, current
        self.setMinimumHeight(LINE * len(rows) + 10)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Names at the left, figures at the right."""
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        figures = [v for _, c in self.rows for v in (c.figure, c.limit) if v is not None]
        low, high = (min(figures), max(figures)) if figures else (0.0, 1.0)
        room = (high - low) or abs(high) or 1.0
        low, high = low - 0.08 * room, high + 0.08 * room
        left, right = 110.0, self.width() - 92.0

        def x(value: float) -> float:
            return left + (value - low) / (high - low) * (right - left)

        for k, (name, cell) in enumerate(self.rows):
            y = LINE * k + LINE / 2 + 4
            p.setFont(theme.font(11, 600 if k == self.current else 400))
            p.setPen(QColor(theme.INK))
            text = p.fontMetrics().elidedText(name, Qt.TextElideMode.ElideMiddle, int(left) - 10)
            p.drawText(
                QRectF(0, y - 10, left - 8, 20), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, text
            )
            told = WORDS[cell.state] if cell.figure is None else f"{cell.figure:.4g} {cell.unit}".strip()
            p.drawText(
                QRectF(right + 8, y - 10, 84, 20), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, told
            )
            if cell.figure is None:
                paint_state(p, MARKS[cell.state], left + 8, y)
                continue
            p.setPen(QPen(QColor(theme.HAIR), 3))
            p.drawLine(QPointF(left, y), QPointF(right, y))
            if cell.limit is not None:
                p.setPen(QPen(QColor(theme.INK), 2))
                p.drawLine(QPointF(x(cell.limit), y - 6), QPointF(x(cell.limit), y + 6))
            paint_state(p, MARKS["holds" if cell.state == "near" else cell.state], x(cell.figure), y)


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
    """

    def __init__(self, desk: Desk, go: Callable[[str, str], object]) -> None:
        super().__init__()
        self.setObjectName("canvas")
        self.desk, self._go = desk, go
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Expanding)  # it takes the room there is
        self.model = MatrixModel()
        self.view = MatrixView(self.model)
        self.told, self.head, self.where = QLabel(), QLabel(), QLabel()
        self.told.setObjectName("soft")
        self.head.setStyleSheet("font-size: 13px; font-weight: 600;")
        for label in (self.head, self.where):
            label.setWordWrap(True)
        self.along = RowFigures()
        self.buttons = [
            QPushButton("Go to it  Enter"), QPushButton("Show this row"), QPushButton("Next that does not hold  N"),
        ]  # fmt: skip
        for button, run in zip(self.buttons, (self.open, self.show_row, self.view.next_bad), strict=True):
            button.clicked.connect(lambda _=False, r=run: r())
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        top = QHBoxLayout()
        top.setContentsMargins(16, 8, 16, 4)
        top.addWidget(self.told)
        layout.addLayout(top)
        parts = QSplitter(Qt.Orientation.Vertical)
        parts.addWidget(self.view)
        parts.addWidget(self._drawer())
        parts.setSizes([430, 220])
        layout.addWidget(parts, 1)
        layout.addWidget(Legend())
        selection = self.view.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(lambda *_: self._say())
        self.view.opened.connect(self.open)
        refresh = soon(self, self.refresh)
        for signal in (desk.evaluated, desk.main.changed, desk.family_changed):
            signal.connect(refresh)

    def _drawer(self) -> QWidget:
        made = QFrame()
        made.setObjectName("canvas")
        made.setStyleSheet(f"QFrame#canvas {{ border-top: 2px solid {theme.PLUM}; background: {theme.FIELD}; }}")
        line = QHBoxLayout(made)
        line.setContentsMargins(16, 10, 16, 10)
        left = QVBoxLayout()
        left.addWidget(self.head)
        left.addWidget(self.where)
        left.addStretch(1)
        row = QHBoxLayout()
        for button in self.buttons:
            row.addWidget(button)
        row.addStretch(1)
        left.addLayout(row)
        line.addLayout(left, 1)
        line.addWidget(self.along)
        return made

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
        index = self.view.currentIndex()
        cell = self.model.cell(index)
        for button in self.buttons[:2]:
            button.setEnabled(cell is not None)
        if cell is None:
            self.head.setText("Choose a cell")
            self.where.setText("")
            self.along.show_rows([], -1)
            return
        column = matrix.columns[index.column()]
        limit = f" {cell.ask.limit}" if cell.ask.limit else ""
        under = f", {column.heading}" if column.alternate else ""
        self.head.setText(f"{matrix.rows[index.row()].name}{under}: {cell.ask.name}{limit}")
        self.where.setText(self._sentence(cell))
        self.along.show_rows(matrix.along(index.column()), index.row())

    def _sentence(self, cell: CheckCell) -> str:
        """What came of it, and what it stands in."""
        name = (
            self.desk.family.documents[cell.ask.document].name
            if cell.ask.document in self.desk.family.documents
            else ""
        )
        if cell.told:
            return f"{name}: {cell.told}."
        beside = cell.figure is not None and cell.limit is not None
        figures = f" {cell.figure:.5g} {cell.unit} beside {cell.limit:.5g} {cell.unit};" if beside else ""
        return f"{name}:{figures} {SAYS[cell.state]}."

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
        self.refresh()
