"""Answers beside the evaluation: a few nodes of a family, asked for once and remembered."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import NamedTuple

from architectonic.describe.results import Node, Outcome
from architectonic.desktop.pane.updater import Updater
from architectonic.family.records import Family
from architectonic.family.walk import Same

FAMILIES = 3
"""Of so many families answers are kept: the present one, a preview, an older one."""


class Asked(NamedTuple):
    """What was asked of a family: outcomes that are there, and nodes that are waited for."""

    family: Family
    found: dict[Node, Outcome]
    pending: dict[Node, None]


class Answers:
    """Asks the updater when it has nothing else to do.

    Args:
        told: called when something that was asked for is there.
    """

    def __init__(self, updater: Updater, told: Callable[[], object]) -> None:
        self._updater, self._told = updater, told
        self._asked: dict[Same, Asked] = {}
        updater.answered.connect(self._on_answered)

    def of(self, family: Family, nodes: Iterable[Node]) -> dict[Node, Outcome]:
        """Outcomes that are known; those that are missing are asked for and come later."""
        known = self._asked.pop(Same(family), None) or Asked(family, {}, {})
        self._asked[Same(family)] = known  # the one that was asked last stands last
        while len(self._asked) > FAMILIES:
            self._asked.pop(next(iter(self._asked)))
        wanted = tuple(nodes)
        missing = [n for n in wanted if n not in known.found and n not in known.pending]
        if missing:
            known.pending.update(dict.fromkeys(missing))
            self._updater.ask(family, tuple(known.pending))
        return {n: known.found[n] for n in wanted if n in known.found}

    def _on_answered(self, family: Family, found: dict[Node, Outcome]) -> None:
        known = self._asked.get(Same(family))
        if known is not None and known.family is family:
            known.found.update(found)
            for node in found:
                known.pending.pop(node, None)
            self._told()
