"""The record of the operation combine."""

from __future__ import annotations

from typing import Literal

from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Expression


class Combine(BodyOperation, tag="combine", tag_field="kind", frozen=True, kw_only=True):
    """A body united with others, less others, or what it shares with them.

    Attributes:
        acts_on: the body that changes.
        tools: the others; they go, unless they are kept.
        clearance: the others are grown by it first.
    """

    does: Literal["unite", "subtract", "overlap"]
    acts_on: tuple[str, ...]
    tools: tuple[str, ...]
    keep: bool = False
    clearance: Expression | None = None

    @property
    def changes(self) -> tuple[str, ...]:
        """The body that changes, and those that are used up."""
        return (*self.acts_on, *self.tools)

    @property
    def takes_bodies(self) -> bool:
        """Which one changes and which are used up follows from its sentence."""
        return False
