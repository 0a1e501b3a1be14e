"""Pieces of surfaces that are trimmed: which there are, what was decided of each, and what a click decides."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from architectonic.base.errors import UserFault
from architectonic.check.attention import attention
from architectonic.describe.operations.surfaces.pieces import PieceSeen, decided
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.operations.bodies.bring_in import fed_bodies
from architectonic.family.operations.surfaces.trim import PieceChoice, Trim
from architectonic.family.records import Family, Model
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.targets import all_scopes
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


class Consequence(NamedTuple):
    """What follows in a document from keeping a piece, or from dropping it, in all its sizes and rows.

    Attributes:
        failing: rows that fail then, each with why and where: `Close to a solid, in M: it does not close`; none when all hold.
        scopes: how many were looked at.
    """

    keep: bool
    failing: tuple[str, ...]
    scopes: int

    @property
    def words(self) -> str:
        """In one sentence."""
        word = "keep" if self.keep else "drop"
        if not self.failing:
            return (
                f"{word}: nothing of this part fails, in any of {self.scopes}"
                if self.scopes > 1
                else f"{word}: nothing of this part fails"
            )
        more = f", and {len(self.failing) - 1} more" if len(self.failing) > 1 else ""
        return f"{word}: {self.failing[0]}{more}"


def consequences(family: Family, at: Scope, record: Trim, pieces: list[ShownPiece], number: int) -> list[Consequence]:
    """What follows from each way to decide on a piece; of further ones that wait it is held that they are dropped."""
    scopes = all_scopes(family, (at.document,))
    found = []
    for keep in (True, False):
        choices = tuple(p.seen.chosen(keep if k == number else bool(p.keep)) for k, p in enumerate(pieces))
        trial = edits.replace_operation(family, at.document, edits.replace(record, pieces=choices))
        evaluation = queries.variant().ask(trial, [Node("finished", s, "") for s in scopes])
        failing = [i for i in attention(evaluation) if i.document == at.document]
        told = tuple(
            f"{i.where.rpartition(' / ')[2]}{_where(i.configurations, len(scopes))}: {i.what}" for i in failing
        )
        found.append(Consequence(keep, told, len(scopes)))
    return found


class Elsewhere(NamedTuple):
    """A trim of another part in which the same piece waits: the part, and the trim decided on in the same way or the other."""

    document: str
    same: Trim
    other: Trim


def same_elsewhere(family: Family, at: Scope, record: Trim) -> list[Elsewhere]:
    """Trims of other documents that wait for a decision which this one has made of the same piece.

    A piece is the same where it is of the same surface of the same master, on the same sides of what comes from the same.
    """
    own = edits.model(family, at.document)
    decided_here = {_known(own, c): c.keep for c in record.pieces}
    found = []
    for document in family.documents.values():
        if not isinstance(document, Model) or document.id == own.id:
            continue
        there = at._replace(document=document.id)
        for trim in (o for o in document.build if isinstance(o, Trim)):
            pieces: tuple[PieceSeen, ...] = queries.ask(family, [n := Node("pieces", there, trim.id)]).value(n) or ()
            taken, _ = decided(pieces, trim.pieces)
            new = tuple(
                p.chosen(decided_here[known])
                for p, t in zip(pieces, taken, strict=True)
                if t is None and (known := _known(document, p.chosen(True))) in decided_here
            )
            if new and trim.pieces:
                other = tuple(edits.replace(c, keep=not c.keep) for c in new)
                both = (edits.replace(trim, pieces=(*trim.pieces, *p)) for p in (new, other))
                found.append(Elsewhere(document.id, *both))
    return found


def _known(document: Model, choice: PieceChoice) -> tuple[str, tuple[str, ...]]:
    """What a piece is known by whichever document brings its surfaces in."""
    fed = fed_bodies(document.build, document.feeds.values())
    source = {key: "/".join(follows) for key, follows in fed.items()}
    sides = (side.rpartition(":") for side in choice.sides)
    return source.get(choice.of, choice.of), tuple(sorted(f"{source.get(cut, cut)}:{where}" for cut, _, where in sides))


def _where(names: tuple[str, ...], of: int) -> str:
    return f" in {', '.join(names)}" if names and len(names) < of else ""


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
