"""What the keys of the current canvas do, on one key."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGridLayout, QLabel, QWidget

from architectonic.desktop.kit.cards import Card, clear

EVERYWHERE = (
    ("Ctrl+K", "find or do anything"),
    ("Ctrl+Z, Ctrl+Shift+Z", "undo, redo"),
    ("Ctrl+S", "save"),
    ("?", "this list"),
)
KEYS = {
    "Bodies": (
        ("Middle drag", "turn; with Shift slide"),
        ("Wheel", "zoom to the pointer"),
        ("V, then F T R I N", "look from the front, top, right, isometric, square onto the picked face"),
        ("Home", "show everything"),
        ("[ and ]", "step through what lies behind"),
        ("Click, Shift+click", "pick a face or edge; several"),
        ("Ctrl+A", "pick every face; all that an open sentence takes"),
        ("Delete", "take the chosen row away, telling what hangs on it"),
        ("H", "hide the picked bodies"),
        ("O", "only this; again for all"),
    ),
    "Sketch": (
        ("Middle drag, wheel", "slide, zoom"),
        ("Click, Shift+click", "choose a curve, point or region; several"),
        ("Drag a free point", "feel what can still move"),
        ("Double-click a dimension", "type its value"),
        ("Double-click a traced curve", "open the sketch it comes from"),
        ("Alt while drawing", "hold inference off"),
        ("Enter, double-click", "end a curve through points"),
        ("G", "grid to snap to, on or off"),
        ("H", "dim traced and helper curves and take them out of picking"),
        ("K", "marks of all constraints; else of what is chosen or hovered"),
        ("X", "cut away what lies in front of the plane"),
        ("Ctrl+C, Ctrl+V", "copy curves, paste them into any sketch"),
        ("Ctrl+A", "choose every curve"),
        ("Delete", "take the chosen curves away"),
        ("Home", "show the whole sketch"),
        ("Esc", "end the chain, lay the tool down, choose nothing"),
    ),
    "Values": (("Enter", "apply"), ("Delete, Enter", "an emptied cell follows the others again")),
    "Range": (
        ("Enter, F2", "type into the cell"),
        ("Delete", "the cell follows its parent again; on a name: delete the row"),
        ("Space", "turn a switch"),
        ("Ctrl+D", "fill down"),
        ("Ctrl+C, Ctrl+V", "copy and paste with spreadsheets"),
        ("Alt+Up, Alt+Down", "move the row"),
        ("Alt+PgUp, Alt+PgDown", "show the row before, the next"),
        ("Ctrl+F", "seek rows"),
    ),
    "Checks": (("Arrows", "from cell to cell"), ("N", "the next that does not hold"), ("Enter", "go where it leads")),
    "Map": (("Click", "light what a document drives and is driven by"), ("Double-click", "open it")),
}


class KeyHelp(Card):
    """A card with two columns; any key or click closes it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent, "QFrame#card { border: 1px solid #B9B1A2; border-radius: 6px; }")
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(18, 14, 18, 14)
        self._grid.setHorizontalSpacing(18)

    def start(self, tab: str) -> None:
        """Show the keys of a canvas; again to close."""
        if self.isVisible():
            self.hide()
            return
        clear(self._grid)
        for row, (keys, does) in enumerate((*KEYS.get(tab, ()), *EVERYWHERE)):
            left, right = QLabel(keys), QLabel(does)
            left.setStyleSheet("font-size: 12px; font-weight: 600;")
            right.setStyleSheet("font-size: 12px;")
            self._grid.addWidget(left, row, 0)
            self._grid.addWidget(right, row, 1)
        self.adjustSize()
        parent = self.parentWidget()
        if parent is not None:
            self.move((parent.width() - self.width()) // 2, max(8, (parent.height() - self.height()) // 2))
        self.show()
        self.raise_()
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Close."""
        self.hide()

    def mousePressEvent(self, event: object) -> None:
        """Close."""
        self.hide()
