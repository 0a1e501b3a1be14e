"""Opposite hands: begun from a part, compared with it side by side, and forked from it."""

from __future__ import annotations

from collections.abc import Callable

from architectonic.describe.words import candidates
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.family import edits
from architectonic.family.documents.part import Part
from architectonic.family.hands import Hands, hands_of, shared_rows
from architectonic.family.names import free_name
from architectonic.family.records import Family
from architectonic.session.product import opposing

SIDES = {" L": " R", " R": " L", " left": " right", " right": " left", " Left": " Right", " Right": " Left"}


class HandCommands:
    """Callbacks about opposite hands."""

    def __init__(self, desk: Desk, prompt: Prompt, cards: ListCard) -> None:
        self.desk, self.prompt, self.cards = desk, prompt, cards
        self._comparing: Hands | None = None
        desk.evaluated.connect(self._on_evaluated)

    def actions(self) -> list[Action]:
        """The actions about them."""
        return [
            Action("hand.new", "Opposite hand…", self.new, lambda: bool(self._part and self._part.bodies), also=("mirror part", "left hand", "right hand", "mirrored copy"), tells="A mirrored part that shares what stands before the marker, with operations of its own after.", wants="wants a part with bodies"),
            Action("hand.differs", "What differs between the hands", self.compare, lambda: self._hands is not None, short="What differs", also=("compare", "difference"), tells="Both side by side, and what each has of its own.", wants="wants a part with an opposite hand"),
            Action("hand.fork", "Fork this hand from the other", self.fork, self._follows, short="Fork hand", also=("break link", "independent", "derive"), tells="What it shares becomes its own; nothing of its own is lost.", wants="wants an opposite hand"),
        ]  # fmt: skip

    @property
    def _part(self) -> Part | None:
        found = self.desk.main.document
        return found if isinstance(found, Part) else None

    @property
    def _hands(self) -> Hands | None:
        """The pair that the shown part is one of."""
        part = self._part
        return next(iter(hands_of(self.desk.family, part.id)), None) if part is not None else None

    def _follows(self) -> bool:
        hands, part = self._hands, self._part
        return hands is not None and part is not None and hands.other == part.id

    def new(self) -> None:
        """Ask for its name and the plane, and begin it."""
        part = self._part
        if part is None:
            return
        planes = {
            name.capitalize(): found for name, found in candidates.planes(self.desk.main.subject) if not found.label
        }
        order = sorted(planes, key=lambda name: name != "Right")
        end = next((e for e in SIDES if part.name.endswith(e)), "")
        called = part.name.removesuffix(end) + SIDES[end] if end else f"{part.name} opposite"
        name = free_name(called, [d.name for d in self.desk.family.documents.values()])
        made: list[str] = []

        def done(typed: str, plane: str) -> bool:
            def edit(family: Family) -> Family:
                upto = self.desk.main.until
                family, key = opposing.begin(family, part.id, typed.strip(), planes[plane], (), upto)
                made.append(key)
                return family

            if not self.desk.apply(f"opposite hand of {part.name}", edit):
                return False
            self.desk.show(made[-1])
            return True

        self.prompt.ask(f"Opposite hand of {part.name}", [("name", name), ("mirrored in", order)], done, "Begin")

    def fork(self) -> None:
        """The shown hand shares nothing any more."""
        part = self._part
        if part is not None:
            self.desk.apply(f"fork {part.name}", lambda f: opposing.fork(f, part.id))

    def compare(self) -> None:
        """Both hands side by side, and a list of what each has of its own."""
        hands = self._hands
        if hands is None:
            return
        self._comparing = hands
        shown = self.desk.main.document
        assert shown is not None
        self.desk.show_beside(hands.other if shown.id == hands.first else hands.first)
        self._on_evaluated()

    def _on_evaluated(self) -> None:
        """The list comes once both are worked out."""
        hands, evaluation, at = self._comparing, self.desk.settled, self.desk.main.at
        if hands is None or evaluation is None or at is None or self.desk.updating:
            return
        self._comparing = None
        lines = opposing.differences(evaluation, hands, at.configuration)
        names = [edits.document(self.desk.family, key).name for key in (hands.first, hands.other)]
        shared = len(shared_rows(self.desk.family, hands))
        title = f"{names[0]} and {names[1]} share {shared} rows"
        title += f" and differ in {len(lines)}" if lines else " and are the same but for the mirror"
        rows = [((d.what, d.first, d.other), self._going(d) if d.operation else None) for d in lines]
        self.cards.start(title, ("what", *names), rows)

    def _going(self, difference: opposing.HandDifference) -> Callable[[], object]:
        """Lights the row in the pane that shows its document."""

        def go() -> None:
            for pane in (self.desk.main, self.desk.beside):
                if pane.document is not None and pane.document.id == difference.document:
                    pane.select(difference.operation)

        return go
