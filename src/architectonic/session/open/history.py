"""Undo as a list of families; there is no inverse code."""

from __future__ import annotations

from typing import NamedTuple

from architectonic.family.records import Family
from architectonic.family.walk import index

KEPT = 500


class Step(NamedTuple):
    """A state of the family and the edit that led to it."""

    family: Family
    label: str


class History:
    """What can be undone and redone."""

    def __init__(self, family: Family) -> None:
        self._past: list[Step] = [Step(family, "")]
        self._future: list[Step] = []

    @property
    def family(self) -> Family:
        """The present state."""
        return self._past[-1].family

    @property
    def undo_label(self) -> str:
        """What undo would take back, "" when nothing."""
        return self._past[-1].label if len(self._past) > 1 else ""

    @property
    def redo_label(self) -> str:
        """What redo would bring back, "" when nothing."""
        return self._future[-1].label if self._future else ""

    def add(self, family: Family, label: str) -> None:
        """A new present; what was undone is forgotten."""
        self._past.append(Step(family, label))
        self._future.clear()
        del self._past[:-KEPT]

    def last_with(self, document: str, item: str) -> Family | None:
        """The latest family in which a document held something; None when none is remembered."""
        for step in reversed(self._past):
            found = step.family.documents.get(document)
            if found is not None and item in index(found):
                return step.family
        return None

    def undo(self) -> bool:
        """One step back; False at the beginning."""
        if len(self._past) < 2:
            return False
        self._future.append(self._past.pop())
        return True

    def redo(self) -> bool:
        """One step forward again; False at the end."""
        if not self._future:
            return False
        self._past.append(self._future.pop())
        return True
