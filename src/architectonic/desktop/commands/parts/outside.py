"""Bodies of files: looked at, brought in as reference or to build on, taken anew when the file changes."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from architectonic.describe.operations.bodies.outside import FileLook, OutsideFound
from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.tables.linkwatch import LinkWatch
from architectonic.family import names
from architectonic.family.documents.part import Part
from architectonic.family.operations.bodies.outside import Outside
from architectonic.family.records import Family, Model
from architectonic.session.files import outside
from architectonic.session.files.outside import Looked, Role

FILES = "STEP files (*.step *.stp *.STEP *.STP)"


class OutsideCommands:
    """Callbacks about bodies of files."""

    def __init__(self, desk: Desk, prompt: Prompt, cards: ListCard, watch: LinkWatch) -> None:
        self.desk, self.prompt, self.cards, self.watch = desk, prompt, cards, watch

    def actions(self) -> list[Action]:
        """The actions about them."""
        chosen = lambda: self._chosen() is not None  # noqa: E731
        return [
            Action("outside.bring", "Bring in bodies from a STEP file…", self.ask, self._anywhere, menu="family", short="From file…", also=("import", "step", "supplier part", "purchased part", "reference"), tells="As reference, to build on, or as parts of an assembly.", wants="wants a family"),
            Action("outside.look", "What has changed in this file…", self.compare, chosen, short="File changes…", also=("reload", "update import"), tells="What its file has otherwise now, before it is taken.", wants="wants a row that reads a file"),
            Action("outside.point", "Read this from another file…", self.point, chosen, short="Other file…", also=("replace import", "missing file"), tells="The same bodies from a file elsewhere.", wants="wants a row that reads a file"),
        ]  # fmt: skip

    @property
    def _folder(self) -> Path:
        return self.desk.session.stored.folder

    def _anywhere(self) -> bool:
        return self.desk.main.document is not None

    def _chosen(self) -> tuple[Model, Outside] | None:
        main = self.desk.main
        found = next((o for o in main.build if o.id == main.operation and isinstance(o, Outside)), None)
        return (main.document, found) if found is not None and isinstance(main.document, Model) else None

    # --- bringing in ----------------------------------------------------------------------------------

    def ask(self) -> None:
        """Ask for a file."""
        name, _ = QFileDialog.getOpenFileName(self.prompt.window(), "A STEP file to bring in", "", FILES)
        if name:
            self.bring(Path(name))

    def bring(self, file: Path) -> None:
        """Look into a file beside the event loop, then ask what of it is wanted, and as what."""
        self.desk.work.run(f"Reading {file.name}", partial(outside.look, file), self._offer)

    def _offer(self, looked: Looked) -> None:
        found = looked.found
        sheets = sum(not b.solid for b in found.bodies)
        unit = "" if found.units in (("millimetre",), ()) else f", written in {' and '.join(found.units)}"
        told = f", {counted(sheets, 'surface')} among them" if sheets else ""
        title = f"{looked.file.name} holds {counted(len(found.bodies), 'body')}{told}{unit}"
        into = self.desk.main.document
        choices: list[tuple[str, Callable[[], object]]] = []
        if isinstance(into, Part):
            choices.append((f"As reference in {into.name}", partial(self._take, looked, "reference")))
            choices.append((f"To build on in {into.name}", partial(self._take, looked, "build")))
        choices.append(("As parts in an assembly", partial(self._as_parts, looked)))
        rows = [(_line(b), None) for b in found.bodies]
        self.cards.start(title, ("body", "of", "size", "volume"), rows, choices, "Leave it")
        self.cards.rows.selectAll()

    def _take(self, looked: Looked, role: Role) -> None:
        """The chosen bodies of the list, all while none is."""
        rows = sorted({i.row() for i in self.cards.rows.selectedIndexes()})
        wanted = [looked.found.bodies[k].path for k in rows]
        at, before = self.desk.main.document, self.desk.main.subject.after_marker
        made: list[str] = []

        def edit(family: Family) -> Family:
            assert at is not None
            family, key = outside.bring(family, at.id, looked, wanted, role, self._folder, "", before)
            made.append(key)
            return family

        if self.desk.apply(f"bodies of {looked.file.name}", edit):
            self.desk.main.select(made[-1])

    def _as_parts(self, looked: Looked) -> None:
        taken = [d.name for d in self.desk.family.documents.values()]
        name = names.free_name(names.plain_name(looked.file.stem.replace("_", " "), "Assembly"), taken)
        made: list[str] = []

        def done(typed: str) -> bool:
            def edit(family: Family) -> Family:
                family, key = outside.as_parts(family, looked, typed, self._folder)
                made.append(key)
                return family

            if not self.desk.apply(f"parts of {looked.file.name}", edit):
                return False
            self.desk.show(made[-1])
            return True

        self.prompt.ask(f"Parts of {looked.file.name}", [("name of the assembly", name)], done, "Bring in")

    # --- files that change ----------------------------------------------------------------------------

    def compare(self) -> None:
        """What the chosen row's file has otherwise now."""
        chosen = self._chosen()
        if chosen is not None:
            self._look_at(*chosen, outside.file_of(chosen[1], self._folder))

    def point(self) -> None:
        """Ask for another file for the chosen row."""
        chosen = self._chosen()
        name, _ = QFileDialog.getOpenFileName(self.prompt.window(), "The STEP file to read instead", "", FILES)
        if name and chosen is not None:
            self._look_at(*chosen, Path(name))

    def _look_at(self, document: Model, record: Outside, file: Path) -> None:
        def look(watch: object) -> tuple[Looked, FileLook | None]:
            return outside.look(file, watch), outside.accepted(record)  # type: ignore[arg-type]

        def show(both: tuple[Looked, FileLook | None]) -> None:
            looked, before = both
            lines = outside.differences(record, before, looked.found)
            same = looked.content == record.content
            title = f"{file.name} is as it was read" if same else f"{file.name} has {counted(len(lines), 'difference')}"
            take = partial(self._accept, document.id, record.id, looked, before)
            choices = [] if same else [("Take it", take)]
            self.cards.start(title, ("body", "what"), [(tuple(line), None) for line in lines], choices)

        self.desk.work.run(f"Reading {file.name}", look, show)

    def _accept(self, document: str, operation: str, looked: Looked, before: FileLook | None) -> None:
        if self.desk.apply(
            f"{looked.file.name} anew",
            lambda f: outside.take(f, document, operation, looked, before, self._folder),
        ):
            self.watch.look()


def _line(body: OutsideFound) -> tuple[str, ...]:
    """A body as the list shows it."""
    low, high = body.box[:3], body.box[3:]
    size = " × ".join(f"{b - a:.4g}" for a, b in zip(low, high, strict=True))
    volume = f"{body.volume / 1000:.4g} cm³" if body.solid else "surface"
    return " / ".join(body.path), body.product, f"{size} mm", volume
