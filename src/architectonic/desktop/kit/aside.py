"""Looking at files of others beside the event loop: a disk that does not answer holds nobody up, not even the end."""

from __future__ import annotations

import contextlib
import queue
import threading
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal


class Aside(QObject):
    """Runs one thing after the other in a thread that nobody waits for.

    Signals:
        _done (Callable, object): hands a result over to the event loop.
    """

    _done = pyqtSignal(object, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._waiting: queue.SimpleQueue[tuple[Callable[[], Any], Callable[[Any], object]] | None] = queue.SimpleQueue()
        self._thread: threading.Thread | None = None
        self._closed = threading.Lock()
        self._over = False
        self._done.connect(lambda then, found: then(found))

    def run(self, look: Callable[[], Any], then: Callable[[Any], object]) -> None:
        """Look, and hand what is found to `then` in the event loop; a look that fails gives nothing."""
        self._waiting.put((look, then))
        if self._thread is None:
            self._thread = threading.Thread(target=self._work, daemon=True, name="looking at files")
            self._thread.start()

    def close(self) -> None:
        """Hand over nothing any more; what hangs is left behind."""
        with self._closed:
            self._over = True
        self._waiting.put(None)

    def _work(self) -> None:
        while (entry := self._waiting.get()) is not None:
            look, then = entry
            with contextlib.suppress(OSError):
                found = look()
                with self._closed:
                    if not self._over:
                        self._done.emit(then, found)
