"""Pieces of surfaces that are trimmed: which there are, what was decided of each, and what a click decides."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from architectonic.base.errors import UserFault
from architectonic.describe.operations.surfaces.pieces import PieceSeen, decided
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.operations.surfaces.trim import Trim
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.open import queries


class ShownPiece(NamedTuple):
    """A piece, what it is called, and whether it stays: None while that is not decided."""

    seen: PieceSeen
    name: str
    keep: bool | None


def shown(evaluation: Evaluation, at: Scope, record: Trim) -> list[ShownPiece]:
    """All pieces of a trim as far as they are known; [] where they are not."""
    found = evaluation.value(Node("pieces", at, record.id))
    if not found:
        return []
    taken, _ = decided(found, record.pieces)
    called = names_of(evaluation.family, at.document, found)
    return [ShownPiece(p, n, None if t is None else t.keep) for p, n, t in zip(found, called, taken, strict=True)]


def names_of(family: Family, document_id: str, found: tuple[PieceSeen, ...]) -> list[str]:
    """What pieces are called: the surface and, where it falls into several, on which side of what cuts it they lie."""
    bodies = edits.model(family, document_id).bodies
    called = []
    for p in found:
        own = bodies[p.of].name if p.of in bodies else "a surface"
        sides = [side.rpartition(":") for side in p.sides]
        told = " and ".join(f"{where} {bodies[cut].name if cut in bodies else cut}" for cut, _, where in sides)
        called.append(f"{own} {told}".strip())
    return [f"{n} {called[:k].count(n) + 1}" if called.count(n) > 1 else n for k, n in enumerate(called)]


def turned(record: Trim, pieces: list[ShownPiece], number: int, keep: bool) -> Trim:
    """A trim in which one more piece is decided on; what was decided of pieces that are there is kept, of others forgotten only
    when nothing is left to decide."""
    made = [
        p.seen.chosen(keep if k == number else bool(p.keep))
        for k, p in enumerate(pieces)
        if k == number or p.keep is not None
    ]
    found = tuple(p.seen for p in pieces)
    _, lost = decided(found, record.pieces)
    open_still = any(p.keep is None for k, p in enumerate(pieces) if k != number)
    return edits.replace(record, pieces=(*made, *(lost if open_still else ())))


def decided_by(family: Family, at: Scope, record: Trim, keep: Callable[[PieceSeen], bool]) -> Trim:
    """A trim of a family with every piece decided on.

    Raises:
        UserFault: there are no pieces; says why.
    """
    node = Node("pieces", at, record.id)
    asked = queries.ask(family, [node])
    found: tuple[PieceSeen, ...] = asked.value(node) or ()
    if not found:
        problem = asked.outcomes[node].problem
        assert problem is not None
        raise UserFault(problem.what, record.name, problem.mend)
    return edits.replace(record, pieces=tuple(p.chosen(keep(p)) for p in found))
