"""The open family: the one way that window, command and scripts change anything."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from architectonic.base import kept
from architectonic.base.cancel import CancelToken
from architectonic.check import impact as impacts
from architectonic.exchange import folder
from architectonic.family import edits
from architectonic.family import scopes as sizes
from architectonic.family.graph.reading import Place
from architectonic.family.graph.static import Graph
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import MATCH, Family, Parameter
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation, Progress
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.targets import Look
from architectonic.session.open import policy, queries
from architectonic.session.open.history import History
from architectonic.session.open.journal import Journal

Edit = Callable[[Family], Family]


def _keeping(stored: folder.Stored) -> None:
    """Find what a family keeps by content in its own folder."""
    if stored.files:
        kept.known((stored.folder / kept.FOLDER).absolute())


class Session:
    """An open family with its history.

    Args:
        stored: what is on disk.
        evaluator: evaluates it; None for a session that only edits.
        state_folder: where the journal lies; None keeps none.

    Attributes:
        listeners: called without arguments after each change of `family`.
    """

    def __init__(
        self, stored: folder.Stored, evaluator: Evaluator | None = None, state_folder: Path | None = None
    ) -> None:
        self.stored = stored
        _keeping(stored)
        self.evaluator = evaluator
        self.history = History(stored.family)
        self.journal = Journal(state_folder, stored.family) if state_folder else None
        self.listeners: list[Callable[[], None]] = []
        self._graph: tuple[Family, Graph] | None = None

    @classmethod
    def open(cls, path: Path, evaluator: Evaluator | None = None, state_folder: Path | None = None) -> Session:
        """Open a family folder; raises like `exchange.folder.load`."""
        return cls(folder.load(path), evaluator, state_folder)

    @classmethod
    def create(
        cls, path: Path, family: Family, evaluator: Evaluator | None = None, state_folder: Path | None = None
    ) -> Session:
        """Write a new family into an empty or new folder.

        Raises:
            UserFault: the folder already holds something.
        """
        stored = folder.save_as(folder.Stored(path, Family(head=family.head), {}), family, path)
        return cls(stored, evaluator, state_folder)

    @property
    def family(self) -> Family:
        """The present state."""
        return self.history.family

    @property
    def unsaved(self) -> bool:
        """Whether anything differs from disk."""
        now, saved = self.family, self.stored.family
        return now.head != saved.head or now.documents != saved.documents

    # --- edits ----------------------------------------------------------------------------------------

    def apply(self, label: str, edit: Edit) -> Family:
        """Carry out an edit.

        Raises:
            UserFault: it cannot be, or may not be stored (session.open.policy); nothing changed.
        """
        new = edit(self.family)
        graph = Graph(new, self.graph_now())
        policy.allowed(self.family, new, graph)
        graph.forget_before()
        if new is not self.family and new != self.family:
            self.history.add(new, label)
            self._graph = (new, graph)
            self._changed()
        return self.family

    def undo(self) -> bool:
        """Take the last edit back."""
        return self.history.undo() and self._changed()

    def redo(self) -> bool:
        """Bring an undone edit back."""
        return self.history.redo() and self._changed()

    def _changed(self) -> bool:
        if self.journal:
            self.journal.write(self.stored, self.family, self.history.undo_label)
        for listener in list(self.listeners):
            listener()
        return True

    # --- disk -----------------------------------------------------------------------------------------

    def save(self, overwrite: bool = False) -> None:
        """Write what differs; raises like `exchange.folder.save`."""
        self.stored = folder.save(self.stored, self.family, overwrite)
        if self.journal:
            self.journal.clear()
        for listener in list(self.listeners):
            listener()

    def save_as(self, path: Path) -> None:
        """Write all of it into a new folder and go on there; raises like `exchange.folder.save_as`."""
        self._moved(folder.save_as(self.stored, self.family, path))
        for listener in list(self.listeners):
            listener()

    def follow(self, path: Path) -> None:
        """Go on in the folder that it was moved to; raises like `exchange.folder.follow`."""
        self._moved(folder.follow(self.stored, path))
        self._changed()

    def _moved(self, stored: folder.Stored) -> None:
        if self.journal:
            self.journal.clear()
        self.stored = stored
        _keeping(stored)

    def refuse_elsewhere(self) -> None:
        """Raises like `exchange.folder.refuse_elsewhere`."""
        folder.refuse_elsewhere(self.stored)

    def changed_by_others(self) -> list[str]:
        """Names of files that differ from what was opened or saved last."""
        return folder.changed_on_disk(self.stored)

    def take_theirs(self) -> list[str]:
        """Take what others wrote meanwhile, as one step that can be undone; raises like `exchange.folder.load`.

        Documents that they changed, added or removed are as they have them; edits of other documents stay.

        Returns:
            Names of the documents that are theirs now.
        """
        old, now = self.stored.family, folder.load(self.stored.folder)
        theirs = now.family.documents
        documents = dict(self.family.documents)
        unread = {u.file for u in now.unread}  # what cannot be read any more is not gone: ours stays
        hidden = {key for key, (name, _) in self.stored.files.items() if name in unread}
        for key in {*old.documents, *theirs} - hidden:
            if old.documents.get(key) != theirs.get(key):
                documents.pop(key, None)
                if key in theirs:
                    documents[key] = theirs[key]
        order = [*theirs, *(k for k in self.family.documents if k not in theirs)]
        head = now.family.head if old.head != now.family.head else self.family.head
        merged = Family(head=head, documents={k: documents[k] for k in order if k in documents})
        taken = [d.name for k, d in theirs.items() if old.documents.get(k) != d]
        self.stored = now
        self.take_over(merged, "take what others changed")
        return taken

    def take_over(self, family: Family, label: str) -> None:
        """Go on with another state of the family, as one step that can be undone."""
        if family != self.family:
            self.history.add(family, label)
        self._changed()

    def end(self) -> None:
        """Nobody works here any more: what is not saved is offered to who opens the family next."""
        self.listeners.clear()
        if self.journal:
            self.journal.release()

    # --- questions ------------------------------------------------------------------------------------

    def evaluate(
        self,
        scopes: list[Scope] | None = None,
        meshes: tuple[Look, ...] = (),
        cancel: CancelToken | None = None,
        progress: Progress | None = None,
        family: Family | None = None,
    ) -> Evaluation:
        """Evaluate some scopes, or everything, of the present (or a given) family."""
        assert self.evaluator is not None
        subject = family or self.family
        return queries.whole(self.evaluator, subject, scopes, meshes, cancel, progress)

    def impact(self, edit: Edit) -> tuple[Family, dict[str, object]]:
        """What an edit would do everywhere, without applying it: the proposal's family and its impact."""
        proposed = policy.allowed(self.family, edit(self.family))
        before = self.evaluate()
        return proposed, impacts.impact(before, self.evaluate(family=proposed))

    def reach(self, document: str, item: str, cell: str = "") -> tuple[list[str], list[Scope]]:
        """How far an edit of a value reaches, from the graph alone.

        Args:
            cell: size or row whose own value is edited; "" for the common one, which holds where there is no own.

        Returns:
            Names of the documents reached, and their scopes; the edited document comes first.
        """
        graph = self.graph_now()
        starts = [Place(at, item) for at in self.shown_from(document, item, cell)]
        order = list(self.family.documents)
        reached = {p.at for p in graph.reach(starts)}
        scopes = sorted(reached, key=lambda s: (s.document != document, order.index(s.document), s.configuration))
        names = [self.family.documents[d].name for d in dict.fromkeys(s.document for s in scopes)]
        return names, scopes

    def touches(self, document: str, item: str, at: Scope) -> set[str]:
        """Items of a scope that a value moves first: dimensions, sketches, datums, and the operations that read them.

        What comes after those operations moves too, but says nothing of where the value is used.
        """
        graph = self.graph_now()
        ends = {o.id for o in getattr(self.family.documents[at.document], "build", ()) if isinstance(o, BodyOperation)}
        readers = graph.readers
        source = sizes.source_scope(self.family, at, document, MATCH)
        stack, found = [Place(source, item)], set()
        while stack:
            place = stack.pop()
            for reader in readers.get(place, ()):
                if reader not in found:
                    found.add(reader)
                    if reader.item not in ends:
                        stack.append(reader)
        return {p.item for p in found if p.at == at}

    def graph_now(self) -> Graph:
        """The static graph of the present state, from which that of an edit is made."""
        if self._graph is None or self._graph[0] is not self.family:
            self._graph = (self.family, Graph(self.family, self._graph[1] if self._graph else None))
            self._graph[1].forget_before()
        return self._graph[1]

    def shown_from(self, document: str, item: str, cell: str) -> list[Scope]:
        """The scopes of a document in which a value comes from a cell ("" for the common one)."""
        found = sizes.scopes_of(self.family, self.family.documents[document])
        record = edits.value_item(self.family, document, item)[2]
        if not isinstance(record, Parameter):
            return found
        return [at for at in found if sizes.cell(self.family, at, record)[0] == cell]

    def users(self, document: str, item: str = "") -> list[str]:
        """Who takes from a document or item, as readable paths."""
        found = edits.users(self.family, document, item)
        return [f"{d.name} / {getattr(r, 'name', '')}".rstrip(" /") for d, _, r in found]
