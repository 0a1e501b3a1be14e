"""Everything that a document comes to, by name, so that two evaluations can be told apart where no figure differs."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from typing import Any, NamedTuple

from architectonic.check.attention import configuration_name, is_gone
from architectonic.describe.assembly.plans import PlacedBody
from architectonic.describe.results import Frame, ModelState, Node, Outcome, SketchResult
from architectonic.describe.view import name_in
from architectonic.family.records import Family, use_of
from architectonic.family.scopes import alternate_name
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


def results(evaluation: Evaluation) -> dict[Result, Any]:
    """What is compared, by name; equal values mean equal geometry."""
    family, found = evaluation.family, dict[Result, Any]()
    for node, outcome in evaluation.outcomes.items():
        document = family.documents.get(node.document)
        if document is None:
            continue
        for thing, what, value in _of(evaluation, node, outcome):
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
