"""Frames around the parts of the window: parted, scrolled, ruled."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QScrollArea, QSplitter, QVBoxLayout, QWidget


def splitter(way: Qt.Orientation, parts: Sequence[QWidget], sizes: list[int]) -> QSplitter:
    """Parts side by side, or one under the other, parted by a hairline that can be moved."""
    made = QSplitter(way)
    for part in parts:
        made.addWidget(part)
    made.setSizes(sizes)
    made.setHandleWidth(1)
    return made


def scrolled(widget: QWidget) -> QScrollArea:
    """A panel that scrolls up and down when it is too high."""
    area = QScrollArea()
    area.setObjectName("panel")
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    holder = QWidget()
    holder.setObjectName("panel")
    column = QVBoxLayout(holder)
    column.setContentsMargins(0, 0, 0, 0)
    column.addWidget(widget)
    column.addStretch(1)
    area.setWidget(holder)
    return area


def rule() -> QFrame:
    """A hairline across."""
    made = QFrame()
    made.setFixedHeight(1)
    made.setObjectName("rule")
    return made
