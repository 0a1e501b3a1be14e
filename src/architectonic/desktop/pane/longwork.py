"""Reading that may take long: in a thread of its own, with a card that says how far it is and cancels it."""

from __future__ import annotations

import sys
import threading
import traceback
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton, QWidget

from architectonic.base.cancel import Cancelled, Watch
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.cards import Card

AT_ONCE = 0.04
"""Seconds that are waited without a word: most files are read by then."""
BAR = (
    f"QProgressBar {{ border: 1px solid {theme.EDGE}; border-radius: 4px; background: {theme.FIELD}; height: 20px;"
    f" text-align: center; color: {theme.INK}; }}"
    "QProgressBar::chunk { background: #D9B3CB; border-radius: 3px; }"
)
STEP = 50
"""Milliseconds between two looks at how far it is."""


class _Job:
    """Work in its thread, and what came of it."""

    def __init__(
        self,
        title: str,
        work: Callable[[Watch], Any],
        done: Callable[[Any], object],
        refused: Callable[[UserFault | None], object],
    ) -> None:
        self.title, self.work, self.done, self.refused = title, work, done, refused
        self.share, self.result = 0.0, None
        self.fault: BaseException | None = None
        self.watch = Watch(told=self._told)
        self.thread = threading.Thread(target=self._run, daemon=True, name=title)

    def _told(self, share: float) -> None:
        self.share = share

    def _run(self) -> None:
        try:
            self.result = self.work(self.watch)
        except BaseException as fault:  # carried over to the event loop, where it is told
            self.fault = fault


class LongWork(QObject):
    """One piece of long work at a time; a new one takes the place of the one that runs.

    Signals:
        started (str): it takes longer than a moment: what it is.
        went (float, str): the share that is done, and how far that is in words.
        ended: it is over, whatever came of it.
    """

    started = pyqtSignal(str)
    went = pyqtSignal(float, str)
    ended = pyqtSignal()

    def __init__(self, tell: Callable[[str, bool], object]) -> None:
        super().__init__()
        self._tell = tell
        self._job: _Job | None = None
        self._timer = QTimer(self, interval=STEP, timeout=self._look)  # type: ignore[call-arg]

    def run(
        self,
        title: str,
        work: Callable[[Watch], Any],
        done: Callable[[Any], object],
        refused: Callable[[UserFault | None], object] = lambda fault: None,
    ) -> None:
        """Work in a thread, then call `done` with the result in the event loop; refusals are told.

        Args:
            work: asks its watch now and then whether it shall go on.
            refused: called when nothing comes of it, with why, if it was refused.
        """
        self._drop()
        self._job = job = _Job(title, work, done, refused)
        job.thread.start()
        job.thread.join(AT_ONCE)
        if job.thread.is_alive():
            self.started.emit(title)
            self._timer.start()
        else:
            self._finish(job)

    @property
    def busy(self) -> bool:
        """Whether something is being worked on."""
        return self._job is not None

    def cancel(self) -> None:
        """Stop; nothing comes of it."""
        title = self._job.title if self._job is not None else ""
        if self._drop():
            self._tell(f"{title}: cancelled, nothing was changed.", False)

    def _drop(self) -> bool:
        """Let the running work go: it stops at its next look at the watch."""
        job, self._job = self._job, None
        if job is None:
            return False
        job.watch.token.cancel()
        self._timer.stop()
        self.ended.emit()
        job.refused(None)
        return True

    def _look(self) -> None:
        job = self._job
        if job is not None and job.thread.is_alive():
            self.went.emit(job.share, job.watch.words)
        elif job is not None:
            self._timer.stop()
            self.ended.emit()
            self._finish(job)

    def _finish(self, job: _Job) -> None:
        self._job = None
        if isinstance(job.fault, UserFault):
            self._tell(job.fault.sentence, True)
        elif isinstance(job.fault, EnvironmentFault):
            self._tell(str(job.fault), True)
        elif isinstance(job.fault, MemoryError):
            self._tell(f"{job.title}: there is not enough memory for it.", True)
        elif job.fault is not None and not isinstance(job.fault, Cancelled):
            sys.stderr.write("".join(traceback.format_exception(job.fault)))
            self._tell(f"{job.title}: a fault of the program ended it ({job.fault}); nothing was changed.", True)
        if job.fault is None:
            job.done(job.result)
        else:
            job.refused(job.fault if isinstance(job.fault, UserFault) else None)


class WorkCard(Card):
    """How far the long work is; Esc or its button cancels it."""

    def __init__(self, parent: QWidget, work: LongWork) -> None:
        super().__init__(parent, BAR)
        self.work = work
        self.title, self.bar = QLabel(), QProgressBar()
        self.title.setStyleSheet("font-size: 13px; font-weight: 600;")
        self.bar.setRange(0, 100)
        self.bar.setFixedWidth(280)
        self.button = QPushButton("Cancel  Esc")
        self.button.clicked.connect(self.leave)
        line = QHBoxLayout(self)
        line.setContentsMargins(12, 10, 12, 10)
        line.setSpacing(12)
        for widget in (self.title, self.bar, self.button):
            line.addWidget(widget)
        line.addStretch(1)
        work.started.connect(self._on_started)
        work.went.connect(self._on_went)
        work.ended.connect(self.hide)

    def _on_started(self, title: str) -> None:
        self.title.setText(title)
        self.bar.setValue(0)
        self.place()
        self.show()
        self.raise_()
        self.setFocus()

    def _on_went(self, share: float, words: str) -> None:
        self.bar.setValue(round(100 * share))
        self.bar.setFormat(words or "%p%")

    def place(self) -> None:
        """As high as its line."""
        self.setFixedHeight(self.sizeHint().height())

    def keep(self) -> None:
        """It goes on: there is nothing to keep yet."""

    def leave(self) -> None:
        """Cancel it."""
        self.work.cancel()
