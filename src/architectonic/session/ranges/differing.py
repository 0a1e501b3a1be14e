"""What differs between rows of a range."""

from __future__ import annotations

from typing import NamedTuple

from architectonic.family import edits
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.ranges.columns import shown_columns


class Differs(NamedTuple):
    """A column in which rows differ: its group and title, and what each row shows."""

    group: str
    title: str
    texts: tuple[str, ...]


def differences(family: Family, evaluation: Evaluation | None, *rows: Scope) -> list[Differs]:
    """Every column that shows something else, those that are hidden too."""
    found = []
    for column in shown_columns(family, edits.document(family, rows[0].document), True):
        texts = tuple(column.shown(family, evaluation, at).text for at in rows)
        if len(set(texts)) > 1:
            found.append(Differs(column.group, f"{column.title} {column.unit}".strip(), texts))
    return found
