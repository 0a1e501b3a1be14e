"""The row of tabs over the canvas: one for each way to look at the shown document."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

MAP = "Map"
LOOK = (
    "QPushButton { border: 1px solid transparent; border-bottom: none; border-radius: 0; background: transparent;"
    " padding: 4px 12px; } QPushButton:checked { background: #F7F5F0; border-color: #CFC8BA; font-weight: 600; }"
)


PADDED, METER = 30, 90
"""Around the words of a tab, and what the freedoms of a sketch take beside them, px."""


class TabRow(QWidget):
    """Tabs on the left; on the right how free the shown sketch is, and the button that splits the canvas.

    Signals:
        chosen (str): a tab was clicked.
    """

    chosen = pyqtSignal(str)

    def __init__(self, meter: QWidget) -> None:
        super().__init__()
        self.meter = meter
        self.setObjectName("panel")
        self.setFixedHeight(30)
        self.buttons: dict[str, QPushButton] = {}
        self.split = QPushButton("Beside")
        self.split.setObjectName("flat")
        self.split.setToolTip("another document beside this one")
        self._line = QHBoxLayout(self)
        self._line.setContentsMargins(8, 3, 8, 0)
        self._line.setSpacing(2)
        self._line.addStretch(1)
        self._line.addWidget(meter)
        self._line.addWidget(self.split)

    def show_for(self, names: Sequence[str], document: str, narrow: bool) -> None:
        """Other tabs; where there is room they say what of which document they show."""
        for button in self.buttons.values():
            button.hide()
            button.deleteLater()
        self.buttons = {}
        long = {n: "Family map" if n == MAP else f"{document}, {n if n == '3D' else n.lower()}" for n in names}
        room = self.width() - self.split.sizeHint().width() - METER
        short = narrow or sum(self.fontMetrics().horizontalAdvance(t) + PADDED for t in long.values()) > room
        for place, name in enumerate(names):
            button = QPushButton(name if short else long[name])
            button.setCheckable(True)
            button.setStyleSheet(LOOK.replace("12px", "5px") if narrow else LOOK)
            button.clicked.connect(partial(self._on_clicked, name))
            self._line.insertWidget(place, button)
            self.buttons[name] = button

    def mark(self, name: str) -> None:
        """Show which tab is open."""
        self.meter.setVisible(name == "Sketch")
        for key, button in self.buttons.items():
            button.setChecked(key == name)

    def _on_clicked(self, name: str, _: bool = False) -> None:
        self.chosen.emit(name)
