"""Edits of build lists, bodies, feeds and instances."""

from __future__ import annotations

from architectonic.base import ids as id_source
from architectonic.base import rigid
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.base.labels import atoms
from architectonic.family import names, scopes, stretches
from architectonic.family.edits.documents import assembly, document, model, put, replace, replace_operation
from architectonic.family.operations.base import BodyOperation, Turned
from architectonic.family.operations.bodies.bring_in import BringIn
from architectonic.family.records import (
    SELF,
    AnyOperation,
    Body,
    Family,
    Feed,
    Instance,
    Model,
    Reference,
)
from architectonic.family.references import operation_of
from architectonic.family.walk import pointers
from architectonic.quantities.compiled import TRUTH


def add_operation(family: Family, document_id: str, operation: AnyOperation, before: str = "") -> Family:
    """Put an operation into the build list, at its end or before another."""
    found = model(family, document_id)
    if not found.holds_bodies and isinstance(operation, BodyOperation):
        raise UserFault(f"a {found.kind} holds sketches and datums, no solids", found.name, "make a part for it")
    if not found.makes_bodies and isinstance(operation, BodyOperation) and not isinstance(operation, BringIn):
        if operation.makes:
            told = "an assembly works on bodies of its parts, it makes none"
            raise UserFault(told, operation.name, "cut, add or overlap, or start a part here")
    names.check_name(operation.name, [o.name for o in found.build], "operation")
    if before:
        at = next(i for i, o in enumerate(found.build) if o.id == before)
        build = (*found.build[:at], operation, *found.build[at:])
    else:
        build = (*found.build, operation)
    return put(family, replace(found, build=stretches.settled(build, {operation.id})))


def operation(family: Family, document_id: str, operation_id: str) -> AnyOperation:
    """An operation by id."""
    for found in model(family, document_id).build:
        if found.id == operation_id:
            return found
    raise UserFault("this operation is not there any more", document(family, document_id).name)


def condition(family: Family, document_id: str, text: str) -> Turned | None:
    """What is typed into a switch: `on`, `off`, or when it is on, as a comparison; nothing follows the others.

    Raises:
        UserFault: it is no comparison, or cannot be used.
    """
    word = text.strip().casefold()
    if word in ("", "on", "off"):
        return None if not word else word == "on"
    return names.bind(family, document(family, document_id), text.strip(), TRUTH)


def set_switch(family: Family, document_id: str, operation_id: str, on: Turned | None, cell: str = "") -> Family:
    """Switch an operation on or off in one size or row, or by default (cell ""); None inherits again."""
    found = operation(family, document_id, operation_id)
    return replace_operation(family, document_id, replace(found, switch=found.switch.turned(on, cell)))


def sources_of(document: Model, operation: AnyOperation) -> set[str]:
    """Ids of operations of the same list that one needs before it: what it points at, and what made its bodies."""
    found: set[str] = set()
    for p in pointers(operation):
        if isinstance(p, Reference) and p.of == SELF:
            found |= {p.item, operation_of(p.stage)}
            found |= {a.split(":")[0] for a in atoms(p.label)}
    changed = set(operation.changes) if isinstance(operation, BodyOperation) else set()
    found |= {o.id for o in document.build if isinstance(o, BodyOperation) and changed & set(o.makes)}
    return found - {operation.id}


def move_operations(family: Family, document_id: str, moved: tuple[str, ...], before: str = "") -> Family:
    """Put operations, in the order that they have, before another one or at the end of the build list.

    Raises:
        UserFault: an operation would come before one that it takes from.
    """
    found = model(family, document_id)
    taken = [o for o in found.build if o.id in moved]
    rest = [o for o in found.build if o.id not in moved]
    at = next((i for i, o in enumerate(rest) if o.id == before), len(rest))
    order = [*rest[:at], *taken, *rest[at:]]
    position = {o.id: i for i, o in enumerate(order)}
    for o in order:
        for source in sources_of(found, o):
            if position.get(source, -1) > position[o.id]:
                what = f"“{o.name}” takes from “{order[position[source]].name}” and must stay after it"
                raise UserFault(what, found.name)
    build = tuple(order) if len(taken) > 1 else stretches.settled(tuple(order), set(moved))
    return put(family, replace(found, build=build))


def add_body(family: Family, document_id: str, body_id: str, body: Body) -> Family:
    """Say a body's name and properties."""
    found = model(family, document_id)
    names.check_name(body.name, [b.name for k, b in found.bodies.items() if k != body_id], "body")
    return put(family, replace(found, bodies={**found.bodies, body_id: body}))


def add_feed(family: Family, document_id: str, feed_id: str, feed: Feed) -> Family:
    """Record what a document takes from a driver."""
    found = model(family, document_id)
    return put(family, replace(found, feeds={**found.feeds, feed_id: feed}))


def feed_of(family: Family, document_id: str, socket_id: str) -> tuple[str, Feed]:
    """The feed that a socket stands in, with its id.

    Raises:
        UserFault: no feed of the document has it.
    """
    found = model(family, document_id)
    for key, feed in found.feeds.items():
        if socket_id in feed.sockets:
            return key, feed
    raise UserFault("this feed is not there any more", found.name)


def repoint(
    family: Family, document_id: str, socket_id: str, source: Reference, renamed: dict[str, str] | None = None
) -> Family:
    """Let a socket hold something else of the same kind; nothing downstream changes.

    Args:
        renamed: the names that downstream work knows, by the labels of the new source.
    """
    key, feed = feed_of(family, document_id, socket_id)
    socket = replace(feed.sockets[socket_id], source=source, map=renamed or {})
    return add_feed(family, document_id, key, replace(feed, sockets={**feed.sockets, socket_id: socket}))


def take_alternate(family: Family, document_id: str, feed_id: str, alternate: str) -> Family:
    """Say which alternate of its source a feed takes; "" for its first.

    Raises:
        UserFault: the feed or the alternate is gone.
    """
    found = model(family, document_id)
    if feed_id not in found.feeds:
        raise UserFault("this feed is not there any more", found.name)
    feed, sockets = found.feeds[feed_id], {}
    for key, socket in feed.sockets.items():
        source = family.documents.get(socket.source.of)
        if alternate and (source is None or all(a.id != alternate for a in scopes.alternates(source))):
            raise UserFault("its source has no such alternate", feed.name, "choose another one")
        sockets[key] = replace(socket, source=replace(socket.source, alternate=alternate))
    return add_feed(family, document_id, feed_id, replace(feed, sockets=sockets))


def take_configuration(family: Family, document_id: str, feed_id: str, configuration: str, chosen: str = "") -> Family:
    """Say which configuration of its source a feed takes: "match", a fixed size or row, or the one an expression names.

    Raises:
        UserFault: the expression cannot be used; the feed is gone.
    """
    found = model(family, document_id)
    if feed_id not in found.feeds:
        raise UserFault("this feed is not there any more", found.name)
    feed, sockets = found.feeds[feed_id], {}
    for key, socket in feed.sockets.items():
        bound = names.bind_choice(family, found, chosen, socket.source.of) if chosen else None
        sockets[key] = replace(socket, source=replace(socket.source, configuration=configuration, chosen=bound))
    return add_feed(family, document_id, feed_id, replace(feed, sockets=sockets))


def add_instance(
    family: Family,
    document_id: str,
    source_id: str,
    name: str = "",
    new_id: IdSource = id_source.new_id,
    placement: rigid.Rigid = (),
) -> Family:
    """Place a part or assembly, on the shared origin unless it is said where.

    Raises:
        UserFault: an assembly would contain itself, or the placement stretches or mirrors.
    """
    if placement and not rigid.is_rigid(placement):
        raise UserFault("this placement stretches or mirrors", name, "give 16 numbers that turn and shift alone")
    found, source = assembly(family, document_id), document(family, source_id)
    if source_id == document_id or document_id in contained(family, source_id):
        raise UserFault(f"“{source.name}” contains this assembly; it cannot be placed in itself", found.name)
    taken = [i.name for i in found.instances]
    name = names.check_name(name, taken, "instance") if name else names.free_name(source.name, taken)
    made = Instance(
        id=new_id(), name=name, document=source_id, placement=placement if placement != rigid.IDENTITY else ()
    )
    return put(family, replace(found, instances=(*found.instances, made)))


def contained(family: Family, document_id: str) -> set[str]:
    """Ids of all documents placed below one in any alternate, however deep."""
    found, stack = set(), [document_id]
    while stack:
        for instance in getattr(family.documents.get(stack.pop()), "instances", ()):
            for fill in instance.every_fill:
                if fill.document and fill.document not in found:
                    found.add(fill.document)
                    stack.append(fill.document)
    return found
