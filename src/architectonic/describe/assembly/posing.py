"""Where instances come to stand by the joints and placement rules of their assembly."""

from __future__ import annotations

from typing import Any

import msgspec

from architectonic.assembly.entities import Bond as Held
from architectonic.assembly.entities import Coupled, Mount, RigidBody
from architectonic.base import rigid
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.references.places import plan_place
from architectonic.describe.references.planes import in_space, plan_plane, unit
from architectonic.describe.references.switched import is_on
from architectonic.describe.references.value import evaluate, plan_filled
from architectonic.describe.results import (
    Axis,
    Frame,
    Node,
    NodeFault,
    PlacedCurve,
    Plan,
    Recipe,
    Spot,
    Value,
    Vector,
    fault,
    needed,
)
from architectonic.describe.view import View
from architectonic.family import scopes
from architectonic.family.graph.coupling import followed
from architectonic.family.records import (
    MATCH,
    QUANTITY,
    SELF,
    STANDARD,
    STANDARD_PLANES,
    Assembly,
    Bond,
    BondValues,
    Mounting,
    Reference,
)
from architectonic.family.scopes import Scope
from architectonic.quantities import units


class Mounted(Value, frozen=True):
    """A place in its document's coordinates: a point, an axis and a direction across it."""

    point: Vector
    axis: Vector
    side: Vector


class BodyPose(Value, frozen=True, array_like=True):
    """An instance before it is placed."""

    id: str
    stands: Rigid
    fixed: bool


class BondInput(Value, frozen=True, array_like=True):
    """A bond as the solver reads it: of each end the instance, "" for the assembly, and the place on it.

    Attributes:
        coupled: of a value that follows one of another bond: its field, the other bond and field, ratio and offset.
    """

    id: str
    kind: str
    on: tuple[str, str]
    places: tuple[Mounted, Mounted]
    sense: int
    offset: float
    angle: float
    slide: float | None
    turn: float | None
    lead: float
    coupled: tuple[tuple[str, str, str, float, float], ...] = ()


class PoseInput(Value, frozen=True, array_like=True):
    """An assembly to place."""

    bodies: tuple[BodyPose, ...]
    bonds: tuple[BondInput, ...]


class Reached(Value, frozen=True, array_like=True):
    """How place b of a bond lies to place a, in the assembly's coordinates.

    Attributes:
        slide: how far along the axis, mm; turn: how far about it, rad in (-pi, pi].
        point, axis, side: of a.
    """

    slide: float
    turn: float
    point: Vector
    axis: Vector
    side: Vector


class Posed(Value, frozen=True):
    """Where instances stand.

    Attributes:
        stands: by instance.
        flipped: instances that were turned over to face as they are wanted to.
        reached: by bond, how b's place came to lie to a's.
    """

    stands: dict[str, Rigid]
    reached: dict[str, Reached] = {}
    flipped: tuple[str, ...] = ()


class Mobility(Value, frozen=True):
    """How freely instances can still move.

    Attributes:
        freedoms: independent small motions that are left to those that bonds hold.
        redundant: bonds that say nothing new.
        motions: a basis of those motions: by instance the shift of its origin (mm) and the turn (rad), six numbers, in the
            assembly's axes; () where there are very many.
        grips: of joints that can move or are driven, how well each moves what hangs on it, 1 to 0 (assembly.freedoms.grips).
    """

    freedoms: int = 0
    redundant: tuple[str, ...] = ()
    motions: tuple[dict[str, tuple[float, ...]], ...] = ()
    grips: dict[str, float] = {}

    @property
    def dead(self) -> tuple[str, ...]:
        """Joints at a dead centre."""
        return tuple(k for k, grip in self.grips.items() if grip < DEAD)


DEAD = 5e-3
"""A joint that moves what hangs on it less than this is at a dead centre."""


def mounting(reference: Reference) -> str:
    """A place of a document, as the label of a node of that document."""
    own = msgspec.structs.replace(reference, of=SELF, context=None, configuration=MATCH, chosen=None)
    return msgspec.json.encode(own).decode()


def plan_mounted(view: View, node: Node) -> Plan:
    """What the node's label spells out, as a point with an axis."""
    if node.item:
        found = yield from _plan_within(view, node)
        return found
    reference = msgspec.json.decode(node.label, type=Reference)
    flat = reference.witness is not None and reference.witness.kind == "plane"
    if reference.item in STANDARD_PLANES or flat:
        value: Any = yield from plan_plane(view, node, reference, "")
    else:
        value = yield from plan_place(view, node, reference)
    found = mounted(value)
    drawn = not reference.label or reference.witness is None  # a datum or a drawn line has the direction it was given
    return found if drawn or flat else msgspec.structs.replace(found, axis=upward(found.axis))


def _plan_within(view: View, node: Node) -> Plan:
    """A place on an instance of this assembly, as it stands here; the node's item is the way to it."""
    head, _, rest = node.item.partition("/")
    (placed,) = yield [Node("placed", node.at, head)]
    inner = needed(placed)
    (outcome,) = yield [Node("mounted", inner.at, rest, node.label)]
    place: Mounted = needed(outcome)
    return moved(inner.placement, place)


def moved(by: Rigid, place: Mounted) -> Mounted:
    """A place taken along."""
    return Mounted(rigid.moved(by, place.point), rigid.turned(by, place.axis), rigid.turned(by, place.side))


def mounted(value: Any) -> Mounted:
    """A plane by its normal, a line along itself, a circle about its middle, a point with the document's axes.

    Raises:
        NodeFault: it has neither a point nor an axis.
    """
    if isinstance(value, Frame):
        return Mounted(value.origin, value.normal, value.x)
    if isinstance(value, Axis):
        return Mounted(value.origin, value.direction, across(value.direction))
    if isinstance(value, Spot):
        return Mounted(value.at, (0.0, 0.0, 1.0), (1.0, 0.0, 0.0))
    if isinstance(value, PlacedCurve) and value.curve.kind in ("line", "circle", "arc"):
        return _of_curve(value)
    raise fault("bond.place", "this has no point or axis to place by", "pick a face, an edge, a vertex or a datum")


def _of_curve(placed: PlacedCurve) -> Mounted:
    v, frame = placed.curve.values, placed.frame
    if placed.curve.kind == "line":
        start, end = in_space(frame, (v[0], v[1])), in_space(frame, (v[2], v[3]))
        along = unit((end[0] - start[0], end[1] - start[1], end[2] - start[2]))
        return Mounted(start, along, across(along))
    return Mounted(in_space(frame, (v[0], v[1])), frame.normal, frame.x)


def upward(axis: Vector) -> Vector:
    """An axis along its largest part: which way a round face or an edge runs is nobody's choice, so that a turn about it counts
    as one about the x, y or z that it is nearest to."""
    largest = max(range(3), key=lambda k: (round(abs(axis[k]), 9), -k))
    return axis if axis[largest] > 0 else (-axis[0], -axis[1], -axis[2])


def across(axis: Vector) -> Vector:
    """A direction square to an axis, the same for the same axis: of the document's axes the one it leans to least, made square."""
    least = min(range(3), key=lambda k: (abs(axis[k]), k))
    picked = [float(k == least) for k in range(3)]
    share = axis[least]
    square = [p - share * a for p, a in zip(picked, axis, strict=True)]
    size = sum(c * c for c in square) ** 0.5
    return (square[0] / size, square[1] / size, square[2] / size)


def plan_posed(view: View, node: Node) -> Plan:
    """All instances of an assembly that bonds place; none where there are no bonds."""
    given = yield from plan_pose_input(view, node)
    if given is None:
        return Posed({})
    made = yield Recipe("pose", given, ())
    if made.problem is not None:
        named = {b.id: b.name for b in view.document(node).bonds}  # type: ignore[attr-defined]
        told = ", ".join(name for key, name in named.items() if key in made.problem.candidates)
        raise NodeFault(msgspec.structs.replace(made.problem, what=made.problem.what.format(told)))
    return made.value


def plan_mobility(view: View, node: Node) -> Plan:
    """How freely those that bonds hold can still move, and which bonds say nothing new."""
    given = yield from plan_pose_input(view, node)
    (outcome,) = yield [Node("posed", node.at, "")]
    posed: Posed = needed(outcome)
    if given is None:
        return Mobility()
    made = yield Recipe("mobility", where_they_stand(given, posed), ())
    return made.value


def where_they_stand(given: PoseInput, posed: Posed) -> PoseInput:
    """An assembly with its bodies where their bonds have brought them."""
    now = tuple(msgspec.structs.replace(b, stands=posed.stands[b.id]) for b in given.bodies)
    return PoseInput(now, given.bonds)


def plan_pose_input(view: View, node: Node) -> Plan:
    """Sub-plan: what there is to solve, None without bonds. A bond that is off, or on an instance that nothing fills, says nothing."""
    document = view.document(node)
    assert isinstance(document, Assembly)
    if not document.bonds:
        return None
    shown: dict[str, Scope] = {"": node.at}
    for instance in document.instances:
        at = yield from plan_filled(view, node, instance)
        if at is not None:
            shown[instance.id] = at
    empty = {i.id for i in document.instances} - shown.keys()
    bonds = []
    for bond in document.bonds:
        on = yield from is_on(view, node, bond)
        if on and not empty & {bond.a.instance, bond.b.instance}:
            bonds.append((yield from _plan_bond(view, node, bond, shown)))
    bodies = tuple(
        BodyPose(i.id, scopes.starts(view.family, node.at, i)[1] or IDENTITY, i.fixed)
        for i in document.instances
        if i.id in shown
    )
    return PoseInput(bodies, tuple(bonds))


def _plan_bond(view: View, node: Node, bond: Bond, shown: dict[str, Scope]) -> Plan:
    places = []
    for end in (bond.a, bond.b):
        places.append((yield from _plan_end(view, bond, end, shown)))
    if bond.apart:
        places[1] = moved(bond.apart, places[1])
    found: dict[str, float | None] = {}
    coupled = []
    for field in BondValues.__struct_fields__:
        free = followed(view.family, node.at, bond, field)
        if free:
            found[field] = None
            coupled.append((yield from _plan_coupled(view, node, bond, field, free)))
        else:
            found[field] = yield from plan_driven(view, node, bond, field)
    facing = bond.facing or bond.kind == "against"
    return BondInput(
        bond.id, bond.kind, (bond.a.instance, bond.b.instance), (places[0], places[1]), -1 if facing else 1,
        found["offset"] or 0.0, found["angle"] or 0.0, found["slide"], found["turn"], found["lead"] or 0.0, tuple(coupled),
    )  # fmt: skip


PROBES = (0.0, 1.0, 2.5)
"""Values of a free joint at which it is seen what one that follows it does: two make a ratio, the third checks it."""


def _plan_coupled(view: View, node: Node, bond: Bond, field: str, free: tuple[Bond, ...]) -> Plan:
    """Sub-plan: how a value follows the free joint that its expression names.

    Raises:
        NodeFault: it names several, or is not a plain ratio of it.
    """
    if len(free) > 1:
        told = f"{bond.name} follows {' and '.join(o.name for o in free)}, which are both free"
        raise fault("bond.coupling", told, "let it follow one of them, and drive the other")
    (source,) = free
    _, expression = scopes.driven(view.family, node.at, bond, field)
    assert expression is not None
    key = next(k for k, r in expression.refs.items() if r.item == source.id)
    found = []
    for probe in PROBES:
        found.append((yield from evaluate(view, node, expression, units.QUANTITIES[QUANTITY[field]], {key: probe})))
    offset, ratio = found[0], (found[1] - found[0]) / (PROBES[1] - PROBES[0])
    if abs(offset + ratio * PROBES[2] - found[2]) > 1e-9 * (1 + abs(found[2])):
        told = f"{bond.name} follows {source.name}, which is free, by more than a ratio"
        raise fault("bond.coupling", told, f"drive {source.name}, or write a number times it")
    return (field, source.id, source.moves, ratio, offset)


def plan_driven(view: View, node: Node, bond: Bond, field: str) -> Plan:
    """Sub-plan: a value of a bond in mm or rad, None where nothing drives it."""
    _, expression = scopes.driven(view.family, node.at, bond, field)
    if expression is None:
        return None
    value = yield from evaluate(view, node, expression, units.QUANTITIES[QUANTITY[field]])
    return value


def _plan_end(view: View, bond: Bond, end: Mounting, shown: dict[str, Scope]) -> Plan:
    """One end of a bond, worked out in the document that its instance shows."""
    if end.instance not in shown:
        raise fault(
            "bond.instance", f"what {bond.name} holds is not placed any more", "point it at another one", "missing"
        )
    at = shown[end.instance]
    place = end.others.get(at.document, end.place)
    if end.instance and not end.within and place.item not in STANDARD and place.of != at.document:
        filler = view.family.documents[at.document].name
        mend = "pick the place there, or fill it with something that has one of the same name"
        raise fault("bond.place", f"{bond.name} has no place on {filler}", mend, "missing")
    (outcome,) = yield [Node("mounted", at, "/".join(end.within), mounting(place))]
    return needed(outcome, f"a place of {bond.name}")


def compute_pose(payload: PoseInput) -> Posed:
    """The recipe: solve.

    Raises:
        NodeFault: bonds that cannot all be true; the problem's candidates are their ids.
    """
    from architectonic.assembly.reached import reach
    from architectonic.assembly.solve import solve

    bodies, bonds = numbers(payload)
    found = solve(bodies, bonds)
    if found.conflict:
        raise fault(
            "assembly.conflict",
            "these cannot all be true: {}",
            "change one of them or take it back",
            "conflict",
            found.conflict,
        )
    reached = {b.id: Reached(*reach(b, found.stands)) for b in bonds}
    return Posed({b.id: found.stands[b.id] for b in bodies}, reached, found.flipped)


MANY = 60
"""Bonds up to which dead centres are looked for, and motions are told one by one."""


def compute_mobility(payload: PoseInput) -> Mobility:
    """The recipe: count what is left where everything stands now."""
    from architectonic.assembly.freedoms import freedoms, grips

    bodies, bonds = numbers(payload)
    held = {p.body for b in bonds for p in (b.a, b.b)}
    moving = [b for b in bodies if b.id in held]
    left = freedoms(moving, bonds)
    loops = len(bonds) > sum(not b.fixed for b in moving)  # in a chain every joint moves what hangs on it
    few = len(bonds) <= MANY
    motions = tuple(m.moves for m in left.motions) if few else ()
    return Mobility(left.left, left.redundant, motions, grips(moving, bonds) if loops and few else {})


def numbers(payload: PoseInput) -> tuple[list[RigidBody], list[Held]]:
    """Bodies and bonds as the solver knows them."""
    bodies = [RigidBody(b.id, b.stands, b.fixed) for b in payload.bodies]
    bonds = [
        Held(
            b.id, b.kind, Mount(b.on[0], *_frame(b.places[0])), Mount(b.on[1], *_frame(b.places[1])),  # type: ignore[arg-type]
            b.sense, b.offset, b.angle, b.slide, b.turn, b.lead, tuple(Coupled(*c) for c in b.coupled),
        )
        for b in payload.bonds
    ]  # fmt: skip
    return bodies, bonds


def _frame(place: Mounted) -> tuple[Vector, Vector, Vector]:
    return place.point, place.axis, place.side
