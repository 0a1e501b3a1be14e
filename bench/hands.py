"""Hands that press anything in the window: keys, clicks, drags, actions and texts by chance, for as long as is asked."""

from __future__ import annotations

import contextlib
import random
import signal
import sys
import tempfile
import time
import traceback
from pathlib import Path
from types import TracebackType
from typing import Any

from bench.events import _Window
from bench.faults import MOST_SECONDS, Figures, Hung, told

TEXTS = (
    "3 mm", "Sizes.wall * 2", "-1", "0", "1e999", "(((", "sin((-8)^0.5)", "", "x" * 400, "30 deg", "M", "on",
    "length > 300 mm", "pick(1 > 2, M, L)", "/dev/zero",
)  # fmt: skip
LEAVE = ("family.demo", "family.tutorial")
"""Actions that begin another family from nothing: they would make every other one rare."""


class Hands:
    """Presses in a window; what goes wrong is counted and shown."""

    def __init__(self, window: Any, seed: int) -> None:
        self.window, self.draw = window, random.Random(seed)
        self.figures: Figures = {"steps": 0, "tracebacks": 0, "hung": 0}
        self.last = ""

    def defect(self, kind: type[BaseException], fault: BaseException, trace: TracebackType | None) -> None:
        """One was raised in the event loop."""
        self.figures["tracebacks"] += 1
        last = [f"{Path(f.filename).name}:{f.lineno}" for f in traceback.extract_tb(trace)[-4:]] if trace else []
        where = " > ".join(last)
        print(f"{kind.__name__}: {str(fault)[:160]} ({where}) after {self.last}", flush=True)

    def step(self) -> None:
        """One thing by chance."""
        from PyQt6.QtCore import QPoint, Qt
        from PyQt6.QtTest import QTest
        from PyQt6.QtWidgets import QApplication, QWidget

        shell, draw = self.window.shell, self.draw
        kind = draw.choice(("action", "key", "key", "text", "click", "click", "drag", "document"))
        if kind == "action":
            key = draw.choice([a for a in shell.actions_.actions if a not in LEAVE])
            self.last = f"action {key}"
            shell.actions_.run(key)
        elif kind == "document":
            document = draw.choice(list(shell.desk.family.documents) or [""])
            self.last = f"document {document}"
            shell.desk.show(document)
        elif kind in ("key", "text"):
            target = QApplication.focusWidget() or shell
            if kind == "text":
                text = draw.choice(TEXTS)
                self.last = f"text {text[:30]!r} into {type(target).__name__}"
                QTest.keyClicks(target, text)
            else:
                key = draw.choice(
                    ("Return", "Escape", "Tab", "Delete", "Up", "Down", "Space", "F2", "1", "A", "Backspace")
                )
                shift = draw.choice((Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ControlModifier))
                self.last = f"key {key} into {type(target).__name__}"
                QTest.keyClick(target, getattr(Qt.Key, f"Key_{key}"), shift)
        else:
            seen = [w for w in shell.findChildren(QWidget) if w.isVisible() and w.isEnabled() and w.width() > 4]
            target = draw.choice(seen)
            at = QPoint(draw.randrange(target.width()), draw.randrange(max(1, target.height())))
            self.last = f"{kind} on {type(target).__name__}"
            button = draw.choice((Qt.MouseButton.LeftButton, Qt.MouseButton.LeftButton, Qt.MouseButton.RightButton))
            QTest.mousePress(target, button, Qt.KeyboardModifier.NoModifier, at)
            if kind == "drag":
                QTest.mouseMove(target, at + QPoint(draw.randrange(-60, 60), draw.randrange(-60, 60)))
            with contextlib.suppress(RuntimeError):  # it may be gone by now
                QTest.mouseRelease(target, button, Qt.KeyboardModifier.NoModifier, at)
        self.window.application.processEvents()


def press(seconds: float, seed: int = 1) -> Figures:
    """Press by chance for so long."""
    from PyQt6.QtCore import QTimer
    from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QMenu

    QFileDialog.getExistingDirectory = lambda *_, **__: ""  # type: ignore[method-assign]
    for name in ("getOpenFileName", "getSaveFileName", "getOpenFileNames"):
        setattr(QFileDialog, name, lambda *_, **__: ("", ""))
    QMenu.exec = lambda *_, **__: None  # type: ignore[method-assign]
    QDialog.exec = lambda *_, **__: 0  # type: ignore[method-assign]

    def hangs(*_: object) -> None:
        raise Hung

    def close_menus() -> None:
        while (popup := QApplication.activePopupWidget()) is not None:
            popup.close()

    with tempfile.TemporaryDirectory() as scratch:
        window = _Window(Path(scratch))
        closing = QTimer(interval=20, timeout=close_menus)  # type: ignore[call-arg]  # the menu of a button waits in a loop of its own
        closing.start()
        hands, before, end = Hands(window, seed), sys.excepthook, time.monotonic() + seconds
        sys.excepthook = hands.defect
        signal.signal(signal.SIGALRM, hangs)
        while time.monotonic() < end:
            hands.figures["steps"] += 1
            signal.alarm(MOST_SECONDS)
            try:
                hands.step()
            except Hung:
                hands.figures["hung"] += 1
                print("hung after", hands.last, flush=True)
            except Exception as fault:  # that is what is looked for
                hands.defect(type(fault), fault, fault.__traceback__)
            finally:
                signal.alarm(0)
        sys.excepthook = before
        window.close()
    return hands.figures


def hands() -> None:
    """An hour of it."""
    started = time.perf_counter()
    told("hands", press(3600), time.perf_counter() - started)
