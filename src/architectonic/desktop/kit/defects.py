"""Faults of the program: what was being done, and a report to copy that tells nothing of the family itself."""

from __future__ import annotations

import platform
import sys
from importlib.metadata import version

from PyQt6.QtCore import PYQT_VERSION_STR, QT_VERSION_STR, QObject, pyqtSignal


class Defects(QObject):
    """The last fault of the window.

    Attributes:
        doing: what was begun last: an action, or an edit.
        report: for whoever mends it; "" before there was a fault.

    Signals:
        told (str): what is to be said of it.
    """

    told = pyqtSignal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.doing, self.report = "", ""

    def begin(self, doing: str) -> None:
        """Something is begun."""
        self.doing = doing

    def note(self, trace: str, after: str) -> None:
        """A fault happened.

        Args:
            trace: its traceback; after: how things stand now.
        """
        sys.stderr.write(trace)
        last = trace.strip().splitlines()[-1]
        while_doing = f" during “{self.doing}”" if self.doing else ""
        self.report = "\n".join(
            (
                f"Architectonic {version('architectonic')}, a fault{while_doing}",
                f"Python {platform.python_version()}, PyQt {PYQT_VERSION_STR}, Qt {QT_VERSION_STR}, {platform.platform()}",
                "",
                trace.strip(),
            )
        )
        self.told.emit(f"A fault of the program{while_doing} ({last}). {after}")
