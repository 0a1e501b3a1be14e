"""Find or do: actions, documents and values by a few letters of their names; what cannot be done now says what it wants."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import suppress
from typing import NamedTuple

from PyQt6.QtCore import QEvent, QModelIndex, QObject, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QKeyEvent, QPainter
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from architectonic.desktop.kit import theme

MOST = 40
WIDE, HIGH, ROW = 520, 380, 38


class Findable(NamedTuple):
    """Something to find or to do.

    Attributes:
        title: its name; run: what Enter does.
        also: other words of the trade that it is found by.
        tells: one line on what it does, of an operation the sentence that it opens; keys: its shortcut.
        wants: what must be there first, "" when it can be done now.
        here: whether it belongs to the canvas that is shown.
    """

    title: str
    run: Callable[[], object]
    also: tuple[str, ...] = ()
    tells: str = ""
    keys: str = ""
    wants: str = ""
    here: bool = False


def rank(typed: str, entry: Findable) -> tuple[int, bool, bool, bool, int] | None:
    """How well an entry fits what is typed, less is better; None for not at all.

    Whole words of its name and what it is also called come first, then whole other words of the trade, beginnings of words, first letters of several
    words, and letters inside a word at last. Among equals what can be done now comes first, then what is called just so, then
    what belongs to the canvas, then what is shorter.
    """
    words = [w for w in typed.lower().split() if w not in ARTICLES]
    worst = max((_fit(w, entry) for w in words), default=0)
    if worst > WEAKEST:
        return None
    if typed.lower().strip() in (a.lower() for a in entry.also) and not entry.wants:
        worst = 0  # it is another name of just this, which can be done now
    exact = entry.title.lower() != " ".join(words)
    return (worst, bool(entry.wants), exact, not entry.here, len(entry.title))


ARTICLES = {"a", "an", "the"}
WEAKEST = 5
"""The weakest fit: letters inside a word."""


def _fit(word: str, entry: Findable) -> int:
    own = _words(entry.title)
    other = [w for a in entry.also for w in (a.lower(), *_words(a))]
    if word in own:
        return 0
    if word in other:
        return 1
    if any(w.startswith(word) for w in own):
        return 2
    if any(w.startswith(word) for w in other):
        return 3
    if len(word) > 1 and _in_order(word, own):
        return 4
    return WEAKEST if word in entry.title.lower() else WEAKEST + 1


def _words(text: str) -> list[str]:
    return "".join(c if c.isalnum() else " " for c in text.lower()).split()


def _in_order(letters: str, words: list[str]) -> bool:
    """Whether letters are beginnings of following words: `ef` of `extrude faces`, `nsk` of `new sketch`."""
    if not letters:
        return True
    for k, word in enumerate(words):
        for n in range(len(letters), 0, -1):
            if word.startswith(letters[:n]) and _in_order(letters[n:], words[k + 1 :]):
                return True
    return False


class FoundDelegate(QStyledItemDelegate):
    """A name, a soft line on what it does, and at the right its key or what it wants."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        """All of one height."""
        return QSize(WIDE - 30, ROW)

    def paint(self, p: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """One entry."""
        assert p is not None
        entry: Findable = index.data(Qt.ItemDataRole.UserRole)
        box = QRectF(option.rect)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        if chosen:
            p.fillRect(box, QColor(theme.PLUM_TINT))
        right = entry.wants or entry.keys
        p.setFont(theme.font(11))
        wide = QFontMetricsF(p.font()).horizontalAdvance(right)
        p.setPen(QColor(theme.SOFT))
        middle = int(Qt.AlignmentFlag.AlignVCenter)
        p.drawText(QRectF(box.right() - wide - 10, box.top(), wide + 2, 20), middle, right)
        if entry.tells:
            told = QFontMetricsF(p.font()).elidedText(entry.tells, Qt.TextElideMode.ElideRight, box.width() - 20)
            p.drawText(QRectF(box.left() + 10, box.top() + 18, box.width() - 20, 16), middle, told)
        p.setFont(theme.font(12, 400 if entry.wants else 600))
        p.setPen(QColor(theme.SOFT if entry.wants else theme.PLUM_TEXT if chosen else theme.INK))
        high = 20 if entry.tells else box.height()
        p.drawText(QRectF(box.left() + 10, box.top() + 1, box.width() - wide - 30, high), middle, entry.title)


class FindOrDo(QFrame):
    """A field with a list under it, over the window; Enter does the first, arrows choose, Esc leaves."""

    def __init__(self, parent: QWidget, entries: Callable[[], list[Findable]], refuse: Callable[[str], object]) -> None:
        super().__init__(parent)
        self.setStyleSheet("QFrame { background: #FDFCF9; border: 1px solid #B9B1A2; border-radius: 6px; }")
        self._entries, self._refuse = entries, refuse
        self._all: list[Findable] = []
        self._before: QWidget | None = None
        self.field = QLineEdit()
        self.field.setPlaceholderText("An action, a document or a value")
        self.list = QListWidget()
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setItemDelegate(FoundDelegate(self.list))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 8, 8, 8)
        layout.addWidget(self.field)
        layout.addWidget(self.list)
        self.field.textChanged.connect(self._fill)
        self.list.itemClicked.connect(lambda _: self._do())
        self.field.installEventFilter(self)
        self.hide()

    def start(self, entries: Sequence[Findable] | None = None) -> None:
        """Open over the window, empty.

        Args:
            entries: what to choose among; None for everything.
        """
        self._all = list(self._entries() if entries is None else entries)
        self._before = QApplication.focusWidget()
        self.field.clear()
        self._fill("")
        parent = self.parentWidget()
        assert parent is not None
        self.setGeometry(parent.width() // 2 - WIDE // 2, 38, WIDE, HIGH)
        self.show()
        self.raise_()
        self.field.setFocus()

    def _fill(self, typed: str) -> None:
        if typed.strip():
            ranked = [(r, k, e) for k, e in enumerate(self._all) if (r := rank(typed, e)) is not None]
        else:  # what can be done here and now
            ranked = [((0, False, False, not e.here, 0), k, e) for k, e in enumerate(self._all) if not e.wants]
        self.list.clear()
        for _, _, entry in sorted(ranked, key=lambda r: r[:2])[:MOST]:
            item = QListWidgetItem(entry.title)
            item.setData(Qt.ItemDataRole.UserRole, entry)
            self.list.addItem(item)
        if not self.list.count():
            none = Findable(f"Nothing is called “{typed.strip()}”", lambda: None, wants="try fewer letters")
            nothing = QListWidgetItem(none.title)
            nothing.setData(Qt.ItemDataRole.UserRole, none)
            nothing.setFlags(Qt.ItemFlag.NoItemFlags)
            self.list.addItem(nothing)
        self.list.setCurrentRow(0)

    def _do(self) -> None:
        item = self.list.currentItem()
        if item is None or not item.flags() & Qt.ItemFlag.ItemIsEnabled:
            return
        self.hide()
        self._give_back()
        entry: Findable = item.data(Qt.ItemDataRole.UserRole)
        if entry.wants:
            self._refuse(f"“{entry.title}” {entry.wants} first.")
        else:
            entry.run()

    def _give_back(self) -> None:
        """The keyboard goes to what had it before, if that is still there; what is done may take it on."""
        with suppress(RuntimeError):  # it was deleted meanwhile
            if self._before is not None and self._before.isVisible():
                self._before.setFocus()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Arrows move in the list, Enter does what is marked, Esc and leaving close; an open card does not hear of it."""
        if event is not None and event.type() == QEvent.Type.KeyPress:
            assert isinstance(event, QKeyEvent)
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                step = 1 if event.key() == Qt.Key.Key_Down else -1
                self.list.setCurrentRow(max(0, min(self.list.count() - 1, self.list.currentRow() + step)))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._do()
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.hide()
                self._give_back()
                return True
        if event is not None and event.type() == QEvent.Type.FocusOut:
            self.hide()
        return super().eventFilter(watched, event)
