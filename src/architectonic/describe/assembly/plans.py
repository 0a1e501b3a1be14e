"""Assemblies: what each instance shows, and where it stands."""

from __future__ import annotations

from typing import NamedTuple

from architectonic.base import rigid
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.references.value import plan_filled
from architectonic.describe.results import ModelState, Node, Plan, Value, fault, needed
from architectonic.describe.view import View
from architectonic.family import scopes
from architectonic.family.records import Assembly, Instance
from architectonic.family.scopes import InPlace, Scope


class PlacedBody(NamedTuple):
    """A body below an instance: its path begins with the instance; where it stands in the assembly."""

    body: InPlace
    stands: Rigid


class Placed(Value, frozen=True):
    """An instance in place.

    Attributes:
        instance: its id; at: what it shows.
        placement: where it stands in the assembly.
        bodies: every body below it.
    """

    instance: str
    at: Scope
    placement: Rigid
    bodies: tuple[PlacedBody, ...]


def plan_placed(view: View, node: Node) -> Plan:
    """One instance: a part's bodies, or a sub-assembly's."""
    record = view.record(node)
    assert isinstance(record, Instance)
    at = yield from plan_filled(view, node, record)
    if at is None:
        raise fault("instance.nothing", "nothing stands here", "", "off")
    (posed,) = yield [Node("posed", node.at, "")]
    # bonds that cannot be fulfilled are told at themselves: what they would place stands where it started
    started = scopes.starts(view.family, node.at, record)[1] or IDENTITY
    placement = (posed.value.stands if posed.value is not None else {}).get(record.id) or started
    if not rigid.is_rigid(placement):
        raise fault("instance.placement", "its placement stretches or mirrors", "place it again")
    if isinstance(view.family.documents[at.document], Assembly):
        (outcome,) = yield [Node("assembly", at, "")]
        below = [(b.body._replace(path=(record.id, *b.body.path)), b.stands) for p in needed(outcome) for b in p.bodies]
    else:
        (finished,) = yield [Node("finished", at, "")]
        state = needed(finished)
        assert isinstance(state, ModelState)
        below = [(InPlace((record.id,), at, b.id), IDENTITY) for b in state.bodies]
    bodies = tuple(PlacedBody(body, rigid.times(placement, inside)) for body, inside in below)
    return Placed(record.id, at, placement, bodies)


def plan_assembly(view: View, node: Node) -> Plan:
    """All instances of an assembly in one configuration and alternate, those left out where nothing fills them."""
    document = view.document(node)
    assert isinstance(document, Assembly)
    outcomes = yield [Node("placed", node.at, i.id) for i in document.instances]
    return tuple(o.value for o in outcomes if o.value is not None)
