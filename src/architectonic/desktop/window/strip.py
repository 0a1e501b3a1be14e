"""The change strip: what is typed and how far it reaches, what happened last, and what it did."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from architectonic.desktop.kit import theme
from architectonic.desktop.pane.desk import Desk


class Strip(QWidget):
    """One line that grows into the impact of the last change when it broke something, or when asked."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("strip")
        self.desk = desk
        self.line = QLabel()
        self.line.setStyleSheet("font-size: 12px;")
        self.line.setTextFormat(Qt.TextFormat.RichText)
        self.open_button = QPushButton("What it changed")
        self.open_button.clicked.connect(self.toggle)
        self.take_back = QPushButton("Take back")
        self.take_back.clicked.connect(self._on_take_back)
        self.keep = QPushButton("Keep")
        self.keep.clicked.connect(self.fold)
        self._table = QScrollArea()
        self._table.setWidgetResizable(True)
        self._table.setFixedHeight(190)
        self._table.hide()
        line = QHBoxLayout()
        line.setContentsMargins(12, 3, 12, 3)
        line.addWidget(self.line, 1)
        for button in (self.take_back, self.keep, self.open_button):
            line.addWidget(button)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(line)
        layout.addWidget(self._table)
        self._impact: dict[str, Any] | None = None
        self._told = (
            "Nothing has been changed yet. Type a value on the left: the strip says how far it reaches before you"
            " press Enter."
        )
        self.take_back.hide()
        self.keep.hide()
        self.open_button.setEnabled(False)
        self._say(self._told)
        desk.told.connect(self._on_told)
        desk.evaluated.connect(self._on_evaluated)
        desk.family_changed.connect(self._on_changed)

    def _say(self, text: str, colour: str = theme.INK) -> None:
        self.line.setText(f'<span style="color:{colour}">{text}</span>')

    def reach(self, text: str) -> None:
        """How far the value being typed reaches; "" shows the last change again."""
        head, _, rest = text.partition(":")
        self._say(f"{_strong(head)}:{_escape(rest)}" if text else self._told)

    def _on_told(self, text: str, refused: bool) -> None:
        self._say(_escape(text), theme.RED_TEXT if refused else theme.INK)

    def _on_changed(self) -> None:
        self.fold()
        self._impact = None
        self.open_button.setEnabled(False)
        if self.desk.last_change:
            self._told = f"{_strong(self.desk.last_change)}, being worked out"
            self._say(self._told)

    def _on_evaluated(self) -> None:
        """Compare with before when everything is there."""
        desk = self.desk
        if desk.updating or desk.impact is None or not desk.last_change:
            return
        self._impact = found = desk.impact
        desk.impact = None
        documents = {e["document"] for e in found["changed"]}
        sizes = {e["configuration"] for e in found["changed"]}
        seconds = desk.seconds
        followed = f"{len(documents)} document{'s' if len(documents) != 1 else ''} in {len(sizes)} configuration{'s' if len(sizes) != 1 else ''} followed in {seconds:.1f} s"
        untouched = f", {len(found['unchanged'])} did not change"
        self._told = f"Last change: {_strong(desk.last_change)}, {followed if documents else 'the same values came out'}{untouched}"
        broken = [r for r in found["rules"] if r["holds"] is False]
        bad = found["newly_failing"] or broken
        if bad:
            what = f"{len(found['newly_failing']) or len(broken)} {'newly failing or out of rule'}"
            self._told = f"{_strong(desk.last_change)}: {_strong(what)}. Take it back, or keep it and mend what broke."
        self._say(self._told, theme.RED_TEXT if bad else theme.INK)
        self.open_button.setEnabled(bool(found["changed"] or bad))
        self.take_back.setVisible(bool(bad))
        self.keep.setVisible(bool(bad))
        if bad:
            self.unfold()

    def _on_take_back(self) -> None:
        self.fold()
        self.desk.undo()

    def toggle(self) -> None:
        """Open or close the table."""
        self.fold() if self._table.isVisible() else self.unfold()

    def fold(self) -> None:
        """One line."""
        self._table.hide()
        self.take_back.hide()
        self.keep.hide()
        self.open_button.setText("What it changed")

    def unfold(self) -> None:
        """The table of the last change."""
        if self._impact is None:
            return
        self._table.setWidget(_table(self._impact))
        self._table.show()
        self.open_button.setText("Close")
        self.open_button.setEnabled(True)


def _escape(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _strong(text: str) -> str:
    return f"<span style='font-weight:600'>{_escape(text)}</span>"


def _figure(value: Any) -> str:
    if isinstance(value, float):
        return f"{value:,.3f}".replace(",", " ").rstrip("0").rstrip(".")
    if isinstance(value, list):
        return " × ".join(f"{b - a:.1f}" for a, b in zip(value[:3], value[3:], strict=True))
    return "none" if value is None else str(value)


def _result(entry: dict[str, Any], which: str) -> str:
    """A figure; of a result that is none where it is, or that it is another one."""
    value = entry[which]
    what = entry["quantity"].rpartition(": ")[2]
    if value is None:
        return "none"
    if what == "status":  # why it fails stands above
        return value if value in ("ok", "off") else "failing"
    if what == "place" and isinstance(value, list):
        return "at " + ", ".join(f"{v:.1f}" for v in value[:3])
    if what == "placement":
        return "at " + ", ".join(f"{v:.1f}" for v in (value[3::4][:3] if value else (0.0, 0.0, 0.0)))
    if what in ("shape", "curves", "source", "picture"):
        return "" if which == "before" and entry["after"] is not None else "another one" if entry["before"] else "there"
    return _figure(value)


def _table(found: dict[str, Any]) -> QWidget:
    """What broke first, then before and after of every figure; one rich text, since a label for each is slow."""
    rules = sorted((r for r in found["rules"] if r["holds"] is False), key=lambda r: not r["guard"])
    said = {r["message"] for r in rules}
    lines = [
        f"<div style='color:{theme.OCHRE_TEXT}'>{_escape(rule['document'])} / {_escape(rule['name'])} "
        f"({rule['configuration']}): {_escape(rule['message'])}</div>"
        for rule in rules
    ]
    lines += [
        f"<div style='color:{theme.RED_TEXT}'>{_escape(item['where'])} ({_escape(', '.join(item['configurations']))}): "
        f"{_escape(item['what'])}. {_escape(item['mend'].capitalize())}</div>"
        for item in found["newly_failing"]
        if item["what"] not in said
    ]
    head = "".join(
        f"<td style='color:{theme.SOFT}; padding-right:18px'>{h}</td>" for h in ("Document", "Configuration", "What")
    )
    head += "".join(
        f"<td align='right' style='color:{theme.SOFT}; padding-left:18px'>{h}</td>" for h in ("Before", "After")
    )
    rows = "".join(
        f"<tr><td>{_escape(e['document'])}</td><td>{_escape(e['configuration'])}</td><td>{_escape(_words(e['quantity']))}</td>"
        f"<td align='right' style='color:{theme.SOFT}'>{_result(e, 'before')}</td>"
        f"<td align='right' style='font-weight:600'>{_result(e, 'after')}</td></tr>"
        for e in found["changed"]
    )
    rest = f"<div style='color:{theme.SOFT}'>Unchanged, with every result: {_escape(', '.join(found['unchanged']) or 'no document')}</div>"
    table = f"<table cellpadding='1'><tr>{head}</tr>{rows}</table>" if rows else ""
    made = QLabel("".join(lines) + table + rest)
    made.setObjectName("panel")
    made.setTextFormat(Qt.TextFormat.RichText)
    made.setStyleSheet("font-size: 12px; padding: 6px 12px;")
    made.setAlignment(Qt.AlignmentFlag.AlignTop)
    made.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
    return made


def _words(quantity: str) -> str:
    for suffix, unit in (("_mm3", ", mm³"), ("_mm2", ", mm²"), ("_g", ", g"), ("_mm", ", mm")):
        if quantity.endswith(suffix):
            return quantity.removesuffix(suffix) + unit
    return quantity
