"""Variations of a part side by side: begun, compared, and one chosen as the way forward."""

from __future__ import annotations

from architectonic.base.errors import UserFault
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.family import scopes
from architectonic.family.records import Assembly, Family, Instance, Model, use_of
from architectonic.session.product import varying


class VariationCommands:
    """Callbacks about variations."""

    def __init__(self, desk: Desk, prompt: Prompt, cards: ListCard) -> None:
        self.desk, self.prompt, self.cards = desk, prompt, cards

    def actions(self) -> list[Action]:
        """The actions about them."""
        chosen = lambda: self._variation() is not None  # noqa: E731
        return [
            Action("variation.new", "Variations side by side…", self.begin, self._can_vary, short="Variations…", also=("options", "studies", "copies"), tells="Copies in a row, each shaped apart from then on.", wants="wants a part"),
            Action("variation.compare", "Compare this variation with the first", self.compare, chosen, short="Compare variation", tells="Values, operations and figures that differ.", wants="wants a picked variation"),
            Action("variation.choose", "This variation is the way forward", self.choose, chosen, short="Way forward", tells="The part becomes as it is; all that uses it follows.", wants="wants a picked variation"),
        ]  # fmt: skip

    def _can_vary(self) -> bool:
        document = self.desk.main.document
        return isinstance(document, Model) and document.makes_bodies and bool(document.build)

    def _variation(self) -> Instance | None:
        """What is picked in a row of copies, unless it is the first."""
        main = self.desk.main
        row = main.document
        if not isinstance(row, Assembly) or len(row.instances) < 2:
            return None
        key = next((use_of(p.body.path[0])[0] for p in main.picks if p.body.path), main.operation)
        found = next((i for i in row.instances[1:] if i.id == key), None)
        if found is None:
            return None
        try:
            varying.original(self.desk.family, row, found.id)
        except UserFault:
            return None
        return found

    def begin(self) -> None:
        """Ask how many; the row of them is shown."""
        document, at, evaluation = self.desk.main.document, self.desk.main.at, self.desk.settled
        if document is None or at is None or evaluation is None:
            return
        key, wide = document.id, varying.width(evaluation, at)

        def done(typed: str) -> bool:
            rows: list[str] = []

            def edit(family: Family) -> Family:
                count = int(typed) if typed.strip().isdecimal() else 0
                family, row = varying.begin(family, key, count, wide)
                rows.append(row)
                return family

            if not self.desk.apply(f"variations of {document.name}", edit):
                return False
            self.desk.show(rows[-1])
            return True

        self.prompt.ask(f"Variations of {document.name}", [("how many, itself among them", "3")], done, "Begin")

    def compare(self) -> None:
        """What differs between the first and the picked one."""
        found, main, evaluation = self._variation(), self.desk.main, self.desk.settled
        row, at = main.document, main.at
        if found is None or not isinstance(row, Assembly) or at is None or evaluation is None:
            return
        one, two = (
            scopes.source_scope(self.desk.family, at, i.document, i.configuration) for i in (row.instances[0], found)
        )
        lines = varying.differences(evaluation, one, two)
        names = [self.desk.family.documents[s.document].name for s in (one, two)]
        title = (
            f"{names[0]} and {names[1]} differ in {len(lines)}" if lines else f"{names[0]} and {names[1]} are the same"
        )
        self.cards.start(title, ("what", *names), [(tuple(line), None) for line in lines])

    def choose(self) -> None:
        """The first becomes as the picked one is, as one undoable step."""
        found, row = self._variation(), self.desk.main.document
        if found is None or not isinstance(row, Assembly):
            return
        first, chosen = varying.original(self.desk.family, row, found.id)
        self.desk.apply(f"{first.name} as {chosen.name}", lambda f: varying.choose(f, row.id, found.id))
