"""What can be done with the configurations of a range."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from architectonic.describe.words.blanks import counted
from architectonic.desktop.commands.rows.shown import OfShown
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.ranges.grid import RangeGrid
from architectonic.desktop.sentences.card import SentenceCard
from architectonic.family import edits, names, scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import Family
from architectonic.session.ranges import rows
from architectonic.session.tables.columns import ValueColumn


class RowCommands(OfShown):
    """Callbacks about configurations; they ask through cards and change only through the desk."""

    def __init__(
        self, desk: Desk, prompt: Prompt, grid: RangeGrid, show_tab: Callable[[str], object], card: SentenceCard
    ) -> None:
        self.desk, self.prompt, self.grid, self.show_tab = desk, prompt, grid, show_tab
        self.card = card
        card.kept.connect(self.ask_where)
        grid.view.row_deleted.connect(self._on_deleted)
        grid.view.row_moved.connect(self._on_moved)

    def actions(self) -> list[Action]:
        """The actions about configurations."""
        has, row, own = self._has, self._has_row, self._is_own
        return [
            Action("row.new", "New configuration…", self.new, has, short="New…", also=("size", "variant", "version"), tells="A row that starts from what is common to all.", wants="wants a document"),
            Action("row.child", "Make a child of this configuration", self.child, row, short="Child", also=("derive", "inherit"), tells="Equal to it until something of its own is typed.", wants="wants a row"),
            Action("row.copy", "Copy of this configuration", self.copy, row, short="Copy", also=("duplicate",), tells="With all that it says itself, but its number.", wants="wants a row"),
            Action("row.delete", "Delete the chosen configurations", self.delete, own, short="Delete", tells="Who takes them is told; children keep what they had.", wants="wants a row that is no size"),
            Action("row.parent", "Let this configuration follow another…", self.follow, own, short="Follow…", also=("parent", "inherit"), tells="What it does not say itself it has from there.", wants="wants a row that is no size"),
            Action("row.up", "Move this configuration up", partial(self.move, -1), own, short="Up", also=("order",), tells="Sizes stand first, in the family's order.  Alt Up", wants="wants a row that is no size"),
            Action("row.down", "Move this configuration down", partial(self.move, 1), own, short="Down", also=("order",), tells="Sizes stand first, in the family's order.", wants="wants a row that is no size"),
            Action("row.names", "Name the chosen rows by a pattern…", partial(self.name_all, "name"), row, short="Names…", also=("rename",), tells="Such as AT-{length}: columns and a count in braces.", wants="wants rows"),
            Action("row.numbers", "Number the chosen rows by a pattern…", partial(self.name_all, "number"), row, short="Numbers…", also=("part number",), tells="Such as BR-{n:03}; no two alike.", wants="wants rows"),
            Action("row.next", "Show the next configuration", partial(self.step, 1), has, "Alt+PgDown", "view", tells="In the order of the grid.", wants="wants a document"),
            Action("row.previous", "Show the configuration before", partial(self.step, -1), has, "Alt+PgUp", "view", tells="In the order of the grid.", wants="wants a document"),
        ]  # fmt: skip

    @property
    def _rows(self) -> list[str]:
        """Those of the chosen cells; the shown one while the grid is not seen."""
        if self.grid.isVisible():
            return self.grid.view.chosen_rows()
        at = self.desk.main.at
        return [at.configuration] if at is not None else []

    def _has_row(self) -> bool:
        return self._has() and bool(self._rows)

    def _is_own(self) -> bool:
        """Whether the first chosen row is one of the document alone."""
        return self._has_row() and any(r.id == self._rows[0] and not r.size for r in self.document.configurations)

    def _name(self, row: str) -> str:
        return names.row_name(self.desk.family, self.document.id, row)

    # --- rows -----------------------------------------------------------------------------------------

    def new(self) -> None:
        """Type its name in the last line."""
        self.show_tab("Range")
        self.grid.model.refresh()
        self.grid.view.type_new()

    def _make(self, label: str, make: Callable[[Family], tuple[Family, str]]) -> None:
        """Make a row, show it, and say what it starts from."""
        made: list[str] = []

        def edit(family: Family) -> Family:
            family, key = make(family)
            made.append(key)
            return family

        if self.desk.apply(label, edit):
            self.show_tab("Range")
            self.desk.show(size=made[-1])
            self.grid.model.refresh()
            self.grid.view.choose(made[-1])
            told = rows.starts_from(self.desk.family, self.document, made[-1])
            self.desk.last_change += f": {told.removesuffix('.')}"  # the strip's own sentence goes on

    def child(self) -> None:
        """A child of the chosen row."""
        key, row = self.document.id, self._rows[0]
        self._make(f"child of {self._name(row)}", lambda f: rows.child(f, key, row))

    def copy(self) -> None:
        """A copy of the chosen row."""
        key, row = self.document.id, self._rows[0]
        self._make(f"copy of {self._name(row)}", lambda f: rows.copied(f, key, row))

    def delete(self) -> None:
        """Delete at once (undo brings them back), telling who took them."""
        key, found = self.document.id, [r for r in self._rows if any(c.id == r for c in self.document.configurations)]
        told = sorted(
            {f"{d.name} / {n}" for r in found for d, n in edits.users_of_configuration(self.desk.family, key, r)}
        )
        count = self._name(found[0]) if len(found) == 1 else counted(len(found), "configuration")

        def edit(family: Family) -> Family:
            for row in found:
                family = edits.delete_configuration(family, key, row)
            return family

        shown = self.desk.main.at
        beside = rows.beside(self.desk.family, self.document, found)
        if not self.desk.apply(f"delete {count}", edit):
            return
        if shown is not None and shown.configuration in found and beside:
            self.desk.show(size=beside)
        if told:
            self.desk.told.emit(f"{count} deleted; {', '.join(told)} took it. Ctrl+Z brings it back.", True)

    def _on_deleted(self) -> None:
        if self._is_own():
            self.delete()
        else:
            self.desk.told.emit("A size belongs to the whole family: it is not deleted here.", True)

    def _on_moved(self, by: int) -> None:
        if self._is_own():
            self.move(by)

    def follow(self) -> None:
        """Ask which one."""
        key, row = self.document.id, self._rows[0]
        below = {row, *scopes.rows_below(self.document, row)}
        others = {r.name: r.key for r in rows.rows(self.desk.family, self.document) if r.key not in below}
        none = "none: what is common to all"

        def done(name: str) -> bool:
            return self.desk.apply(
                f"{self._name(row)} follows {name}", lambda f: edits.set_parent(f, key, row, others.get(name, ""))
            )

        self.prompt.ask(f"{self._name(row)} follows", [("configuration", [none, *others])], done)

    def move(self, by: int) -> None:
        """One place up or down among those of the document."""
        key, row = self.document.id, self._rows[0]
        order = [r.id for r in self.document.configurations]
        rest = [r for r in order if r != row]
        place = order.index(row) + by
        if 0 <= place < len(order):
            before = rest[place] if place < len(rest) else ""
            self.desk.apply(f"move {self._name(row)}", lambda f: edits.move_configuration(f, key, row, before))
            self.grid.model.refresh()
            self.grid.view.choose(row)

    def name_all(self, field: str) -> None:
        """Ask for the pattern."""
        key, found, evaluation = self.document.id, self._rows, self.desk.settled
        values = [c for c in self.grid.model.columns if isinstance(c, ValueColumn)]
        word = names.identifier(values[0].title) if values else "size"
        first = (
            f"{names.identifier(self.document.name)[:2].upper()}-{{n:03}}"
            if field == "number"
            else f"{self.document.name} {{{word}}}"
        )

        def done(pattern: str) -> bool:
            return self.desk.apply(
                f"{counted(len(found), 'row')} called {pattern}",
                lambda f: rows.called(f, evaluation, key, found, field, pattern),
            )

        verb = "Number" if field == "number" else "Name"
        self.prompt.ask(f"{verb} {counted(len(found), 'row')}", [("by the pattern", first)], done, verb)

    def step(self, by: int) -> None:
        """Show the next one, round and round."""
        at = self.desk.main.at
        keys = [r.key for r in rows.rows(self.desk.family, self.document)]
        if at is not None and at.configuration in keys:
            wanted = keys[(keys.index(at.configuration) + by) % len(keys)]
            self.desk.show(size=wanted)
            if self.grid.isVisible():
                self.grid.view.choose(wanted, max(0, self.grid.view.currentIndex().column()))

    def ask_where(self, operation: str) -> None:
        """A new operation was kept while a row is shown: ask once where it is on."""
        document, at = self.desk.main.document, self.desk.main.at
        record = next((o for o in self.desk.main.build if o.id == operation), None)
        if not self.card.is_new or document is None or at is None or not isinstance(record, BodyOperation):
            return
        if not any(not r.size for r in document.configurations):
            return
        key, row, name = document.id, at.configuration, self._name(at.configuration)
        below = [r for r in scopes.rows_below(document, row) if not record.switch.own]

        def put(way: str, told: str) -> None:
            self.desk.apply(f"{record.name} {told}", lambda f: rows.where_on(f, key, operation, row, way))

        choices: list[tuple[str, Callable[[], object]]] = [
            (f"In {name} only", lambda: put("row", f"on in {name} only"))
        ]
        if below:
            choices.append(("In it and its children", lambda: put("children", f"on in {name} and its children")))
        every = len(rows.rows(self.desk.family, document))
        self.prompt.offer(
            f"{record.name} is on in all {every} configurations. Where does it belong?", choices, "In all"
        )
