"""What one cell of the matrix says: its place cut open, its figure over all rows, and what would mend it."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout

from architectonic.base.cancel import Watch
from architectonic.check.cells import CheckCell
from architectonic.desktop.kit import theme
from architectonic.desktop.pane.asking import Asking
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.ranges.place import PlaceView
from architectonic.desktop.ranges.rowfigures import RowFigures
from architectonic.session.ranges.matrix import Matrix
from architectonic.session.ranges.mends import MendOutcome, mends
from architectonic.session.ranges.places import CellSight, sight

SAYS = {
    "holds": "it holds", "near": "it holds, near its limit", "out of rule": "it is out of rule", "failing": "it cannot be worked out",
    "updating": "it is being worked out", "off": "it is not asked here",
}  # fmt: skip
LETTERS = "abc"
ROWS_HIGH = 140
"""Figures of more rows scroll, so that the place keeps its room."""
NOTHING = "Nothing was found that makes it hold without going far from where things are. Go to it, and change what it is about."


class MendChoice(QFrame):
    """A mend with its letter and what would come of it; a click chooses it.

    Signals:
        taken: it was pressed.
    """

    taken = pyqtSignal()

    def __init__(self, letter: str, of: MendOutcome) -> None:
        super().__init__()
        self.setObjectName("mend")
        self.of = of
        name, words, told = QLabel(letter), QLabel(of.mend.words), QLabel(of.told)
        for label in (name, words):
            label.setStyleSheet("font-weight: 600;")
        told.setObjectName("soft")
        for label in (words, told):
            label.setWordWrap(True)
        name.setFixedWidth(14)
        name.setAlignment(Qt.AlignmentFlag.AlignTop)
        line, both = QHBoxLayout(self), QVBoxLayout()
        line.setContentsMargins(10, 6, 10, 6)
        both.setSpacing(1)
        both.addWidget(words)
        both.addWidget(told)
        line.addWidget(name)
        line.addLayout(both, 1)
        self.setAccessibleName(f"{letter}: {of.mend.words}. {of.told}")

    def choose(self, chosen: bool) -> None:
        """Look chosen or not."""
        edge, ground = (theme.PLUM, theme.PLUM_TINT) if chosen else (theme.EDGE, theme.FIELD)
        self.setStyleSheet(f"QFrame#mend {{ border: 1px solid {edge}; border-radius: 4px; background: {ground}; }}")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose it."""
        self.taken.emit()


class CellDrawer(QFrame):
    """The drawer below the matrix.

    Attributes:
        found: mends that were worked out for the shown cell, None before somebody asked; chosen: which of them.

    Signals:
        leads, row: go where the cell leads; show its row.
        asked_for: the keyboard belongs to the matrix again.
    """

    leads, row, asked_for = pyqtSignal(), pyqtSignal(), pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("canvas")
        self.setStyleSheet(f"QFrame#canvas {{ border-top: 2px solid {theme.PLUM}; background: {theme.FIELD}; }}")
        self.desk = desk
        self.matrix: Matrix | None = None
        self.where = (-1, -1)
        self.found: list[MendOutcome] | None = None
        self.chosen = 0
        self._number = 0
        self._sight: CellSight | None = None
        self.head, self.told, self.places = QLabel("Choose a cell"), QLabel(), QLabel()
        self.head.setStyleSheet("font-size: 13px; font-weight: 600;")
        self.places.setObjectName("soft")
        for label in (self.head, self.told):
            label.setWordWrap(True)
        self.view, self.along = PlaceView(), RowFigures()
        self.buttons = {
            "mend": QPushButton("What would mend it  Enter"),
            "do": QPushButton(),
            "leave": QPushButton("Leave it  Esc"),
            "go": QPushButton("Go to it  G"),
            "row": QPushButton("Show this row"),
        }
        self.buttons["do"].setObjectName("main")
        runs = {"mend": self.work_out, "do": self.do, "leave": self.leave, "go": self.leads.emit, "row": self.row.emit}
        for key, button in self.buttons.items():
            button.clicked.connect(lambda _=False, r=runs[key]: r())
        self._lay_out()
        desk.answered.connect(self._look)
        self._arrange()

    def _lay_out(self) -> None:
        line = QHBoxLayout(self)
        line.setContentsMargins(16, 10, 16, 10)
        line.setSpacing(16)
        left, right, head, row = QVBoxLayout(), QVBoxLayout(), QHBoxLayout(), QHBoxLayout()
        self.rows = rows = QScrollArea()
        rows.setWidget(self.along)
        rows.setWidgetResizable(True)
        rows.setFrameShape(QFrame.Shape.NoFrame)
        rows.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        rows.setStyleSheet("background: transparent;")
        left.addWidget(self.view, 1)
        left.addWidget(rows)
        head.addWidget(self.head, 1)
        head.addWidget(self.places)
        right.addLayout(head)
        right.addWidget(self.told)
        self.choices = QVBoxLayout()
        self.choices.setSpacing(6)
        right.addLayout(self.choices)
        right.addStretch(1)
        for button in self.buttons.values():
            row.addWidget(button)
        row.addStretch(1)
        right.addLayout(row)
        line.addLayout(left, 4)
        line.addLayout(right, 5)

    # --- what is shown --------------------------------------------------------------------------------

    @property
    def cell(self) -> CheckCell | None:
        """The shown cell."""
        return self.matrix.cell(*self.where) if self.matrix is not None and self.where[0] >= 0 else None

    @property
    def mendable(self) -> bool:
        """Whether it may be asked what would make the shown cell hold."""
        cell = self.cell
        return cell is not None and cell.state == "out of rule" and cell.ask.what == "rule"

    def say(self, matrix: Matrix, row: int, column: int) -> None:
        """Show a cell; -1 for none. What was worked out stays while it is the same cell of the same family."""
        moved = self.where != (row, column)
        if moved:
            self._number = 0
        if moved or self.matrix is None or self.matrix.family is not matrix.family:
            self.found, self.chosen = None, 0
        self.matrix, self.where = matrix, (row, column)
        cell = self.cell
        if cell is None:
            self.head.setText("Choose a cell")
            self.told.setText("")
        else:
            of = matrix.columns[column]
            said = cell.ask.limit.split(" ", 1)[-1] in cell.ask.name  # a name may say the limit already
            limit = f" {cell.ask.limit}" if cell.ask.limit and not said else ""
            under = f", {of.heading}" if of.alternate else ""
            self.head.setText(f"{matrix.rows[row].name}{under}: {cell.ask.name}{limit}")
            self.told.setText(self._sentence(cell))
        self._look()
        self._arrange()

    def _sentence(self, cell: CheckCell) -> str:
        """What came of it, and what it stands in."""
        documents = self.desk.family.documents
        name = documents[cell.ask.document].name if cell.ask.document in documents else ""
        if cell.told:
            return f"{name}: {cell.told}."
        beside = cell.figure is not None and cell.limit is not None
        figures = f" {cell.figure:.5g} {cell.unit} beside {cell.limit:.5g} {cell.unit};" if beside else ""
        return f"{name}:{figures} {SAYS[cell.state]}."

    def _look(self) -> None:
        """The place that decides the cell, as soon as it is known."""
        cell = self.cell
        if self.matrix is None or cell is None or not self.isVisible():
            self.view.show_place(None, 0)
            self.places.setText("")
            return
        asking = Asking(self.desk, self.matrix.evaluation)
        found = sight(asking, cell)
        if found is None or not found.places or asking.missing:
            self._sight = None
        elif self._sight is None or not found.shows_as(self._sight):
            self._sight = found  # the picture of before stays as long as it shows the same
        self.step(0)

    def step(self, by: int) -> None:
        """Another of the places."""
        count = len(self._sight.places) if self._sight is not None else 0
        self._number = max(0, min(count - 1, self._number + by))
        self.view.show_place(self._sight, self._number)
        self.places.setText(f"place {self._number + 1} of {count}   [  ]" if count > 1 else "")

    def _arrange(self) -> None:
        """Buttons and choices as they are now."""
        cell, found = self.cell, self.found
        for key, shown in {
            "mend": self.mendable and found is None,
            "do": bool(found),
            "leave": found is not None,
            "go": cell is not None,
            "row": cell is not None and found is None,
        }.items():
            self.buttons[key].setVisible(shown)
        while (item := self.choices.takeAt(0)) is not None:
            if (old := item.widget()) is not None:
                old.hide()
                old.deleteLater()
        for k, one in enumerate(found or ()):
            choice = MendChoice(LETTERS[k], one)
            choice.taken.connect(partial(self.choose, k))
            self.choices.addWidget(choice)
        if found is not None and not found:
            nothing = QLabel(NOTHING)
            nothing.setWordWrap(True)
            nothing.setObjectName("soft")
            self.choices.addWidget(nothing)
        self.choose(self.chosen)

    # --- mends ----------------------------------------------------------------------------------------

    def work_out(self) -> None:
        """Look for what would make the cell hold, beside the event loop."""
        matrix, where, family = self.matrix, self.where, self.desk.family
        if matrix is None or self.cell is None or matrix.family is not family:
            self.desk.told.emit("It is being worked out: ask again when it is there.", False)
            return

        def work(watch: Watch) -> list[MendOutcome]:
            return mends(family, matrix, *where, watch)

        def done(found: list[MendOutcome]) -> None:
            if self.where == where and self.matrix is not None and self.matrix.family is family is self.desk.family:
                self.found, self.chosen = found, 0
                self._arrange()
            self.asked_for.emit()

        self.desk.work.run("What would mend it", work, done)

    def choose(self, number: int) -> None:
        """One of the mends: its figures are shown beside those of now."""
        self.chosen = number
        found = self.found or []
        for k in range(self.choices.count()):
            item = self.choices.itemAt(k)
            widget = item.widget() if item is not None else None
            if isinstance(widget, MendChoice):
                widget.choose(k == number)
        self.buttons["do"].setText(f"Do {LETTERS[number]}  Enter")
        rows = self.matrix.along(self.where[1]) if self.matrix is not None and self.where[1] >= 0 else []
        self.along.show_rows(rows, self.where[0], list(found[number].along) if number < len(found) else None)
        self.rows.setFixedHeight(min(self.along.minimumHeight() + 4, ROWS_HIGH))

    def do(self) -> None:
        """Carry out the chosen mend."""
        if not self.found:
            return
        mend = self.found[self.chosen].mend
        if self.desk.apply(mend.label, mend.edit):
            self.found = None
            self._arrange()
        self.asked_for.emit()

    def leave(self) -> None:
        """Do none of them."""
        self.found = None
        self._arrange()
        self.asked_for.emit()

    def pressed(self, key: Qt.Key) -> bool:
        """A key of the matrix that is the drawer's; whether it was."""
        enter = key in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        letter = key - Qt.Key.Key_A
        if key == Qt.Key.Key_G and self.cell is not None:
            self.leads.emit()
        elif key in (Qt.Key.Key_BracketLeft, Qt.Key.Key_BracketRight):
            self.step(1 if key == Qt.Key.Key_BracketRight else -1)
        elif self.found and enter:
            self.do()
        elif self.found and 0 <= letter < len(self.found):
            self.choose(letter)
        elif self.found is not None and key == Qt.Key.Key_Escape:
            self.leave()
        elif enter and self.mendable and self.found is None:
            self.work_out()
        else:
            return False
        return True
