"""What operations, datums and sketches of a build list have in common."""

from __future__ import annotations

from architectonic.api.protocols import Modelled
from architectonic.family import edits
from architectonic.family import records as r


class Item:
    """Something in a build list.

    Attributes:
        id: what it is pointed at by.
    """

    def __init__(self, model: Modelled, key: str) -> None:
        self.model, self.id = model, key

    def __repr__(self) -> str:
        return f"<{self.record.kind} {self.name}>"

    @property
    def record(self) -> r.AnyOperation:
        """It as immutable data."""
        return edits.operation(self.model.opened.family, self.model.id, self.id)

    @property
    def name(self) -> str:
        """What it is called."""
        return self.record.name

    @property
    def reference(self) -> r.Reference:
        """What points at it."""
        return r.Reference(item=self.id)
