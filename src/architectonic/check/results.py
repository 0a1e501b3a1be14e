"""Everything that a document comes to, by name, so that two evaluations can be told apart where no figure differs."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Iterator
from typing import Any, NamedTuple

from architectonic.check.attention import is_gone
from architectonic.describe.assembly.plans import PlacedBody
from architectonic.describe.results import Frame, ModelState, Node, Outcome, SketchResult
from architectonic.describe.view import name_in
from architectonic.family.names import unit_of, values_of
from architectonic.family.records import AnyDocument, Family, use_of
from architectonic.family.scopes import alternate_name, alternates, configuration_name, configurations
from architectonic.family.walk import index
from architectonic.propagate.evaluation import Evaluation


class Result(NamedTuple):
    """Where a result stands, and what of it: a shape, curves, a place.

    Attributes:
        thing: name of what it is of; what: shape, curves, place, picture, placement, source or status.
    """

    document: str
    configuration: str
    alternate: str | None
    thing: str
    what: str


def digest(value: object) -> str:
    """A short name for a result that is no figure."""
    return hashlib.blake2b(repr(value).encode(), digest_size=4).hexdigest()


def differing(before: Evaluation, after: Evaluation) -> tuple[list[Node], list[Node]]:
    """The nodes of two evaluations whose results can differ by what they are, or by what they are called."""
    old, new = before.outcomes, after.outcomes
    renamed = {
        key
        for key, document in after.family.documents.items()
        if _called(before.family, before.family.documents.get(key)) != _called(after.family, document)
    } | {key for key in before.family.documents if key not in after.family.documents}
    now = [n for n, o in new.items() if old.get(n) is not o]
    gone = old.keys() - new.keys()
    moved = {n for n in (*now, *gone) if n.what == "finished"}
    further = {n for n in new if n[0] == "assembly" and _shows(new[n], moved)} - set(now)  # they show what changed
    further |= {n for n in new if n.document in renamed} if renamed else set()
    now += [n for n in further if new[n] is old.get(n)]
    return [*gone, *(n for n in now if n in old)], now


def _shows(assembly: Outcome, moved: set[Node]) -> bool:
    return any(body.node("finished") in moved for placed in assembly.value or () for body in placed.bodies)


def _called(family: Family, document: AnyDocument | None) -> object:
    """All names that results of a document go by."""
    if document is None:
        return None
    rows = configurations(family, document)
    names = [(key, name_in(document, key)) for key in index(document)]
    bodies = [(key, body.name) for key, body in getattr(document, "bodies", {}).items()]
    values = [(key, item.id, unit_of(item)) for key, item in values_of(document)]
    return document.name, rows, [(a.id, a.name) for a in alternates(document)], names, bodies, values


def results(evaluation: Evaluation, nodes: Iterable[Node]) -> dict[Result, Any]:
    """What is compared, by name, of some nodes; equal values mean equal geometry."""
    family, found = evaluation.family, dict[Result, Any]()
    for node in nodes:
        document = family.documents.get(node.document)
        if document is None:
            continue
        for thing, what, value in _of(evaluation, node, evaluation.outcomes[node]):
            where = (configuration_name(family, node.at), alternate_name(family, node.at) or None)
            found[Result(document.name, *where, thing, what)] = value
    return found


def _of(evaluation: Evaluation, node: Node, outcome: Outcome) -> Iterator[tuple[str, str, Any]]:
    family, value = evaluation.family, outcome.value
    if outcome.problem is not None and node.what in ("state", "solve", "frame", "socket", "placed", "value"):
        if is_gone(family, node):  # asked for by those who lost it: there is nothing here any more
            return
        yield _name(family, node), "status", outcome.problem.what
    elif node.what == "finished" and isinstance(value, ModelState):
        if not getattr(family.documents[node.document], "makes_bodies", False):
            return  # what an assembly works on is told of the instances that show it
        for body in value.bodies:
            yield _name(family, node._replace(item=body.id)), "shape", (body.shape, digest(body.attributes))
    elif node.what == "solve" and isinstance(value, SketchResult):
        yield _name(family, node), "curves", digest((value.curves, value.regions))
    elif node.what == "frame":
        yield _name(family, node), "place", _place(value)
    elif node.what == "underlay":
        yield _name(family, node), "picture", digest(value)
    elif node.what == "socket":
        yield _name(family, node), "source", digest(value)
    elif node.what == "state" and isinstance(value, ModelState) and value.status == "off":
        yield _name(family, node), "status", "off"
    elif node.what == "assembly":
        for placed in value or ():
            keys = [(b.body.path, b.stands, _shape(evaluation, b)) for b in placed.bodies]
            instance, number = use_of(placed.instance)
            called = _name(family, node._replace(item=instance)) + (f" {number + 1}" if number else "")
            yield called, "placement", placed.placement
            yield called, "shape", digest(keys)


def _shape(evaluation: Evaluation, body: PlacedBody) -> str | None:
    state = evaluation.value(body.node("finished"))
    return state.shape(body.item) if isinstance(state, ModelState) else None


def _place(value: Any) -> Any:
    return [*value.origin, *value.normal, *value.x] if isinstance(value, Frame) else digest(value)


def _name(family: Family, node: Node) -> str:
    """What people call it."""
    return name_in(family.documents[node.document], node.item) or node.item
