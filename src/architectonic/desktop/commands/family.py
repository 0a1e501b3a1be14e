"""Families as a whole: new, open, the demo, save."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from architectonic.base import folders
from architectonic.base.processes import claims
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.exchange.folder import Gone
from architectonic.exchange.presence import Presence
from architectonic.family import edits
from architectonic.session.open import engine as places
from architectonic.session.open import leftovers, recent
from architectonic.session.open.journal import Left, TakenBack, drop, left_told
from architectonic.session.open.session import Session


class FamilyCommands:
    """Callbacks about whole families."""

    def __init__(self, desk: Desk, window: QWidget, prompt: Prompt) -> None:
        self.desk, self.window, self.prompt = desk, window, prompt

    def new_family(self) -> None:
        """Ask for a name, sizes, and where its folder is made."""

        def done(name: str, sizes: str, where: str) -> bool:
            if not name or "/" in name or name.startswith("."):
                self.desk.told.emit(f"“{name}” cannot be the name of a folder: type letters and figures.", True)
                return False
            return self.make_family(Path(where).expanduser() / name, name, sizes)

        here = self.desk.session.stored.folder.parent
        base = folders.data_folder() / "families" if folders.data_folder() in here.parents else here
        self.prompt.ask("New family", [("name", "My family"), ("sizes", "S, M, L"), ("made in", str(base))], done)

    def make_family(self, folder: Path, name: str, sizes: str) -> bool:
        """Write a new family and show it."""
        made: list[Session] = []

        def act() -> None:
            names = tuple(s.strip() for s in sizes.split(",") if s.strip())
            made.append(
                Session.create(
                    folder, edits.new_family(name, names), self.desk.engine.evaluator, folders.state_folder()
                )
            )

        if self.desk.attempt(act):
            self._open(made[0])
        return bool(made)

    def _open(self, session: Session) -> None:
        self.desk.open(session)
        recent.remember(session.stored.folder)

    def open_family(self) -> None:
        """Ask for a folder."""
        self._in_folder("The folder of a family", self.show_family)

    def _in_folder(self, what: str, act: Callable[[Path], bool]) -> bool:
        """Ask for a folder, and do something there; False when none is chosen."""
        folder = QFileDialog.getExistingDirectory(self.window, what)
        return bool(folder) and act(Path(folder))

    def show_family(self, folder: Path) -> bool:
        """Open a family and show it; unsaved edits of a killed program come back as one undoable step."""
        made: list[Session] = []
        if self.desk.attempt(
            lambda: made.append(Session.open(folder, self.desk.engine.evaluator, folders.state_folder()))
        ):
            self._open(made[0])
            self.offer_left()
        return bool(made)

    def open_demo(self, tutorial: bool = False) -> None:
        """A fresh copy in the user's data folder."""
        made: list[Session] = []
        if self.desk.attempt(lambda: made.append(demo_session(self.desk.engine, tutorial))):
            self._open(made[0])

    def save(self) -> None:
        """Write what differs; when others changed files meanwhile, ask whose are to stay; when the folder is not there
        any more, ask where to.
        """
        gone: list[Gone] = []

        def act() -> None:
            try:
                self.desk.session.save()
            except Gone as fault:
                gone.append(fault)
                raise

        if self.desk.attempt(act):
            self.desk.told.emit(f"Saved in {self.desk.session.stored.folder}", False)
            return
        if gone:
            self.prompt.offer(
                "The folder of this family is not where it was",
                [("Save all of it elsewhere…", self.save_as), ("Say where it is now…", self.follow)],
            )
            return
        self.offer_newer()

    def offer_newer(self) -> None:
        """Ask whose version of what others changed is to stay, where there is any."""
        files = self.desk.session.changed_by_others()
        if files:
            what = files[0] if len(files) == 1 else f"{len(files)} files"
            self.prompt.offer(
                f"Others changed {what} since it was opened",
                [("Take theirs", self.take_theirs), ("Overwrite with mine", self.overwrite)],
            )

    def tell_others(self) -> None:
        """Say who else has the family open."""
        others = Presence(self.desk.session.stored.folder).others()
        told = "; ".join(claims.told(c) for c in others if c.pid != os.getpid())
        self.desk.told.emit(f"Also open: {told}." if told else "Nobody else has this family open.", False)

    def offer_left(self) -> None:
        """Ask what becomes of edits that a killed window left, where there are any; whoever asks for them later finds
        them in the head band."""
        found = leftovers.left(self.desk.session)
        if not found:
            return
        one = found[0]
        choices = [] if one.damaged else [("Take them", lambda: self.take_left(one))]
        choices += [("Put them aside", lambda: self.put_aside(one)), ("Drop them", lambda: self.drop_left(one))]
        self.prompt.offer(left_told(one), choices, "Later")

    def take_left(self, one: Left) -> None:
        """Bring them back as one step that can be undone."""
        made: list[TakenBack] = []
        if self._taken(leftovers.LABEL, lambda: made.append(leftovers.take(self.desk.session, one))):
            told = f"Back: {', '.join(made[0].taken) or 'nothing'}. Ctrl+Z drops them, Ctrl+S keeps them."
            self.desk.told.emit(told, False)
            if made[0].refused:  # stays until it is read: the strip goes on to what came of the rest
                what = "; ".join(made[0].refused)
                self.prompt.offer(f"Others changed {what}: what was left of it is put aside as a family", [], "Good")

    def _taken(self, label: str, take: Callable[[], object]) -> bool:
        """Carry out what replaces the family: what it breaks is told as of any other edit."""
        desk = self.desk
        last, desk.before = desk.last_change, desk.before or desk.settled
        desk.last_change = label
        done = desk.attempt(take)
        desk.last_change = label if done else last
        return done

    def put_aside(self, one: Left) -> None:
        """Keep them outside the family."""
        where: list[Path] = []
        if self.desk.attempt(lambda: where.append(leftovers.put_aside(self.desk.session, one))):
            self.desk.told.emit(f"What was left lies in {where[0]}", False)

    def drop_left(self, one: Left) -> None:
        """Delete them, as was said."""
        drop(one)
        self.desk.told.emit("What was left is dropped.", False)

    def save_as(self) -> None:
        """Ask for an empty folder, and write all of the family there."""
        self._in_folder("An empty folder for all of the family", self.save_into)

    def save_into(self, folder: Path) -> bool:
        """Write all of the family into a new folder and go on there."""
        done = self.desk.attempt(lambda: self.desk.session.save_as(folder))
        if done:
            recent.remember(folder)
            self.desk.told.emit(f"All of it is saved in {folder}, where the work goes on", False)
        return done

    def follow(self) -> None:
        """Ask where the folder is now."""
        self._in_folder("Where the folder of this family is now", self.follow_to)

    def follow_to(self, folder: Path) -> bool:
        """Go on in the folder that the family was moved to, and save there."""
        done = self.desk.attempt(lambda: self.desk.session.follow(folder))
        if done:
            self.save()
        return done

    def take_theirs(self) -> None:
        """What others changed replaces our version of it; Ctrl+Z brings ours back."""
        taken: list[str] = []
        if self._taken("what others changed", lambda: taken.extend(self.desk.session.take_theirs())):
            told = ", ".join(taken) or "what they removed"
            self.desk.told.emit(f"Taken from the folder: {told}. Ctrl+Z brings your version back.", False)

    def overwrite(self) -> None:
        """Write ours over theirs."""
        if self.desk.attempt(lambda: self.desk.session.save(True)):
            self.desk.told.emit(f"Saved over their version in {self.desk.session.stored.folder}", False)

    def leave(self, close: Callable[[], object]) -> bool:
        """Whether the window may close; with unsaved edits it asks first, and closes on the answer."""
        if not self.desk.session.unsaved:
            return True

        def saved() -> None:
            self.save()
            if not self.desk.session.unsaved:
                close()

        def dropped() -> None:
            if self.desk.session.journal:
                self.desk.session.journal.clear()
            close()

        self.prompt.offer(
            "Some edits are not saved",
            [("Save and close", saved), ("Close, bring them back next time", close), ("Close and drop them", dropped)],
            "Go on working",
        )
        return False


def demo_session(engine: places.Engine, tutorial: bool = False) -> Session:
    """The demo family, or the tutorial, written afresh to a new folder of the user's."""
    if tutorial:
        from architectonic.demo.tutorial import write
    else:
        from architectonic.demo.family import write

    base = folders.data_folder() / "demo"
    name, number = "Tutorial" if tutorial else "Brindle reading lights", 1
    while (folder := base / f"{name} {number}").exists():
        number += 1
    folder.parent.mkdir(parents=True, exist_ok=True)
    return write(folder, engine.evaluator, folders.state_folder())
