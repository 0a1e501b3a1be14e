"""Operations of an assembly made operations of its parts, fed from the assembly; and back again."""

from __future__ import annotations

from collections.abc import Container
from typing import Any, NamedTuple

import msgspec

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.base.places import taken_apart
from architectonic.family import edits, names
from architectonic.family.operations.base import BodyOperation, Switch
from architectonic.family.operations.bodies.bring_in import BringIn, BroughtBody
from architectonic.family.operations.holes.hole import ForScrew, Hole, HolePlace, Matching
from architectonic.family.operations.solids.extrude import Distance
from architectonic.family.records import (
    MATCH,
    SELF,
    Assembly,
    Body,
    Circle,
    Constraint,
    Context,
    Datum,
    Expression,
    Family,
    Feed,
    Model,
    Point,
    Reference,
    Sketch,
    Socket,
    Takes,
)
from architectonic.family.scopes import InPlace, Scope
from architectonic.family.walk import index, pointers, rewritten
from architectonic.session.assembly import working


class Sent(NamedTuple):
    """An operation that was sent: to the documents of these names, and how often each is placed in all of the family."""

    parts: tuple[str, ...]
    uses: int


def placed_by(assembly: Assembly, operation: BodyOperation) -> dict[tuple[str, ...], dict[str, BroughtBody]]:
    """The bodies of instances that an operation of an assembly acts on, by the instances that lead to them."""
    brought = {k: b for o in assembly.build if isinstance(o, BringIn) for k, b in o.bodies.items()}
    found: dict[tuple[str, ...], dict[str, BroughtBody]] = {}
    for key in operation.changes:
        if key in brought and brought[key].within:
            found.setdefault(brought[key].within, {})[key] = brought[key]
    return found


def send(
    family: Family, assembly_id: str, operation_id: str, alternate: str = "", make_id: IdSource = new_id
) -> tuple[Family, Sent]:
    """Make an operation of an assembly one of each part whose bodies it acts on; what it takes of the assembly is fed.

    Args:
        alternate: in which the parts stand as they are cut.

    Raises:
        UserFault: it acts on nothing of a part, or takes something that cannot be fed.
    """
    assembly = edits.assembly(family, assembly_id)
    operation = edits.operation(family, assembly_id, operation_id)
    if not isinstance(operation, BodyOperation) or isinstance(operation, BringIn):
        raise UserFault("only what changes bodies is sent to parts", operation.name, "choose a cut, a fillet, …")
    targets = placed_by(assembly, operation)
    if not targets:
        raise UserFault("it acts on no body of a part", operation.name, "choose one that does")
    operation = _spelled_out(assembly, operation)
    if isinstance(operation, Hole) and len(targets) > 1 and not _alike_everywhere(operation):
        told = "a part by itself does not know where the hole begins in the stack"
        raise UserFault(told, operation.name, "let it begin at its place or on a face and go through, then send it")
    parts: dict[str, str] = {}
    for within, bodies in targets.items():
        part = edits.model(family, next(iter(bodies.values())).source.of)
        context = Context(path=(assembly_id,), home=within, alternate=alternate)
        mover = _Mover(family, assembly, part.id, context, {k: b.source.item for k, b in bodies.items()}, make_id)
        made = mover.moved(operation)
        name = names.free_name(operation.name, [o.name for o in part.build])
        made = edits.replace(made, id=make_id(), name=name, stretch="", switch=_everywhere(operation.switch))
        family = mover.family
        if mover.sockets:
            feeds = edits.model(family, part.id).feeds.values()
            called = names.free_name(f"{operation.name} of {assembly.name}", [f.name for f in feeds])
            family = edits.add_feed(family, part.id, make_id(), Feed(name=called, sockets=mover.sockets))
        family = edits.add_operation(family, part.id, made)
        parts[part.id] = part.name
    family = edits.delete_item(family, assembly_id, operation_id)
    family = _let_go(family, assembly_id)
    return family, Sent(tuple(parts.values()), uses_of(family, parts))


def _spelled_out(assembly: Model, operation: BodyOperation) -> BodyOperation:
    """Holes at all points of a sketch as holes at each of those that it has now: points are fed one by one."""
    if not isinstance(operation, Hole):
        return operation
    known = {o.id: o for o in assembly.build if isinstance(o, Sketch)}
    places: list[HolePlace] = []
    for place in operation.places:
        sketch = known.get(place.at.item) if not place.at.label and place.x is None else None
        if sketch is None:
            places.append(place)
            continue
        drawn = [
            k for k, c in sketch.curves.items() if isinstance(c, Point) or (isinstance(c, Circle) and not c.helper)
        ]
        places += [
            edits.replace(place, at=edits.replace(place.at, label=k)) for k in drawn if k not in operation.left_out
        ]
    return edits.replace(operation, places=tuple(places), left_out=())


def _alike_everywhere(operation: Hole) -> bool:
    """Whether holes are the same in a part by itself as in a stack: nothing of them is measured from where they meet material."""
    if operation.near is not None and operation.near != "outside":
        return True
    sunk = isinstance(operation.by, (ForScrew, Matching)) and operation.by.sunk
    flush = isinstance(operation.by, ForScrew) and operation.by.head == "flat"
    recessed = operation.counterbore is not None or operation.countersink is not None or operation.step is not None
    return not (sunk or flush or recessed or isinstance(operation.far, Distance))


def uses_of(family: Family, documents: Container[str]) -> int:
    """How many instances of the family show some documents."""
    return sum(i.document in documents for d in family.documents.values() for i in getattr(d, "instances", ()))


def _everywhere(switch: Switch) -> Switch:
    """A switch without what it says of rows and alternates that only its own document has."""
    return Switch(default=switch.default)


def _let_go(family: Family, assembly_id: str) -> Family:
    """Bodies that an assembly works on no more are not brought in any longer."""
    assembly = edits.assembly(family, assembly_id)
    used: set[str] = set()
    for o in assembly.build:
        if isinstance(o, BodyOperation) and not isinstance(o, BringIn):
            used |= set(o.changes)
    for o in assembly.build:
        used |= {p.item for p in _references(o) if p.of == SELF} if not isinstance(o, BringIn) else set()
    for o in [o for o in assembly.build if isinstance(o, BringIn)]:
        kept = {k: b for k, b in o.bodies.items() if k in used}
        if kept and kept != o.bodies:
            family = edits.replace_operation(family, assembly_id, edits.replace(o, bodies=kept))
        elif not kept:
            family = edits.delete_item(family, assembly_id, o.id)
    assembly = edits.assembly(family, assembly_id)
    made = {b for o in assembly.build if isinstance(o, BodyOperation) for b in o.makes}
    return edits.put(family, edits.replace(assembly, bodies={k: b for k, b in assembly.bodies.items() if k in made}))


def _references(record: Any) -> list[Reference]:
    return [p for p in pointers(record) if isinstance(p, Reference)]


class _Mover:
    """Rewrites a record of one document as it is known in another, with sockets for what has to be fed there."""

    def __init__(
        self, family: Family, source: Model, target: str, context: Context, bodies: dict[str, str], make_id: IdSource
    ) -> None:
        self.family, self.source, self.target, self.context = family, source, target, context
        self.bodies, self.make_id = bodies, make_id
        self.sockets: dict[str, Socket] = {}
        self.known = index(source)

    def moved(self, record: Any) -> Any:
        """A record with every pointer in it as the target knows it; bodies that do not go along are left out of lists."""
        return rewritten(record, self._known_there, lambda v: not (isinstance(v, str) and self._other(v)))

    def _known_there(self, value: Reference | Expression | str) -> Any:
        if isinstance(value, Reference):
            return self._reference(value)
        return self._expression(value) if isinstance(value, Expression) else self.bodies.get(value, value)

    def _other(self, key: str) -> bool:
        """Whether a text is the id of a body that does not go along."""
        return isinstance(self.known.get(key), Body) and key not in self.bodies

    def _reference(self, reference: Reference) -> Reference:
        if reference.of != SELF:
            return reference
        if reference.item in self.bodies:
            return msgspec.structs.replace(reference, item=self.bodies[reference.item], stage="here")
        record = self.known.get(reference.item)
        if isinstance(record, Body):
            told = f"it takes a face or edge of {record.name}, which is another part"
            raise UserFault(told, self.source.name, "end it elsewhere first")
        takes, label, part = self._taken(reference, record)
        same = next(
            (
                k
                for k, s in self.sockets.items()
                if (s.takes, s.source.item, s.source.label) == (takes, reference.item, label)
            ),
            "",
        )
        key = same or self.make_id()
        of = self.source.id
        source = msgspec.structs.replace(
            reference, of=of, label=label, stage="finished", context=self.context, configuration=MATCH
        )
        if isinstance(record, Socket):  # what the assembly is fed itself is taken where it comes from
            source = msgspec.structs.replace(record.source, context=record.source.context or self.context)
            takes = record.takes
        self.sockets[key] = Socket(takes=takes, source=source)
        return Reference(item=key, label=part)

    def _taken(self, reference: Reference, record: Any) -> tuple[Takes, str, str]:
        """As what something is fed, which label it has there, and which label the socket gives it here.

        Raises:
            UserFault: it cannot be fed.
        """
        if isinstance(record, Sketch):
            if not reference.label:
                return "plane", "", ""
            drawn = taken_apart(reference.label)[0] in record.curves
            return ("curve" if drawn else "region"), reference.label, ""
        if isinstance(record, Datum):
            takes: dict[str, Takes] = {"plane": "plane", "axis": "axis", "point": "vertex"}
            return takes[record.gives], "", ""
        if isinstance(record, Socket):
            return record.takes, record.source.label, reference.label
        named = getattr(record, "name", f"the {reference.item} of the assembly")
        raise UserFault(f"{named} cannot be fed to a part", self.source.name, "use a datum or a sketch instead")

    def _expression(self, expression: Expression) -> Expression:
        of, to = self.source.id, self.target
        said = {}
        for key, ref in expression.refs.items():
            document = of if ref.document == SELF else ref.document
            inside = isinstance(self.known.get(ref.item), Constraint) and ref.document == SELF
            said[key] = msgspec.structs.replace(ref, document=SELF if document == to and not inside else document)
        return msgspec.structs.replace(expression, refs=said)


def feeder(part: Model, operation: BodyOperation) -> Context | None:
    """How a part is seen in the assembly that feeds one of its operations; None when none does."""
    sockets = {k: s for f in part.feeds.values() for k, s in f.sockets.items()}
    for p in _references(operation):
        source = sockets[p.item].source if p.of == SELF and p.item in sockets else None
        seen = source.context if source is not None else None
        if source is not None and seen is not None and source.of == seen.path[0] and seen.home:
            return seen
    return None


def fetch(family: Family, part_id: str, operation_id: str, make_id: IdSource = new_id) -> tuple[Family, str]:
    """Make an operation of a part, that is fed by an assembly, one of that assembly, on the instance that it is seen in.

    Returns:
        The family, and the id of the assembly.

    Raises:
        UserFault: nothing that it takes comes from an assembly that places the part.
    """
    part = edits.model(family, part_id)
    operation = edits.operation(family, part_id, operation_id)
    sockets = {k: s for f in part.feeds.values() for k, s in f.sockets.items()}
    context = feeder(part, operation) if isinstance(operation, BodyOperation) else None
    if context is None or not isinstance(operation, BodyOperation):
        raise UserFault("nothing that it takes comes from an assembly", operation.name, "it can only stay in its part")
    assembly = edits.assembly(family, context.path[0])
    bodies = [InPlace(context.home, Scope(part_id, ""), b) for b in operation.changes]
    family, ids = working.work_on(family, assembly.id, bodies, make_id=make_id)
    own = {b.body: key for b, key in ids.items()}

    def back(value: Reference | Expression | str) -> Any:
        if isinstance(value, str):
            return own.get(value, value)
        if isinstance(value, Expression):
            to = {SELF: part_id, assembly.id: SELF}
            refs = {
                k: msgspec.structs.replace(r, document=to.get(r.document, r.document)) for k, r in value.refs.items()
            }
            return msgspec.structs.replace(value, refs=refs)
        if value.of != SELF:
            return value
        if value.item in own:
            return msgspec.structs.replace(value, item=own[value.item])
        if value.item not in sockets or sockets[value.item].source.of != assembly.id:
            told = "it takes from more than the assembly" if value.item in sockets else "it takes something of its part"
            raise UserFault(told, operation.name, "it can only stay in its part")
        source = sockets[value.item].source
        return msgspec.structs.replace(source, of=SELF, context=None, label=source.label or value.label)

    made = rewritten(operation, back)
    name = names.free_name(operation.name, [o.name for o in edits.assembly(family, assembly.id).build])
    made = edits.replace(made, id=make_id(), name=name, stretch="", switch=_everywhere(operation.switch))
    family = edits.add_operation(family, assembly.id, made)
    family = edits.delete_item(family, part_id, operation_id)
    used = {p.item for o in edits.model(family, part_id).build for p in _references(o) if p.of == SELF}
    for key, feed in edits.model(family, part_id).feeds.items():
        mine = [s for s in feed.sockets if s in {p.item for p in _references(operation)}]
        if mine and not used & set(feed.sockets):
            family = edits.delete_item(family, part_id, key)
    return family, assembly.id
