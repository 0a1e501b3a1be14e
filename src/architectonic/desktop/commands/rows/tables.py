"""What can be done with rows of values."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from architectonic.base.errors import UserFault
from architectonic.describe.models.documents import kind_of
from architectonic.describe.words.blanks import counted
from architectonic.desktop.commands.rows.shown import OfShown
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import asking
from architectonic.desktop.tables.grid import TableGrid
from architectonic.family import edits, names, tables
from architectonic.family.records import Parameter
from architectonic.family.tables import Typed
from architectonic.quantities import units
from architectonic.quantities.compiled import fixed_value
from architectonic.quantities.syntax import split_named

SERIES = ["in equal steps", "each times the last", "preferred R5", "preferred R10", "preferred R20", "preferred R40"]
KINDS = ["steps", "times", "R5", "R10", "R20", "R40"]


class TableCommands(OfShown):
    """Callbacks about tables; they ask through cards and change only through the desk."""

    def __init__(
        self, desk: Desk, prompt: Prompt, cards: ListCard, grid: TableGrid, go: Callable[[str, str], object]
    ) -> None:
        self.desk, self.prompt, self.cards, self.grid, self.go = desk, prompt, cards, grid, go

    def actions(self) -> list[Action]:
        """The actions about parameters, rows and sizes."""
        has, rows = self._has, self._has_rows
        return [
            Action("value.new", "New value…", self.new_value, has, also=("parameter", "variable"), tells="A name, a value, and what it is for.", wants="wants a document"),
            Action("value.insert", "Insert a row above", self.insert, rows, "Ctrl+I", short="Insert above", tells="An empty row above the chosen one.", wants="wants a chosen row"),
            Action("value.delete", "Delete the chosen rows", self.delete, rows, short="Delete rows", tells="Who used them is told; undo brings them back.", wants="wants chosen rows"),
            Action("value.group", "Put the chosen rows in a group…", self.group, rows, short="Group…", tells="A heading over rows that belong together.", wants="wants chosen rows"),
            Action("value.fill", "Fill down", self.grid.view.fill_down, rows, tells="The first chosen cell, into those below it.", wants="wants chosen cells"),
            Action("value.series", "Fill the chosen cells with a series…", self.series, rows, short="Series…", tells="Even steps, or preferred numbers.", wants="wants chosen cells"),
            Action("value.uses", "Where the chosen value is used", self.uses, rows, short="Where used", tells="Every place that names it.", wants="wants a chosen value"),
            Action("value.unused", "Values that nothing uses", self.unused, has, short="Unused", tells="What could be deleted without harm.", wants="wants a table"),
            Action("value.doubled", "Values that stand twice", self.doubled, has, short="Doubled", tells="Rows that say the same twice.", wants="wants a table"),
        ]  # fmt: skip

    def _is_table(self) -> bool:
        return (d := self.desk.main.document) is not None and kind_of(d).views[0] == "Values"

    def _has_rows(self) -> bool:
        return self._is_table() and self.grid.isVisible() and bool(self.grid.view.rows())

    # --- rows -----------------------------------------------------------------------------------------

    def new_value(self) -> None:
        """Ask for name, value and note."""
        key = self.document.id

        def done(name: str, value: str, note: str) -> bool:
            named = split_named(value) or split_named(name)
            name, value = named or (name, value)
            quantity = tables.quantity_of_text(value)
            return self.desk.apply(
                f"new value {name}", lambda f: edits.add_parameter(f, key, name, value, quantity, note=note)
            )

        self.prompt.ask(
            "New value",
            [("name", "length"), ("value", asking("10 mm", self.desk.main)), ("note", "")],
            done,
        )

    def insert(self) -> None:
        """A line that waits for a new row, above the chosen one."""
        model, view = self.grid.model, self.grid.view
        model.before = view.rows()[0]
        model.refresh()
        view.choose("", 0)
        view.edit(view.currentIndex())

    def delete(self) -> None:
        """Delete at once, telling who used them."""
        key, rows = self.document.id, self.grid.view.rows()
        users = sorted({u for r in rows for u in self.desk.session.users(key, r)})
        count = counted(len(rows), "value")
        if self.desk.apply(f"delete {count}", lambda f: tables.delete_rows(f, key, rows)) and users:
            self.desk.told.emit(f"{count} deleted; used by {', '.join(users)}. Ctrl+Z brings them back.", True)

    def group(self) -> None:
        """Ask for the heading that the chosen rows stand under."""
        rows = self.grid.view.rows()
        known = list(dict.fromkeys(p.group for p in self.document.parameters if p.group))

        def done(group: str) -> bool:
            label = f"{counted(len(rows), 'row')} under {group or 'no heading'}"
            return self.grid.model.put([Typed(r, "group", group) for r in rows], label)

        told = f" (there are {', '.join(known)})" if known else ""
        self.prompt.ask(
            f"{counted(len(rows), 'row')} to stand under the heading{told}",
            [("group", known[0] if known else "")],
            done,
        )

    def series(self) -> None:
        """Ask how the chosen cells go on from the first one: down a column, or along a row."""
        model, chosen = self.grid.model, self.grid.view.chosen()
        cells = [model.cell(r, c) for r, c in chosen if model.lines[r].kind == "row"]
        cells = [c for c in cells if c.key not in tables.WORDS]
        if len(cells) < 2:
            self.desk.told.emit(
                "Choose at least two cells of values: the first one says where the series begins.", True
            )
            return
        rows = {p.id: p for p in self.document.parameters}
        first = self._number(rows[cells[0].item], cells[0].expression)
        second = self._number(rows[cells[1].item], cells[1].expression)

        def done(kind: str) -> bool:
            word = KINDS[SERIES.index(kind)]
            try:
                assert first is not None
                found = tables.series(first, second, word, len(cells))
            except UserFault as fault:
                self.desk.told.emit(fault.sentence, True)
                return False
            unit = rows[cells[0].item].unit
            typed = [Typed(c.item, c.key, f"{v:.10g} {unit}".strip()) for c, v in zip(cells, found, strict=True)]
            return model.put(typed, f"a series of {len(cells)} {kind}")

        if first is None:
            self.desk.told.emit("The first chosen cell holds no plain number to begin with.", True)
            return
        self.prompt.ask(f"{len(cells)} cells from {cells[0].text}", [("go on", SERIES)], done)

    def _number(self, row: Parameter, text: str) -> float | None:
        at = self.desk.main.at
        if at is None:
            return None
        try:
            bound = names.bind_quantity(self.desk.family, self.document, text, row.quantity, row.unit)
        except UserFault:
            return None
        return None if bound.refs else fixed_value(bound.text, row.quantity) / units.factor(row.unit)

    # --- questions ------------------------------------------------------------------------------------

    def uses(self) -> None:
        """List who reads the chosen rows; each entry leads there."""
        rows, found = self.grid.view.rows(), []
        named = {p.id: p.name for p in self.document.parameters}
        for row in rows:
            for other, item, record in edits.users(self.desk.family, self.document.id, row):
                words = (named[row], other.name, getattr(record, "name", "") or record.__class__.__name__.lower())
                found.append((words, partial(self.go, other.id, item)))
        who = named[rows[0]] if len(rows) == 1 else f"{len(rows)} values"
        if not found:
            self.cards.start(f"Nothing uses {who}", (), ())
        else:
            self.cards.start(f"{who} is used {len(found)} times", ("value", "document", "where"), found)

    def unused(self) -> None:
        """List the rows that nothing reads."""
        found = [
            ((p.name, p.note), partial(self.grid.view.choose, p.id))
            for p in tables.unused(self.desk.family, self.document.id)
        ]
        title = (
            f"{counted(len(found), 'value')} of {self.document.name} that nothing uses"
            if found
            else "Every value is used"
        )
        self.cards.start(title, ("value", "note"), found)

    def doubled(self) -> None:
        """List rows of the family that hold the same plain values."""
        found = []
        for same in tables.doubled(self.desk.family):
            for document, p in same:
                found.append(
                    ((f"{document.name}.{p.name}", p.common.text, p.note), partial(self.go, document.id, p.id))
                )
        title = (
            "These hold the same value as another: perhaps one should drive the other"
            if found
            else "No value stands twice"
        )
        self.cards.start(title, ("value", "is", "note"), found)
