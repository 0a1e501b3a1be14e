"""Which document is built from which bodies of a master, and taking one or leaving it."""

from __future__ import annotations

from typing import NamedTuple

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.family import edits
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.bodies.bring_in import BringIn, fed_bodies
from architectonic.family.records import Family, Model
from architectonic.family.scopes import Scope
from architectonic.session.assembly import working


class Built(NamedTuple):
    """A document that can be built from bodies of a master, and the ids that those which it takes have in it."""

    document: str
    takes: dict[str, str]


def built_from(family: Family, master: str) -> list[Built]:
    """All documents that may be built from a master: those that are first, then parts that take nothing of it."""
    found = [
        Built(d.id, taken_of(d, master))
        for d in family.documents.values()
        if isinstance(d, Model) and d.id != master and d.makes_bodies
    ]
    return sorted((b for b in found if b.takes or _is_part(family, b.document)), key=lambda b: not b.takes)


def _is_part(family: Family, document: str) -> bool:
    return family.documents[document].kind == "part"


def taken_of(document: Model, master: str) -> dict[str, str]:
    """The ids that bodies of a master have in a document that brings them in, by their ids in the master."""
    known = fed_bodies(document.build, document.feeds.values())
    return {item: key for key, (of, item) in known.items() if of == master}


def take(family: Family, master: str, document_id: str, body: str, make_id: IdSource = new_id) -> Family:
    """Bring a body of a master into a document, with those that it takes already where there are some."""
    document = edits.model(family, document_id)
    known = taken_of(document, master)
    family, made = working.feed_bodies(family, document_id, Scope(master, ""), [body], make_id=make_id)
    if not known:
        return family
    first = next(o for o in document.build if isinstance(o, BringIn) and set(o.bodies) & set(known.values()))
    here = edits.model(family, document_id)
    last = next(o for o in here.build if isinstance(o, BringIn) and made[body] in o.bodies)
    if last.id == first.id:
        return family
    moved = edits.replace(first, bodies={**first.bodies, made[body]: last.bodies[made[body]]})
    rest = {k: b for k, b in last.bodies.items() if k != made[body]}
    family = edits.replace_operation(family, document_id, moved)
    if rest:
        return edits.replace_operation(family, document_id, edits.replace(last, bodies=rest))
    return edits.delete_item(family, document_id, last.id)


def leave(family: Family, master: str, document_id: str, body: str) -> Family:
    """Let a document do without a body of a master.

    Raises:
        UserFault: its operations go on with the body; they are named.
    """
    document = edits.model(family, document_id)
    key = taken_of(document, master)[body]
    users = [
        o.name
        for o in document.build
        if not isinstance(o, BringIn) and isinstance(o, BodyOperation) and key in o.changes
    ]
    others = [record for _, _, record in edits.users(family, document_id, key) if not isinstance(record, BringIn)]
    users += [getattr(r, "name", "") or document.name for r in others]
    if users:
        told = ", ".join(dict.fromkeys(users))
        raise UserFault(f"{document.bodies[key].name} is used by {told}", document.name, "take it out of these first")
    operation = next(o for o in document.build if isinstance(o, BringIn) and key in o.bodies)
    socket = operation.bodies[key].source.item
    left = {k: b for k, b in operation.bodies.items() if k != key}
    if left:
        family = edits.replace_operation(family, document_id, edits.replace(operation, bodies=left))
        family = edits.delete_item(family, document_id, key)
    else:
        family = edits.delete_item(family, document_id, operation.id)
    feed_id, feed = next((k, f) for k, f in edits.model(family, document_id).feeds.items() if socket in f.sockets)
    rest = {k: s for k, s in feed.sockets.items() if k != socket}
    if not rest:
        return edits.delete_item(family, document_id, feed_id)
    here = edits.model(family, document_id)
    return edits.put(family, edits.replace(here, feeds={**here.feeds, feed_id: edits.replace(feed, sockets=rest)}))
