"""Alternates of the shown assembly: made, copied, ordered, taken away."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.tables.alternates import AlternatesGrid
from architectonic.family import edits
from architectonic.family.names import free_name
from architectonic.family.records import Alternate, Assembly, Family
from architectonic.session.assembly.grid import columns, named


class AlternateCommands:
    """Callbacks about alternates."""

    def __init__(self, desk: Desk, prompt: Prompt, grid: AlternatesGrid, show: Callable[[str], object]) -> None:
        self.desk, self.prompt, self.grid, self.show_tab = desk, prompt, grid, show
        grid.view.row_deleted.connect(self.delete)

    def actions(self) -> list[Action]:
        """The actions about alternates."""
        chosen, several = self._chosen, self._several
        return [
            Action("alternate.new", "New alternate…", self.new, self._in_assembly, short="New…", also=("version", "state", "pose"), tells="A row of its own; it follows the shown one.", wants="wants an assembly"),
            Action("alternate.copy", "Copy of this alternate…", self.copy, chosen, short="Copy…", also=("duplicate",), tells="With all that it says itself.", wants="wants an alternate"),
            Action("alternate.rename", "Rename this alternate…", self.rename, chosen, short="Rename…", tells="Whoever takes it follows.", wants="wants an alternate"),
            Action("alternate.names", "Name all alternates by a pattern…", self.name_all, several, short="Names…", also=("rename", "naming"), tells="Such as {Stand}, {Shoulder} deg: what their cells show.", wants="wants two alternates"),
            Action("alternate.follow", "Let this alternate follow another…", self.follow, several, short="Follow…", also=("parent", "inherit"), tells="What it does not say itself it has from there.", wants="wants two alternates"),
            Action("alternate.up", "Move this alternate up", partial(self.move, -1), several, short="Up", also=("order",), tells="The first is taken where none is asked for.", wants="wants two alternates"),
            Action("alternate.down", "Move this alternate down", partial(self.move, 1), several, short="Down", also=("order",), tells="The first is taken where none is asked for.", wants="wants two alternates"),
            Action("alternate.delete", "Delete this alternate", self.delete, chosen, short="Delete", tells="Who takes it is told; the last one leaves a plain assembly.", wants="wants an alternate"),
            Action("alternate.places", "Show all places, or those that differ", self.places, self._in_assembly, short="All places", also=("columns",), tells="Columns of what is the same in all alternates.", wants="wants an assembly"),
            Action("alternate.next", "Show the next alternate", partial(self.step, 1), several, "Ctrl+PgDown", "view", tells="In the order of the grid.", wants="wants two alternates"),
            Action("alternate.previous", "Show the alternate before", partial(self.step, -1), several, "Ctrl+PgUp", "view", tells="In the order of the grid.", wants="wants two alternates"),
        ]  # fmt: skip

    def name_all(self) -> None:
        """Ask for the pattern; columns stand in it in braces."""
        at, evaluation = self.desk.main.at, self.desk.settled
        if at is None or evaluation is None:
            return
        titles = [c.title for c in columns(self._assembly)][:2]
        first = ", ".join(f"{{{t}}}" for t in titles)

        def done(pattern: str) -> bool:
            return self.desk.apply(f"alternates named {pattern}", lambda f: named(f, evaluation, at, pattern))

        self.prompt.ask("Name all alternates", [("by the pattern", first)], done, "Name")

    @property
    def _assembly(self) -> Assembly:
        found = self.desk.main.document
        assert isinstance(found, Assembly)
        return found

    def _in_assembly(self) -> bool:
        return isinstance(self.desk.main.document, Assembly)

    def _several(self) -> bool:
        return self._in_assembly() and len(self._assembly.alternates) > 1

    def _chosen(self) -> bool:
        return self._in_assembly() and self._one is not None

    @property
    def _one(self) -> Alternate | None:
        """The row one works in, else the shown alternate."""
        at = self.desk.main.at
        key = (self.grid.row if self.grid.isVisible() else "") or (at.alternate if at is not None else "")
        return next((a for a in self._assembly.alternates if a.id == key), None)

    def new(self) -> None:
        """Ask for a name; the new one follows the shown one, and is shown."""
        key, at = self._assembly.id, self.desk.main.at
        parent = at.alternate if at is not None else ""
        self._make("New alternate", "Alternate", lambda f, name: edits.add_alternate(f, key, name, parent))

    def copy(self) -> None:
        """Ask for a name."""
        key, of = self._assembly.id, self._one
        if of is not None:
            self._make(f"Copy of {of.name}", of.name, lambda f, name: edits.duplicate_alternate(f, key, of.id, name))

    def _make(self, title: str, first: str, make: Callable[[Family, str], tuple[Family, str]]) -> None:
        taken = [a.name for a in self._assembly.alternates]
        made: list[str] = []

        def done(name: str) -> bool:
            def edit(family: Family) -> Family:
                family, key = make(family, name)
                made.append(key)
                return family

            ok = self.desk.apply(f"new alternate {name}", edit)
            if ok:
                self.desk.show(alternate=made[-1])
                self.show_tab("Alternates")
            return ok

        self.prompt.ask(title, [("name", free_name(first, taken))], done)

    def rename(self) -> None:
        """Ask for the new name."""
        key, of = self._assembly.id, self._one
        if of is not None:
            self.prompt.ask(
                f"Rename {of.name}",
                [("name", of.name)],
                lambda name: self.desk.apply(
                    f"{of.name} is now {name}", lambda f: edits.change_alternate(f, key, of.id, name=name)
                ),
            )

    def follow(self) -> None:
        """Ask which one."""
        found, of = self._assembly, self._one
        if of is None:
            return
        below = edits.descendants(found, of.id) | {of.id}
        others = {a.name: a.id for a in found.alternates if a.id not in below}
        none = "none: what is common to all"
        now = next((n for n, k in others.items() if k == of.parent), none)
        offered = [now, *(n for n in [none, *others] if n != now)]

        def done(name: str) -> bool:
            parent = others.get(name, "")
            return self.desk.apply(
                f"{of.name} follows {name}", lambda f: edits.change_alternate(f, found.id, of.id, parent=parent)
            )

        self.prompt.ask(f"{of.name} follows", [("alternate", offered)], done)

    def move(self, by: int) -> None:
        """One place up or down."""
        found, of = self._assembly, self._one
        if of is None:
            return
        keys = [a.id for a in found.alternates]
        place = keys.index(of.id) + by
        if 0 <= place < len(keys):
            rest = [k for k in keys if k != of.id]
            before = rest[place] if place < len(rest) else ""
            self.desk.apply(f"move {of.name}", lambda f: edits.move_alternate(f, found.id, of.id, before))

    def delete(self) -> None:
        """Delete at once (undo brings it back), telling who took it."""
        found, of = self._assembly, self._one
        if of is None:
            self.desk.told.emit("An assembly without alternates has nothing to delete here.", True)
            return
        users = edits.users_of_alternate(self.desk.family, found.id, of.id)
        if (
            self.desk.apply(f"delete alternate {of.name}", lambda f: edits.delete_alternate(f, found.id, of.id))
            and users
        ):
            self.desk.told.emit(f"{of.name} is deleted; {', '.join(users)} took it. Ctrl+Z brings it back.", True)

    def places(self) -> None:
        """Columns of all places, or only of those that are filled differently."""
        self.grid.model.every = not self.grid.model.every
        self.grid.model.refresh()

    def step(self, by: int) -> None:
        """Show the next one, round and round."""
        at, keys = self.desk.main.at, [a.id for a in self._assembly.alternates]
        if at is not None and at.alternate in keys:
            self.desk.show(alternate=keys[(keys.index(at.alternate) + by) % len(keys)])
