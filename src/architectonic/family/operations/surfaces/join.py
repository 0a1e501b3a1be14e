"""The record of the operation join."""

from __future__ import annotations

from architectonic.family.operations.base import BodyKind, BodyOperation
from architectonic.family.references import Expression


class Join(BodyOperation, tag="join", tag_field="kind", frozen=True, kw_only=True):
    """Surfaces made one along their edges; the first keeps its name.

    Attributes:
        gap: edges that lie nearer to each other are one; None for the limit of the program (base.tolerance.GAP).
        close: what closes becomes a solid.
    """

    acts_on: tuple[str, ...]
    gap: Expression | None = None
    close: bool = False

    @property
    def kinds(self) -> dict[str, BodyKind]:
        """What closes is a solid."""
        return {self.acts_on[0]: "solid"} if self.close and self.acts_on else {}

    @property
    def changes(self) -> tuple[str, ...]:
        """All of them: the first has the others in it, which go."""
        return self.acts_on
