"""An update that waits long for one thing: what it is, since when, and the button that cancels it."""

from __future__ import annotations

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import QPushButton

from architectonic.check.attention import scope_name
from architectonic.describe.results import Node
from architectonic.desktop.pane.desk import Desk
from architectonic.family.records import Family
from architectonic.family.walk import index

LONG = 3.0
"""Seconds in which nothing has come before it is told."""


class Waits(QPushButton):
    """Cancels the update; is seen only while one waits long. Looks once a second while anything is being updated.

    Signals:
        told (str): what is waited for; "" once it is over.
    """

    told = pyqtSignal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__("Cancel")
        self.desk = desk
        self.setToolTip("stops the update; what is shown stays as it was before")
        self.clicked.connect(desk.cancel)
        self._timer = QTimer(self, interval=1000, timeout=self.look)  # type: ignore[call-arg]
        desk.counted.connect(lambda *_: None if self._timer.isActive() else self._timer.start())
        desk.evaluated.connect(self.look)
        self.hide()

    def look(self) -> None:
        """Say what is waited for, or that it is over."""
        desk = self.desk
        waited = desk.updater.waited() if desk.updating else None
        if not desk.updating:
            self._timer.stop()
        if waited is not None and waited.seconds >= LONG:
            self.show()
            more = f" and {waited.more} more" if waited.more else ""
            self.told.emit(
                f"Waiting for {called(desk.previewed or desk.family, waited.node)}{more}, for {waited.seconds:.0f} s."
            )
        elif not self.isHidden():
            self.hide()
            self.told.emit("")


def called(family: Family, node: Node) -> str:
    """What a node is about: `Round the rim of Foot, L`."""
    document = family.documents.get(node.document)
    if document is None:
        return "something that is gone"
    record = index(document).get(node.item) or getattr(document, "bodies", {}).get(node.item)
    name, where = getattr(record, "name", ""), ", ".join(n for n in (document.name, scope_name(family, node.at)) if n)
    return f"{name} of {where}" if name else where
