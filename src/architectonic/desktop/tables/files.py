"""Spreadsheets that tables come from and go to, and that drive them."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMenu

from architectonic.describe.models.documents import kind_of
from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.tables.linkwatch import LinkWatch
from architectonic.exchange import apart, spreadsheet
from architectonic.exchange.spreadsheet import Grid
from architectonic.family import scopes
from architectonic.family.records import AnyDocument, Family
from architectonic.session.tables import spreadsheets
from architectonic.session.tables.spreadsheets import Difference

SHEETS = "Spreadsheets (*.csv *.tsv *.txt *.xlsx *.xlsm)"


class TableFiles:
    """Callbacks about spreadsheets; what they would change is shown before it is taken."""

    def __init__(self, desk: Desk, prompt: Prompt, cards: ListCard) -> None:
        self.desk, self.prompt, self.cards = desk, prompt, cards
        self.watch = LinkWatch(desk)

    def actions(self) -> list[Action]:
        """The actions about linked spreadsheets and files of tables."""
        table = self._is_table
        return [
            Action("table.bring", "Bring in a spreadsheet…", self.ask_in, table, menu="document", short="Bring in…", also=("import", "excel", "csv"), tells="CSV or XLSX; the difference is shown first.", wants="wants a table"),
            Action("table.send", "Write as a spreadsheet…", self.ask_out, table, menu="document", short="Write…", also=("export", "csv"), tells="CSV or XLSX, for every size.", wants="wants a table"),
            Action("link.new", "Let a spreadsheet drive rows…", self.ask_link, table, menu="document", short="Drive by a file…", tells="Rows that follow the cells of a file.", wants="wants a table"),
            Action("link.look", "New values of linked spreadsheets…", self.show_incoming, lambda: bool(self.watch.pending()), short="New values…", tells="What its file says now, to accept or not.", wants="wants a linked file"),
        ]  # fmt: skip

    def _is_table(self) -> bool:
        return (d := self.desk.main.document) is not None and kind_of(d).views[0] == "Values"

    @property
    def document(self) -> AnyDocument:
        """The shown document."""
        assert self.desk.main.document is not None
        return self.desk.main.document

    # --- spreadsheets ---------------------------------------------------------------------------------

    def ask_in(self) -> None:
        """Ask for a file."""
        name, _ = QFileDialog.getOpenFileName(self.prompt.window(), "Bring in a spreadsheet", "", SHEETS)
        if name:
            self.bring(Path(name))

    def bring(self, file: Path, sheet: str = "") -> None:
        """Show what a spreadsheet would change; it is taken when that is accepted."""
        key = self.document.id
        self.desk.work.run(
            f"Reading {file.name}",
            lambda watch: apart.spreadsheet(file, sheet, watch),
            lambda grid: self.desk.attempt(lambda: self._compare(key, file, sheet, grid)),
        )

    def _compare(self, key: str, file: Path, sheet: str, grid: Grid) -> None:
        if len(grid.sheets) > 1 and not sheet:
            self.prompt.ask(
                f"{file.name} has {len(grid.sheets)} sheets",
                [("take", list(grid.sheets))],
                partial(self._bring_sheet, file),
                "Look at it",
            )
            return
        difference = spreadsheets.compare(self.desk.family, key, grid)
        self.show_difference(
            difference,
            file.name,
            lambda: self.desk.apply(f"take {file.name}", lambda f: spreadsheets.take(f, key, difference)),
        )

    def _bring_sheet(self, file: Path, sheet: str) -> bool:
        self.bring(file, sheet)
        return True

    def show_difference(self, difference: Difference, file: str, take: Callable[[], object]) -> None:
        """List what would change, what cannot be used, and what only one side has."""
        document = self.document
        columns = {"": "all sizes", **dict(scopes.configurations(self.desk.family, document))}
        known = {p.id for p in document.parameters}
        rows: list[tuple[tuple[str, ...], Callable[[], object] | None]] = []
        for at, what in difference.faults:
            rows.append((("cannot be used", at, "", what), None))
        for c in difference.changes:
            state = "changes" if c.row in known else "is new"
            rows.append(((c.name, columns.get(c.column, c.column), c.before or "–", c.after or "as the others"), None))
            rows[-1] = ((f"{c.name} {state}", *rows[-1][0][1:]), None)
        rows += [((f"{name} is only here", "", "", "stays as it is"), None) for name in difference.only_here]
        count, bad = len(difference.changes), len(difference.faults)
        told = f"{file}: {'1 cell differs' if count == 1 else f'{count} cells differ'}" + (
            f", {bad} cannot be used" if bad else ""
        )
        if not rows or not (count or bad):
            self.cards.start(f"{file} says the same as this table", ("row", "column", "here", "in the file"), rows)
            return
        choices = [("Take what differs", take)] if count else []
        self.cards.start(told, ("row", "column", "here", "in the file"), rows, choices, "Leave it")

    def ask_out(self) -> None:
        """Ask for a file."""
        name, _ = QFileDialog.getSaveFileName(
            self.prompt.window(),
            "Write as a spreadsheet",
            f"{self.document.name}.csv",
            "CSV (*.csv);;Workbook (*.xlsx)",
        )
        if name:
            self.send(Path(name))

    def send(self, file: Path) -> bool:
        """Write the shown table."""
        rows = spreadsheets.sheet_of(self.desk.family, self.document.id)
        done = self.desk.attempt(lambda: spreadsheet.write(file, rows))
        if done:
            self.desk.told.emit(f"Wrote {counted(len(rows) - 1, 'row')} to {file}.", False)
        return done

    # --- links ----------------------------------------------------------------------------------------

    def ask_link(self) -> None:
        """Ask for the file that shall drive rows."""
        folder = self.desk.session.stored.folder
        name, _ = QFileDialog.getOpenFileName(
            self.prompt.window(), "A spreadsheet that drives rows", str(folder), SHEETS
        )
        if name:
            self.link(Path(name))

    def link(self, file: Path) -> bool:
        """Let a spreadsheet drive the rows that it names; what it says otherwise is shown at once."""
        key, folder = self.document.id, self.desk.session.stored.folder
        try:
            done = self.desk.apply(f"{file.name} drives rows", lambda f: spreadsheets.link(f, key, folder, file))
        except OSError as fault:
            self.desk.told.emit(str(fault), True)
            return False
        if done:
            self.watch.look()
        return done

    def show_incoming(self) -> None:
        """Show what the linked files say otherwise, of the first that says anything."""
        for seen in self.watch.pending():
            link = self.desk.family.documents[seen.document].links[seen.link]
            difference = seen.difference
            assert difference is not None
            if self.desk.main.document_id != seen.document:
                self.desk.show(seen.document)
            take = partial(self.watch.take, seen)
            self.show_difference(difference, Path(link.file).name, take)
            return

    def link_menu(self, key: str, menu: QMenu) -> None:
        """What can be done with a link."""
        document, desk = self.document, self.desk
        link = document.links[key]

        def entry(text: str, run: Callable[[], object], enabled: bool = True) -> None:
            made = menu.addAction(text)
            assert made is not None
            made.setEnabled(enabled)
            made.triggered.connect(lambda _=False: run())

        def change(label: str, edit: Callable[[Family], Family]) -> Callable[[], object]:
            def run() -> None:
                if desk.apply(label, edit):
                    self.watch.look()

            return run

        pending = [s for s in self.watch.pending() if s.link == key]
        entry("Look at its new values…", self.show_incoming, bool(pending))
        once = not link.at_once
        word = "Take its values at once" if once else "Ask before taking its values"
        entry(word, change(word, lambda f: spreadsheets.change_link(f, document.id, key, at_once=once)))
        entry("Point it at another file…", partial(self.ask_repoint, key))
        entry(
            "Sever it: its values become the table's own",
            change(f"sever {link.name}", lambda f: spreadsheets.sever(f, document.id, key)),
        )

    def ask_repoint(self, key: str) -> None:
        """Ask for another file."""
        folder = self.desk.session.stored.folder
        name, _ = QFileDialog.getOpenFileName(self.prompt.window(), "Another spreadsheet", str(folder), SHEETS)
        if name:
            self.repoint(key, Path(name))

    def repoint(self, key: str, file: Path) -> bool:
        """Let a link follow another file with the same columns."""
        document, folder = self.document, self.desk.session.stored.folder
        path = spreadsheets.relative(folder, file)
        done = self.desk.apply(
            f"follow {file.name}", lambda f: spreadsheets.change_link(f, document.id, key, file=path, sheet="")
        )
        if done:
            self.watch.look()
        return done
