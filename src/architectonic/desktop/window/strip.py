"""The change strip: what is typed and how far it reaches, what happened last, and what it did."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from architectonic.check.attention import causes
from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit import theme
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.window.waits import Waits
from architectonic.family.scopes import alternate_name, configuration_name

FIGURES = 2
"""Figures of the shown document that the line has room for; the others are in the table."""


class Strip(QWidget):
    """One line that grows into the impact of the last change when it broke something, or when asked.

    Args:
        room: whether there is room for the impact: a list that stands open says what broke as well.
    """

    def __init__(self, desk: Desk, room: Callable[[], bool]) -> None:
        super().__init__()
        self.room = room
        self.setObjectName("strip")
        self.desk = desk
        self.line = QLabel()
        self.line.setStyleSheet("font-size: 12px;")
        self.line.setTextFormat(Qt.TextFormat.RichText)
        self.line.setWordWrap(True)
        self.line.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)  # it never widens the window
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
        self._last: dict[str, Any] | None = None
        self._told = (
            "Nothing has been changed yet. Type a value on the left: the strip says how far it reaches before you"
            " press Enter."
        )
        self.report = QPushButton("Copy a report")
        self.report.setToolTip("for whoever mends it: what was done and where it failed, nothing of the family")
        self.report.clicked.connect(self._copy_report)
        self.report.hide()
        line.insertWidget(1, self.report)
        self.waits = Waits(desk)
        line.insertWidget(1, self.waits)
        self.waits.told.connect(self._on_waits)
        desk.defects.told.connect(self._on_defect)
        self.take_back.hide()
        self.keep.hide()
        self.open_button.setEnabled(False)
        self._say(self._told)
        self.open_button.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # it is clicked while a value is being typed
        self._foretold = self._refused_in = self._waiting = ""
        for signal, slot in (
            (desk.told, self._on_told),
            (desk.main.changed, self._on_shown),
            (desk.foresight.told, self._on_not_yet),
            (desk.foresight.foreseen, self._on_foreseen),
            (desk.foresight.left, self._on_left),
            (desk.evaluated, self._on_evaluated),
            (desk.family_changed, self._on_changed),
        ):
            signal.connect(slot)

    def _say(self, text: str, colour: str = theme.INK) -> None:
        self.line.setText(f'<span style="color:{colour}">{text}</span>')

    def reach(self, text: str) -> None:
        """How far the value being typed reaches; "" shows the last change again."""
        head, _, rest = text.partition(":")
        self._say(f"{_strong(head)}:{_escape(rest)}" if text else self._told)

    def _on_told(self, text: str, refused: bool) -> None:
        self._say(_escape(text), theme.RED_TEXT if refused else theme.INK)
        self._refused_in = self.desk.main.document_id if refused else ""

    def _on_waits(self, text: str) -> None:
        """What is waited for, as long as nothing else is said; "" that it is over."""
        if text:
            self._say(_escape(text))
            self._waiting = self.line.text()
        elif self.line.text() == self._waiting:
            self._say(self._told)

    def _on_shown(self) -> None:
        """A refusal is left behind with the document that it was in."""
        if self._refused_in and self._refused_in != self.desk.main.document_id:
            self._refused_in = ""
            self._say(self._told)

    def _on_defect(self, text: str) -> None:
        """A fault of the program: said, with a report to copy."""
        self._on_told(text, True)
        self.report.show()

    def _copy_report(self) -> None:
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(self.desk.defects.report)
        self.report.hide()
        self._on_told("The report is copied: paste it where you report faults.", False)

    # --- before it is applied -------------------------------------------------------------------------

    def _on_not_yet(self, text: str) -> None:
        """Why what is being typed cannot be used yet."""
        self._on_told(text, True)
        self._foretold = self.line.text()

    def _on_foreseen(self, label: str, impact: dict[str, Any]) -> None:
        """What would follow, what breaks first; nothing is stored."""
        main = self.desk.main
        at = main.at
        shown = (main.document.name if main.document else "", configuration_name(self.desk.family, at) if at else "")
        told, bad = foreseen(impact, *shown, alternate_name(self.desk.family, at) if at else "")
        self._impact = impact
        self._say(f"{_strong(label)} would {told}. Enter keeps it, Esc leaves everything as it was.", theme.RED_TEXT if bad else theme.INK)  # fmt: skip
        self._foretold = self.line.text()
        self.open_button.setText("What it would change")
        self.open_button.setEnabled(bool(impact["changed"] or bad))
        if self._table.isVisible():
            self._lay_out(impact)

    def _on_left(self) -> None:
        """The last change is told again, in place of what would have followed."""
        if self._foretold and self.line.text() == self._foretold:
            self._say(self._told)
        self._foretold = ""
        if self._impact is not self._last:
            self._impact = self._last
            self.make_room()
            self.open_button.setEnabled(self._last is not None)

    def _on_changed(self) -> None:
        self.fold()
        self._impact = self._last = None
        self.open_button.setEnabled(False)
        if self.desk.last_change:
            self._told = f"{_strong(self.desk.last_change)}, being worked out"
            self._say(self._told)

    def _on_evaluated(self) -> None:
        """Compare with before when everything is there."""
        desk = self.desk
        if desk.updating or desk.impact is None or not desk.last_change:
            return
        self._impact = self._last = found = desk.impact
        desk.impact = None
        documents = {e["document"] for e in found["changed"]}
        sizes = {e["configuration"] for e in found["changed"]}
        seconds = desk.seconds
        followed = f"{counted(len(documents), 'document')} in {counted(len(sizes), 'configuration')} followed in {seconds:.1f} s"
        untouched = f", {len(found['unchanged'])} did not change"
        self._told = f"Last change: {_strong(desk.last_change)}, {followed if documents else 'the same values came out'}{untouched}"
        broken = [r for r in found["rules"] if r["holds"] is False]
        bad = found["newly_failing"] or broken
        if bad:
            where = {i["where"] for i in found["newly_failing"]}
            many = len(causes([i for i in desk.attention if i.where in where])) or len(where) or len(broken)
            what = f"{many} newly failing or out of rule"  # by cause, as the list and its pill count them
            self._told = f"{_strong(desk.last_change)}: {_strong(what)}. Take it back, or keep it and mend what broke."
        self._say(self._told, theme.RED_TEXT if bad else theme.INK)
        self.open_button.setEnabled(bool(found["changed"] or bad))
        self.take_back.setVisible(bool(bad))
        self.keep.setVisible(bool(bad))
        if bad and self.room():
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

    def make_room(self) -> None:
        """Only the line, with what it offers."""
        self._table.hide()
        self.open_button.setText("What it changed")

    def unfold(self) -> None:
        """The table of the last change."""
        if self._impact is None:
            return
        self._lay_out(self._impact)
        self._table.show()
        self.open_button.setText("Close")
        self.open_button.setEnabled(True)

    def _lay_out(self, impact: dict[str, Any], whole: bool = False) -> None:
        table = _table(impact, whole)
        table.linkActivated.connect(lambda _: self._lay_out(impact, True))
        self._table.setWidget(table)


def foreseen(impact: dict[str, Any], document: str, configuration: str, alternate: str = "") -> tuple[str, bool]:
    """What an edit would do, in words, and whether anything breaks: failures and rules first, then the figures of what is
    shown, then how much else.
    """
    rules = [r for r in impact["rules"] if r["holds"] is False]
    bad = [f"{i['where']} ({', '.join(i['configurations'])}): {i['what']}" for i in impact["newly_failing"]]
    bad = list(dict.fromkeys([*(f"{r['document']} / {r['name']} ({r['configuration']}): {r['message']}" for r in rules), *bad]))  # fmt: skip
    documents = list(dict.fromkeys(e["document"] for e in impact["changed"]))
    sizes = dict.fromkeys(e["configuration"] for e in impact["changed"])
    here = [
        f"{_words(e['quantity'])} {_result(e, 'before')} → {_result(e, 'after')}"
        for e in sorted(impact["changed"], key=lambda e: ":" not in e["quantity"])  # of bodies before values
        if (e["document"], e["configuration"]) == (document, configuration)
        and e["alternate"] in (None, alternate)
        and isinstance(e["before"], (int, float))
        and isinstance(e["after"], (int, float))
    ]
    if bad:
        more = f", and {len(bad) - 1} more" if len(bad) > 1 else ""
        return f"break {bad[0]}{more}", True
    if not documents:
        return "change nothing: the same values come out", False
    figures = f": {'; '.join(here[:FIGURES])}" if here else ""
    return f"change {counted(len(documents), 'document')} in {counted(len(sizes), 'configuration')}{figures}", False


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
        if which == "before":
            return "" if entry["after"] is not None else "there"
        return "another one" if entry["before"] else "there"
    return _figure(value)


FIRST = 60
"""Lines of the table before one asks for all: some hundreds take the event loop half a second to lay out."""


def _table(found: dict[str, Any], whole: bool) -> QLabel:
    """What broke first, then before and after of figures, the first ones or all; one rich text, since a label for each is slow."""
    rules = sorted((r for r in found["rules"] if r["holds"] is False), key=lambda r: not r["guard"])
    said = {r["message"] for r in rules}
    entries = merged(found["changed"])
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
        f"<tr><td>{_escape(e['document'])}</td><td>{_escape(_where(e, also))}</td><td>{_escape(_words(e['quantity']))}</td>"
        f"<td align='right' style='color:{theme.SOFT}'>{_result(e, 'before')}</td>"
        f"<td align='right' style='font-weight:600'>{_result(e, 'after')}</td></tr>"
        for e, also in entries[: None if whole else FIRST]
    )
    left = 0 if whole else len(entries) - FIRST
    more = f"<div><a href='all' style='color:{theme.PLUM}'>{left} more lines: show all</a></div>" if left > 0 else ""
    rest = f"{more}<div style='color:{theme.SOFT}'>Unchanged, with every result: {_escape(', '.join(found['unchanged']) or 'no document')}</div>"
    table = f"<table cellpadding='1'><tr>{head}</tr>{rows}</table>" if rows else ""
    made = QLabel("".join(lines) + table + rest)
    made.setObjectName("panel")
    made.setTextFormat(Qt.TextFormat.RichText)
    made.setStyleSheet("font-size: 12px; padding: 6px 12px;")
    made.setAlignment(Qt.AlignmentFlag.AlignTop)
    made.setTextInteractionFlags(
        Qt.TextInteractionFlag.TextSelectableByMouse | Qt.TextInteractionFlag.LinksAccessibleByMouse
    )
    return made


def merged(changed: list[dict[str, Any]]) -> list[tuple[dict[str, Any], list[str]]]:
    """Entries, those that are the same in several alternates as one with the names of these."""
    found: dict[tuple[str, ...], tuple[dict[str, Any], list[str]]] = {}
    for e in changed:
        key = (e["document"], e["configuration"], e["quantity"], repr(e["before"]), repr(e["after"]))
        found.setdefault(key, (e, []))[1].extend([e["alternate"]] if e["alternate"] else [])
    return list(found.values())


def _where(entry: dict[str, Any], alternates: list[str]) -> str:
    """`M`, `M, Folded`, `M, 9 alternates`."""
    told = f"{len(alternates)} alternates" if len(alternates) > 2 else " and ".join(alternates)
    return ", ".join(w for w in (entry["configuration"], told) if w)


def _words(quantity: str) -> str:
    for suffix, unit in (("_mm3", ", mm³"), ("_mm2", ", mm²"), ("_g", ", g"), ("_mm", ", mm")):
        if quantity.endswith(suffix):
            return quantity.removesuffix(suffix) + unit
    return quantity
