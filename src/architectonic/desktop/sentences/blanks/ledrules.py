"""The rules of an open path: put on points by their numbers, listed, and taken off."""

from __future__ import annotations

import re
from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QComboBox, QMenu, QToolButton

from architectonic.base.errors import UserFault
from architectonic.describe.words import candidates
from architectonic.describe.words.blanks import counted
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import NameField
from architectonic.family import edits, names
from architectonic.family.operations.curves.path import TIED, VALUED, RuleKind, SpacePath
from architectonic.family.records import Model
from architectonic.session.model import pathing

RULES: dict[str, RuleKind] = {
    "parallel": "parallel", "square": "square", "equally long": "equal", "angle": "corner", "apart": "apart",
    "along x": "along_x", "along y": "along_y", "along z": "along_z",
    "level in x": "level_x", "level in y": "level_y", "level in z": "level_z",
    "at x": "coordinate_x", "at y": "coordinate_y", "at z": "coordinate_z",
    "step in x": "step_x", "step in y": "step_y", "step in z": "step_z",
    "in a plane": "in_plane", "on a line": "on_line", "mirrored": "mirrored",
}  # fmt: skip
"""By the words that are chosen."""


class _RuleEntry(NameField):
    """Enter puts the rule on; points of the path that are pressed in the picture are written into it."""

    def __init__(self, rules: LedRules, wide: int, called: str) -> None:
        super().__init__("", None, lambda: names.offered(rules.desk.family, rules.document()), lambda _: "")
        self.rules = rules
        self.setFixedHeight(26)
        self.setMinimumWidth(wide)
        self.setAccessibleName(called)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter with something typed puts the rule on."""
        popup = self.offer.popup()
        offering = popup is not None and popup.isVisible()
        if (
            event is not None
            and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
            and self.rules.points.text()
            and not offering
        ):
            self.rules.put_on()
            event.accept()
        else:
            super().keyPressEvent(event)


class LedRules:
    """Widgets that put rules on a path and take them off.

    Args:
        path: the path as it is now; put: takes it changed; document: that it stands in.
    """

    def __init__(
        self,
        desk: Desk,
        document: Callable[[], Model],
        path: Callable[[], SpacePath],
        put: Callable[[SpacePath], object],
    ) -> None:
        self.desk, self.document, self.path, self._put = desk, document, path, put
        self.listed = QToolButton()
        self.listed.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.listed.setToolTip("What holds the points; choosing a rule takes it off")
        self.menu = QMenu(self.listed)
        self.listed.setMenu(self.menu)
        self.more = QToolButton()
        self.more.setText("+ rule")
        self.more.setCheckable(True)
        self.more.toggled.connect(lambda _=False: self._put(self.path()))
        self.kind = QComboBox()
        self.kind.addItems(list(RULES))
        self.kind.setAccessibleName("rule")
        self.kind.currentTextChanged.connect(lambda _: self.word())
        self.points = _RuleEntry(self, 110, "points that it holds")
        self.points.setToolTip("Numbers as in the picture, or press the points there; Enter puts the rule on")
        self.to = QComboBox()
        self.to.setAccessibleName("what they are held to")
        self.value = _RuleEntry(self, 90, "value of the rule")
        self.widgets = (self.listed, self.more, self.kind, self.points, self.to, self.value)
        self.word()

    @property
    def chosen(self) -> RuleKind:
        """The kind that is put on next."""
        return RULES[self.kind.currentText()]

    def word(self) -> None:
        """How many there are, and what the next one needs."""
        path, document = self.path(), self.document()
        self.listed.setText(counted(len(path.rules), "rule"))
        self.listed.setVisible(bool(path.rules))
        self.menu.clear()
        for rule in path.rules:
            words = pathing.rule_words(self.desk.family, document, path, rule)
            action = self.menu.addAction(f"Take off: {words}")
            assert action is not None
            action.triggered.connect(lambda _=False, key=rule.id: self.take_off(key))
        kind, opened = self.chosen, self.more.isChecked()
        count = pathing.points_of(kind)
        self.points.setPlaceholderText(
            {1: "point, like 2", 2: "points, like 1 2", 3: "like 1 2 3, at 2"}.get(count, "legs, like 1 2 3 4")
        )
        self.value.setPlaceholderText("at no distance" if kind == "in_plane" else "value")
        self.kind.setVisible(opened)
        self.points.setVisible(opened)
        self.value.setVisible(opened and kind in VALUED)
        self.to.setVisible(opened and kind in TIED)
        if kind in TIED:
            self._offer((candidates.planes if TIED[kind] == "plane" else candidates.lines)(self.desk.main.subject))

    def _offer(self, found: candidates.Named) -> None:
        """What a point can be held to; what was chosen stays chosen while it is there."""
        if [(self.to.itemText(k), self.to.itemData(k)) for k in range(self.to.count())] == found:
            return
        chosen = self.to.currentText()
        self.to.clear()
        for name, reference in found:
            self.to.addItem(name, reference)
        self.to.setCurrentIndex(max(0, self.to.findText(chosen)))

    def name_point(self, key: str) -> bool:
        """Write the number of a point that is pressed in the picture; False where no rule is being put on."""
        if not self.more.isChecked():
            return False
        typed = self.points.text().strip()
        self.points.setText(f"{typed} {self.path().order.index(key) + 1}".strip())
        self.points.setFocus()
        return True

    def put_on(self) -> None:
        """Put the rule on; what cannot be true with the others is refused."""
        path, document, kind = self.path(), self.document(), self.chosen
        numbers = [int(t) for t in re.findall(r"\d+", self.points.text())]
        try:
            beyond = next((n for n in numbers if not 0 < n <= len(path.order)), None)
            if beyond is not None:
                raise UserFault(f"there is no point {beyond}", "Path", f"they go from 1 to {len(path.order)}")
            made = pathing.rule_said(
                self.desk.family, document, path, kind, tuple(path.order[n - 1] for n in numbers),
                self.value.text().strip(), self.to.currentData() if kind in TIED else None,
            )  # fmt: skip
            held = edits.replace(path, rules=(*path.rules, made))
            at = self.desk.main.at
            if at is not None:
                known = any(o.id == path.id for o in document.build)
                put = edits.replace_operation if known else edits.add_operation
                pathing.refuse_conflict(put(self.desk.family, document.id, held), at, held)
        except UserFault as fault:
            self.desk.told.emit(fault.sentence, True)
            return
        self.points.clear()
        self.value.clear()
        self._put(held)

    def take_off(self, key: str) -> None:
        """Let go of a rule."""
        path = self.path()
        self._put(edits.replace(path, rules=tuple(r for r in path.rules if r.id != key)))
