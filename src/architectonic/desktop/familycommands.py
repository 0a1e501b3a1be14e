"""Families as a whole: new, open, the demo, save."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from architectonic.base import folders
from architectonic.desktop.prompt import Prompt
from architectonic.desktop.workbench import Workbench
from architectonic.family import edits
from architectonic.session import places
from architectonic.session.session import Session


class FamilyCommands:
    """Callbacks about whole families."""

    def __init__(self, bench: Workbench, window: QWidget, prompt: Prompt) -> None:
        self.bench, self.window, self.prompt = bench, window, prompt
        self._refused = False

    def new_family(self) -> None:
        """Ask for a name and sizes, then for a folder."""

        def done(name: str, sizes: str) -> bool:
            folder = QFileDialog.getExistingDirectory(self.window, "An empty folder for the new family")
            return bool(folder) and self.make_family(Path(folder), name, sizes)

        self.prompt.ask("New family", [("name", "My family"), ("sizes", "S, M, L")], done, "Choose a folder")

    def make_family(self, folder: Path, name: str, sizes: str) -> bool:
        """Write a new family and show it."""
        made: list[Session] = []

        def act() -> None:
            names = tuple(s.strip() for s in sizes.split(",") if s.strip())
            made.append(
                Session.create(
                    folder, edits.new_family(name, names), self.bench.engine.evaluator, folders.state_folder()
                )
            )

        if self.bench.attempt(act):
            self.bench.open(made[0])
        return bool(made)

    def open_family(self) -> None:
        """Ask for a folder."""
        folder = QFileDialog.getExistingDirectory(self.window, "The folder of a family")
        if folder:
            self.show_family(Path(folder))

    def show_family(self, folder: Path) -> bool:
        """Open a family and show it; unsaved edits of a killed program come back as one undoable step."""
        made: list[Session] = []
        if self.bench.attempt(
            lambda: made.append(Session.open(folder, self.bench.engine.evaluator, folders.state_folder()))
        ):
            self.bench.open(made[0])
            offer_journal(self.bench)
        return bool(made)

    def open_demo(self) -> None:
        """A fresh copy in the user's data folder."""
        made: list[Session] = []
        if self.bench.attempt(lambda: made.append(demo_session(self.bench.engine))):
            self.bench.open(made[0])

    def save(self) -> None:
        """Write what differs; when others changed a file meanwhile, saving again overwrites it."""
        overwrite, self._refused = self._refused, False
        if self.bench.attempt(lambda: self.bench.session.save(overwrite)):
            self.bench.told.emit(f"Saved in {self.bench.session.stored.folder}", False)
        else:
            self._refused = True


def demo_session(engine: places.Engine) -> Session:
    """The demo family, written afresh to a new folder of the user's."""
    from architectonic.demo.family import brindle

    base = folders.data_folder() / "demo"
    number = 1
    while (folder := base / f"Brindle reading lights {number}").exists():
        number += 1
    folder.parent.mkdir(parents=True, exist_ok=True)
    return Session.create(folder, brindle(), engine.evaluator, folders.state_folder())


def offer_journal(bench: Workbench) -> None:
    """Bring back edits that a killed program left."""
    found = bench.session.unsaved_from_before()
    if found is not None:
        bench.session.recover(found)
        bench.last_change = "edits recovered from the journal"
        bench.told.emit("Edits that were not saved last time are back. Ctrl+Z drops them, Ctrl+S keeps them.", False)
