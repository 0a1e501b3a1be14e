"""Sizes, rows and what they inherit (docs/decisions/0003).

A *scope* is a document in one configuration. Every document has all sizes of the family without declaring any; a
row that stands for a size is what that size means in that document.
"""

from __future__ import annotations

from typing import Any, NamedTuple

from architectonic.family.operations.base import Switch
from architectonic.family.records import DEFAULT_SIZE, MATCH, SELF, AnyDocument, Expression, Family, Parameter, Size


class Scope(NamedTuple):
    """A document in one configuration and alternate, by ids.

    Attributes:
        configuration: a row where one stands for the size.
        alternate: of an assembly; "" where there is none.
    """

    document: str
    configuration: str
    alternate: str = ""


class InPlace(NamedTuple):
    """A body in place: two uses of one part are two things.

    Attributes:
        path: ids of the instances that lead to it, the outermost first; () for a body of the shown document itself.
        at: what it is a body of.
    """

    path: tuple[str, ...]
    at: Scope
    body: str

    @property
    def document(self) -> str:
        """Id of the document that it is a body of."""
        return self.at.document


def sizes(family: Family) -> tuple[Size, ...]:
    """The sizes of the family; one called `default` when it has none."""
    return family.head.sizes or (Size(id=DEFAULT_SIZE, name=DEFAULT_SIZE),)


def skeleton(family: Family) -> Any:
    """What scopes are made of: sizes, documents and their rows. Where it is the same, scopes mean the same."""
    return family.head.sizes, tuple((d.id, d.kind, d.configurations) for d in family.documents.values())


def configurations(family: Family, document: AnyDocument) -> list[tuple[str, str]]:
    """Id and name of every configuration of a document: its sizes (or the rows that stand for them), then the rest."""
    rows = {r.size: r for r in reversed(document.configurations) if r.size}
    found = [(rows[s.id].id, s.name) if s.id in rows else (s.id, s.name) for s in sizes(family)]
    taken = {row for row, _ in found}
    return found + [(r.id, r.name) for r in document.configurations if r.id not in taken]


def scope(family: Family, document_id: str, configuration: str) -> Scope:
    """The scope for a size or row; an unknown configuration means the default size."""
    document = family.documents[document_id]
    ids = {r.id for r in document.configurations}
    if configuration in ids:
        return Scope(document_id, configuration)
    size = configuration if any(s.id == configuration for s in sizes(family)) else sizes(family)[0].id
    for row in document.configurations:
        if row.size == size:
            return Scope(document_id, row.id)
    return Scope(document_id, size)


def size_of(family: Family, at: Scope) -> str:
    """The size under which a scope evaluates what it takes: its own, else its parent's, else the default."""
    rows = {r.id: r for r in family.documents[at.document].configurations}
    current, seen = at.configuration, set()
    while current in rows and current not in seen:
        seen.add(current)
        if rows[current].size:
            return rows[current].size
        current = rows[current].parent
    return current if any(s.id == current for s in sizes(family)) else sizes(family)[0].id


def source_scope(family: Family, at: Scope, document: str, configuration: str) -> Scope:
    """The scope that something standing at `at` takes from: by the matching size, or a fixed configuration."""
    if document in (SELF, at.document):
        return at if configuration == MATCH else scope(family, at.document, configuration)
    return scope(family, document, size_of(family, at) if configuration == MATCH else configuration)


def chain(family: Family, at: Scope) -> tuple[str, ...]:
    """Where own values of a scope are looked up: the row, the size it stands for, its parent, and so on."""
    own = family.documents[at.document].configurations
    if not own:
        return (at.configuration,)
    rows = {r.id: r for r in own}
    found: dict[str, None] = {}
    current = at.configuration
    while current and current not in found:
        found[current] = None
        row = rows.get(current)
        if row is None:
            break
        if row.size:
            found[row.size] = None
        current = row.parent
    return tuple(found)


def cell(family: Family, at: Scope, parameter: Parameter) -> tuple[str, Expression]:
    """The cell that a parameter's value comes from in a scope: its key ("" for the common one) and expression."""
    for key in chain(family, at):
        if key in parameter.own:
            return key, parameter.own[key]
    return "", parameter.common


def is_on(family: Family, at: Scope, switch: Switch) -> bool:
    """Whether a switch is on in a scope."""
    for key in chain(family, at):
        if key in switch.own:
            return switch.own[key]
    return switch.default
