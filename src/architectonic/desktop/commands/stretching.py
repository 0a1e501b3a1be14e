"""Stretches of the build list: named and taken apart."""

from __future__ import annotations

from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.family import edits
from architectonic.family.records import Family
from architectonic.family.stretches import headed, stretches


class Stretching:
    """Callbacks about headings in Made of."""

    def __init__(self, desk: Desk, prompt: Prompt) -> None:
        self.desk, self.prompt = desk, prompt

    def actions(self) -> list[Action]:
        """The actions about how far a datum or a sketch is drawn."""
        title = "Name a stretch of the list…"
        return [
            Action(
                "stretch.name",
                title,
                self.name,
                lambda: len(self.desk.main.build) > 1,
                short="Stretch…",
                tells="A name for rows that belong together.",
                wants="wants a chosen row",
            )
        ]

    def name(self) -> None:
        """Ask from where to where, and for the name; the stretch that the chosen row lies in is offered."""
        build, key = self.desk.main.build, self.desk.main.document_id
        ids, called = [o.id for o in build], [o.name for o in build]
        chosen = ids.index(self.desk.main.operation) if self.desk.main.operation in ids else 0
        here = next((s for s in stretches(build) if s.first <= chosen <= s.last), None)
        first, last = (here.first, here.last) if here else (chosen, len(ids) - 1)

        def done(start: str, end: str, name: str) -> bool:
            def edit(family: Family) -> Family:
                document = edits.model(family, key)
                made = headed(document.build, ids[called.index(start)], ids[called.index(end)], name)
                return edits.put(family, edits.replace(document, build=made))

            return self.desk.apply(f"stretch {name}" if name.strip() else "no stretch", edit)

        self.prompt.ask(
            "Put a heading over operations; without a name they have none",
            [
                ("from", [called[first], *(n for n in called if n != called[first])]),
                ("to", [called[last], *(n for n in called if n != called[last])]),
                ("name", here.name if here else ""),
            ],
            done,
        )
