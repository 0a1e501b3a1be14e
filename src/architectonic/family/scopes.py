"""Sizes, rows, alternates and what they inherit (docs/decisions/0003).

A *scope* is a document in one configuration and, of an assembly, in one alternate. Every document has all sizes of the family without declaring any; a
row that stands for a size is what that size means in that document.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from functools import lru_cache
from typing import Any, NamedTuple, TypeVar

from architectonic.base.errors import UserFault
from architectonic.family.operations.base import Switch, Turned
from architectonic.family.records import (
    DEFAULT_SIZE,
    MATCH,
    PARENT,
    SELF,
    Alternate,
    AnyDocument,
    Assembly,
    Bond,
    Configuration,
    Constraint,
    Expression,
    Family,
    Fill,
    Instance,
    Parameter,
    Size,
)
from architectonic.family.walk import Same

Own = TypeVar("Own")


class RowIndex(NamedTuple):
    """The rows of a document by id, the row that stands for each size, and the rows that follow each size or row."""

    by_id: dict[str, Configuration]
    for_size: dict[str, str]
    below: dict[str, list[str]]


@lru_cache(maxsize=512)
def _row_index(document: Same) -> RowIndex:
    rows: tuple[Configuration, ...] = document.record.configurations
    for_size = {r.size: r.id for r in reversed(rows) if r.size}
    below: dict[str, list[str]] = {}
    for row in rows:
        if row.parent:
            below.setdefault(for_size.get(row.parent, row.parent), []).append(row.id)
    return RowIndex({r.id: r for r in rows}, for_size, below)


def row_index(document: AnyDocument) -> RowIndex:
    """The rows of a document at hand, kept per document object."""
    return _row_index(Same(document))


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
    """What scopes are made of: sizes, documents, their rows and alternates. Where it is the same, scopes mean the same."""
    return family.head.sizes, tuple(
        (d.id, d.kind, tuple((r.id, r.parent, r.size) for r in d.configurations), alternates(d))
        for d in family.documents.values()
    )


def alternates(document: AnyDocument) -> tuple[Alternate, ...]:
    """The alternates of an assembly in their order; none of anything else."""
    return document.alternates if isinstance(document, Assembly) else ()


def alternate_of(document: AnyDocument, alternate: str = "") -> str:
    """The alternate that is taken: the one asked for, the first where it is none of them, "" where there are none."""
    rows = alternates(document)
    return alternate if any(r.id == alternate for r in rows) else rows[0].id if rows else ""


def configuration_name(family: Family, at: Scope) -> str:
    """The name of a scope's configuration; its id where it is none of the document's."""
    return _row_names(Same(family.documents[at.document]), sizes(family)).get(at.configuration, at.configuration)


@lru_cache(maxsize=1024)
def _row_names(document: Same, known: tuple[Size, ...]) -> dict[str, str]:
    return dict(_configurations(document, known))


def alternate_name(family: Family, at: Scope) -> str:
    """The name of a scope's alternate; "" where there is none."""
    return next((r.name for r in alternates(family.documents[at.document]) if r.id == at.alternate), "")


def scope_key(at: Scope) -> str:
    """What is recorded of a scope is kept under this, in its document."""
    return f"{at.configuration}/{at.alternate}" if at.alternate else at.configuration


def scopes_of(family: Family, document: AnyDocument) -> list[Scope]:
    """A document in each of its configurations and alternates."""
    rows = [r.id for r in alternates(document)] or [""]
    return [Scope(document.id, c, a) for c, _ in configurations(family, document) for a in rows]


def configurations(family: Family, document: AnyDocument) -> list[tuple[str, str]]:
    """Id and name of every configuration of a document: its sizes (or the rows that stand for them), then the rest."""
    return list(_configurations(Same(document), sizes(family)))


@lru_cache(maxsize=1024)
def _configurations(document: Same, known: tuple[Size, ...]) -> tuple[tuple[str, str], ...]:
    index = row_index(document.record)
    first = [(index.for_size.get(s.id, s.id), s.name) for s in known]
    taken = {row for row, _ in first}
    return (*first, *((r.id, r.name) for r in document.record.configurations if r.id not in taken))


def scope(family: Family, document_id: str, configuration: str, alternate: str = "") -> Scope:
    """The scope for a size or row and an alternate; what is unknown means the default size, and the first alternate."""
    document = family.documents[document_id]
    shown = alternate_of(document, alternate)
    index = row_index(document)
    if configuration in index.by_id:
        return Scope(document_id, configuration, shown)
    size = configuration if any(s.id == configuration for s in sizes(family)) else sizes(family)[0].id
    return Scope(document_id, index.for_size.get(size, size), shown)


def shown_as(family: Family, document_id: str, configuration: str) -> str:
    """What a size or a row of any document means in one of them: a row of another one means the size that it is under."""
    index = row_index(family.documents[document_id])
    if configuration in index.by_id or any(s.id == configuration for s in sizes(family)):
        return configuration
    owner = next((d.id for d in family.documents.values() if configuration in row_index(d).by_id), None)
    return configuration if owner is None else size_of(family, Scope(owner, configuration))


def size_of(family: Family, at: Scope) -> str:
    """The size under which a scope evaluates what it takes: its own, else its parent's, else the default."""
    rows = row_index(family.documents[at.document]).by_id
    current, seen = at.configuration, set()
    while current in rows and current not in seen:
        seen.add(current)
        if rows[current].size:
            return rows[current].size
        current = rows[current].parent
    return current if any(s.id == current for s in sizes(family)) else sizes(family)[0].id


def said(family: Family, at: Scope, field: str) -> str:
    """What a row or the nearest one above it says of itself: its note, material or colour; "" for nothing.

    A number is only ever a row's own.
    """
    rows, stand_for, _ = row_index(family.documents[at.document])
    current, seen = at.configuration, set[str]()
    while current in rows and current not in seen:
        seen.add(current)
        text = getattr(rows[current], field)
        if text or field == "number":
            return str(text)
        current = stand_for.get(rows[current].parent, rows[current].parent)
    return ""


def parent_of(family: Family, at: Scope) -> Scope | None:
    """The scope of the row that one is the child of; None for a row that follows none."""
    row = row_index(family.documents[at.document]).by_id.get(at.configuration)
    parent = row.parent if row is not None else ""
    return scope(family, at.document, parent, at.alternate) if parent else None


def source_scope(family: Family, at: Scope, document: str, configuration: str, alternate: str = "") -> Scope:
    """The scope that something standing at `at` takes from: by the matching size, a fixed configuration, or the parent.

    Raises:
        UserFault: it is the parent's, and there is none.
    """
    if configuration == PARENT:
        found = parent_of(family, at)
        if found is None:
            raise UserFault(
                "this configuration is the child of none", family.documents[at.document].name, "make it one"
            )
        return found
    if document in (SELF, at.document):
        shown = alternate or at.alternate
        return scope(family, at.document, at.configuration if configuration == MATCH else configuration, shown)
    return scope(family, document, size_of(family, at) if configuration == MATCH else configuration, alternate)


def chain(family: Family, at: Scope) -> tuple[str, ...]:
    """Where own values of a scope are looked up: the alternate and those that it follows, then the row, the size it
    stands for, its parent, and so on."""
    document = family.documents[at.document]
    own = document.configurations
    if not own and not at.alternate:
        return (at.configuration,)
    found: dict[str, None] = {}
    others = {r.id: r for r in alternates(document)}
    current = at.alternate
    while current in others and current not in found:
        found[current] = None
        current = others[current].parent
    rows = row_index(document).by_id
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


def in_cell(family: Family, at: Scope, own: Mapping[str, Own], common: Own) -> tuple[str, Own]:
    """What holds in a scope, and the cell that it comes from ("" for what is common)."""
    if own:
        for key in chain(family, at):
            if key in own:
                return key, own[key]
    return "", common


def cell(family: Family, at: Scope, item: Parameter | Constraint) -> tuple[str, Expression]:
    """The cell that the value of a parameter or of a dimension that drives comes from in a scope: its key ("" for the
    common one) and expression."""
    common = item.common if isinstance(item, Parameter) else item.value
    assert common is not None
    return in_cell(family, at, item.own, common)


def rows_below(document: AnyDocument, key: str) -> list[str]:
    """Ids of the rows that follow a size or row, directly or not."""
    index = row_index(document)
    start = index.for_size.get(key, key)
    return [row for row in _with_below(index, (start,)) if row != start]


def _with_below(index: RowIndex, rows: Iterable[str]) -> dict[str, None]:
    """Some rows, and those that follow them."""
    found = dict.fromkeys(rows)
    waiting = [row for row in found if row in index.below]
    while waiting:
        below = [r for r in index.below.get(waiting.pop(), ()) if r not in found]
        found.update(dict.fromkeys(below))
        waiting += below
    return found


def changed_cells(old: Parameter | Constraint, new: Parameter | Constraint) -> set[str]:
    """Cells in which two states of a parameter or dimension say something else; "" for the common one."""
    before, now = (i.common if isinstance(i, Parameter) else i.value for i in (old, new))
    found = {""} if before is not now and before != now else set[str]()
    keys = old.own.keys() | new.own.keys() if old.own is not new.own else ()
    return found | {k for k in keys if old.own.get(k) != new.own.get(k)}


def reached(family: Family, document: AnyDocument, cells: set[str]) -> list[Scope]:
    """The scopes in which what some cells of a document say may hold: their rows, and those that follow them."""
    if "" in cells or alternates(document):
        return scopes_of(family, document)
    index = row_index(document)
    return [Scope(document.id, row) for row in _with_below(index, (index.for_size.get(c, c) for c in cells))]


def turned(family: Family, at: Scope, switch: Switch) -> tuple[str, Turned]:
    """What a switch says in a scope (on, off, or a condition), and the cell that says so ("" for what is common)."""
    return in_cell(family, at, switch.own, switch.default)


def may_be_on(family: Family, at: Scope, switch: Switch) -> bool:
    """Whether a switch is on in a scope, as far as records tell: where a condition decides, it may be."""
    return turned(family, at, switch)[1] is not False


def fill(family: Family, at: Scope, instance: Instance) -> tuple[str, Fill]:
    """What fills an instance in a scope of its assembly, and the cell that says so."""
    common: Fill = instance
    return in_cell(family, at, instance.fills, common)


def starts(family: Family, at: Scope, instance: Instance) -> tuple[str, tuple[float, ...]]:
    """Where an instance stands, or starts when bonds place it, and the cell that says so."""
    return in_cell(family, at, instance.stands, instance.placement)


def driven(family: Family, at: Scope, bond: Bond, field: str) -> tuple[str, Expression | None]:
    """What drives a value of a bond in a scope, and the cell that says so."""
    own = {k: found for k, v in bond.own.items() if (found := getattr(v, field)) is not None}
    return in_cell(family, at, own, getattr(bond, field))


def filling(family: Family, at: Scope, filled: Fill) -> list[Scope]:
    """The scopes that a fill may lead to, from the records alone: one, or those that its expression may choose."""
    if filled.document not in family.documents:
        return []
    rows = filled.chosen.choices.values() if filled.chosen is not None else (filled.configuration,)
    return [source_scope(family, at, filled.document, row, filled.alternate) for row in rows]
