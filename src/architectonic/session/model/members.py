"""The members of an operation that makes several alike: holes at places, copies of a pattern."""

from __future__ import annotations

from typing import NamedTuple

from architectonic.describe.results import HolesResult, Node, Vector
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation


class Member(NamedTuple):
    """One of them: its key, its number, where it is (mm), and whether it is left out."""

    key: str
    number: int
    at: Vector
    out: bool


def members(evaluation: Evaluation, at: Scope, operation: str) -> list[Member]:
    """All members, those that are left out among them, as far as they are known; [] of an operation that has none."""
    holes = evaluation.value(Node("holes", at, operation))
    if not isinstance(holes, HolesResult):
        return []
    found = [(p, False) for p in holes.places] + [(p, True) for p in holes.left_out]
    return [Member(p.key, k + 1, p.frame.origin, out) for k, (p, out) in enumerate(found)]
