"""Opposite hands: parts that are the mirror image of another one up to an operation, read from the records."""

from __future__ import annotations

from typing import NamedTuple

from architectonic.family.documents.part import Part
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.bodies.bring_in import BringIn
from architectonic.family.operations.bodies.move import Mirror, Move
from architectonic.family.records import AnyOperation, Family, Model
from architectonic.family.references import operation_of


class Hands(NamedTuple):
    """A part and its opposite hand.

    Attributes:
        first, other: ids of the two parts.
        upto: the last operation of the first that both share; "" where they share it whole.
        brings, mirrors: ids of the two operations of the other that follow the first.
    """

    first: str
    other: str
    upto: str
    brings: str
    mirrors: str


def hands_of(family: Family, document_id: str) -> list[Hands]:
    """Every pair that a document is one of."""
    documents = [d for d in family.documents.values() if isinstance(d, Part)]
    pairs = [h for d in documents if (h := _begun(d)) is not None]
    return [h for h in pairs if document_id in (h.first, h.other) and h.first in family.documents]


def _begun(document: Part) -> Hands | None:
    """What a part is the opposite hand of: it brings bodies of one other part in and mirrors them first of all."""
    solids = [o for o in document.build if isinstance(o, BodyOperation)][:2]
    if len(solids) < 2:
        return None
    brings, mirrors = solids
    if (
        not isinstance(brings, BringIn)
        or not isinstance(mirrors, Move)
        or not isinstance(mirrors.by, Mirror)
        or mirrors.copies
    ):
        return None
    if set(mirrors.acts_on) != set(brings.bodies):
        return None
    held = {k: s for f in document.feeds.values() for k, s in f.sockets.items()}
    sources = [held[b.source.item].source for b in brings.bodies.values() if b.source.item in held]
    if len({s.of for s in sources}) != 1:
        return None
    return Hands(sources[0].of, document.id, operation_of(sources[0].stage), brings.id, mirrors.id)


def _build(family: Family, document_id: str) -> tuple[AnyOperation, ...]:
    found = family.documents[document_id]
    return found.build if isinstance(found, Model) else ()


def shared_rows(family: Family, hands: Hands) -> list[AnyOperation]:
    """The operations that both hands share, as the first has them."""
    build = _build(family, hands.first)
    ids = [o.id for o in build]
    return list(build[: ids.index(hands.upto) + 1] if hands.upto in ids else build)


def shared_with(family: Family, document_id: str) -> dict[str, tuple[str, ...]]:
    """Names of the opposite hands that share each operation of a document."""
    found: dict[str, tuple[str, ...]] = {}
    for hands in hands_of(family, document_id):
        if hands.first == document_id:
            called = family.documents[hands.other].name
            for operation in shared_rows(family, hands):
                found[operation.id] = (*found.get(operation.id, ()), called)
    return found


def shared_words(family: Family, document_id: str, operation_id: str) -> str:
    """Who changes with an operation, as a sentence; "" where nobody does."""
    others = shared_with(family, document_id).get(operation_id, ())
    return (
        f"{' and '.join(others)} {'share' if len(others) > 1 else 'shares'} this row and will follow." if others else ""
    )
