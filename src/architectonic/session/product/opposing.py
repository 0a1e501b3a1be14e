"""Opposite hands: a part that is the mirror image of another one up to where it was begun, and goes on by itself."""

from __future__ import annotations

from typing import Any, NamedTuple

import msgspec

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.describe.results import ModelState, Node
from architectonic.family import edits, names, scopes
from architectonic.family.documents.part import Part
from architectonic.family.hands import Hands, hands_of, shared_rows
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.bodies.bring_in import BringIn
from architectonic.family.operations.bodies.move import Mirror, Move
from architectonic.family.records import STANDARD, After, AnyOperation, Family, Feed, Reference, Socket
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.assembly import working
from architectonic.session.product import varying


def begin(
    family: Family,
    document_id: str,
    name: str,
    plane: Reference,
    bodies: tuple[str, ...] = (),
    upto: str = "",
    make_id: IdSource = new_id,
) -> tuple[Family, str]:
    """A part that is the mirror image of another one as it is after an operation.

    Args:
        plane: a standard plane, or a datum plane of the first part. bodies: all where none is given.
        upto: the operation that both still share; "" for the last one that there is now.

    Returns:
        The family, and the id of the part.

    Raises:
        UserFault: the first has no bodies there; the name is taken.
    """
    first = edits.part(family, document_id)
    solids = [o for o in first.build if isinstance(o, BodyOperation)]
    ids = [o.id for o in first.build]
    if not solids:
        raise UserFault("it has no bodies to mirror", first.name, "make one first")
    last = next((o.id for o in reversed(solids) if not upto or ids.index(o.id) <= ids.index(upto)), "")
    if not last:
        raise UserFault("it has no bodies at the marker", first.name, "put the marker further down")
    there = {b for o in solids if ids.index(o.id) <= ids.index(last) for b in o.makes}
    keys = [b for b in first.bodies if b in there and (b in bodies or not bodies) and not first.bodies[b].backdrop_only]
    if not keys:
        raise UserFault("none of these bodies is there yet", first.name, "put the marker further down")
    family, key = edits.add_document(family, "part", name, make_id)
    at = Scope(document_id, "")
    family, found = working.feed_bodies(family, key, at, keys, stage=After(after=last), make_id=make_id)
    if plane.item not in STANDARD:
        socket = make_id()
        feed = Feed(name="plane", sockets={socket: Socket(takes="plane", source=edits.replace(plane, of=first.id))})
        family = edits.add_feed(family, key, make_id(), feed)
        plane = Reference(item=socket)
    mirror = Move(id=make_id(), name="Opposite hand", acts_on=tuple(found.values()), by=Mirror(plane=plane))
    return edits.add_operation(family, key, mirror), key


def fork(family: Family, document_id: str) -> Family:
    """An opposite hand that shares nothing any more: what it shared becomes its own, and everything of its own stays.

    Raises:
        UserFault: it is no opposite hand.
    """
    hands = next((h for h in hands_of(family, document_id) if h.other == document_id), None)
    own = edits.part(family, document_id)
    if hands is None:
        raise UserFault("it is no opposite hand of another part", own.name, "choose one that is")
    first = edits.part(family, hands.first)
    brings = next(o for o in own.build if o.id == hands.brings)
    assert isinstance(brings, BringIn)
    held = {k: s.source.item for f in own.feeds.values() for k, s in f.sockets.items()}
    renamed = {held[b.source.item]: key for key, b in brings.bodies.items()}  # its bodies keep their ids
    rows, renamed_rows = _rows(family, first, own)
    shared = shared_rows(family, hands)
    made = {b for o in shared if isinstance(o, BodyOperation) for b in o.makes}
    taken = [p.name for p in own.parameters]
    copied = {
        "parameters": [
            msgspec.to_builtins(edits.replace(p, name=names.free_name(p.name, [*taken]))) for p in first.parameters
        ],
        "feeds": msgspec.to_builtins(first.feeds),
        "build": [msgspec.to_builtins(o) for o in shared],
        "bodies": {k: msgspec.to_builtins(b) for k, b in first.bodies.items() if k in made and k not in renamed},
    }
    data = _changed(copied, {**renamed, **renamed_rows, first.id: own.id})
    mine = msgspec.to_builtins(own)
    used = brings.bodies.values()
    gone = {b.source.item for b in used}
    feeds = {k: f for k, f in ((k, _without(f, gone)) for k, f in mine["feeds"].items()) if f.get("sockets")}
    place = next(k for k, o in enumerate(mine["build"]) if o["id"] == hands.brings)
    mine |= {
        "parameters": [*data["parameters"], *mine.get("parameters", [])],
        "feeds": {**data["feeds"], **feeds},
        "build": [*mine["build"][:place], *data["build"], *mine["build"][place + 1 :]],
        "bodies": {**mine["bodies"], **data["bodies"]},
        "configurations": [*mine.get("configurations", []), *rows],
    }
    return edits.put(family, msgspec.convert(mine, Part))


def _without(feed: dict[str, Any], sockets: set[str]) -> dict[str, Any]:
    return {**feed, "sockets": {k: s for k, s in feed["sockets"].items() if k not in sockets}}


def _rows(family: Family, first: Part, own: Part) -> tuple[list[Any], dict[str, str]]:
    """Rows that are to be added, and what each row of the first is called in its opposite hand: a row for the same size, or of the
    same name, else the size itself."""
    sizes = {r.size: r.id for r in own.configurations if r.size}
    called = {r.name: r.id for r in own.configurations}
    known: dict[str, str] = {}
    new = []
    for row in first.configurations:
        if row.size:
            known[row.id] = sizes.get(row.size, row.size)
        elif row.name in called:
            known[row.id] = called[row.name]
        else:
            new.append(row)
    return [_changed(msgspec.to_builtins(r), known) for r in new], known


def _changed(data: Any, ids: dict[str, str]) -> Any:
    """Plain data in which some ids are others, as values and as keys."""
    if isinstance(data, dict):
        return {ids.get(k, k): _changed(v, ids) for k, v in data.items()}
    if isinstance(data, (list, tuple)):
        return [_changed(v, ids) for v in data]
    return ids.get(data, data) if isinstance(data, str) else data


class HandDifference(NamedTuple):
    """What two hands differ in: what it is, how it is in the first and in the other, and the operation that it comes from.

    Attributes:
        document, operation: whose it is; "" of figures.
    """

    what: str
    first: str
    other: str
    document: str = ""
    operation: str = ""


NONE = "—"


def differences(evaluation: Evaluation, hands: Hands, configuration: str) -> list[HandDifference]:
    """What each hand has of its own, in the order of its build list, and figures that are not the same."""
    family = evaluation.family
    one, two = edits.model(family, hands.first), edits.model(family, hands.other)
    at, other = (scopes.scope(family, key, configuration) for key in (hands.first, hands.other))
    shared = {o.id for o in shared_rows(family, hands)}
    found = [
        HandDifference(o.name, _state(evaluation, at, o), NONE, one.id, o.id) for o in one.build if o.id not in shared
    ]
    followed = {hands.brings, hands.mirrors}
    found += [
        HandDifference(o.name, NONE, _state(evaluation, other, o), two.id, o.id)
        for o in two.build
        if o.id not in followed
    ]
    return found + [HandDifference(*line) for line in varying.unlike_figures(evaluation, at, other)]


def _state(evaluation: Evaluation, at: Scope, operation: AnyOperation) -> str:
    """How an operation of one hand stands."""
    if not isinstance(operation, BodyOperation):
        return "there"
    outcome = evaluation.outcomes.get(Node("state", at, operation.id))
    if outcome is not None and isinstance(outcome.value, ModelState) and outcome.value.status == "off":
        return "off"
    return "fails" if outcome is not None and outcome.problem is not None else "there"
