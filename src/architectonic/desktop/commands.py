"""What the window can do, as actions over the workbench."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from architectonic.desktop.actions import Action, Registry, Source
from architectonic.desktop.datumcard import DatumCard
from architectonic.desktop.drawtools import DrawTools
from architectonic.desktop.familycommands import FamilyCommands
from architectonic.desktop.feedcard import FeedCard
from architectonic.desktop.modelcommands import ModelCommands
from architectonic.desktop.prompt import Prompt
from architectonic.desktop.sentencecard import SentenceCard
from architectonic.desktop.workbench import Workbench
from architectonic.family import edits
from architectonic.family.records import Family
from architectonic.session import export


class Commands:
    """Callbacks of the actions; they ask through the prompt card and change only through the workbench."""

    def __init__(
        self,
        bench: Workbench,
        window: QWidget,
        prompt: Prompt,
        card: SentenceCard,
        feeds: FeedCard,
        datums: DatumCard,
        tools: DrawTools,
        more: Sequence[Source],
    ) -> None:
        self.more = more
        self.families = FamilyCommands(bench, window, prompt)
        self.models = ModelCommands(bench, prompt, card, feeds, datums, tools)
        self.bench, self.window, self.prompt = bench, window, prompt

    def registry(self) -> Registry:
        """All of them."""
        bench = self.bench

        def has() -> bool:
            return bench.main.document is not None

        def in_assembly() -> bool:
            return bench.main.document is not None and bench.main.document.kind == "assembly"

        def making(kind: str) -> Callable[[], None]:
            return lambda: self.new_document(kind)

        return Registry(
            [
                Action("family.new", "New family…", self.families.new_family, menu="family"),
                Action("family.open", "Open a family…", self.families.open_family, keys="Ctrl+O", menu="family"),
                Action("family.demo", "Open a fresh copy of the demo", self.families.open_demo, menu="family"),
                Action("family.tutorial", "Open a fresh copy of the tutorial", lambda: self.families.open_demo(True), menu="family"),
                Action("family.save", "Save", self.families.save, lambda: bench.session.unsaved, "Ctrl+S", "family"),
                Action("edit.undo", "Undo", bench.undo, lambda: bool(bench.session.history.undo_label), "Ctrl+Z", "edit"),
                Action("edit.redo", "Redo", bench.redo, lambda: bool(bench.session.history.redo_label), "Ctrl+Shift+Z", "edit"),
                *[Action(f"document.new_{kind}", f"New {kind}…", making(kind), menu="document")
                  for kind in edits.KINDS],
                Action("document.rename", "Rename this document…", self.rename_document, has, menu="document"),
                Action("document.delete", "Delete this document", self.delete_document, has, menu="document"),
                Action("document.export", "Export as STEP…", self.export_step, self.has_bodies, "Ctrl+E", "document"),
                Action("instance.new", "Place…", self.place_instance, in_assembly),
                Action("view.split", "Split the canvas, or join it", self.split, has, menu="view"),
                *self.models.actions(),
                *(a for source in self.more for a in source.actions()),
            ]
        )  # fmt: skip

    # --- documents ------------------------------------------------------------------------------------

    def new_document(self, kind: str) -> None:
        """Ask for a name."""

        def done(name: str) -> bool:
            made: list[str] = []

            def edit(family: Family) -> Family:
                family, key = edits.add_document(family, kind, name)
                made.append(key)
                return family

            ok = self.bench.apply(f"new {kind} {name}", edit)
            if ok:
                self.bench.show(made[-1])
            return ok

        self.prompt.ask(f"New {kind}", [("name", f"My {kind}")], done)

    def rename_document(self) -> None:
        """Ask for the new name."""
        document = self.bench.main.document
        if document is None:
            return
        key, old = document.id, document.name
        self.prompt.ask(
            f"Rename {old}",
            [("name", old)],
            lambda name: self.bench.apply(f"{old} is now {name}", lambda f: edits.rename_document(f, key, name)),
        )

    def delete_document(self) -> None:
        """Delete at once (undo brings it back), telling who took from it."""
        document = self.bench.main.document
        if document is None:
            return
        users = sorted({u.split(" / ")[0] for u in self.bench.session.users(document.id)})
        if self.bench.apply(f"delete {document.name}", lambda f: edits.delete_document(f, document.id)) and users:
            self.bench.told.emit(
                f"{document.name} is deleted; {', '.join(users)} took from it. Ctrl+Z brings it back.", True
            )

    def has_bodies(self) -> bool:
        """Whether the shown document can be exported."""
        at, evaluation = self.bench.main.at, self.bench.settled
        return at is not None and evaluation is not None and bool(export.shapes_of(evaluation, at))

    def export_step(self) -> None:
        """Ask for a file."""
        document = self.bench.main.document
        if document is None:
            return
        file, _ = QFileDialog.getSaveFileName(
            self.window, "Export as STEP", f"{document.name}.step", "STEP (*.step *.stp)"
        )
        if file:
            self.write_step(Path(file))

    def write_step(self, file: Path) -> bool:
        """Export the shown document in the shown configuration."""
        at, evaluation = self.bench.main.at, self.bench.settled
        if at is None or evaluation is None:
            return False
        ok = self.bench.attempt(lambda: export.export(self.bench.engine, evaluation, at, file))
        if ok:
            bad = [i for i in self.bench.attention if i.document == at.document]
            self.bench.told.emit(f"Wrote {file}" + (f"; {len(bad)} of its operations fail" if bad else ""), bool(bad))
        return ok

    # --- items ----------------------------------------------------------------------------------------

    def place_instance(self) -> None:
        """Ask which part or assembly."""
        key = self.bench.main.document_id
        names = [d.name for d in self.bench.family.documents.values() if d.kind in ("part", "assembly") and d.id != key]

        def done(name: str) -> bool:
            return self.bench.apply(
                f"place {name}", lambda f: edits.add_instance(f, key, edits.find_document(f, name).id)
            )

        self.prompt.ask("Place", [("part or assembly", names[0] if names else "")], done)

    # --- panes ----------------------------------------------------------------------------------------

    def split(self) -> None:
        """Show what drives this document beside it; again to fold."""
        bench = self.bench
        if bench.beside.document_id:
            bench.show_beside("")
            return
        others = [d for d in bench.family.documents.values() if d.kind != "table" and d.id != bench.main.document_id]
        feeds = getattr(bench.main.document, "feeds", {})
        fed = {s.source.of for f in feeds.values() for s in f.sockets.values()}
        first = next((d.id for d in others if d.id in fed), others[0].id if others else bench.main.document_id)
        bench.show_beside(first)
