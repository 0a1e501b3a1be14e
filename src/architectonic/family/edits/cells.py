"""Own cells of rows, wherever a document keeps them: values, dimensions, switches, and what assemblies place."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any, TypeVar

from architectonic.family.documents.assembly import Assembly, BondValues
from architectonic.family.edits.documents import replace
from architectonic.family.records import AnyDocument, Model, Sketch

Cells = dict[str, Any]
Kept = TypeVar("Kept", bound=AnyDocument)


def with_cells(found: Kept, change: Callable[[Cells], Cells]) -> Kept:
    """A document with every set of own cells changed; records in which nothing changes stay the same."""

    def changed(record: Any, *fields: str) -> Any:
        new = {f: change(getattr(record, f)) for f in fields}
        return record if all(getattr(record, f) == v for f, v in new.items()) else replace(record, **new)

    def switched(record: Any) -> Any:
        switch = changed(record.switch, "own")
        return record if switch is record.switch else replace(record, switch=switch)

    def operation(record: Any) -> Any:
        if isinstance(record, Sketch):
            dimensions = tuple(changed(c, "own") for c in record.constraints)
            if any(a is not b for a, b in zip(dimensions, record.constraints, strict=True)):
                record = replace(record, constraints=dimensions)
        return switched(record)

    fields: dict[str, Any] = {"parameters": tuple(changed(p, "own") for p in found.parameters)}
    if isinstance(found, Model):
        fields["build"] = tuple(operation(o) for o in found.build)
    if isinstance(found, Assembly):
        fields["instances"] = tuple(changed(i, "fills", "stands") for i in found.instances)
        fields["bonds"] = tuple(switched(changed(b, "own")) for b in found.bonds)
    return replace(found, **fields)


def copied(row: str, made: str) -> Callable[[Cells], Cells]:
    """A change of cells: another row says the same."""
    return lambda own: {**own, made: own[row]} if row in own else own


def handed(row: str, heirs: Iterable[str]) -> Callable[[Cells], Cells]:
    """A change of cells: a row says nothing any more, and those that followed it keep what they had of it."""

    def change(own: Cells) -> Cells:
        kept = {k: v for k, v in own.items() if k != row}
        for heir in heirs if row in own else ():
            kept[heir] = _joined(own[row], own.get(heir))
        return kept

    return change


def _joined(old: Any, own: Any) -> Any:
    """What an heir says, and what it had of the one that is gone where it says nothing."""
    if own is None or not isinstance(own, BondValues):
        return old if own is None else own
    fields = BondValues.__struct_fields__
    return BondValues(**{f: getattr(own, f) if getattr(own, f) is not None else getattr(old, f) for f in fields})
