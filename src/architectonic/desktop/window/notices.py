"""What has to be told of the folder until it is answered, in the head band: one word each, more where the pointer rests."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QToolButton, QWidget

from architectonic.base.processes import claims
from architectonic.base.processes.claims import Claim
from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit.actions import Registry
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.window.folderwatch import FolderWatch
from architectonic.session.open.journal import left_told


class Notices(QWidget):
    """Buttons for what is around; nothing where there is nothing."""

    def __init__(self, watch: FolderWatch, actions: Registry) -> None:
        super().__init__()
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(4)
        self.watch = watch
        self.left, self.newer, self.others = (self._button() for _ in range(3))
        for button, action in (
            (self.left, "family.left"),
            (self.newer, "family.newer"),
            (self.others, "family.others"),
        ):
            button.clicked.connect(lambda _=False, a=action: actions.run(a))
            line.addWidget(button)
        watch.changed.connect(soon(self, self.refresh))
        self.refresh()

    def _button(self) -> QToolButton:
        made = QToolButton()
        made.setObjectName("pill")
        return made

    def refresh(self) -> None:
        """Follow what is around."""
        found = self.watch.around
        for button, text, tip in (
            (self.left, "Edits left unsaved" if found.left else "", "\n".join(left_told(k) for k in found.left)),
            (self.newer, "Newer on disk" if found.newer else "", "Others changed " + ", ".join(found.newer)),
            (self.others, f"Also open: {others_named(found.others)}" if found.others else "",
             "\n".join(claims.told(c) for c in found.others)),
        ):  # fmt: skip
            button.setText(text)
            button.setToolTip(tip)
            button.setVisible(bool(text))


def others_named(others: tuple[Claim, ...]) -> str:
    """Users, or how many windows."""
    users = list(dict.fromkeys(c.user for c in others))
    return users[0] if len(others) == 1 else counted(len(others), "window")
