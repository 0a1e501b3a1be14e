"""Stretches of the build list: named and taken apart."""

from __future__ import annotations

from architectonic.desktop.actions import Action
from architectonic.desktop.prompt import Prompt
from architectonic.desktop.workbench import Workbench
from architectonic.family import edits
from architectonic.family.records import Family
from architectonic.family.stretches import headed, stretches


class Stretching:
    """Callbacks about headings in Made of."""

    def __init__(self, bench: Workbench, prompt: Prompt) -> None:
        self.bench, self.prompt = bench, prompt

    def actions(self) -> list[Action]:
        """All of them."""
        title = "Name a stretch of the list…"
        return [Action("stretch.name", title, self.name, lambda: len(self.bench.main.build) > 1, short="Stretch…")]

    def name(self) -> None:
        """Ask from where to where, and for the name; the stretch that the chosen row lies in is offered."""
        build, key = self.bench.main.build, self.bench.main.document_id
        ids, called = [o.id for o in build], [o.name for o in build]
        chosen = ids.index(self.bench.main.operation) if self.bench.main.operation in ids else 0
        here = next((s for s in stretches(build) if s.first <= chosen <= s.last), None)
        first, last = (here.first, here.last) if here else (chosen, len(ids) - 1)

        def done(start: str, end: str, name: str) -> bool:
            def edit(family: Family) -> Family:
                document = edits.model(family, key)
                made = headed(document.build, ids[called.index(start)], ids[called.index(end)], name)
                return edits.put(family, edits.replace(document, build=made))  # type: ignore[arg-type]

            return self.bench.apply(f"stretch {name}" if name.strip() else "no stretch", edit)

        self.prompt.ask(
            "Put a heading over operations; without a name they have none",
            [
                ("from", [called[first], *(n for n in called if n != called[first])]),
                ("to", [called[last], *(n for n in called if n != called[last])]),
                ("name", here.name if here else ""),
            ],
            done,
        )
