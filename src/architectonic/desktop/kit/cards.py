"""Cards below the canvas: one look, Enter keeps and Esc leaves, wherever the keyboard is."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication, QFrame, QHBoxLayout, QLabel, QLayout, QPushButton, QVBoxLayout, QWidget

from architectonic.desktop.kit.flow import Flow

LOOK = "QFrame#card { background: #FDFCF9; border: none; border-top: 1px solid #CFC8BA; }"


class Card(QFrame):
    """A card that asks for something and is kept or left; hidden until it starts.

    Attributes:
        tall: it takes much of the height.

    Signals:
        released: it was closed and had the keyboard.
    """

    released = pyqtSignal()
    tall = False

    def setVisible(self, visible: bool) -> None:
        """Let the keyboard go to the canvas instead of to whatever stands next in the window; of tall cards one is open."""
        parent = self.parentWidget()
        for other in parent.findChildren(Card) if visible and self.tall and parent is not None else ():
            if other.tall and other is not self and other.isVisible():
                other.hide()
        focus = QApplication.focusWidget()
        had = not visible and self.isVisible() and focus is not None and (focus is self or self.isAncestorOf(focus))
        super().setVisible(visible)
        if had:
            self.released.emit()

    def __init__(self, parent: QWidget | None, more: str = "") -> None:
        super().__init__(parent)
        self.setObjectName("card")
        self.setStyleSheet(LOOK + more)
        self.hide()

    def keep(self) -> None:
        """Carry out what the card says; of a card with nothing to carry out: close it."""
        self.leave()

    def leave(self) -> None:
        """Close; everything is as it was."""
        self.hide()

    def place(self) -> None:
        """As high as it needs in the width that there is."""

    def answer(self, event: QKeyEvent | None) -> bool:
        """Take a key as the answer; False when it is none, or the card is not open (a field may have kept it already)."""
        if event is None or not self.isVisible():
            return False
        if event.key() == Qt.Key.Key_Escape:
            self.leave()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.keep()
        else:
            return False
        return True

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter keeps, Esc leaves."""
        if not self.answer(event):
            super().keyPressEvent(event)


class WrappedCard(Card):
    """A card whose sentence wraps in as many rows as it needs, over a hint and the two ways to end it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.holder = QWidget()
        self.line = Flow(self.holder, 0, 6)
        self.hint = QLabel()
        self.hint.setObjectName("soft")
        self.hint.setWordWrap(True)
        self.beside: QWidget | None = None
        self._whole = QHBoxLayout(self)
        self._whole.setContentsMargins(0, 0, 0, 0)
        self._whole.setSpacing(0)
        column = QVBoxLayout()
        self._whole.addLayout(column, 1)
        column.setContentsMargins(12, 7, 12, 6)
        column.setSpacing(5)
        column.addWidget(self.holder)
        leave, keep = QPushButton("Leave as it was  Esc"), QPushButton("Keep  Enter")
        keep.setObjectName("main")
        leave.clicked.connect(self.leave)
        keep.clicked.connect(self.keep)
        self.answers = (leave, keep)
        foot = QHBoxLayout()
        foot.setSpacing(8)
        foot.addWidget(self.hint, 1)
        foot.addWidget(leave)
        foot.addWidget(keep)
        column.addLayout(foot)

    def put_beside(self, widget: QWidget) -> None:
        """A picture at the left of the sentence, where there is room for it while it is to be seen."""
        self.beside = widget
        self._whole.insertWidget(0, widget)
        widget.hide()

    def say(self, told: str, bad: bool = False) -> None:
        """A hint, or why it cannot be kept."""
        self.hint.setText(told)
        self.hint.setStyleSheet("color: #9C2D22; font-size: 11px;" if bad else "font-size: 11px;")
        self.place()

    def place(self) -> None:
        """As high as it needs in the width that there is."""
        parent = self.parentWidget()
        if parent is None:
            return
        wide, least = parent.width(), 0
        if self.beside is not None and not self.beside.isHidden():
            wide -= self.beside.width()
            least = self.beside.minimumHeight()
        self.line.room = wide - 24
        for child in self.holder.findChildren(QWidget):
            child.ensurePolished()
        size = self.line.sizeHint()
        self.holder.setFixedHeight(size.height())
        beside = sum(b.sizeHint().width() + 8 for b in self.answers)
        foot = max(self.hint.heightForWidth(wide - 24 - beside), self.answers[0].sizeHint().height())
        self.setFixedHeight(max(size.height() + foot + 19, least))


def clear(layout: QLayout) -> None:
    """Take every widget out of a layout and let it go."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()
