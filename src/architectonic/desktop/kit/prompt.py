"""A card below the canvas that asks for a few words; not a dialog: everything else stays usable."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from typing import Protocol

from PyQt6.QtCore import Qt, pyqtBoundSignal, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QPushButton, QWidget

from architectonic.desktop.kit.cards import Card, clear
from architectonic.desktop.kit.flow import Flow

NOTHING: Mapping[str, Collection[str]] = {}
WIDE = 420
"""Pixels that a field takes at most for what stands in it, such as the path of a folder."""


class Shown(Protocol):
    """What shows a document, and says when that is another."""

    document_id: str

    @property
    def changed(self) -> pyqtBoundSignal: ...


class Prompt(Card):
    """Labelled fields, Keep (Enter) and Leave as it was (Esc).

    Args:
        about: shows the document that is asked about; once it shows another, fields are asked no more.

    Signals:
        closed: it was kept or left.
    """

    closed = pyqtSignal()

    def __init__(self, parent: QWidget, about: Shown) -> None:
        super().__init__(parent)
        self._about, self._of = about, about.document_id
        about.changed.connect(self.forget)
        self._line = Flow(self, 10, 8)
        self.fields: list[QLineEdit | QComboBox] = []
        self._done: Callable[..., bool] = lambda *_: True
        self._asked = 0

    def ask(
        self,
        title: str,
        fields: Sequence[tuple[str, str | list[str] | Callable[[QWidget], QLineEdit]]],
        done: Callable[..., bool],
        verb: str = "Keep",
        only: Mapping[str, Collection[str]] = NOTHING,
    ) -> None:
        """Show the card.

        Args:
            fields: label and first text of each, or the list it is chosen from, or what makes the field.
            done: called with the texts; True closes the card, False leaves it for another try.
            only: by the label of a field, for which texts of the first field it is asked; the others decide nothing then.
        """
        clear(self._line)
        self._asked += 1
        self._of = self._about.document_id
        self._done = done
        self.fields = []
        head = QLabel(title)
        head.setStyleSheet("font-size: 13px; font-weight: 600;")
        self._line.addWidget(head)
        head.show()
        for label, text in fields:
            name = QLabel(label)
            name.setObjectName("soft")
            field: QLineEdit | QComboBox
            if callable(text):
                field = text(self.parentWidget() or self)
            elif isinstance(text, str):
                field = QLineEdit(text)
            else:
                field = QComboBox()
                field.addItems(text)
            shown = field.text() if isinstance(field, QLineEdit) else ""
            field.setMinimumWidth(max(110, min(WIDE, field.fontMetrics().horizontalAdvance(shown) + 28)))
            field.setAccessibleName(label)
            name.setBuddy(field)
            self._line.addWidget(name)
            self._line.addWidget(field)
            name.show()
            field.show()
            self.fields.append(field)
            self._ask_only(name, field, only.get(label))
        leave, keep = QPushButton("Leave as it was  Esc"), QPushButton(f"{verb}  Enter")
        keep.setObjectName("main")
        leave.clicked.connect(self.hide)
        keep.clicked.connect(self.keep)
        for button in (leave, keep):
            self._line.addWidget(button)
            button.show()
        self.place()
        self.show()
        self.raise_()
        if self.fields:
            self.fields[0].setFocus()
            if isinstance(self.fields[0], QLineEdit):
                self.fields[0].selectAll()

    def _ask_only(self, name: QLabel, field: QWidget, texts: Collection[str] | None) -> None:
        first = self.fields[0]
        if texts is None or not isinstance(first, QComboBox):
            return

        def follow(text: str) -> None:
            name.setVisible(text in texts)
            field.setVisible(text in texts)
            self.place()

        first.currentTextChanged.connect(follow)
        follow(first.currentText())

    def offer(self, title: str, choices: Sequence[tuple[str, Callable[[], object]]], leave: str = "Leave it") -> None:
        """Show a sentence with buttons; each closes the card. The first is the one that Enter takes."""
        self.ask(title, [], lambda: True)
        for button in self.findChildren(QPushButton):
            button.hide()

        def taking(run: Callable[[], object]) -> Callable[[], None]:
            def take() -> None:
                self.hide()
                run()

            return take

        for number, (text, run) in enumerate(choices):
            button = QPushButton(text)
            button.setObjectName("main" if number == 0 else "")
            button.clicked.connect(taking(run))
            self._line.addWidget(button)
            button.show()
        last = QPushButton(f"{leave}  Esc")
        last.clicked.connect(self.hide)
        self._line.addWidget(last)
        last.show()
        first = choices[0][1] if choices else lambda: None

        def enter() -> bool:
            first()
            return True

        self._done = enter
        self.place()
        self.setFocus()

    def forget(self) -> bool:
        """Close when what was asked about is not shown any more; what is offered stays until it is answered."""
        gone = bool(self.fields) and self._of != self._about.document_id
        if gone:
            self.hide()
        return gone

    def hideEvent(self, event: object) -> None:
        """Tell that nothing is asked any more."""
        super().hideEvent(event)  # type: ignore[arg-type]
        self.closed.emit()

    def place(self) -> None:
        """As high as it needs in the width that there is."""
        parent = self.parentWidget()
        if parent is not None:
            for child in self.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly):
                child.ensurePolished()
            self._line.room = parent.width()
            self.setFixedHeight(self._line.sizeHint().height())

    def keep(self) -> None:
        """Try what was typed; what is asked next in answer to it stays open."""
        if self.forget():
            return
        asked = self._asked
        if self._done(*(f.text().strip() if isinstance(f, QLineEdit) else f.currentText() for f in self.fields)):
            if asked == self._asked:
                self.hide()
