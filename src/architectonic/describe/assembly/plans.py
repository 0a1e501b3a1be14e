"""Assemblies: what each instance shows, where it stands, and their mass and size."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from architectonic.base import rigid
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.recipes import PlacedInput
from architectonic.describe.references.value import plan_filled
from architectonic.describe.results import ModelState, Node, NodeFault, Outcome, Plan, Recipe, Value, fault, needed
from architectonic.describe.view import View
from architectonic.family import scopes
from architectonic.family.records import Assembly, Instance
from architectonic.family.scopes import InPlace, Scope


class PlacedBody(NamedTuple):
    """A body below an instance.

    Attributes:
        body: its path begins with the instance; stands: where it stands in the assembly.
        box: x0, y0, z0, x1, y1, z1 in mm in the assembly.
    """

    body: InPlace
    stands: Rigid
    box: tuple[float, ...]


class Placed(Value, frozen=True):
    """An instance in place.

    Attributes:
        at: what it shows.
        placement: where it stands in the assembly.
        bodies: every body below it.
        mass: in g, None when any body has no density.
        box: x0, y0, z0, x1, y1, z1 in mm in the assembly, None without bodies.
    """

    at: Scope
    placement: Rigid
    bodies: tuple[PlacedBody, ...]
    mass: float | None
    box: tuple[float, ...] | None


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
        inner = needed(outcome)
        below = [(b.body._replace(path=(record.id, *b.body.path)), b.stands) for p in inner for b in p.bodies]
        mass = weighed(inner)
    else:
        (finished,) = yield [Node("finished", at, "")]
        state = needed(finished)
        assert isinstance(state, ModelState)
        below = [(InPlace((record.id,), at, b.id), IDENTITY) for b in state.bodies]
        masses = yield [Node("mass", at, b.body) for b, _ in below]
        mass = total_mass([_number(m) for m in masses])
    bodies = []
    for body, inside in below:
        stands = rigid.times(placement, inside)
        bodies.append(PlacedBody(body, stands, (yield from plan_box(body, stands))))
    return Placed(at, placement, tuple(bodies), mass, around([b.box for b in bodies]))


def plan_box(body: InPlace, stands: Rigid) -> Plan:
    """Sub-plan: the box of a body where it stands; a turned one is measured anew, from its geometry."""
    (measured,) = yield [Node("measure", body.at, body.body)]
    box = tuple(needed(measured)["box_mm"])
    if rigid.shifts_only(stands):
        return (*rigid.moved(stands, box[:3]), *rigid.moved(stands, box[3:]))
    (finished,) = yield [Node("finished", body.at, "")]
    made = yield Recipe("box", PlacedInput(stands), (needed(finished).shape(body.body),))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return made.value


def _number(outcome: Outcome) -> float | None:
    return None if outcome.value is None else float(outcome.value)


def total_mass(masses: list[float | None]) -> float | None:
    """The sum of masses, None when any is unknown or there are none; what has no bodies is left out before."""
    known = [m for m in masses if m is not None]
    return sum(known) if len(known) == len(masses) and masses else None


def weighed(placed: Iterable[Placed]) -> float | None:
    """The mass of placed things; those that are only planned yet do not count."""
    return total_mass([p.mass for p in placed if p.bodies])


def around(boxes: list[tuple[float, ...]]) -> tuple[float, ...] | None:
    """The box around boxes; None around nothing."""
    if not boxes:
        return None
    return tuple(min(b[i] for b in boxes) for i in range(3)) + tuple(max(b[i] for b in boxes) for i in range(3, 6))


def plan_assembly(view: View, node: Node) -> Plan:
    """All instances of an assembly in one configuration and alternate, those left out where nothing fills them."""
    document = view.document(node)
    assert isinstance(document, Assembly)
    outcomes = yield [Node("placed", node.at, i.id) for i in document.instances]
    return tuple(o.value for o in outcomes if o.value is not None)
