"""Rows and rings of curves in a sketch, from Python."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable
from typing import Any

from architectonic.session.sketch import copies
from architectonic.session.sketch.copies import Pattern
from architectonic.session.sketch.sketching import Sketching


class Repeating(ABC):
    """What repeats curves in a sketch."""

    @abstractmethod
    def copied(self, what: str, change: Callable[[Sketching], list[str]]) -> list[Any]:
        """The curves that an edit made."""

    @staticmethod
    @abstractmethod
    def key_of(thing: Any) -> str:
        """The id of a curve, or of a point of one."""

    def row(
        self, *curves: Any, count: str, step: str, along: Any = "x_axis", name: str = "", called: str = ""
    ) -> list[Any]:
        """Copies in a row, which keep their step; returns them in order.

        Args:
            count: how many in all: a number, or an expression that drives; then as many are drawn as any size asks for.
            name: of the step; called: the name of the count.
        """
        own, asked = [self.key_of(c) for c in curves], Pattern(count, step, name, called)
        return self.copied("row", lambda s: copies.in_row(s, own, self.key_of(along), asked))

    def ring(
        self, *curves: Any, count: str, step: str = "", about: Any = "origin", name: str = "", called: str = ""
    ) -> list[Any]:
        """Copies in a ring about a point, all round where no step is given; arguments as of `row`."""
        own, asked = [self.key_of(c) for c in curves], Pattern(count, step, name, called)
        return self.copied("ring", lambda s: copies.in_ring(s, own, self.key_of(about), asked))

    def draw_missing(self) -> list[Any]:
        """Draw the members of rows and rings that their counts ask for by now."""
        return self.copied("missing members", copies.draw_missing)
