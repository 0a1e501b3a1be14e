"""The field that holds pieces of surfaces: which stay, which go, which are not decided."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QToolButton

from architectonic.describe.words.blanks import counted
from architectonic.desktop.sentences.blanks.fields import Field, mark_active
from architectonic.family import edits
from architectonic.family.operations.surfaces.trim import PieceChoice, Trim
from architectonic.family.records import Family, Model
from architectonic.session.model import trimming
from architectonic.session.model.trimming import ShownPiece


class _PieceButton(QToolButton):
    """Space turns the piece that it stands on, arrows step to the next."""

    def __init__(self, field: PiecesField) -> None:
        super().__init__()
        self.field = field

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space and arrows."""
        assert event is not None
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if step and self.field.shown:
            self.field.at = (self.field.at + step) % len(self.field.shown)
            self.field.desk.answered.emit()
        elif event.key() == Qt.Key.Key_Space and self.field.shown:
            self.field.turn(self.field.at)
        else:
            super().keyPressEvent(event)


class PiecesField(Field):
    """Pieces that stay: a click on one, or on its tag, keeps or drops it. Of a new trim the first that is kept drops all others.

    Attributes:
        shown: the pieces as they were last known; at: the one that keys turn.
    """

    def fill(self, value: Any) -> None:
        """A button that says how many there are of each."""
        self.choices: tuple[PieceChoice, ...] = tuple(value or ())
        self.shown: list[ShownPiece] = []
        self.at = 0
        self.button = _PieceButton(self)
        self.button.setAccessibleName("pieces that stay")
        self.button.setToolTip(
            "click a piece or its tag in the picture to keep or drop it; Space and the arrows do the same here"
        )
        self.button.clicked.connect(lambda _=False: self.turn(self.at))
        self.widgets.append(self.button)
        self.word()

    @property
    def undecided(self) -> int:
        """How many are not decided."""
        return sum(1 for p in self.shown if p.keep is None)

    @property
    def wants(self) -> str:
        """Every piece to be decided on."""
        if not self.choices:
            return "click the pieces that stay"
        return f"keep or drop {counted(self.undecided, 'more piece')}" if self.undecided else ""

    def see(self, shown: list[ShownPiece]) -> None:
        """The pieces as they are now."""
        self.shown = shown
        self.at = min(self.at, max(0, len(shown) - 1))
        self.word()

    def word(self) -> None:
        """How many stay, go and wait."""
        if not self.shown or not self.choices:
            self.button.setText("click the pieces that stay")
            return
        kept = sum(1 for p in self.shown if p.keep)
        told = f"{kept} kept · {len(self.shown) - kept - self.undecided} dropped"
        self.button.setText(f"{told} · {self.undecided} to decide" if self.undecided else told)

    def turn(self, number: int) -> None:
        """Keep a piece, or drop it."""
        if number >= len(self.shown):
            return
        self.at = number
        if not self.choices:
            self.choices = tuple(p.seen.chosen(k == number) for k, p in enumerate(self.shown))
        else:
            assert isinstance(self.record, Trim)
            record = edits.replace(self.record, pieces=self.choices)
            self.choices = trimming.turned(record, self.shown, number, not self.shown[number].keep).pieces
        self.shown = [
            p._replace(keep=next((c.keep for c in self.choices if p.seen.chosen(c.keep) == c), None))
            for p in self.shown
        ]
        self.word()
        self.changed()

    def activate(self, active: bool) -> None:
        """Frame the button."""
        mark_active(self.button, active)

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """What is decided."""
        return {self.blank.field: self.choices}
