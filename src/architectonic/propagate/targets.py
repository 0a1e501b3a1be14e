"""Which nodes a document, or a whole family, is made of."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.models.documents import kind_of
from architectonic.describe.operations.holes.mating import mates
from architectonic.describe.results import Node
from architectonic.family import scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.holes.hole import Hole
from architectonic.family.records import Constraint, Datum, Family, Model, Sketch, Underlay
from architectonic.family.scopes import Scope


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
    for parameter in document.parameters:
        yield Node("value", at, parameter.id)
    for rule in document.checked:
        yield Node("rule", at, rule.id)
    if isinstance(document, Model):
        for measurement in document.measurements:
            yield Node("value", at, measurement.id)
        for feed in document.feeds.values():
            for socket in feed.sockets:
                yield Node("socket", at, socket)
        for operation in document.build:
            if isinstance(operation, Sketch) and scopes.may_be_on(family, at, operation.switch):
                yield Node("solve", at, operation.id)
                yield from (Node("value", at, c.id) for c in operation.constraints if _valued(c))
            if isinstance(operation, Underlay) and scopes.may_be_on(family, at, operation.switch):
                yield Node("underlay", at, operation.id)
            if isinstance(operation, (Sketch, Datum)) and scopes.may_be_on(family, at, operation.switch):
                yield Node("frame", at, operation.id)
            elif isinstance(operation, BodyOperation):
                yield Node("state", at, operation.id)
                if isinstance(operation, Hole) and mates(document, operation):
                    yield Node("mating", at, operation.id)
        if any(isinstance(o, BodyOperation) for o in document.build):
            yield Node("finished", at, "")
    yield from kind_of(document).nodes(family, document, at)


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
