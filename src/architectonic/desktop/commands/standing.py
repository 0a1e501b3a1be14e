"""What stands against an edit of a sketch: lit, named in the words of the window, each with a way to take it back."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from architectonic.base.errors import UserFault
from architectonic.describe.words.sentences import holds
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sketch.drawtools import DrawTools
from architectonic.family.records import Constraint
from architectonic.session.open.policy import Disagreement
from architectonic.session.sketch.sketching import Decided

Choices = Sequence[tuple[str, Callable[[], object]]]
MOST = 3
"""Constraints that are offered to be taken back; the others are lit."""


class StandingAgainst:
    """Listens for edits of the sketch of one canvas that were refused."""

    def __init__(self, desk: Desk, prompt: Prompt, tools: DrawTools) -> None:
        self.desk, self.prompt, self.tools = desk, prompt, tools
        self._lit = False
        desk.refused.connect(self._on_refused)
        prompt.closed.connect(self._unlight)

    def _on_refused(self, fault: UserFault) -> None:
        """Offer to take back one of those; what was asked for is tried again then."""
        canvas = self.tools.canvas
        sketch = canvas.sketch
        if not isinstance(fault, (Decided, Disagreement)) or sketch is None or not canvas.isVisible():
            return
        against = [c for c in sketch.constraints if c.id in fault.constraints]
        if against:
            trying = self.tools.trying
            again = (lambda: self.tools.apply(*trying)) if trying is not None else None
            self.offer("What holds already stands against it", against, again, leave="Leave it as it is")

    def offer(
        self,
        told: str,
        against: list[Constraint],
        again: Callable[[], object] | None,
        first: Choices = (),
        leave: str = "Leave it",
    ) -> None:
        """Light what stands against something, and offer to take one of it back.

        Args:
            again: done once one is taken back; first: what is offered before.
        """
        shown, sketch = self.tools.canvas.shown, self.tools.canvas.sketch
        assert sketch is not None
        loose = [c for c in against if c.kind != "coincident"] or against

        def taking_back(key: str) -> Callable[[], object]:
            def take() -> None:
                if self.tools.release(key) and again is not None:
                    again()

            return take

        choices = list(first)
        for c in loose[:MOST]:
            words = holds(sketch, c, shown.value("value", c.id) if c.value else None)
            choices.append((f"Take back: {words}", taking_back(c.id)))
        more = f" ({len(loose) - MOST} more are lit)" if len(loose) > MOST else ""
        self.prompt.offer(f"{told}{more}.", choices, leave)
        shown.light({c.id for c in against})
        self._lit = True

    def _unlight(self) -> None:
        """What stands against it is lit as long as it is asked about."""
        if self._lit:
            self._lit = False
            self.tools.canvas.shown.light(set())
