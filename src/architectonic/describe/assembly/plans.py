"""Assemblies: what each instance shows, and where it stands."""

from __future__ import annotations

from typing import NamedTuple

import msgspec

from architectonic.base import rigid
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.references.places import plan_line
from architectonic.describe.references.value import evaluate, plan_filled
from architectonic.describe.results import Axis, ModelState, Node, Plan, Value, fault, needed
from architectonic.describe.view import View
from architectonic.family import scopes
from architectonic.family.operations.bodies.bring_in import BringIn, brought_in
from architectonic.family.records import COPY, Assembly, Instance, use_of
from architectonic.family.scopes import InPlace, Scope
from architectonic.quantities.units import ANGLE, LENGTH, NUMBER


class PlacedBody(NamedTuple):
    """A body below an instance.

    Attributes:
        body: what it is; its path begins with the instance.
        stands: where its shape stands in the assembly.
        source, item: of which scope and body its shape is: those of the part, or of an assembly that works on it further.
    """

    body: InPlace
    stands: Rigid
    source: Scope
    item: str

    @property
    def worked(self) -> bool:
        """Whether an assembly works on it further than its part does."""
        return self.source != self.body.at

    def node(self, what: str) -> Node:
        """What of its shape, or of the scope that makes it."""
        return Node(what, self.source, "" if what == "finished" else self.item)


class Placed(Value, frozen=True):
    """An instance in place.

    Attributes:
        instance: its id; at: what it shows.
        placement: where it stands in the assembly.
        bodies: every body below it.
        item: the part item that alone is shown; "" for all of it.
    """

    instance: str
    at: Scope
    placement: Rigid
    bodies: tuple[PlacedBody, ...]
    item: str = ""


MOST_USES = 2000
"""Of one instance, in rows and rings."""


def plan_repeats(view: View, node: Node) -> Plan:
    """Where the further uses of an instance stand, as moves of the first in the assembly, in their order."""
    record = view.record(node)
    assert isinstance(record, Instance)
    found: list[Rigid] = [IDENTITY]
    for repeat in record.repeats:
        axis = yield from plan_line(view, node, repeat.axis, "")
        count = yield from evaluate(view, node, repeat.count, NUMBER)
        step = yield from evaluate(view, node, repeat.step, ANGLE if repeat.about else LENGTH)
        if count != round(count) or count < 1 or count * len(found) > MOST_USES:
            told = f"{record.name} stands {count:g} times"
            raise fault("instance.count", told, f"give a whole number from 1 to {MOST_USES // len(found)}")
        moves = [_along(axis, k * step, repeat.about) for k in range(round(count))]
        found = [rigid.times(move, one) for move in moves for one in found]
    return tuple(found[1:])


def _along(axis: Axis, value: float, about: bool) -> Rigid:
    """A shift along an axis, or a turn about it."""
    x, y, z = axis.direction
    if about:
        return rigid.about(axis.direction, value, axis.origin)
    return rigid.shift(x * value, y * value, z * value)


def _plan_copy(view: View, node: Node, instance: str, number: int) -> Plan:
    """A further use of an instance: as the first, elsewhere."""
    first, moves = yield [Node("placed", node.at, instance), Node("repeats", node.at, instance)]
    placed: Placed = needed(first)
    found: tuple[Rigid, ...] = needed(moves)
    if number > len(found):
        raise fault("instance.nothing", "it is not repeated so often here", "", "off")
    move = found[number - 1]
    return msgspec.structs.replace(
        placed,
        instance=node.item,
        placement=rigid.times(move, placed.placement),
        bodies=tuple(
            b._replace(body=b.body._replace(path=(node.item, *b.body.path[1:])), stands=rigid.times(move, b.stands))
            for b in placed.bodies
        ),
    )


def plan_placed(view: View, node: Node) -> Plan:
    """One instance: a part's bodies, or a sub-assembly's."""
    instance, number = use_of(node.item)
    if number:
        copy = yield from _plan_copy(view, node, instance, number)
        return copy
    record = view.record(node)
    assert isinstance(record, Instance)
    at = yield from plan_filled(view, node, record)
    if at is None:
        raise fault("instance.nothing", "nothing stands here", "", "off")
    (stands,) = yield [Node("stands", node.at, record.id)]
    placement, only = needed(stands), scopes.fill(view.family, node.at, record)[1].item
    if isinstance(view.family.documents[at.document], Assembly):
        (outcome,) = yield [Node("assembly", at, "")]
        below = [
            b._replace(body=b.body._replace(path=(record.id, *b.body.path))) for p in needed(outcome) for b in p.bodies
        ]
    else:
        (finished,) = yield [Node("finished", at, "")]
        state = needed(finished)
        assert isinstance(state, ModelState)
        wanted: tuple[str, ...] | None = None
        if only:
            (item,) = yield [Node("part_item", at, only)]
            wanted = needed(item)
        below = [
            PlacedBody(InPlace((record.id,), at, b.id), IDENTITY, at, b.id)
            for b in state.bodies
            if wanted is None or b.id in wanted
        ]
    bodies = tuple(b._replace(stands=rigid.times(placement, b.stands)) for b in below)
    return Placed(record.id, at, placement, bodies, only)


def plan_stands(view: View, node: Node) -> Plan:
    """Where something stands in the assembly; the item is the ids of the instances that lead to it, "" for the assembly.

    What stands there is not looked at: a part may take from an assembly that places it.
    """
    if not node.item:
        return IDENTITY
    head, _, rest = node.item.partition("/")
    instance, number = use_of(head)
    record = view.record(Node("", node.at, instance))
    assert isinstance(record, Instance)
    (posed,) = yield [Node("posed", node.at, "")]
    # bonds that cannot be fulfilled are told at themselves: what they would place stands where it started
    started = scopes.starts(view.family, node.at, record)[1] or IDENTITY
    placement = (posed.value.stands if posed.value is not None else {}).get(record.id) or started
    if not rigid.is_rigid(placement):
        raise fault("instance.placement", "its placement stretches or mirrors", "place it again")
    if number:
        (moves,) = yield [Node("repeats", node.at, instance)]
        if number > len(needed(moves)):
            raise fault("instance.nothing", "it is not repeated so often here", "", "off")
        placement = rigid.times(needed(moves)[number - 1], placement)
    if not rest:
        return placement
    at = yield from plan_filled(view, node, record)
    if at is None:
        raise fault("instance.nothing", "nothing stands here", "", "off")
    (inner,) = yield [Node("stands", at, rest)]
    return rigid.times(placement, needed(inner))


def plan_assembly(view: View, node: Node) -> Plan:
    """All instances of an assembly in one configuration and alternate, those left out where nothing fills them, with what
    the assembly itself makes of their bodies."""
    document = view.document(node)
    assert isinstance(document, Assembly)
    repeated = [i.id for i in document.instances if i.repeats]
    counted = yield [Node("repeats", node.at, key) for key in repeated]
    uses = {key: len(o.value or ()) for key, o in zip(repeated, counted, strict=True)}
    every = [
        key for i in document.instances for key in (i.id, *(f"{i.id}{COPY}{k + 1}" for k in range(uses.get(i.id, 0))))
    ]
    outcomes = yield [Node("placed", node.at, key) for key in every]
    placed: tuple[Placed, ...] = tuple(o.value for o in outcomes if o.value is not None)
    brought = [o for o in document.build if isinstance(o, BringIn)]
    if not brought:
        return placed
    (outcome, *came) = yield [Node("finished", node.at, ""), *(Node("state", node.at, o.id) for o in brought)]
    finished: ModelState = needed(outcome)
    before = {b.id for o in came if o.value is not None and o.value.status == "ok" for b in o.value.bodies}
    after = {b.id for b in finished.bodies}
    own = brought_in(brought)

    def worked(body: PlacedBody) -> PlacedBody | None:
        key = own.get((body.body.path, body.body.document, body.body.body))
        if key is None or key not in before:
            return body
        return PlacedBody(body.body, IDENTITY, node.at, key) if key in after else None

    return tuple(
        msgspec.structs.replace(p, bodies=tuple(w for b in p.bodies if (w := worked(b)) is not None)) for p in placed
    )
