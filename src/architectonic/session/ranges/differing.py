"""What differs between two rows of a range."""

from __future__ import annotations

from typing import NamedTuple

from architectonic.family import edits
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.ranges.columns import shown_columns


class Differs(NamedTuple):
    """A column in which two rows differ: its group and title, and what each shows."""

    group: str
    title: str
    one: str
    other: str


def differences(family: Family, evaluation: Evaluation | None, one: Scope, other: Scope) -> list[Differs]:
    """Every column that shows something else, those that are hidden too."""
    found = []
    for column in shown_columns(family, edits.document(family, one.document), True):
        a, b = (column.shown(family, evaluation, at).text for at in (one, other))
        if a != b:
            found.append(Differs(column.group, f"{column.title} {column.unit}".strip(), a, b))
    return found
