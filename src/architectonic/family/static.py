"""Who reads whom, from the records alone: free of any evaluation.

It serves the reach of an edit while it is typed, the refusal of circles, and lists of users. It may name more than
evaluation will read (both outcomes of a pick), never less; a test holds it to that.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from functools import cached_property, lru_cache
from typing import Any, NamedTuple

from msgspec.structs import replace

from architectonic.base.errors import UserFault
from architectonic.family import scopes
from architectonic.family.coupling import followed
from architectonic.family.operations.base import BodyOperation, Operation, Switch
from architectonic.family.operations.bodies.bring_in import BringIn
from architectonic.family.records import (
    MATCH,
    PARENT,
    SELF,
    STANDARD,
    AnyDocument,
    Assembly,
    Body,
    Bond,
    BondValues,
    Constraint,
    Context,
    Datum,
    Expression,
    Family,
    Fill,
    Guard,
    Instance,
    Measurement,
    Model,
    Parameter,
    Reference,
    Rule,
    Sketch,
    Table,
    Underlay,
    ValueRef,
)
from architectonic.family.references import After, operation_of
from architectonic.family.scopes import Scope
from architectonic.family.walk import Same, index, items, pointers_in

FINISHED = "finished"
WHOLE = "assembly"
POSED = "posed"


class Place(NamedTuple):
    """An item in a scope; FINISHED and WHOLE stand for a model's and an assembly's outcome, POSED for where its instances
    stand."""

    at: Scope
    item: str

    @property
    def document(self) -> str:
        """Id of its document."""
        return self.at.document


class Graph:
    """Static reads of a whole family.

    Args:
        before: the graph of the family that this one was edited from, free of circles: what the edit did not touch
            is taken from it. A table differs from it by a few of its rows, any other document as a whole.

    Attributes:
        touched: the places whose reads were worked out anew.
    """

    def __init__(self, family: Family, before: Graph | None = None) -> None:
        self.family = family
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
        for at in scopes.scopes_of(self.family, document):
            for key in old.keys() - new.keys():
                self._forget(Place(at, key))
            for key, record in new.items():
                if record is not old.get(key):
                    self._note(Place(at, key), self._reads(at, document, record))

    def _values(self, document: AnyDocument, old: AnyDocument) -> None:
        """Parameters that differ, in the rows that what is said anew reaches."""
        known, now = ({p.id: p for p in d.parameters} for d in (old, document))
        for key in known.keys() - now.keys():
            for at in scopes.scopes_of(self.family, document):
                self._forget(Place(at, key))
        for key, record in now.items():
            was = known.get(key)
            if was is not record:
                cells = {""} if was is None else scopes.changed_cells(was, record)
                for at in scopes.reached(self.family, document, cells):
                    self._note(Place(at, key), self._reads(at, document, record))

    def _whole(self, document: AnyDocument, old: dict[str, Any]) -> None:
        records = index(document)
        for at in scopes.scopes_of(self.family, document):
            for key in old.keys() - records.keys():
                self._forget(Place(at, key))
            for key, record in records.items():
                self._note(Place(at, key), self._reads(at, document, record))
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

    def _reads(self, at: Scope, document: AnyDocument, record: Any) -> Iterator[Place]:
        """Reads of one item in one scope."""
        if isinstance(record, Parameter) or (isinstance(record, Constraint) and record.value is not None):
            yield from self._pointers(at, document, scopes.cell(self.family, at, record)[1])
        elif isinstance(record, Constraint) and record.reads:
            yield from (
                Place(at, o.id)
                for o in getattr(document, "build", ())
                if isinstance(o, Sketch) and record in o.constraints
            )
        elif isinstance(record, (Datum, Underlay)):
            yield from self._own(at, document, record)
        elif isinstance(record, (Rule, Guard, Constraint, Expression, Measurement)):
            if isinstance(record, Measurement) and record.what == "mass":
                yield from (Place(at, r.item) for r in record.of)
            yield from self._pointers(at, document, record)
        elif isinstance(record, (Sketch, BodyOperation)):
            yield from self._built(at, document, record)
        elif isinstance(record, Body):
            yield Place(at, FINISHED)
            yield from self._pointers(at, document, record)
        elif isinstance(record, Instance):
            yield from self._filled(at, document, record)
            yield from self._pointers(at, document, record.repeats)
            yield Place(at, POSED)
        elif isinstance(record, Bond):
            yield from self._bound(at, document, record)
        elif hasattr(record, "source"):
            yield from self._pointers(at, document, record)

    def _built(self, at: Scope, document: AnyDocument, record: Sketch | BodyOperation) -> Iterator[Place]:
        """A sketch has a plane and an operation what is before it even where they are off."""
        on = scopes.may_be_on(self.family, at, record.switch)
        if isinstance(record, Sketch):
            yield from self._reference(at, document, record.plane, record.id)
            yield from (Place(at, c.id) for c in record.constraints if on and c.value is not None)
        elif before := self._before(document, record.id):
            yield Place(at, before)
        if on:
            yield from self._own(at, document, record)
            brought = record.bodies.values() if isinstance(record, BringIn) else ()
            yield from (Place(at, b.within[0]) for b in brought if b.within)

    def _own(self, at: Scope, document: AnyDocument, record: Operation) -> Iterator[Place]:
        """What an operation points at in one scope: what its dimensions and its switch say in others is left out."""
        said = scopes.turned(self.family, at, record.switch)[1]
        if isinstance(said, Expression):
            yield from self._pointers(at, document, said)
        yield from self._pointers(at, document, _common(Same(record)), record.id)

    def _filled(self, at: Scope, document: AnyDocument, record: Instance) -> Iterator[Place]:
        """What an instance shows, and what chooses it."""
        filled = scopes.fill(self.family, at, record)[1]
        if filled.chosen is not None:
            yield from self._pointers(at, document, filled.chosen)
        for there in scopes.filling(self.family, at, filled):
            yield from self._placed(there)
            if filled.item:
                yield Place(there, filled.item)

    def _placed(self, there: Scope) -> Iterator[Place]:
        source = self.family.documents[there.document]
        if isinstance(source, Assembly):
            yield Place(there, WHOLE)
        else:
            yield Place(there, FINISHED)
            yield from (Place(there, b) for b in getattr(source, "bodies", {}))

    def _bound(self, at: Scope, document: AnyDocument, record: Bond) -> Iterator[Place]:
        """The values of a bond, and what its places mean in what their instances show."""
        on = scopes.turned(self.family, at, record.switch)[1]
        if on is False:
            return
        if isinstance(on, Expression):
            yield from self._pointers(at, document, on)
        values = [scopes.driven(self.family, at, record, f)[1] for f in BondValues.__struct_fields__]
        if record.moves and scopes.driven(self.family, at, record, record.moves)[1] is None:
            # what nothing drives comes to stand where all that is driven leaves it
            for b in getattr(document, "bonds", ()):
                drives = scopes.driven(self.family, at, b, b.moves)[1] if b.moves and b.id != record.id else None
                if drives is None:
                    continue
                free = {f.id for f in followed(self.family, at, b, b.moves)}
                if free:  # moved together with others that are free: what its ratio comes from is read
                    yield from (p for p in self._pointers(at, document, drives) if p.item not in free)
                else:
                    yield Place(at, b.id)
        for value in (*values, *record.limits.values()):
            yield from self._pointers(at, document, value) if value is not None else ()
        instances = {i.id: i for i in getattr(document, "instances", ())}
        for end in (record.a, record.b):
            instance = instances.get(end.instance)
            if instance is None:
                yield from self._reference(at, document, end.place, "")
            elif end.place.item not in STANDARD:
                for there in scopes.filling(self.family, at, scopes.fill(self.family, at, instance)[1]):
                    yield from self._item(there, end.others.get(there.document, end.place), "")

    def _before(self, document: AnyDocument, operation: str) -> str:
        last = ""
        for o in getattr(document, "build", ()):
            if o.id == operation:
                break
            if isinstance(o, BodyOperation):
                last = o.id
        return last

    def _pointers(self, at: Scope, document: AnyDocument, record: Any, standing: str = "") -> Iterator[Place]:
        if isinstance(record, Expression) and not record.refs:
            return
        for p in pointers_in(record):
            if isinstance(p, ValueRef) and p.document == SELF and p.configuration == MATCH and not p.alternate:
                yield Place(at, p.item)
            elif isinstance(p, ValueRef):
                target = self._scope(at, p.document, p.configuration, p.alternate)
                if target:
                    yield Place(target, p.item)
            elif isinstance(p, Reference):
                yield from self._reference(at, document, p, standing)

    def _reference(self, at: Scope, document: AnyDocument, p: Reference, standing: str) -> Iterator[Place]:
        if p.of == SELF and p.item in STANDARD:
            return
        for configuration in p.chosen.choices.values() if p.chosen else (p.configuration,):
            there = self._scope(at, p.of, configuration, p.alternate)
            if there is not None:
                yield from self._item(there, p, standing)
        if p.context is not None:
            yield from self._seen(at, p, p.context)

    def _seen(self, at: Scope, p: Reference, context: Context) -> Iterator[Place]:
        """Where both stand in the assembly that something is seen in: what they show there is not looked at."""
        for way in (context.path[1:], context.home):
            there = self._scope(at, context.path[0], p.configuration, context.alternate)
            for key in way:
                if there is None:
                    break
                yield Place(there, POSED)
                record = index(self.family.documents[there.document]).get(key)
                filled = scopes.fill(self.family, there, record)[1] if isinstance(record, Instance) else None
                if filled is not None and filled.chosen is not None:
                    yield from self._pointers(there, self.family.documents[there.document], filled.chosen)
                below = scopes.filling(self.family, there, filled) if filled is not None else []
                there = below[0] if below else None

    def _item(self, there: Scope, p: Reference, standing: str) -> Iterator[Place]:
        source = self.family.documents[there.document]
        record = index(source).get(p.item)
        drawn = isinstance(record, BodyOperation) and record.draws
        if drawn or not isinstance(record, (Body, BodyOperation)):
            yield Place(there, p.item)
            # a body that is gone is looked for where it was taken from
            if record is None and isinstance(p.stage, After):
                yield Place(there, p.stage.after)
        elif p.stage == "here":
            before = self._before(source, standing)
            if before:
                yield Place(there, before)
        elif isinstance(p.stage, After):
            yield Place(there, p.stage.after)
        else:
            yield Place(there, FINISHED)

    def _scope(self, at: Scope, of: str, configuration: str, alternate: str = "") -> Scope | None:
        document = at.document if of == SELF else of
        if document not in self.family.documents:
            return None
        if configuration == PARENT and scopes.parent_of(self.family, at) is None:
            return None
        return scopes.source_scope(self.family, at, document, configuration, alternate)

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


@lru_cache(maxsize=4096)
def _common(operation: Same) -> Operation:
    """An operation without what it says in single rows: the record itself where it says nothing there."""
    record: Operation = operation.record
    if isinstance(record, Sketch) and any(c.own for c in record.constraints):
        record = replace(record, constraints=tuple(replace(c, own={}, value=None) for c in record.constraints))
    conditions = any(not isinstance(v, bool) for v in (record.switch.default, *record.switch.own.values()))
    return replace(record, switch=Switch()) if conditions else record


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
