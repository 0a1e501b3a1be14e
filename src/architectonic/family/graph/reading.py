"""What each item of a document reads in a scope, from the records alone; see `family.graph.static`."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import Any, NamedTuple

from msgspec.structs import replace

from architectonic.family import scopes
from architectonic.family.graph.coupling import followed
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
    Guard,
    Instance,
    Measurement,
    Parameter,
    Reference,
    Rule,
    Sketch,
    Underlay,
    ValueRef,
)
from architectonic.family.references import After
from architectonic.family.scopes import Scope
from architectonic.family.walk import Same, index, pointers_in

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


class Reading:
    """Reads of single items of a family."""

    def __init__(self, family: Family) -> None:
        self.family = family

    def reads(self, at: Scope, document: AnyDocument, record: Any) -> Iterator[Place]:
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


@lru_cache(maxsize=4096)
def _common(operation: Same) -> Operation:
    """An operation without what it says in single rows: the record itself where it says nothing there."""
    record: Operation = operation.record
    if isinstance(record, Sketch) and any(c.own for c in record.constraints):
        record = replace(record, constraints=tuple(replace(c, own={}, value=None) for c in record.constraints))
    conditions = any(not isinstance(v, bool) for v in (record.switch.default, *record.switch.own.values()))
    return replace(record, switch=Switch()) if conditions else record
