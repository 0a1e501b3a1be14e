"""A table of values as a grid: rows under headings, a column for the common value and one for each size."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Any, NamedTuple

from PyQt6.QtCore import QAbstractTableModel, QLocale, QModelIndex, Qt

from architectonic.base.ids import new_id
from architectonic.describe.results import Node
from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.tables.cells import KIND, GridCell
from architectonic.exchange.spreadsheet import decimal_comma, number_text
from architectonic.family import names, scopes
from architectonic.family.records import AnyDocument, Expression, Parameter
from architectonic.family.scopes import Scope
from architectonic.family.tables import WORDS, Typed
from architectonic.family.walk import Same
from architectonic.quantities import units
from architectonic.quantities.syntax import split_named
from architectonic.session.tables import spreadsheets
from architectonic.session.tables.columns import decimals

NEW = ""
"""Id of the line at the end that waits for a new row."""
OWN_TEXT = "application/x-architectonic-cells"


class GridLine(NamedTuple):
    """A line of the grid: a heading, a row of values, or the one that waits for a new row."""

    kind: str
    id: str
    group: str = ""


class TableModel(QAbstractTableModel):
    """Lines of the shown table; what cannot be used stays in its cell, in red, until it is put right."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.columns: list[tuple[str, str]] = []
        self.lines: list[GridLine] = []
        self.active = False
        self.sought = ""
        self.before = ""
        self.bad: dict[tuple[str, str], tuple[str, str, Parameter | None]] = {}
        self.waiting: dict[str, str] = {}
        self._cells: dict[str, tuple[Any, list[GridCell]]] = {}
        self._shown = ""
        refresh = soon(self, self.refresh)
        for signal in (desk.family_changed, desk.main.changed, desk.evaluated):
            signal.connect(refresh)

    @property
    def document(self) -> AnyDocument | None:
        """The table."""
        return self.desk.main.document

    @property
    def headers(self) -> list[str]:
        """Names of columns."""
        return [name for _, name in self.columns]

    # --- content --------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Follow the family while the grid is on the screen; only rows that differ are made anew."""
        document = self.document
        if not self.active or document is None:
            return
        if self._shown != document.id:
            self._shown, self.before = document.id, ""
            self.bad, self.waiting, self._cells = {}, {}, {}
        rows = scopes.configurations(self.desk.family, document)
        many = len(rows) > 1
        columns = [("name", "Name"), ("", "All sizes" if many else "Value")]
        columns += [(row, name) for row, name in rows] if many else []
        columns += [("unit", "Unit"), ("note", "Note")]
        lines = self._lines(document)
        if columns != self.columns or lines != self.lines:
            self.beginResetModel()
            self.columns, self.lines = columns, lines
            self._fill(document)
            self.endResetModel()
        else:
            changed = self._fill(document)
            for k, line in enumerate(lines):
                if line.id in changed:
                    self.dataChanged.emit(self.index(k, 0), self.index(k, len(columns) - 1))

    def _lines(self, document: AnyDocument) -> list[GridLine]:
        sought = self.sought.casefold()
        found: list[GridLine] = []
        group = ""
        for p in document.parameters:
            if sought and sought not in f"{p.name} {p.group} {p.note}".casefold():
                continue
            if p.group != group:
                group = p.group
                found.append(GridLine("group", f"group:{group}", group))
            if p.id == self.before:
                found.append(GridLine("new", NEW, group))
            found.append(GridLine("row", p.id, p.group))
        if not any(line.kind == "new" for line in found):
            found.append(GridLine("new", NEW, group))
        return found

    def _fill(self, document: AnyDocument) -> set[str]:
        """Make the cells of rows that differ from last time; their ids."""
        evaluation, at = self.desk.evaluation, self.desk.main.at
        called = names.spelling(self.desk.family)
        known = {p.id: p for p in document.parameters}
        self.bad = {k: v for k, v in self.bad.items() if known.get(k[0]) is v[2]}  # what changed since is right again
        scope = [Scope(document.id, row) for row, _ in scopes.configurations(self.desk.family, document)]
        changed = {NEW}
        for p in document.parameters:
            outcomes = tuple(evaluation.outcomes.get(Node("value", s, p.id)) for s in scope) if evaluation else ()
            texts = any(e.refs for e in (p.common, *p.own.values()))
            bad = tuple(v[:2] for k, v in self.bad.items() if k[0] == p.id) if self.bad else ()
            state = (Same(p), outcomes, called if texts else 0, at, bad, document.links)
            old = self._cells.get(p.id)
            if old is None or old[0] != state:
                self._cells[p.id] = (state, [self._cell(document, p, column) for column, _ in self.columns])
                changed.add(p.id)
        return changed

    def _cell(self, document: AnyDocument, p: Parameter, column: str) -> GridCell:
        bad = self.bad.get((p.id, column))
        if bad is not None:
            return GridCell(bad[0], bad[0], "bad", p.id, column, told=bad[1])
        if column in WORDS:
            kind = {"name": "name", "note": "note"}.get(column, "word")
            word = getattr(p, column)
            return GridCell(word, word, kind, p.id, column)
        rows = scopes.configurations(self.desk.family, document)
        seen = [Scope(document.id, row) for row, _ in rows]
        follows = (s for s in seen if scopes.cell(self.desk.family, s, p)[1] is p.common)
        at = Scope(document.id, column) if column else next(follows, None)
        expression, own = (
            (p.common, True) if at is None or not column else (scopes.cell(self.desk.family, at, p)[1], column in p.own)
        )
        return self._value_cell(document, p, column, at, expression, own and len(rows) > 1)

    def _value_cell(
        self, document: AnyDocument, p: Parameter, column: str, at: Scope | None, expression: Expression, own: bool
    ) -> GridCell:
        text = names.shown_text(self.desk.family, document, expression)
        if at is None:  # seen in no size: it speaks for itself
            return GridCell(text, text, "inherited", p.id, column)
        outcome = self.desk.evaluation.outcomes.get(Node("value", at, p.id)) if self.desk.evaluation else None
        value = None if outcome is None else outcome.value
        told = outcome.problem.what if outcome is not None and outcome.problem is not None else ""
        shown = column == getattr(self.desk.main.at, "configuration", "") and len(self.columns) > 4
        kind = "computed" if expression.refs else ("own" if own else "inherited")
        linked = spreadsheets.driven_by(document, p.id, column)
        if told:
            return GridCell("✕", text, "bad", p.id, column, text, told, shown)
        figure = "…" if value is None else f"{value / units.factor(p.unit):.{decimals(p)}f}"
        beside = text if _says_more(text, p.unit) and (own or not column or len(self.columns) == 4) else ""
        marked = bool(column) and own and len(self.columns) > 4
        return GridCell(figure, text, "linked" if linked else kind, p.id, column, beside, "", shown, marked)

    def cell(self, row: int, column: int) -> GridCell:
        """A cell by its place."""
        line, (key, _) = self.lines[row], self.columns[column]
        if line.kind == "group":
            return GridCell(
                (line.group or "under no heading") if key == "name" else "", line.group, "group", line.id, "group"
            )
        if line.kind == "new":
            text = self.waiting.get(key, "")
            hint = "a new row…" if key == "name" else ""
            if key == "" and self.waiting.get("name"):
                hint = "and a value"
            return GridCell(text or hint, text, "name" if text and key == "name" else "ghost", NEW, key)
        return self._cells[line.id][1][column]

    # --- Qt -------------------------------------------------------------------------------------------

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        """Lines of the grid."""
        return 0 if parent.isValid() else len(self.lines)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        """Columns of the grid."""
        return 0 if parent.isValid() else len(self.columns)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        """Names of columns."""
        if orientation != Qt.Orientation.Horizontal or section >= len(self.columns):
            return None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            left = self.columns[section][0] in WORDS
            side = Qt.AlignmentFlag.AlignLeft if left else Qt.AlignmentFlag.AlignRight
            return int(side | Qt.AlignmentFlag.AlignVCenter)
        return self.columns[section][1] if role == Qt.ItemDataRole.DisplayRole else None

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        """Text, expression while edited, and the cell itself for the delegate."""
        if not index.isValid():
            return None
        cell = self.cell(index.row(), index.column())
        if role == Qt.ItemDataRole.DisplayRole:
            return cell.text
        if role == Qt.ItemDataRole.EditRole:
            return cell.expression
        if role == KIND:
            return cell
        if role == Qt.ItemDataRole.ToolTipRole:
            return cell.told or cell.expression or None
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Everything may be typed in."""
        if not index.isValid():
            return Qt.ItemFlag.NoItemFlags
        return Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsEditable

    def setData(self, index: QModelIndex, value: Any, role: int = 0) -> bool:
        """Type into a cell."""
        line, (column, heading) = self.lines[index.row()], self.columns[index.column()]
        cell, text = self.cell(index.row(), index.column()), str(value).strip()
        if text == cell.expression:
            return False
        if line.kind == "group":
            rows = [k.id for k in self.lines if k.kind == "row" and k.group == line.group]
            return self.put([Typed(r, "group", text) for r in rows], f"group {line.group} is now {text}")
        named = split_named(text) if column in ("name", "") else None
        if line.kind == "new":
            if named is not None:
                self.waiting["name"], column, text = named[0], "", named[1]
            return self._type_new(column, text)
        if named is not None and column == "" and named[0] == names.identifier(self._name(line.id)):
            text = named[1]
        name = self._name(line.id)
        if column == "name":
            label = f"{name} is now {text}"
        elif not text:
            label = f"{name} of {heading} as the others" if column and column not in WORDS else f"{heading} of {name}"
        else:
            where = f" of {heading}" if column and column not in WORDS else ""
            label = f"{name}{where} {cell.text} → {text}"
        if not text and column in ("", "name"):
            return False  # a common value and a name cannot be empty
        return self.put([Typed(line.id, column, text)], label)

    def _type_new(self, column: str, text: str) -> bool:
        """Gather what a new row needs; it is made as soon as it has a name and a value."""
        self.waiting[column] = text
        values = [k for k, t in self.waiting.items() if k not in WORDS and t]
        if not self.waiting.get("name") or not values:
            self.refresh()
            return True
        cells = [Typed("new", k, t) for k, t in self.waiting.items()]
        place = next((k for k, line in enumerate(self.lines) if line.kind == "new"), 0)
        if self.before:
            cells.append(Typed("new", "group", self.lines[place].group))
        elif place and not any(k.column == "group" for k in cells):
            cells.append(Typed("new", "group", self.lines[place - 1].group))
        done = self.put(cells, f"new value {self.waiting['name']}", self.before)
        if done:
            self.waiting, self.before = {}, ""
        return done

    def _name(self, row: str) -> str:
        document = self.document
        return next((p.name for p in document.parameters if p.id == row), row) if document else row

    # --- edits ----------------------------------------------------------------------------------------

    def put(self, cells: Sequence[Typed], label: str, before: str = "") -> bool:
        """Type cells as one step; a single one that cannot be used keeps its text, marked."""
        document = self.document
        assert document is not None
        fresh = {c.row: new_id() for c in cells if c.row.startswith("new")}
        typed = [Typed(fresh.get(c.row, c.row), c.column, c.text) for c in cells]

        for c in typed:
            self.bad.pop((c.row, c.column), None)
        done = self.desk.apply(label, lambda f: spreadsheets.type_cells(f, document.id, typed, before))
        driven = bool(typed) and spreadsheets.driven_by(document, typed[0].row, typed[0].column) is not None
        if not done and len(typed) == 1 and not driven:
            record = next((p for p in document.parameters if p.id == typed[0].row), None)
            self.bad[typed[0].row, typed[0].column] = (typed[0].text, self.desk.refusal, record)
        self.refresh()
        return done

    def copied(self, rows: Iterable[int], columns: Iterable[int]) -> tuple[str, str]:
        """Cells as tab-separated text: for spreadsheets (figures), and for tables here (what was typed)."""
        figures, typed = io.StringIO(), io.StringIO()
        out, own = csv.writer(figures, delimiter="\t", lineterminator="\n"), csv.writer(typed, delimiter="\t")
        columns = list(columns)
        for row in rows:
            if self.lines[row].kind == "row":
                cells = [self.cell(row, c) for c in columns]
                out.writerow([c.text for c in cells])
                own.writerow([c.expression if c.kind != "inherited" or not c.key else "" for c in cells])
        return figures.getvalue(), typed.getvalue()

    def paste(self, text: str, row: int, column: int, chosen: Sequence[tuple[int, int]], own: bool) -> bool:
        """Put a block of tab-separated text in; one value goes into all chosen cells, rows past the end are new.

        Args:
            own: the text was copied from a table here: it is taken as it was typed.
        """
        block = [r for r in csv.reader(io.StringIO(text.rstrip("\r\n"), newline=""), delimiter="\t") if r]
        if not block:
            return False
        if not own:
            flat = [c.strip() for r in block for c in r]
            comma = decimal_comma(flat, otherwise=QLocale().decimalPoint() == ",")
            block = [[number_text(c.strip(), comma) for c in r] for r in block]
        if len(block) == 1 and len(block[0]) == 1 and len(chosen) > 1:
            cells = [
                Typed(self.lines[r].id, self.columns[c][0], block[0][0])
                for r, c in chosen
                if self.lines[r].kind == "row" and self.columns[c][0] != "name"
            ]
            return bool(cells) and self.put(cells, f"{counted(len(cells), 'cell')} {block[0][0]}")
        lines = [line.id for line in self.lines[row:] if line.kind == "row"]
        cells = []
        for k, texts in enumerate(block):
            target = lines[k] if k < len(lines) else f"new{k}"
            for c, word in enumerate(texts[: len(self.columns) - column]):
                key = self.columns[column + c][0]
                if word or key not in ("", "name"):
                    cells.append(Typed(target, key, word))
        return bool(cells) and self.put(cells, f"paste {counted(len(block), 'row')}")


def _says_more(text: str, unit: str) -> bool:
    """Whether an expression says more than its value beside it: it is no plain number in the row's unit."""
    try:
        float(text.removesuffix(unit).strip().replace("−", "-"))
    except ValueError:
        return True
    return False
