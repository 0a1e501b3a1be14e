"""What the window can do, as actions over the desk."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import QWidget

from architectonic.describe.models.documents import kind_of
from architectonic.desktop.commands.family import FamilyCommands
from architectonic.desktop.commands.model import ModelCommands
from architectonic.desktop.kit.actions import Action, Registry, Source
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.pane import PRESENT
from architectonic.desktop.sentences.card import SentenceCard
from architectonic.desktop.sentences.feedcard import FeedCard
from architectonic.desktop.sentences.tracecard import TraceCard
from architectonic.desktop.sketch.drawtools import DrawTools
from architectonic.family import edits, names
from architectonic.family.records import Family


class Commands:
    """Callbacks of the actions; they ask through the prompt card and change only through the desk."""

    def __init__(
        self,
        desk: Desk,
        window: QWidget,
        prompt: Prompt,
        card: SentenceCard,
        feeds: FeedCard,
        traces: TraceCard,
        tools: DrawTools,
        open_sketch: Callable[[], object],
        more: Sequence[Source],
    ) -> None:
        self.more = more
        self.families = FamilyCommands(desk, window, prompt)
        self.models = ModelCommands(desk, prompt, card, feeds, traces, tools, open_sketch)
        self.desk, self.window, self.prompt = desk, window, prompt

    def registry(self) -> Registry:
        """Every action of the window."""
        desk = self.desk

        def has() -> bool:
            return desk.main.document is not None

        def in_assembly() -> bool:
            return desk.main.document is not None and desk.main.document.kind == "assembly"

        def making(kind: str) -> Callable[[], None]:
            return lambda: self.new_document(kind)

        return Registry(
            [
                Action("family.new", "New family…", self.families.new_family, menu="family", also=("project",), tells="A folder of its own with sizes and nothing else."),
                Action("family.open", "Open a family…", self.families.open_family, keys="Ctrl+O", menu="family", tells="Any folder that holds a family."),
                Action("family.demo", "Open a fresh copy of the demo", self.families.open_demo, menu="family", tells="Reading lamps in three sizes, to try things on."),
                Action("family.tutorial", "Open a fresh copy of the tutorial", lambda: self.families.open_demo(True), menu="family", tells="The family that the first hour is told with."),
                Action("family.save", "Save", self.families.save, lambda: desk.session.unsaved, "Ctrl+S", "family", also=("write",), tells="Writes what changed; nothing else is touched.", wants="wants something unsaved"),
                Action("family.save_as", "Save all of it elsewhere…", self.families.save_as, keys="Ctrl+Shift+S", menu="family", tells="The family and its files in another folder."),
                Action("family.newer", "Look at what others saved…", self.families.offer_newer, menu="family", also=("reload", "conflict"), tells="Whose version of it is to stay."),
                Action("family.left", "Look at edits that were left unsaved…", self.families.offer_left, menu="family", also=("recover", "crash", "journal"), tells="Of a window that was killed: taken, or put aside."),
                Action("family.others", "Who else has this family open", self.families.tell_others, menu="family", also=("users", "lock"), tells="Who, where, and since when."),
                Action("edit.undo", "Undo", desk.undo, lambda: bool(desk.session.history.undo_label), "Ctrl+Z", "edit", tells="Takes the last change back.", wants="wants a change"),
                Action("edit.redo", "Redo", desk.redo, lambda: bool(desk.session.history.redo_label), "Ctrl+Shift+Z", "edit", tells="Makes the change again that was taken back.", wants="wants an undo"),
                *[Action(f"document.new_{kind}", f"New {kind}…", making(kind), menu="document")
                  for kind in edits.KINDS],
                Action("document.duplicate", "Duplicate this document…", self.duplicate_document, has, menu="document", tells="A copy of its own, that takes from the same sources.", wants="wants a document", also=("copy", "fork", "save as")),
                Action("document.rename", "Rename this document…", self.rename_document, has, menu="document", tells="Everything that takes from it follows.", wants="wants a document"),
                Action("document.delete", "Delete this document", self.delete_document, has, menu="document", tells="What takes from it is told; undo brings it back.", wants="wants a document"),
                Action("instance.new", "Place…", self.place_instance, in_assembly, also=("insert", "component", "part"), tells="A part or assembly, on the shared origin.", wants="wants an assembly"),
                Action("view.split", "Show a document beside, or fold it", self.split, has, menu="view", also=("split", "two"), tells="Another document beside this one.", wants="wants a document"),
                Action("view.stored", "As stored, beside what is being changed", self.split_stored, has, menu="view", also=("before and after", "compare"), tells="Before beside after, while a sentence is open.", wants="wants a document"),
                *self.models.actions(),
                *(a for source in self.more for a in source.actions()),
            ],
            desk.defects.begin,
            desk.attempt,
        )  # fmt: skip

    # --- documents ------------------------------------------------------------------------------------

    def new_document(self, kind: str) -> None:
        """Ask for a name."""
        self._make(f"New {kind}", f"My {kind}", f"new {kind} {{}}", lambda f, name: edits.add_document(f, kind, name))

    def duplicate_document(self) -> None:
        """Ask for the name of the copy."""
        document = self.desk.main.document
        if document is None:
            return
        key, old = document.id, document.name
        free = names.free_name(old, [d.name for d in self.desk.family.documents.values()])
        self._make(f"Duplicate {old}", free, f"{{}}, a copy of {old}", lambda f, n: edits.duplicate_document(f, key, n))

    def _make(self, title: str, first: str, label: str, make: Callable[[Family, str], tuple[Family, str]]) -> None:
        """Ask for the name of a document, make it and show it.

        Args:
            label: of the edit, with {} for the name; make: gives the family and the id of the document.
        """

        def done(name: str) -> bool:
            made: list[str] = []

            def edit(family: Family) -> Family:
                family, key = make(family, name)
                made.append(key)
                return family

            ok = self.desk.apply(label.format(name), edit)
            if ok:
                self.desk.show(made[-1])
            return ok

        self.prompt.ask(title, [("name", first)], done)

    def rename_document(self) -> None:
        """Ask for the new name."""
        document = self.desk.main.document
        if document is None:
            return
        key, old = document.id, document.name
        self.prompt.ask(
            f"Rename {old}",
            [("name", old)],
            lambda name: self.desk.apply(f"{old} is now {name}", lambda f: edits.rename_document(f, key, name)),
        )

    def delete_document(self) -> None:
        """Delete at once (undo brings it back), telling who took from it."""
        document = self.desk.main.document
        if document is None:
            return
        users = sorted({u.split(" / ")[0] for u in self.desk.session.users(document.id)})
        if self.desk.apply(f"delete {document.name}", lambda f: edits.delete_document(f, document.id)) and users:
            self.desk.told.emit(
                f"{document.name} is deleted; {', '.join(users)} took from it. Ctrl+Z brings it back.", True
            )

    # --- items ----------------------------------------------------------------------------------------

    def place_instance(self) -> None:
        """Ask which part or assembly."""
        key = self.desk.main.document_id
        names = [d.name for d in self.desk.family.documents.values() if d.placeable and d.id != key]
        if not names:
            self.desk.told.emit("There is nothing to place yet: make a part first.", True)
            return

        def done(name: str) -> bool:
            return self.desk.apply(
                f"place {name}", lambda f: edits.add_instance(f, key, edits.find_document(f, name).id)
            )

        self.prompt.ask("Place", [("part or assembly", names)], done)

    # --- panes ----------------------------------------------------------------------------------------

    def split_stored(self) -> None:
        """Show this document as it is stored beside what an open sentence makes of it."""
        desk = self.desk
        desk.show_beside(desk.main.document_id, desk.main.operation)
        desk.beside.show_variant(PRESENT)

    def split(self) -> None:
        """Show what drives this document beside it; again to fold."""
        desk = self.desk
        if desk.beside.document_id:
            desk.show_beside("")
            return
        others = [d for d in desk.family.documents.values() if kind_of(d).pictured and d.id != desk.main.document_id]
        feeds = getattr(desk.main.document, "feeds", {})
        fed = {s.source.of for f in feeds.values() for s in f.sockets.values()}
        first = next((d.id for d in others if d.id in fed), others[0].id if others else desk.main.document_id)
        desk.show_beside(first)
