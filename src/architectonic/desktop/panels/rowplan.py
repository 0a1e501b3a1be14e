"""Where the rows and columns of Made of stand."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtWidgets import QWidget

from architectonic.desktop.kit import theme
from architectonic.desktop.pane.desk import Desk
from architectonic.session.model.entries import Column, Entry

ROW, REASON, LEFT, SWITCH, COLUMN, MARKER = 23, 15, 12, 34, 22, 20


class Rows(QWidget):
    """What is laid out and painted: rows against columns.

    Attributes:
        dragged: the row, or "marker", that is being dragged; over: the place between rows where it would land.
    """

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.entries: list[Entry] = []
        self.columns: list[Column] = []
        self.dragged = ""
        self.over = -1


class RowPlan:
    """Heights, places and wrapped words, worked out from the rows and the width of a list."""

    def __init__(self, owner: Rows) -> None:
        self.owner = owner

    @property
    def head(self) -> int:
        """Height of what stands over the rows: the names of the bodies."""
        if not self.owner.columns:
            return 34
        metrics = QFontMetricsF(theme.font(11))
        return int(max(34.0, max(metrics.horizontalAdvance(c.name) for c in self.owner.columns) + 26))

    def size(self) -> QSize:
        """As high as the rows."""
        marker = MARKER if self.has_marker else 0
        rows = sum(self.height(e) for e in self.owner.entries)
        return QSize(300, self.head + rows + marker + (52 if not self.owner.entries else 8))

    @property
    def has_marker(self) -> bool:
        """Whether there is a build list to stand in."""
        return bool(self.owner.desk.main.build)

    @property
    def marked(self) -> int:
        """How many rows lie before the marker *up to here*; a folded stretch that it lies in lies before it."""
        ids = [o.id for o in self.owner.desk.main.build]
        until = self.owner.desk.main.until
        if until not in ids:
            return len(self.owner.entries)
        upto = ids.index(until) + 1
        rows = [k for k, e in enumerate(self.owner.entries) if e.upto <= upto or (e.folded and until in e.inside)]
        return rows[-1] + 1 if rows else 0

    def height(self, entry: Entry) -> int:
        """Height of a row."""
        return self.lines(entry) * 16 + 7 + (self.reason_lines(entry) * REASON + 4 if entry.problem else 0)

    def text_width(self, entry: Entry) -> float:
        """What a row's words may take: its note stands to the right of them."""
        note = theme.width_of(entry.note, 11, 600) + 10 if entry.note else 4
        return self.owner.width() - LEFT - SWITCH - 18 - COLUMN * len(self.owner.columns) - note

    def wrap(self, text: str, width: float, pixels: int) -> list[str]:
        """Words in lines of a width."""
        lines = [""]
        for word in text.split(" "):
            trial = f"{lines[-1]} {word}".strip()
            if theme.width_of(trial, pixels, 500) > width and lines[-1]:
                lines.append(word)
            else:
                lines[-1] = trial
        return lines

    def lines(self, entry: Entry) -> int:
        """How many lines a row has."""
        return len(self.wrap(entry.text, self.text_width(entry), 12))

    def reason(self, entry: Entry) -> str:
        """Why a row fails, and how to mend it."""
        problem = entry.problem
        return (
            ""
            if problem is None
            else f"{problem.what}. {problem.mend[:1].upper()}{problem.mend[1:]}."
            if problem.mend
            else problem.what
        )

    def reason_lines(self, entry: Entry) -> int:
        """How many lines the reason takes."""
        return len(self.wrap(self.reason(entry), self.owner.width() - LEFT - SWITCH - 34, 11))

    def tops(self) -> list[tuple[float, Entry]]:
        """Rows with the height they begin at."""
        y, found = float(self.head), []
        for k, entry in enumerate(self.owner.entries):
            if k == self.marked and self.has_marker:
                y += MARKER
            found.append((y, entry))
            y += self.height(entry)
        return found

    def gap(self, k: int) -> float:
        """Height of the gap before row k."""
        tops = self.tops()
        if k < len(tops):
            return tops[k][0]
        return tops[-1][0] + self.height(tops[-1][1]) if tops else float(self.head)

    def at(self, y: float) -> Entry | None:
        """The row at a height."""
        for top, entry in self.tops():
            if top <= y < top + self.height(entry):
                return entry
        return None

    def column_x(self, k: int) -> float:
        """Where the column of a body begins."""
        return self.owner.width() - COLUMN * (len(self.owner.columns) - k) - 4

    def marker_y(self) -> float:
        """Where the marker stands."""
        rows = [e for _, e in self.tops()][: self.marked]
        return self.head + sum(self.height(e) for e in rows) + MARKER / 2
