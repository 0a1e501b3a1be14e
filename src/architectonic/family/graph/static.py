"""Who reads whom, from the records alone: free of any evaluation.

It serves the reach of an edit while it is typed, the refusal of circles, and lists of users. It may name more than
evaluation will read (both outcomes of a pick), never less; a test holds it to that.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from functools import cached_property, lru_cache
from typing import Any

from architectonic.base.errors import UserFault
from architectonic.family import scopes
from architectonic.family.graph.reading import FINISHED, POSED, WHOLE, Place, Reading
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import (
    AnyDocument,
    Assembly,
    Body,
    Family,
    Fill,
    Model,
    Reference,
    Table,
)
from architectonic.family.references import operation_of
from architectonic.family.walk import Same, index, items, pointers_in


class Graph:
    """Static reads of a whole family.

    Args:
        before: the graph of the family that this one was edited from, free of circles: what the edit did not touch
            is taken from it. A table differs from it by a few of its rows, any other document as a whole.

    Attributes:
        touched: the places whose reads were worked out anew.
    """

    def __init__(self, family: Family, before: Graph | None = None) -> None:
        self.family, self._reading = family, Reading(family)
        self.before = before if before is not None and _same_shape(before.family, family) else None
        self.reads: dict[Place, tuple[Place, ...]] = {} if self.before is None else dict(self.before.reads)
        self.touched: list[Place] = []
        for document in family.documents.values():
            old = None if self.before is None else self.before.family.documents[document.id]
            if old is document:
                continue
            if old is not None and _only_values(old, document):
                self._values(document, old)
            elif isinstance(document, Table) and isinstance(old, Table):
                self._rows(document, index(old))
            else:
                self._whole(document, {} if old is None else index(old))

    def _rows(self, document: AnyDocument, old: dict[str, Any]) -> None:
        """The rows of a table that differ: they read values only, whatever stands beside them."""
        new = index(document)
        self._forget_gone(document, old, new)
        for at in scopes.scopes_of(self.family, document):
            for key, record in new.items():
                if record is not old.get(key):
                    self._note(Place(at, key), self._reading.reads(at, document, record))

    def _values(self, document: AnyDocument, old: AnyDocument) -> None:
        """Parameters that differ, in the rows that what is said anew reaches."""
        known, now = ({p.id: p for p in d.parameters} for d in (old, document))
        self._forget_gone(document, known, now)
        for key, record in now.items():
            was = known.get(key)
            if was is not record:
                cells = {""} if was is None else scopes.changed_cells(was, record)
                for at in scopes.reached(self.family, document, cells):
                    self._note(Place(at, key), self._reading.reads(at, document, record))

    def _forget_gone(self, document: AnyDocument, old: Mapping[str, Any], new: Mapping[str, Any]) -> None:
        """What is in a document no more."""
        for key in old.keys() - new.keys():
            for at in scopes.scopes_of(self.family, document):
                self._forget(Place(at, key))

    def _whole(self, document: AnyDocument, old: dict[str, Any]) -> None:
        records = index(document)
        self._forget_gone(document, old, records)
        for at in scopes.scopes_of(self.family, document):
            for key, record in records.items():
                self._note(Place(at, key), self._reading.reads(at, document, record))
            if isinstance(document, Model):
                last = [o.id for o in document.build if isinstance(o, BodyOperation)][-1:]
                self._note(Place(at, FINISHED), (Place(at, o) for o in last))
            if isinstance(document, Assembly):
                every = (*(i.id for i in document.instances), FINISHED, *document.bodies)
                self._note(Place(at, WHOLE), (Place(at, k) for k in every))
                self._note(Place(at, POSED), (Place(at, b.id) for b in document.bonds))

    def _note(self, place: Place, reads: Iterable[Place]) -> None:
        self.reads[place] = tuple(dict.fromkeys(reads))
        self.touched.append(place)

    def _forget(self, place: Place) -> None:
        self.reads.pop(place, None)
        self.touched.append(place)

    # --- questions ------------------------------------------------------------------------------------

    @cached_property
    def readers(self) -> dict[Place, list[Place]]:
        """The same edges the other way round."""
        before = self.before
        if before is not None and "readers" in before.__dict__ and len(self.touched) < len(self.reads) // 8:
            return self._readers_after(before)
        found: dict[Place, list[Place]] = defaultdict(list)
        for place, reads in self.reads.items():
            for read in reads:
                found[read].append(place)
        return found

    def _readers_after(self, before: Graph) -> dict[Place, list[Place]]:
        """The readers of before with what was touched put right; lists are shared with it and never changed."""
        found = dict(before.readers)
        for place in self.touched:
            old, new = before.reads.get(place, ()), self.reads.get(place, ())
            for read in old:
                if read not in new:
                    found[read] = [p for p in found.get(read, ()) if p != place]
            for read in new:
                if read not in old:
                    found[read] = [*found.get(read, ()), place]
        return found

    def forget_before(self) -> None:
        """Let the graph of before go; it was only needed to check this one."""
        if self.before is not None and "readers" in self.before.__dict__:
            _ = self.readers
        self.before = None

    def reach(self, changed: Iterable[Place]) -> set[Place]:
        """Everything that reads some places, directly or not, themselves included."""
        readers = self.readers
        found, stack = set(), list(changed)
        while stack:
            place = stack.pop()
            if place not in found:
                found.add(place)
                stack.extend(readers.get(place, ()))
        return found

    def circle(self) -> list[Place]:
        """The places of some circle, in order, or []."""
        state: dict[Place, int] = {}
        # where there was none before, a new one runs through something that was touched
        for start in self.reads if self.before is None else self.touched:
            if start in state:
                continue
            path, stack = [start], [iter(self.reads.get(start, ()))]
            state[start] = 1
            while stack:
                for place in stack[-1]:
                    if state.get(place) == 1:
                        return path[path.index(place) :]
                    if place not in state:
                        state[place] = 1
                        path.append(place)
                        stack.append(iter(self.reads.get(place, ())))
                        break
                else:
                    stack.pop()
                    state[path.pop()] = 2
        return []


def _only_values(old: AnyDocument, new: AnyDocument) -> bool:
    """Whether two states of a document differ in parameters alone."""
    fields = (f for f in new.__struct_fields__ if f != "parameters")
    return type(old) is type(new) and all(getattr(old, f) is getattr(new, f) for f in fields)


def _same_shape(before: Family, family: Family) -> bool:
    """Whether two families have the same documents, sizes and rows, so that scopes mean the same in both.

    What others refer to in a changed document must be there as before, of the same types: they are read by type.
    """
    return scopes.skeleton(before) == scopes.skeleton(family) and all(
        d is before.documents[k] or _alike(before.documents[k], d, family) for k, d in family.documents.items()
    )


def _alike(before: AnyDocument, now: AnyDocument, family: Family) -> bool:
    """Whether what is new, gone or of another type in a document is named by no other one."""
    if isinstance(now, Table):
        return True
    old, new = index(before), index(now)
    changed = {k for k in old.keys() | new.keys() if type(old.get(k)) is not type(new.get(k))}
    if not changed:
        return True
    if any(isinstance(d.get(k), Body) for k in changed for d in (old, new)):
        changed.add(now.id)  # whoever places it reads all of its bodies
    return not any(changed & _named(Same(d)) for d in family.documents.values() if d.id != now.id)


@lru_cache(maxsize=512)
def _named(document: Same) -> frozenset[str]:
    """Ids of all that a document names: items, operations, instances, and documents that it places."""
    found: set[str] = set()
    for p in (p for _, record in items(document.record) for p in pointers_in(record)):
        if isinstance(p, Fill):
            found |= {p.document, p.item}
            continue
        found.add(p.item)
        if isinstance(p, Reference):
            found.add(operation_of(p.stage))
            found |= {*p.context.path, *p.context.home} if p.context is not None else set()
    return frozenset(found)


def refuse_circle(family: Family, graph: Graph | None = None) -> Family:
    """The family, if nothing in it needs itself.

    Args:
        graph: its graph, when it is known already.

    Raises:
        UserFault: with the path of the circle drawn.
    """
    circle = (graph or Graph(family)).circle()
    if circle:
        told = list(dict.fromkeys(path_name(family, p) for p in circle))
        raise UserFault(
            "this would make a circle: " + " → ".join([*told, told[0]]),
            "",
            "take one of them from an earlier stage",
        )
    return family


def path_name(family: Family, place: Place) -> str:
    """A readable path of a place."""
    document = family.documents[place.document]
    record = index(document).get(place.item)
    name = getattr(record, "name", "") if record is not None else ""
    return f"{document.name} / {name}" if name else document.name
