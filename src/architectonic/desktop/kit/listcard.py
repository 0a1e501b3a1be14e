"""A card that lists things to look at or to take: where a value is used, what a file would change."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QHideEvent, QImage, QKeyEvent, QPixmap
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from architectonic.desktop.kit.cards import Card, clear

HIGH = 300
SHARE = 0.36
"""Of the room of the canvases that the rows may take; what is more scrolls."""
ROW = 24
STEPS = {Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0), Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1)}


def words_table() -> QTableWidget:
    """A table of words on a card: the keyboard stays with the card."""
    made = QTableWidget()
    made.setShowGrid(False)
    made.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    made.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    made.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    vertical, horizontal = made.verticalHeader(), made.horizontalHeader()
    assert vertical is not None and horizontal is not None
    vertical.hide()
    vertical.setDefaultSectionSize(ROW)
    horizontal.setStretchLastSection(True)
    horizontal.setHighlightSections(False)
    horizontal.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
    return made


class ListCard(Card):
    """A title, rows of words, and buttons; a double-click or Enter on a row goes where it leads.

    Signals:
        ended: the list that was open is not to be seen any more.
    """

    ended = pyqtSignal()

    tall = True

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.title = QLabel()
        self.title.setStyleSheet("font-size: 13px; font-weight: 600;")
        self.title.setWordWrap(True)
        self.rows = words_table()
        self.rows.cellDoubleClicked.connect(self._double_clicked)
        self.rows.cellClicked.connect(self._clicked)
        self.buttons = QHBoxLayout()
        self.buttons.setSpacing(8)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 10, 12, 10)
        self.pictures = QHBoxLayout()
        self.pictures.setSpacing(10)
        layout.addWidget(self.title)
        layout.addLayout(self.pictures)
        layout.addWidget(self.rows)
        layout.addLayout(self.buttons)
        self._goes: Sequence[Callable[[], object] | None] = ()
        self._first: Callable[[], object] | None = None
        self._turn: Callable[[int, int], object] | None = None

    def start(
        self,
        title: str,
        headings: Sequence[str],
        rows: Sequence[tuple[Sequence[str], Callable[[], object] | None]],
        choices: Sequence[tuple[str, Callable[[], object]]] = (),
        leave: str = "Close",
        turn: Callable[[int, int], object] | None = None,
    ) -> None:
        """Show a list.

        Args:
            rows: the words of each, and where it leads (None: nowhere).
            choices: buttons; each closes the card, Enter takes the first.
            turn: a click or Space on a cell after the first column turns what it stands for; row and column.
        """
        self.ended.emit()
        self._turn = turn
        by_cell = QAbstractItemView.SelectionBehavior.SelectItems
        self.rows.setSelectionBehavior(by_cell if turn else QAbstractItemView.SelectionBehavior.SelectRows)
        self.title.setText(title)
        clear(self.pictures)
        self._goes = [go for _, go in rows]
        self._first = choices[0][1] if choices else None
        self.rows.clear()
        self.rows.setColumnCount(len(headings))
        self.rows.setHorizontalHeaderLabels(list(headings))
        self.rows.setRowCount(len(rows))
        for r, (words, _) in enumerate(rows):
            for c, word in enumerate(words):
                item = QTableWidgetItem(word)
                item.setToolTip(word)
                self.rows.setItem(r, c, item)
        self.rows.setVisible(bool(rows))
        clear(self.buttons)
        self.buttons.addStretch(1)
        if any(go is not None for go in self._goes):
            self._button("Go there", lambda: self._go(self.rows.currentRow()), False)
        for number, (text, run) in enumerate(choices):
            self._button(text + ("  Enter" if number == 0 else ""), self._taking(run), number == 0)
        self._button(f"{leave}  Esc", self.leave, False)
        horizontal = self.rows.horizontalHeader()
        assert horizontal is not None
        horizontal.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        for c in range(len(headings)):
            words = [headings[c], *(w[c] for w, _ in rows[:60])]
            widest = max(self.fontMetrics().horizontalAdvance(w) for w in words)
            self.rows.setColumnWidth(c, min(280, widest + 26))
        self.place()
        self.show()
        self.raise_()
        if rows:
            self.rows.setCurrentCell(0, 0)
        self.setFocus()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """What belongs to the list goes with it."""
        super().hideEvent(event)
        self.ended.emit()

    def show_pictures(self, pictures: Sequence[tuple[str, QImage]]) -> None:
        """Pictures with their captions, over the rows."""
        clear(self.pictures)
        for caption, image in pictures:
            made = QLabel()
            pixmap = QPixmap.fromImage(image)
            pixmap.setDevicePixelRatio(2)
            made.setPixmap(pixmap)
            made.setToolTip(caption)
            made.setStyleSheet("border: 1px solid #CFC8BA;")
            words = QLabel(caption)
            words.setObjectName("soft")
            words.setWordWrap(True)
            for widget in (made, words):
                self.pictures.addWidget(widget)
        self.pictures.addStretch(1)
        self.place()

    def _button(self, text: str, run: Callable[[], object], main: bool) -> None:
        made = QPushButton(text)
        made.setObjectName("main" if main else "")
        made.clicked.connect(lambda _=False: run())
        self.buttons.addWidget(made)

    def _taking(self, run: Callable[[], object]) -> Callable[[], None]:
        def take() -> None:
            self.hide()
            run()

        return take

    def _clicked(self, row: int, column: int) -> None:
        self.setFocus()
        if self._turn is not None and column > 0:
            self._turn(row, column)

    def _double_clicked(self, row: int, column: int) -> None:
        if self._turn is None or column == 0:
            self._go(row)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows step between rows, or cells, of which Space turns the one that is chosen."""
        row, column = self.rows.currentRow(), self.rows.currentColumn()
        step = STEPS.get(Qt.Key(event.key())) if event is not None and self.rows.rowCount() else None
        if step is not None:
            down, right = step
            self.rows.setCurrentCell(
                min(max(row + down, 0), self.rows.rowCount() - 1),
                min(max(column + right, 0), self.rows.columnCount() - 1),
            )
        elif event is not None and event.key() == Qt.Key.Key_Space and self._turn is not None:
            self._clicked(row, column)
        else:
            super().keyPressEvent(event)

    def _go(self, row: int) -> None:
        go = self._goes[row] if 0 <= row < len(self._goes) else None
        if go is not None:
            self.hide()
            go()

    def keep(self) -> None:
        """Enter takes the first choice, or goes where the chosen row leads."""
        if self._first is not None:
            self._taking(self._first)()
        else:
            self._go(self.rows.currentRow())

    def place(self) -> None:
        """As high as it needs in the width that there is."""
        parent = self.parentWidget()
        if parent is None:
            return
        wide = parent.width()
        over = parent.parentWidget()
        most = min(HIGH, int((over or parent).height() * SHARE))
        high = min(most, ROW * (self.rows.rowCount() + 1) + 14) if self.rows.rowCount() else 0
        self.rows.setFixedHeight(high)
        self.rows.setMinimumWidth(wide - 26)
        found = [self.pictures.itemAt(k) for k in range(self.pictures.count())]
        seen = [item.widget() for item in found if item is not None and item.widget() is not None]
        tall = max((w.sizeHint().height() for w in seen if w is not None), default=0)
        self.setFixedHeight(high + self.title.heightForWidth(wide - 26) + 60 + (tall + 8 if tall else 0))
