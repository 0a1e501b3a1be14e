"""Refreshing a panel in a turn of the event loop of its own, once however often it was asked."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6 import sip
from PyQt6.QtCore import QObject, QTimer


def soon(owner: QObject, refresh: Callable[[], object]) -> Callable[..., None]:
    """A slot that runs `refresh` when the loop is next free; several panels never block it together."""
    timer = QTimer(owner)
    timer.setSingleShot(True)
    timer.setInterval(0)
    timer.timeout.connect(refresh)

    def start(*_: object) -> None:
        if not sip.isdeleted(timer):  # what is told late, to a panel that is gone, is told to nobody
            timer.start()

    return start
