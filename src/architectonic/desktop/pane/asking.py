"""What is known of a family to somebody who looks at more than is evaluated: the rest is asked for."""

from __future__ import annotations

from typing import Any

from architectonic.describe.results import Node
from architectonic.desktop.pane.desk import Desk
from architectonic.propagate.evaluation import Evaluation


class Asking:
    """Answers from an evaluation, and beside it.

    Attributes:
        missing: what was asked for and is not there yet: it comes later (`Desk.answered`), and is there the next time.
    """

    def __init__(self, desk: Desk, evaluation: Evaluation) -> None:
        self.family = evaluation.family
        self._desk, self._evaluation = desk, evaluation
        self.missing: list[Node] = []

    def value(self, node: Node) -> Any:
        """The value of a node, None where it is not known yet."""
        if node in self._evaluation.outcomes:
            return self._evaluation.value(node)
        found = self._desk.answers([node], self.family)
        if node not in found:
            self.missing.append(node)
        return found[node].value if node in found else None
