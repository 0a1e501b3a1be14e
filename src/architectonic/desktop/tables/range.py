"""The range of a document: its configurations against what drives it, its own values, switches and results."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QModelIndex
from PyQt6.QtWidgets import QAbstractItemView, QTableView

from architectonic.describe.results import Node
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.tables.cellmodel import CellModel, Edit
from architectonic.desktop.tables.cells import GridCell, decimals
from architectonic.desktop.tables.gridlook import CellGrid, grid_view
from architectonic.family import edits, names, scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import MATCH, AnyDocument, Assembly, Model, Parameter, Valued
from architectonic.family.scopes import Scope
from architectonic.quantities import units
from architectonic.session.feeds.sources import SourceRow, groups_of
from architectonic.session.model import measuring


class RangeModel(CellModel):
    """Cells of the shown document, made anew from the family and the last evaluation."""

    def content(self) -> tuple[list[str], list[list[GridCell]]]:
        """Headings and configurations."""
        document = self.desk.main.document
        return self._range(document) if document is not None else ([], [])

    def _value(self, document: AnyDocument, p: Parameter, row: str, shown: bool) -> GridCell:
        at = scopes.scope(self.desk.family, document.id, row, self.desk.alternates.get(document.id, ""))
        key, expression = scopes.cell(self.desk.family, at, p)
        text = names.shown_text(self.desk.family, document, expression)
        value = self.desk.evaluation.value(Node("value", at, p.id)) if self.desk.evaluation else None
        figure = "…" if value is None else f"{value / units.factor(p.unit):.{decimals(p)}f}"
        kind = "computed" if expression.refs else ("own" if key else "inherited")
        return GridCell(figure, text, kind, p.id, row, shown=shown, marked=kind == "own")

    def _range(self, document: AnyDocument) -> tuple[list[str], list[list[GridCell]]]:
        """Values that drive it and its own, switches, then what it comes to: of measurements, bodies and instances."""
        switched = [o for o in getattr(document, "build", ()) if isinstance(o, BodyOperation)]
        taken = self._taken(document)
        called = Counter(_last(t.name) for t, _ in taken)
        headers = ["Configuration"]
        for t, v in taken:  # where two are called alike, what they stand in tells them apart
            of = self.desk.family.documents[t.document].name if t.name == _last(t.name) else t.name[: t.name.rfind(".")]
            headers.append(f"{f'{of} ' if called[_last(t.name)] > 1 else ''}{_last(t.name)}\n{names.unit_of(v)}")
        headers += [f"{p.name}\n{p.unit}" for p in document.parameters]
        headers += [_two_lines(o.name) for o in switched]
        results = self._results(document)
        headers += [header for header, _ in results]
        cells = []
        at = self.desk.main.at
        for row, name in scopes.configurations(self.desk.family, document):
            there = scopes.scope(self.desk.family, document.id, row, at.alternate if at is not None else "")
            shown = at == there
            parent = next((r.parent for r in document.configurations if r.id == row), "")
            line = [GridCell(f"└ {name}" if parent else name, name, "name", row, shown=shown)]
            line += [self._figure(there, t, v, shown) for t, v in taken]
            line += [self._value(document, p, row, shown) for p in document.parameters]
            for o in switched:
                on = scopes.is_on(self.desk.family, there, o.switch)
                kind = "switch" if row in o.switch.own else "inherited switch"
                line.append(GridCell("on" if on else "off", "", kind, o.id, row, shown=shown))
            line += [GridCell(read(there), "", "result", shown=shown) for _, read in results]
            cells.append(line)
        return headers, cells

    def _taken(self, document: AnyDocument) -> list[tuple[SourceRow, Valued]]:
        """Values of other documents that this one reads, and dimensions of its sketches that have a name."""
        rows = [r for g in groups_of(self.desk.main.subject) for r in g.rows]
        found = [(r, edits.value_item(self.desk.family, r.document, r.item)[2]) for r in rows]
        return [(r, v) for r, v in found if not isinstance(v, Parameter) or r.document != document.id]

    def _figure(self, there: Scope, row: SourceRow, item: Valued, shown: bool) -> GridCell:
        """What a value comes to in a configuration; it is changed where it lives."""
        at = (
            there
            if row.document == there.document
            else scopes.source_scope(self.desk.family, there, row.document, MATCH)
        )
        value = self.desk.evaluation.value(Node("value", at, row.item)) if self.desk.evaluation else None
        unit = names.unit_of(item)
        text = "…" if value is None else f"{value / units.factor(unit):.2f}"
        return GridCell(text, "", "result", shown=shown)

    def _results(self, document: AnyDocument) -> list[tuple[str, Callable[[Scope], str]]]:
        """What a document comes to: a heading, and how its figure is read in a configuration."""
        evaluation = self.desk.evaluation

        def read(what: str, item: str, told: Callable[[Any], str]) -> Callable[[Scope], str]:
            def figure(there: Scope) -> str:
                found = evaluation.outcomes.get(Node(what, there, item)) if evaluation is not None else None
                if found is None:
                    return "…"
                return "—" if found.value is None else told(found.value)

            return figure

        found: list[tuple[str, Callable[[Scope], str]]] = []
        for m in document.measurements if isinstance(document, Model) else ():
            found.append((m.name, read("value", m.id, lambda v, what=m.what: measuring.figure(what, v))))  # type: ignore[misc]
        for body, record in (
            document.bodies.items() if isinstance(document, Model) and not isinstance(document, Assembly) else ()
        ):
            found.append((f"{record.name} mass\ng", read("mass", body, lambda v: f"{v:.1f}")))
            found.append(
                (f"{record.name} volume\ncm³", read("measure", body, lambda v: f"{v['volume_mm3'] / 1000:.2f}"))
            )
            found.append((f"{record.name} box\nmm", read("measure", body, lambda v: _box(v["box_mm"]))))
        if isinstance(document, Assembly):
            found.append(("Instances", read("assembly", "", lambda v: str(len(v)))))
            found.append(
                ("Mass\ng", read("extents", "", lambda v: "—" if v.whole.mass is None else f"{v.whole.mass:.1f}"))
            )
        return found

    # --- edits ----------------------------------------------------------------------------------------

    def editable(self, row: int, column: int) -> bool:
        """Whether a cell can be typed into."""
        return self.cells[row][column].kind in ("own", "inherited", "computed")

    def typed(self, row: int, column: int, text: str) -> tuple[str, Edit]:
        """A value of one configuration."""
        cell, where = self.cells[row][column], self.cells[row][0].expression
        document, name = self.desk.main.document_id, self.headers[column].split("\n")[0]
        if not text:
            return f"{name} of {where} as the others", lambda f: edits.clear_cell(f, document, cell.item, cell.key)
        label = f"{name} of {where} {cell.text} → {text}"
        return label, lambda f: edits.set_value(f, document, cell.item, text, cell.key)

    def toggle(self, index: QModelIndex) -> None:
        """Switch an operation on or off in one configuration."""
        cell = self.cells[index.row()][index.column()]
        document = self.desk.main.document_id
        name, where = self.headers[index.column()].replace("\n", " "), self.cells[index.row()][0].expression
        on = cell.text == "off"
        self.desk.apply(
            f"{name} {'on' if on else 'off'} in {where}",
            lambda f: edits.set_switch(f, document, cell.item, on, cell.key),
        )


def _last(name: str) -> str:
    """The last part of a dotted name."""
    return name[name.rfind(".") + 1 :]


def _box(box: Sequence[float]) -> str:
    """`150.0 × 150.0 × 18.0`."""
    return " × ".join(f"{high - low:.1f}" for low, high in zip(box[:3], box[3:], strict=True))


def _two_lines(name: str) -> str:
    """A long name parted at the space nearest its middle."""
    spaces = [i for i, c in enumerate(name) if c == " "]
    if len(name) < 12 or not spaces:
        return name
    at = min(spaces, key=lambda i: abs(i - len(name) / 2))
    return f"{name[:at]}\n{name[at + 1 :]}"


class RangeGrid(CellGrid):
    """The grid with its legend."""

    def __init__(self, desk: Desk) -> None:
        self.model, self.view = RangeModel(desk), QTableView()
        self.view.setModel(self.model)
        grid_view(self.view)
        self.view.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        last = "Enter applies, an emptied cell follows the others again"
        super().__init__(self.model, self.view, (16, 10, 16, 34), last)
