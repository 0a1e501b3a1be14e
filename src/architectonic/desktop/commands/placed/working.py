"""Bodies of what is placed, or of neighbours, that the shown document works on; and where that work is done."""

from __future__ import annotations

from architectonic.desktop.kit.actions import Action
from architectonic.desktop.pane.desk import Desk
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.bodies.bring_in import BringIn
from architectonic.family.records import Assembly, Family, Model
from architectonic.family.scopes import InPlace
from architectonic.session.assembly import sending, surroundings, working


class WorkCommands:
    """Callbacks about bodies that come from elsewhere."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk

    def actions(self) -> list[Action]:
        """The actions about them."""
        return [
            Action("body.bring_in", "Bring these bodies in, to work on them here", self.bring_in, lambda: bool(self._picked()), short="Bring in", also=("assembly feature", "take bodies", "derive", "drill through"), tells="Cut them where they stand; their parts stay as they are.", wants="wants picked bodies of other documents"),
            Action("body.send", "Send this operation to the parts", self.send, lambda: self._sent() is not None, short="To the parts", tells="It becomes one of theirs, fed from this assembly.", wants="wants a cut of an assembly"),
            Action("body.fetch", "Bring this operation up to the assembly", self.fetch, lambda: self._fetched() is not None, short="Up to the assembly", tells="The inverse: the part is whole again.", wants="wants a fed cut"),
        ]  # fmt: skip

    def _picked(self) -> list[InPlace]:
        """Bodies of other documents among what is picked."""
        main = self.desk.main
        document = main.document
        if not isinstance(document, Model) or not document.holds_bodies:
            return []
        found = [p.body for p in main.picks if p.body.document != document.id and not main.subject.id_here(p.body)]
        return list(dict.fromkeys(b for b in found if b.path))

    def bring_in(self) -> None:
        """In an assembly the bodies where they stand; in a part a feed of them, as it sees its neighbours."""
        main, desk, bodies = self.desk.main, self.desk, self._picked()
        document, before = main.document, main.after_marker
        assert document is not None
        if isinstance(document, Assembly):
            made = desk.apply("bring in bodies", lambda f: working.work_on(f, document.id, bodies, before)[0])
        else:
            made = desk.apply("bring in bodies", lambda f: self._feed(f, document.id, bodies))
        if made:
            main.picks = []
            added = [o for o in main.build if isinstance(o, BringIn)]
            main.operation = added[-1].id if added else ""
            main.selection_changed.emit()

    def _feed(self, family: Family, target: str, bodies: list[InPlace]) -> Family:
        among = self.desk.main.context
        for at, path in dict.fromkeys((b.at, b.path) for b in bodies):
            shown = self.desk.alternates.get(among, "")
            seen = surroundings.context_of(family, among, at.document, target, shown, path) if among else None
            mine = [b.body for b in bodies if (b.at, b.path) == (at, path)]
            family, _ = working.feed_bodies(family, target, at, mine, context=seen)
        return family

    def _chosen(self) -> BodyOperation | None:
        main = self.desk.main
        found = next((o for o in main.build if o.id == main.operation), None)
        return found if isinstance(found, BodyOperation) and not isinstance(found, BringIn) else None

    def _sent(self) -> BodyOperation | None:
        document, operation = self.desk.main.document, self._chosen()
        acts = isinstance(document, Assembly) and operation is not None and sending.placed_by(document, operation)
        return operation if acts else None

    def send(self) -> None:
        """As one undoable step, which says where it goes, and how often that is placed."""
        operation, at, assembly = self._sent(), self.desk.main.at, self.desk.main.document
        if operation is None or at is None or not isinstance(assembly, Assembly):
            return
        family = self.desk.family
        parts = {b.source.of for bodies in sending.placed_by(assembly, operation).values() for b in bodies.values()}
        names = ", ".join(family.documents[k].name for k in sorted(parts) if k in family.documents)
        uses = sending.uses_of(family, parts)
        many = f", each of their {uses} uses" if uses > len(parts) else ""
        self.desk.apply(
            f"{operation.name} into {names}{many}",
            lambda f: sending.send(f, at.document, operation.id, at.alternate)[0],
        )

    def _fetched(self) -> BodyOperation | None:
        document, operation = self.desk.main.document, self._chosen()
        if operation is None or not isinstance(document, Model) or not document.makes_bodies:
            return None
        return operation if sending.feeder(document, operation) is not None else None

    def fetch(self) -> None:
        """As one undoable step; the assembly is shown."""
        operation, document = self._fetched(), self.desk.main.document
        if operation is None or document is None:
            return
        to: list[str] = []

        def edit(family: Family) -> Family:
            family, assembly = sending.fetch(family, document.id, operation.id)
            to.append(assembly)
            return family

        if self.desk.apply(f"{operation.name} up to the assembly", edit):
            self.desk.show(to[-1])
