"""What would follow from what is being typed: worked out beside the event loop as soon as typing rests, stored nowhere."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from architectonic.base.errors import UserFault
from architectonic.family.records import Family

REST = 250
"""Milliseconds without a key after which typing rests."""


class Foresight(QObject):
    """One edit at a time that somebody is typing.

    Args:
        what_if: the family after an edit, checked as when it is stored; raises UserFault.
        preview: evaluates a family without taking it; None goes back.
        shown: the family that is previewed now.

    Signals:
        told (str): why what is typed cannot be used yet.
        foreseen (str, dict): the label of the edit and its impact, when everything is worked out.
        left: nothing is being typed any more.
    """

    told = pyqtSignal(str)
    foreseen = pyqtSignal(str, object)
    left = pyqtSignal()

    def __init__(
        self,
        parent: QObject,
        what_if: Callable[[Callable[[Family], Family]], Family],
        preview: Callable[[Family | None], object],
        shown: Callable[[], Family | None],
    ) -> None:
        super().__init__(parent)
        self._what_if, self._preview, self._shown = what_if, preview, shown
        self._edit: tuple[str, Callable[[Family], Family]] | None = None
        self.family: Family | None = None
        self.label = ""
        self._rest = QTimer(self, singleShot=True, interval=REST, timeout=self.look)  # type: ignore[call-arg]

    def typing(self, label: str, edit: Callable[[Family], Family]) -> None:
        """Something else is typed; it is looked at once typing rests."""
        self._edit = (label, edit)
        self._rest.start()

    def look(self) -> None:
        """Work out what is typed now. While an open sentence shows what it makes, that stays."""
        shown = self._shown()
        if self._edit is None or (shown is not None and shown is not self.family):
            return
        self._rest.stop()
        label, edit = self._edit
        try:
            made = self._what_if(edit)
        except UserFault as fault:
            self._back()
            self.told.emit(f"Not yet: {fault.sentence}")
            return
        self.label, self.family = label, made
        self._preview(made)

    def leave(self) -> None:
        """Nothing is typed any more: everything is as it was."""
        self._rest.stop()
        self._edit = None
        self._back()
        self.left.emit()

    def _back(self) -> None:
        if self.family is not None and self._shown() is self.family:
            self._preview(None)
        self.family, self.label = None, ""

    def known(self, impact: dict[str, Any]) -> None:
        """What the previewed edit would change is worked out."""
        if self.family is not None and self._shown() is self.family:
            self.foreseen.emit(self.label, impact)
