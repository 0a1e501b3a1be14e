"""Deleting: what holds on to an operation is listed first; what it has lost is listed right after, to be mended."""

from __future__ import annotations

from collections.abc import Callable

from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.pane.desk import Desk
from architectonic.family import edits
from architectonic.session.model.dependants import Dependant, dependants

ROW_FIRST = "Faces and bodies go with what made them: choose its row in Made of, then Delete."


class Deleting:
    """The callback that deletes whatever row is chosen."""

    def __init__(
        self, desk: Desk, cards: ListCard, attend: Callable[[], object], go: Callable[[str, str], object]
    ) -> None:
        self.desk, self.cards, self.attend, self.go = desk, cards, attend, go

    def actions(self) -> list[Action]:
        """Deleting what is chosen."""
        title = "Delete this operation"
        return [
            Action(
                "operation.delete",
                title,
                self.delete,
                lambda: bool(self.desk.main.operation),
                short="Delete",
                tells="What hangs on it is told first.",
                wants="wants a chosen row",
            )
        ]

    def delete(self) -> None:
        """Delete what is chosen; when others hold on to it they are listed, and it may be switched off instead."""
        main, document = self.desk.main, self.desk.main.document
        key, item = main.document_id, main.operation
        if not any(o.id == item for o in main.build):
            self._delete(key, item, [])
            return
        found = dependants(self.desk.family, key, item)
        if not found:
            self._delete(key, item, [])
            return
        assert document is not None
        name = edits.operation(self.desk.family, key, item).name
        rows = [((self._where(d, key), d.what), lambda doc=d.document, of=d.item: self.go(doc, of)) for d in found]
        count = "One other holds" if len(found) == 1 else f"{len(found)} others hold"
        self.cards.start(
            f"{count} on to {name}. Deleted, these stay and say what they have lost, to be mended",
            ("who", "what"),
            rows,
            [
                ("Delete it, then mend", lambda: self._delete(key, item, found)),
                ("Switch it off here instead", lambda: self._off(key, item)),
            ],
            "Leave it",
        )

    def _where(self, d: Dependant, key: str) -> str:
        return d.name if d.document == key else f"{self.desk.family.documents[d.document].name} / {d.name}"

    def _delete(self, key: str, item: str, holding: list[Dependant]) -> None:
        document = self.desk.family.documents[key]
        rows = [getattr(document, f, ()) for f in ("build", "instances", "bonds", "measurements", "rules", "guards")]
        record = next((e for field in rows for e in field if e.id == item), getattr(document, "feeds", {}).get(item))
        name = getattr(record, "name", "an item")
        users = [u for target in getattr(record, "sockets", {}) for u in self.desk.session.users(key, target)]
        if not self.desk.apply(f"delete {name}", lambda f: edits.delete_item(f, key, item)):
            return
        self.desk.main.operation = ""
        if holding or users:
            self.attend()
        if users:
            self.desk.told.emit(f"{name} is deleted; {', '.join(users)} took from it. Ctrl+Z brings it back.", True)

    def _off(self, key: str, item: str) -> None:
        at, name = self.desk.main.at, edits.operation(self.desk.family, key, item).name
        assert at is not None
        self.desk.apply(
            f"{name} off", lambda f: edits.set_switch(f, key, item, False, at.alternate or at.configuration)
        )
