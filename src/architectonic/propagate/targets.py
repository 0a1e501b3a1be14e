"""Which nodes a document, or a whole family, is made of."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import NamedTuple

from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.models.documents import kind_of
from architectonic.describe.operations.holes.mating import mates
from architectonic.describe.results import Node
from architectonic.family import scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.holes.hole import Hole
from architectonic.family.records import AnyDocument, Constraint, Datum, Family, Model, Sketch, Underlay
from architectonic.family.scopes import Scope
from architectonic.family.walk import Same


class Look(NamedTuple):
    """Bodies that are wanted as triangles: those of a scope, finished or as after an operation.

    Attributes:
        path, stands: through which instances, and where, it is seen; as itself on its own origin by default.
        among: id of the assembly that it is seen in; "" for none.
    """

    at: Scope
    until: str = ""
    path: tuple[str, ...] = ()
    stands: Rigid = IDENTITY
    among: str = ""

    def state(self, family: Family) -> Node:
        """The node whose bodies are shown: of the last operation up to the marker that changes bodies.

        The family may be older than the look: a document that is not in it yet has no bodies.
        """
        last = ""
        for operation in getattr(family.documents.get(self.at.document), "build", ()):
            if isinstance(operation, BodyOperation):
                last = operation.id
            if operation.id == self.until:
                return Node("state", self.at, last) if last else Node("finished", self.at, "")
        return Node("finished", self.at, "")


def of_scope(family: Family, at: Scope) -> Iterator[Node]:
    """Everything that is reported of a document in one configuration, but measurements of bodies."""
    document = family.documents[at.document]
    off = frozenset(
        o.id for o in getattr(document, "build", ()) if o.switch.own or o.switch.default is False
        if not scopes.may_be_on(family, at, o.switch)
    )  # fmt: skip
    yield from _nodes(at, _listed(Same(document), off))
    yield from kind_of(document).nodes(family, document, at)


@lru_cache(maxsize=8192)
def _nodes(at: Scope, what: Same) -> tuple[Node, ...]:
    """Kept, so that the same node is one object in everything that is known by node: quick to find, and small."""
    return tuple(Node(kind, at, item) for kind, item in what.record)


@lru_cache(maxsize=512)
def _one(entries: tuple[tuple[str, str], ...]) -> Same:
    return Same(entries)


@lru_cache(maxsize=1024)
def _listed(document: Same, off: frozenset[str]) -> Same:
    return _one(tuple(_entries(document.record, off)))


def _entries(document: AnyDocument, off: frozenset[str]) -> Iterator[tuple[str, str]]:
    """What is evaluated of which items of a document, where some of its operations are off."""
    yield from (("value", p.id) for p in document.parameters)
    yield from (("rule", r.id) for r in document.checked)
    if not isinstance(document, Model):
        return
    yield from (("value", m.id) for m in document.measurements)
    yield from (("socket", socket) for feed in document.feeds.values() for socket in feed.sockets)
    for operation in document.build:
        if isinstance(operation, BodyOperation):
            yield "state", operation.id
            if isinstance(operation, Hole) and mates(document, operation):
                yield "mating", operation.id
        elif operation.id in off:
            continue
        elif isinstance(operation, Sketch):
            yield "solve", operation.id
            yield from (("value", c.id) for c in operation.constraints if _valued(c))
        elif isinstance(operation, Underlay):
            yield "underlay", operation.id
        if isinstance(operation, (Sketch, Datum)) and operation.id not in off:
            yield "frame", operation.id
    if any(isinstance(o, BodyOperation) for o in document.build):
        yield "finished", ""


def _valued(constraint: Constraint) -> bool:
    return constraint.value is not None or constraint.reads


def bodies_of(family: Family, at: Scope, bodies: tuple[str, ...], what: tuple[str, ...]) -> Iterator[Node]:
    """Nodes about the bodies that a scope turned out to have."""
    for body in bodies:
        for kind in what:
            yield Node(kind, at, body)


def all_scopes(family: Family, documents: tuple[str, ...] = (), configuration: str = "") -> list[Scope]:
    """All scopes of a family, or those of some documents, or of one size or row name."""
    found = []
    for document in family.documents.values():
        if documents and document.id not in documents:
            continue
        rows = scopes.configurations(family, document)
        named = [r for r in rows if r[1] == configuration]
        wanted = {row for row, _ in (named or rows if configuration else rows)}
        found += [at for at in scopes.scopes_of(family, document) if at.configuration in wanted]
    return found
