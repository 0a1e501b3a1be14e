"""The list of a group of verbs, joined to the row: each with a line on what it does, and its keys."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6 import sip
from PyQt6.QtCore import QPoint, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFocusEvent,
    QFontMetricsF,
    QHideEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PyQt6.QtWidgets import QWidget

from architectonic.desktop.kit import theme
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.window.verbs import lettered

WIDE, HIGH, HEAD = 314, 40, 26


class VerbList(QWidget):
    """Verbs in a fixed order; what cannot be done now stays, soft, and says what it wants.

    Signals:
        taken (str): the id of the action that is wanted.
        beside (int): the group to the left (-1) or to the right (1) is wanted.
        closed: it is open no more.
    """

    taken = pyqtSignal(str)
    beside = pyqtSignal(int)
    closed = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.actions_: list[Action] = []
        self.title, self.number, self.at = "", 0, -1
        self._letters: list[str] = []
        self._rows = 1
        self._before: QWidget | None = None
        self.hide()

    def start(
        self, title: str, number: int, actions: Sequence[Action], at: QPoint, right: int, before: QWidget | None
    ) -> None:
        """Open below a word of the row.

        Args:
            number: the key of the group, 0 for the first place (Space).
            at: the lower left corner of the word, in the parent's coordinates; right: where the pane ends.
            before: what had the keyboard, and gets it back.
        """
        if not self.isVisible():
            self._before = before
        self.title, self.number, self.actions_ = title, number, list(actions)
        self._letters = lettered(self.actions_)
        self.at = next((k for k, a in enumerate(self.actions_) if a.enabled()), -1)
        parent = self.parentWidget()
        assert parent is not None
        room = max(1, (parent.height() - at.y() - HEAD - 10) // HIGH)
        columns = max(1, -(-len(self.actions_) // room))
        self._rows = max(1, -(-len(self.actions_) // columns))
        wide = columns * WIDE
        self.setGeometry(max(0, min(at.x(), right - wide)), at.y(), wide, HEAD + self._rows * HIGH + 5)
        self.show()
        self.raise_()
        self.setFocus(Qt.FocusReason.PopupFocusReason)
        self.update()

    def leave(self) -> None:
        """Close; the keyboard goes back to where it was."""
        self.hide()
        if self._before is not None and not sip.isdeleted(self._before):  # a field may have been made anew meanwhile
            self._before.setFocus()

    def _place(self, k: int) -> QRect:
        column, row = divmod(k, self._rows)
        return QRect(column * WIDE, HEAD + row * HIGH, WIDE, HIGH)

    def _take(self, k: int) -> None:
        if 0 <= k < len(self.actions_) and self.actions_[k].enabled():
            self.leave()
            self.taken.emit(self.actions_[k].id)

    # --- Qt -------------------------------------------------------------------------------------------

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """What lies under the pointer is marked."""
        if event is not None:
            self.at = self._under(event.position().toPoint())
            self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A click takes."""
        if event is not None:
            self._take(self._under(event.position().toPoint()))

    def _under(self, point: QPoint) -> int:
        return next((k for k in range(len(self.actions_)) if self._place(k).contains(point)), -1)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move, Enter and letters take, Left and Right go to the groups beside, Esc leaves."""
        if event is None:
            return
        key = event.key()
        if key in (Qt.Key.Key_Down, Qt.Key.Key_Up, Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
            self._step(1 if key in (Qt.Key.Key_Down, Qt.Key.Key_Tab) else -1)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.beside.emit(-1 if key == Qt.Key.Key_Left else 1)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take(self.at)
        elif key in (Qt.Key.Key_Escape, Qt.Key.Key_Space):
            self.leave()
        elif event.text().upper() in [c for c in self._letters if c]:
            self._take(self._letters.index(event.text().upper()))
        # anything else is not heard by what stands behind

    def focusNextPrevChild(self, _: bool) -> bool:
        """Tab moves in the list."""
        return False

    def _step(self, by: int) -> None:
        able = [k for k, a in enumerate(self.actions_) if a.enabled()]
        if able:
            here = able.index(self.at) if self.at in able else (-1 if by > 0 else 0)
            self.at = able[(here + by) % len(able)]
            self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Somebody else has the keyboard: the list is gone."""
        super().focusOutEvent(event)
        self.hide()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Tell the row."""
        super().hideEvent(event)
        self.closed.emit()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Rows of 40 pixels: the verb, one soft line, the keys or what it wants."""
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(QPen(QColor(theme.EDGE), 1))
        p.setBrush(QColor(theme.FIELD))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, -4, -0.5, -0.5), 4, 4)
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.SOFT))
        p.drawText(QRectF(14, 2, WIDE - 28, HEAD - 4), int(Qt.AlignmentFlag.AlignVCenter), self.title)
        told = "← →  other group"
        p.drawText(QRectF(14, 2, WIDE - 28, HEAD - 4), int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight), told)  # fmt: skip
        key = str(self.number) if self.number else "Space"
        for k, action in enumerate(self.actions_):
            self._paint(p, QRectF(self._place(k)), action, k, key)

    def _paint(self, p: QPainter, box: QRectF, action: Action, k: int, key: str) -> None:
        able = action.enabled()
        if k == self.at and able:
            p.fillRect(box.adjusted(1, 0, -1, 0), QColor(theme.PLUM_TINT))
            p.fillRect(QRectF(box.left() + 1, box.top(), 3, box.height()), QColor(theme.PLUM))
        marked = k == self.at and able
        p.setPen(QColor(theme.PLUM_TEXT if marked else theme.INK if able else theme.SOFT))
        p.setFont(theme.font(12, 600 if able else 400))
        left, right = box.left() + 14, box.right() - 14
        p.drawText(QRectF(left, box.top() + 3, box.width() - 28, 18), int(Qt.AlignmentFlag.AlignVCenter), action.word)
        p.setFont(theme.font(11))
        p.setPen(QColor(theme.SOFT))
        if able:
            right = _keys(p, right, box.center().y(), [c for c in (key, self._letters[k]) if c])
        else:
            wide = QFontMetricsF(p.font()).horizontalAdvance(action.wants)
            p.drawText(QRectF(right - wide, box.top() + 3, wide + 2, 18), int(Qt.AlignmentFlag.AlignVCenter), action.wants)  # fmt: skip
            right = box.right() - 14
        room = right - left - 6
        told = QFontMetricsF(p.font()).elidedText(action.tells, Qt.TextElideMode.ElideRight, room)
        p.drawText(QRectF(left, box.top() + 20, room, 16), int(Qt.AlignmentFlag.AlignVCenter), told)


def _keys(p: QPainter, right: float, middle: float, keys: Sequence[str]) -> float:
    """Draw keys as small boxes that end at the right; returns where they begin."""
    for key in reversed(keys):
        wide = max(18.0, QFontMetricsF(p.font()).horizontalAdvance(key) + 10)
        box = QRectF(right - wide, middle - 9, wide, 17)
        p.setBrush(QColor(theme.PAPER))
        p.setPen(QPen(QColor(theme.LINE), 1))
        p.drawRoundedRect(box, 3, 3)
        p.setPen(QColor(theme.SOFT))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, key)
        right -= wide + 4
    return right
