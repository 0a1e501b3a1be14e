"""Finding every reference in a record, whatever kind of record it is.

One walk serves users of an item, links on both ends, reach, forks and cycle checks; a new kind of operation needs
no code here.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import lru_cache
from typing import Any

import msgspec

from architectonic.family.operations.base import BodyKind, BodyOperation
from architectonic.family.records import SELF, AnyDocument, Expression, Fill, Model, Reference, Sketch, ValueRef

Pointer = Reference | ValueRef | Fill


def pointers(record: Any) -> Iterator[Pointer]:
    """All references, value references and fills of instances inside `record`, depth first in field order."""
    if isinstance(record, (Reference, ValueRef)) or (isinstance(record, Fill) and record.document):
        yield record
    if isinstance(record, msgspec.Struct):
        for field in record.__struct_fields__:
            value = getattr(record, field)
            if value is not None and not isinstance(value, (str, int, float, bool)):
                yield from pointers(value)
    elif isinstance(record, dict):
        for value in record.values():
            yield from pointers(value)
    elif isinstance(record, tuple):
        for value in record:
            if not isinstance(value, (str, int, float)):
                yield from pointers(value)


OWN_FIELDS = ("id", "name", "switch")
"""What a record keeps of itself when it is written again elsewhere."""


def rewritten(record: Any, change: Callable[[Any], Any], kept: Callable[[Any], bool] = lambda value: True) -> Any:
    """A record as it is elsewhere: references, expressions and texts in it are what `change` makes of them.

    Args:
        kept: whether a member of a list goes along.
    """
    if isinstance(record, (Reference, Expression, str)):
        return change(record)
    if isinstance(record, msgspec.Struct):
        fields = [f for f in record.__struct_fields__ if f not in OWN_FIELDS]
        return msgspec.structs.replace(record, **{f: rewritten(getattr(record, f), change, kept) for f in fields})
    if isinstance(record, dict):
        return {k: rewritten(v, change, kept) for k, v in record.items()}
    if isinstance(record, tuple):
        return tuple(rewritten(v, change, kept) for v in record if kept(v))
    return record


def leads_to(pointer: Pointer) -> str:
    """Id of the document that a pointer leads to, SELF for its own."""
    return pointer.of if isinstance(pointer, Reference) else pointer.document


class Same:
    """A cache key that compares by identity: records never change, so identity is enough and quick."""

    __slots__ = ("record",)

    def __init__(self, record: Any) -> None:
        self.record = record

    def __hash__(self) -> int:
        return id(self.record)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Same) and other.record is self.record


@lru_cache(maxsize=16384)
def _pointers(key: Same) -> tuple[Pointer, ...]:
    return tuple(pointers(key.record))


def pointers_in(record: Any) -> tuple[Pointer, ...]:
    """`pointers` of a record, kept per record object."""
    return _pointers(Same(record))


@lru_cache(maxsize=512)
def _index(key: Same) -> dict[str, Any]:
    return dict(items(key.record))


def index(document: AnyDocument) -> dict[str, Any]:
    """Id to record of everything in a document, kept per document object."""
    return _index(Same(document))


@lru_cache(maxsize=64)
def _used(key: Same) -> frozenset[str]:
    return frozenset(
        p.item
        for operation in key.record.build
        for p in pointers_in(operation)
        if isinstance(p, Reference) and p.of == SELF and p.item != operation.id
    )


def used_in_build(document: Model) -> frozenset[str]:
    """Ids of what operations of a document's build list point at, kept per document object."""
    return _used(Same(document))


def items(document: AnyDocument) -> Iterator[tuple[str, Any]]:
    """Id and record of everything in a document that can be pointed at, sketch dimensions included."""
    for parameter in document.parameters:
        yield parameter.id, parameter
    for rule in document.checked:
        yield rule.id, rule
    if isinstance(document, Model):
        for feed_id, feed in document.feeds.items():
            yield feed_id, feed
            yield from feed.sockets.items()
        for operation in document.build:
            yield operation.id, operation
            if isinstance(operation, Sketch):
                for constraint in operation.constraints:
                    yield constraint.id, constraint
        yield from document.bodies.items()
        for measurement in document.measurements:
            yield measurement.id, measurement
    for instance in getattr(document, "instances", ()):
        yield instance.id, instance
    for bond in getattr(document, "bonds", ()):
        yield bond.id, bond
    for item in getattr(document, "part_items", ()):
        yield item.id, item


def expressions(record: Any) -> Iterator[Expression]:
    """All expressions inside a record."""
    if isinstance(record, Expression):
        yield record
    elif isinstance(record, msgspec.Struct):
        for field in record.__struct_fields__:
            yield from expressions(getattr(record, field))
    elif isinstance(record, dict):
        for value in record.values():
            yield from expressions(value)
    elif isinstance(record, tuple):
        for value in record:
            yield from expressions(value)


def kinds_of(document: Model) -> dict[str, BodyKind]:
    """What every body is at the end of a build list, its switches left aside; kept per document object."""
    return _kinds(Same(document))


@lru_cache(maxsize=256)
def _kinds(key: Same) -> dict[str, BodyKind]:
    found: dict[str, BodyKind] = {}
    for operation in key.record.build:
        if isinstance(operation, BodyOperation):
            found.update(operation.kinds)
            found.update({new: found[old] for new, old in operation.origins.items() if old in found})
    return found


def surfaces_of(document: Model) -> tuple[str, ...]:
    """Ids of its surfaces."""
    known = kinds_of(document)
    return tuple(b for b in document.bodies if known.get(b) == "surface")


def made_after(document: Model, operation: str) -> set[str]:
    """Ids of the bodies that are made after an operation; none while that is not in the build list."""
    at = next((n for n, o in enumerate(document.build) if o.id == operation), len(document.build))
    return {b for o in document.build[at + 1 :] if isinstance(o, BodyOperation) for b in o.makes}
