"""The row of verbs of a pane: first what fits what is chosen, then groups whose order never changes."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QFontMetrics, QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QApplication, QFrame, QPushButton, QWidget

from architectonic.desktop.kit import theme
from architectonic.desktop.kit.actions import Action, Registry
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.pane import Pane
from architectonic.desktop.sketch.drawtools import DrawTools
from architectonic.desktop.sketch.tools import SHORT, TOOLS
from architectonic.desktop.window.verblist import VerbList
from architectonic.desktop.window.verbs import VIEWS, VerbGroup, chosen_words, fitting

HIGH, FIRST, ROOMY = 32, 82, 850
AT_ONCE = 3
"""Fitting verbs that stand at the right edge where there is room."""
LOOK = (
    f"QFrame#verbs {{ background: {theme.FIELD}; border: none; border-bottom: 1px solid {theme.LINE}; }}"
    "QPushButton#group { background: transparent; border: none; border-radius: 0; padding: 0; font-size: 12px;"
    f" font-weight: 500; }} QPushButton#group:hover {{ color: {theme.PLUM_TEXT}; }}"
    f'QPushButton#group[soft="true"] {{ color: {theme.SOFT}; font-weight: 400; }}'
    f'QPushButton#group[open="true"] {{ color: {theme.PLUM_TEXT}; border-bottom: 2px solid {theme.PLUM}; }}'
    f'QPushButton#first {{ text-align: left; padding: 2px 6px; }} QPushButton#first[chosen="true"]'
    f" {{ background: {theme.PLUM_TINT}; border-color: {theme.PLUM_TINT}; color: {theme.PLUM_TEXT}; font-weight: 600; }}"
)


class VerbRow(QFrame):
    """One row of words, docked under the tabs of a pane.

    Args:
        views: groups of verbs by canvas; rows: how many rows of a table are chosen.

    Attributes:
        list: where the verbs of a group are offered.
    """

    def __init__(
        self,
        shown: Pane,
        actions: Registry,
        tools: DrawTools,
        over: QWidget,
        views: Mapping[str, tuple[VerbGroup, ...]] = VIEWS,
        rows: Callable[[], int] = lambda: 0,
    ) -> None:
        super().__init__()
        self.setObjectName("verbs")
        self.setStyleSheet(LOOK)
        self.setFixedHeight(HIGH)
        self.shown, self.actions_, self.tools, self.views, self.rows = shown, actions, tools, views, rows
        self.tab = ""
        self.groups: tuple[VerbGroup, ...] = ()
        self.list = VerbList(over)
        self.list.taken.connect(self._run)
        self.list.beside.connect(self._beside)
        self.list.closed.connect(self._mark_open)
        self.first = self._button("first", self.open_first)
        self.more = self._button("group", lambda: self.open_group(self._seen))
        self.words: list[QPushButton] = []
        self.quick: list[QPushButton] = []
        self._seen, self._open = 0, 0
        self.soon = soon(self, self.refresh)
        shown.selection_changed.connect(self.soon)

    def _button(self, name: str, run: Callable[[], object]) -> QPushButton:
        made = QPushButton(self)
        made.setObjectName(name)
        made.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        made.clicked.connect(lambda _=False: run())
        return made

    # --- what is offered ------------------------------------------------------------------------------

    def show_for(self, tab: str) -> None:
        """Another canvas is shown."""
        self.tab = tab if tab in self.views else "Values"
        known = self.actions_.actions
        offered = (VerbGroup(g.title, tuple(k for k in g.ids if k in known)) for g in self.views[self.tab])
        self.groups = tuple(g for g in offered if g.ids)
        for button in (*self.words, *self.quick):
            button.hide()
            button.deleteLater()
        self.words = [self._button("group", partial(self.open_group, k)) for k in range(len(self.groups))]
        for button, group in zip(self.words, self.groups, strict=True):
            button.setText(group.title)
            button.show()
        self.quick = [self._button("flat", partial(self._quick, k)) for k in range(AT_ONCE)]
        self.list.hide()
        self.refresh()

    def follow(self, tab: str) -> None:
        """The same canvas as before, or another one."""
        if tab != self.tab:
            self.show_for(tab)
        else:
            self.refresh()

    def fitting(self) -> list[Action]:
        """Verbs that fit what is chosen; with nothing chosen those that one begins with."""
        return fitting(self.tab, self.shown, self._tool(), self.rows(), self.actions_)

    def ids(self) -> frozenset[str]:
        """Ids of all verbs of the canvas, whether they fit or not."""
        return frozenset(k for group in self.groups for k in group.ids)

    def verbs(self) -> tuple[str, ...]:
        """Ids of those that fit."""
        return tuple(a.id for a in self.fitting())

    def _tool(self) -> str:
        return self.tools.tool if self.tab == "Sketch" else ""

    def refresh(self) -> None:
        """Say what is chosen, and which groups have something for it; nothing changes its place."""
        tool, chosen = self._tool(), chosen_words(self.tab, self.shown, self.rows())
        words = (SHORT.get(tool) or TOOLS[tool].title) if tool else chosen or "Start"
        self.first.setToolTip(f"{words}: what fits (Space)")
        metrics = QFontMetrics(theme.font(12, 600))  # as it is written when something is chosen
        room = FIRST - 14
        fits = metrics.horizontalAdvance(f"{words} ▾") <= room  # a long word is worth more than the arrow
        self.first.setText(f"{words} ▾" if fits else metrics.elidedText(words, Qt.TextElideMode.ElideRight, room))
        _mark(self.first, "chosen", bool(tool or chosen))
        known = self.actions_.actions
        for button, group in zip(self.words, self.groups, strict=True):
            _mark(button, "soft", not any(known[k].enabled() for k in group.ids))
        self._lay()

    def _lay(self) -> None:
        """Words from the left as far as they fit, the others under *More*; from a certain width three verbs at the right."""
        self.first.setGeometry(6, 4, FIRST, HIGH - 9)
        fit = self.fitting() if self.width() >= ROOMY else []
        right = self.width() - 8
        at_once: list[Action | None] = [*fit[:AT_ONCE], *[None] * (AT_ONCE - len(fit[:AT_ONCE]))]
        for button, action in reversed(list(zip(self.quick, at_once, strict=False))):  # none before it is shown
            button.setVisible(action is not None)
            if action is not None:
                button.setText(action.word)
                button.setToolTip(action.tells)
                wide = button.sizeHint().width()
                button.setGeometry(right - wide, 4, wide, HIGH - 9)
                right -= wide + 2
        x = FIRST + 18
        metrics = QFontMetrics(theme.font(12, 600))  # as wide as it is in any state: nothing moves when one turns soft
        widths = [metrics.horizontalAdvance(b.text()) + 12 for b in self.words]
        self.more.setText("More  ▾")
        more = metrics.horizontalAdvance(self.more.text()) + 14
        whole = x + sum(widths) <= right
        self._seen = len(self.words)
        for k, (button, wide) in enumerate(zip(self.words, widths, strict=True)):
            if self._seen == len(self.words) and not whole and x + wide + more > right:
                self._seen = k
            button.setVisible(k < self._seen)
            button.setGeometry(x, 0, wide, HIGH - 1)
            x += wide if k < self._seen else 0
        self.more.setVisible(self._seen < len(self.words))
        self.more.setGeometry(x, 0, more, HIGH - 1)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Words that do not fit drop from the right."""
        super().resizeEvent(event)
        self._lay()

    # --- lists ----------------------------------------------------------------------------------------

    def open_first(self) -> None:
        """What fits what is chosen."""
        chosen = chosen_words(self.tab, self.shown, self.rows())
        self._start(-1, f"What fits {chosen}" if chosen else "What to start with", self.fitting())

    def open_group(self, k: int) -> None:
        """The verbs of a group, by its place."""
        if not 0 <= k < len(self.groups):
            return
        known, chosen = self.actions_.actions, chosen_words(self.tab, self.shown, self.rows())
        title = f"{self.groups[k].title}, for {chosen}" if chosen else self.groups[k].title
        self._start(k, title, [known[i] for i in self.groups[k].ids])

    def _start(self, k: int, title: str, actions: list[Action]) -> None:
        self._open = k
        under = self.first if k < 0 else self.words[k] if k < self._seen else self.more
        over = self.list.parentWidget()
        assert over is not None
        at = under.mapTo(over, QPoint(0, 0)) + QPoint(0, HIGH - (5 if k < 0 else 1))
        right = self.mapTo(over, QPoint(self.width(), 0)).x() - 4
        self.list.start(title, k + 1, actions, at, right, QApplication.focusWidget())
        self._mark_open(k)

    def _mark_open(self, k: int = -1) -> None:
        """The word whose list is open is underlined."""
        for place, button in enumerate(self.words):
            _mark(button, "open", place == k)

    def _beside(self, by: int) -> None:
        k = self._open + by
        if k < 0:
            self.open_first()
        else:
            self.open_group(min(k, len(self.groups) - 1))

    def _quick(self, k: int) -> None:
        fit = self.fitting()
        if k < len(fit):
            self._run(fit[k].id)

    def _run(self, key: str) -> None:
        self.actions_.run(key)
        self.soon()

    def answer(self, event: QKeyEvent) -> bool:
        """Space opens what fits, a figure a group; anything with Ctrl or Alt is no key of this row."""
        if event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier:
            return False
        if event.key() == Qt.Key.Key_Space:
            self.open_first()
        elif event.text() in "123456789" and event.text() and int(event.text()) <= len(self.groups):
            self.open_group(int(event.text()) - 1)
        else:
            return False
        return True


def _mark(button: QPushButton, name: str, on: bool) -> None:
    """Set a property that the style sheet speaks of; polishing costs, so only when it changes."""
    if bool(button.property(name)) != on:
        button.setProperty(name, on)
        style = button.style()
        if style is not None:
            style.unpolish(button)
            style.polish(button)
