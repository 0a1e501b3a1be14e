"""What can be done with cells and columns of a range, and which of its rows are seen."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from architectonic.base.errors import UserFault
from architectonic.desktop.commands.rows.shown import OfShown
from architectonic.desktop.commands.rows.tables import KINDS, SERIES
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.ranges.grid import RangeGrid
from architectonic.family import names, tables
from architectonic.family.records import Family, Sketch
from architectonic.quantities import units
from architectonic.quantities.compiled import fixed_value
from architectonic.session.ranges import columns as ranged
from architectonic.session.tables.columns import ValueColumn


class ColumnCommands(OfShown):
    """Callbacks about cells and columns of a range, and about which rows are seen."""

    def __init__(
        self, desk: Desk, prompt: Prompt, cards: ListCard, grid: RangeGrid, show_tab: Callable[[str], object]
    ) -> None:
        self.desk, self.prompt, self.cards, self.grid, self.show_tab = desk, prompt, cards, grid, show_tab

    def actions(self) -> list[Action]:
        """The actions about cells and columns."""
        has, cells, column = self._has, self._has_cells, self._has_column
        return [
            Action("cells.fill", "Fill the chosen cells down", self.grid.view.fill_down, cells, short="Fill down", also=("copy down",), tells="The first chosen row, into those below it.  Ctrl D", wants="wants chosen cells"),
            Action("cells.series", "Fill the chosen cells with a series…", self.series, cells, short="Series…", also=("preferred numbers", "R10", "steps"), tells="Even steps, or preferred numbers of ISO 3.", wants="wants chosen cells"),
            Action("cells.follow", "Let the chosen cells follow again", self.blank, cells, short="Follow again", also=("clear", "inherit", "back to formula"), tells="As their parent, or as all others.  Del", wants="wants chosen cells"),
            Action("column.choose", "Columns of the range…", self.columns, has, short="Columns…", also=("dimension", "switch", "property", "show", "hide"), tells="Ticks: dimensions, switches, properties, results, rules.", wants="wants a document"),
            Action("column.hide", "Hide this column", self.hide, column, short="Hide", tells="Columns brings it back.", wants="wants a column"),
            Action("column.left", "Move this column left", partial(self.move_column, -1), column, short="Left", also=("order",), tells="Inside its group.", wants="wants a column"),
            Action("column.right", "Move this column right", partial(self.move_column, 1), column, short="Right", also=("order",), tells="Inside its group.", wants="wants a column"),
            Action("column.fix", "Let the columns up to here stay", self.fix, column, short="Stay", also=("freeze", "pin"), tells="While the others are scrolled; again lets them go.", wants="wants a column"),
            Action("rows.sort", "Sort the rows by this column", self.sort, column, short="Sort", also=("order",), tells="Up, then down, then as they were.", wants="wants a column"),
            Action("rows.only", "Only rows like this cell", self.only, column, short="Only these", also=("filter",), tells="Again lets the others back in.", wants="wants a cell"),
            Action("rows.all", "Show all rows", self.grid.show_all, has, short="All rows", also=("clear filter",), tells="Nothing sought, nothing sorted.", wants="wants a document"),
            Action("figure.column", "Show the chosen dimension in the range", self.as_column, self._has_figure, short="To the range", also=("column", "configuration"), tells="It gets a name, and may differ from row to row.", wants="wants a chosen dimension"),
        ]  # fmt: skip

    def _has_cells(self) -> bool:
        return self._has() and self.grid.isVisible() and any(c for _, c in self.grid.view.chosen())

    def _has_column(self) -> bool:
        return self._has() and self.grid.isVisible() and self._column is not None

    @property
    def _column(self) -> str | None:
        """Key of the column in which the keyboard is."""
        place, columns = self.grid.view.currentIndex().column(), self.grid.model.columns
        return columns[place - 1].key if 0 < place <= len(columns) else None

    def _has_figure(self) -> bool:
        return bool(self._figure)

    @property
    def _figure(self) -> str:
        """Id of the chosen dimension of a sketch."""
        chosen = self.desk.main.constraint
        build = getattr(self.desk.main.document, "build", ())
        driving = (c.id for o in build if isinstance(o, Sketch) for c in o.constraints if c.value is not None)
        return chosen if chosen and chosen in driving else ""

    # --- cells ----------------------------------------------------------------------------------------

    def blank(self) -> None:
        """The chosen cells say nothing any more."""
        model = self.grid.model
        model.put([(r, c, "") for r, c in self.grid.view.chosen() if c and model.editable(r, c)])

    def series(self) -> None:
        """Ask how the chosen cells of a column go on from the first one."""
        model = self.grid.model
        chosen = [(r, c) for r, c in self.grid.view.chosen() if c and r < len(model.rows)]
        column = model.columns[chosen[0][1] - 1] if chosen else None
        cells = [(r, c) for r, c in chosen if c == chosen[0][1]]
        if not isinstance(column, ValueColumn) or len(cells) < 2:
            self.desk.told.emit(
                "Choose at least two cells of a column of values: the first says where the series begins.", True
            )
            return
        first, second = (self._number(column, *cell) for cell in cells[:2])
        if first is None:
            self.desk.told.emit("The first chosen cell holds no plain number to begin with.", True)
            return
        own = model.cell(*cells[1]).expression != ""

        def done(kind: str) -> bool:
            try:
                found = tables.series(first, second if own else None, KINDS[SERIES.index(kind)], len(cells))
            except UserFault as fault:
                self.desk.told.emit(fault.sentence, True)
                return False
            return model.put(
                [(r, c, f"{v:.10g} {column.unit}".strip()) for (r, c), v in zip(cells, found, strict=True)]
            )

        self.prompt.ask(f"{len(cells)} cells of {column.title} from {first:g} {column.unit}", [("go on", SERIES)], done)

    def _number(self, column: ValueColumn, row: int, place: int) -> float | None:
        text = self.grid.model.cell(row, place).expression
        if not text:
            return None
        try:
            bound = names.bind_quantity(self.desk.family, self.document, text, column.quantity, column.unit)
        except UserFault:
            return None
        return None if bound.refs else fixed_value(bound.text, column.quantity) / units.factor(column.unit)

    # --- columns --------------------------------------------------------------------------------------

    def columns(self) -> None:
        """Every column there could be, with a tick where it is shown; a click turns it."""
        self.show_tab("Range")
        key = self.document.id
        every = ranged.shown_columns(self.desk.family, self.document, True)
        shown = {c.key for c in ranged.shown_columns(self.desk.family, self.document)}
        listed: Sequence[tuple[tuple[str, ...], None]] = [
            ((f"{c.title} {c.unit}".strip(), c.group, "✓ shown" if c.key in shown else "–"), None) for c in every
        ]

        def turn(row: int, _: int) -> None:
            column = every[row]
            on = column.key not in shown
            named = isinstance(column, ValueColumn) and not getattr(column.record, "name", "")

            def edit(family: Family) -> Family:
                if on and named and isinstance(column, ValueColumn):
                    return ranged.as_column(family, key, column.item)
                return ranged.show_column(family, key, column.key, on)

            if self.desk.apply(f"{'show' if on else 'hide'} {column.title}", edit):
                place = self.cards.rows.currentRow()
                self.columns()
                self.cards.rows.setCurrentCell(place, 2)

        self.cards.start(f"Columns of {self.document.name}", ("column", "of", "a click turns it"), listed, turn=turn)

    def hide(self) -> None:
        """Hide the column in which the keyboard is."""
        key, column = self.document.id, self._column
        if column is not None:
            title = next(c.title for c in self.grid.model.columns if c.key == column)
            self.desk.apply(f"hide {title}", lambda f: ranged.show_column(f, key, column, False))

    def move_column(self, by: int) -> None:
        """One place left or right in its group."""
        key, column, columns = self.document.id, self._column, self.grid.model.columns
        place = next((k for k, c in enumerate(columns) if c.key == column), -1)
        other = columns[place + by] if 0 <= place + by < len(columns) else None
        if column is None or other is None or other.group != columns[place].group:
            return
        after = columns[place + 2].key if by > 0 and place + 2 < len(columns) else ""
        before = other.key if by < 0 else after
        if self.desk.apply(f"move {columns[place].title}", lambda f: ranged.move_column(f, key, column, before)):
            self.grid.model.refresh()
            self.grid.view.setCurrentIndex(self.grid.model.index(self.grid.view.currentIndex().row(), place + by + 1))

    def fix(self) -> None:
        """The columns up to that of the keyboard stay; again lets them go."""
        key, place = self.document.id, self.grid.view.currentIndex().column()
        count = 0 if self.document.columns.fixed == place else place
        self.desk.apply("columns that stay", lambda f: ranged.fix_columns(f, key, count))
        self.grid.view.lay_left()

    def as_column(self) -> None:
        """The chosen dimension as a column, which is gone to."""
        key, item = self.document.id, self._figure
        if self.desk.apply("a dimension in the range", lambda f: ranged.as_column(f, key, item)):
            self.show_tab("Range")
            self.grid.model.refresh()
            place = next((k for k, c in enumerate(self.grid.model.columns, 1) if c.key == f"value:{item}"), 0)
            self.grid.view.setCurrentIndex(self.grid.model.index(0, place))

    # --- which rows -----------------------------------------------------------------------------------

    def sort(self) -> None:
        """Up, then down, then as they were."""
        model, column = self.grid.model, self._column
        if column is not None:
            now = model.sorted_by
            model.sorted_by = (column, False) if now[0] != column else (column, True) if not now[1] else ("", False)
            model.refresh()

    def only(self) -> None:
        """Only rows that show the same in this column; again all of them."""
        model, column, index = self.grid.model, self._column, self.grid.view.currentIndex()
        if column is None:
            return
        if column in model.only:
            del model.only[column]
        elif index.row() < len(model.rows):
            model.only[column] = model.cell(index.row(), index.column()).text
        model.refresh()
