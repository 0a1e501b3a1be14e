"""Which bodies of an assembly run into each other where they stand, and how near the others come."""

from __future__ import annotations

from architectonic.base import rigid
from architectonic.base.rigid import Rigid
from architectonic.describe.assembly.extents import Box, Extents
from architectonic.describe.assembly.plans import Placed, PlacedBody
from architectonic.describe.recipes import PlacedInput
from architectonic.describe.references.relations import boxes_meet
from architectonic.describe.results import Made, Node, Plan, Recipe, Value, needed
from architectonic.describe.view import View
from architectonic.family.scopes import InPlace


class Clash(Value, frozen=True):
    """Two bodies that fill the same space, and how much of it, mm3."""

    a: InPlace
    b: InPlace
    volume: float


class Clashes(Value, frozen=True):
    """What was found.

    Attributes:
        pairs: bodies that run into each other.
        unknown: pairs that could not be compared.
    """

    pairs: tuple[Clash, ...] = ()
    unknown: tuple[tuple[InPlace, InPlace], ...] = ()

    @property
    def volume(self) -> float:
        """Of all pairs together, mm3."""
        return sum(p.volume for p in self.pairs)


def plan_clashes(view: View, node: Node) -> Plan:
    """All pairs of bodies of different instances; those within a sub-assembly are what it found itself, unless they are
    worked on here.

    Pairs whose boxes do not meet are passed over, the others are compared exactly, each once for how the two lie to each
    other: where both were moved together nothing is compared again. Bodies that are there to be seen only run into nothing.
    """
    (outcome,) = yield [Node("assembly", node.at, "")]
    placed: tuple[Placed, ...] = needed(outcome)
    pairs: list[Clash] = []
    unknown: list[tuple[InPlace, InPlace]] = []
    worked = {b.body for one in placed for b in one.bodies if b.source == node.at}
    for one in placed:
        if any(len(b.body.path) > 1 for b in one.bodies):
            (inner,) = yield [Node("clashes", one.at, "")]
            head = one.bodies[0].body.path[0]
            found: Clashes = needed(inner)
            inside = [Clash(_below(head, c.a), _below(head, c.b), c.volume) for c in found.pairs]
            pairs += [c for c in inside if not worked & {c.a, c.b}]
            unknown += [(_below(head, a), _below(head, b)) for a, b in found.unknown]
    (measured,) = yield [Node("extents", node.at, "")]
    extents: Extents = needed(measured)
    order = {b: len(placed) + n for n, b in enumerate(sorted(worked))}
    all_of = [  # what is worked on here is compared with all others, also of its own sub-assembly
        (order.get(body.body, k), body, box)
        for k, one in enumerate(placed)
        for body, box in zip(one.bodies, extents.of[one.instance].boxes, strict=True)
    ]
    for a, b in near(all_of):
        if a.body.path == b.body.path:
            continue
        seen = yield [Node("backdrop", x.body.at, x.body.body) for x in (a, b)]
        if any(o.value for o in seen):
            continue
        states = yield [x.node("finished") for x in (a, b)]
        shapes = tuple(needed(o).shape(x.item) for o, x in zip(states, (a, b), strict=True))
        made: Made = yield Recipe("clash", PlacedInput(_between(a.stands, b.stands)), shapes)
        if made.problem is not None:
            unknown.append((a.body, b.body))
        elif made.value > 0:
            pairs.append(Clash(a.body, b.body, made.value))
    return Clashes(tuple(pairs), tuple(unknown))


class Clearance(Value, frozen=True):
    """Two bodies that are near each other: how far apart, mm, and the volume that both fill, mm3, where they overlap. At a
    distance of 0 without such a volume they touch."""

    a: InPlace
    b: InPlace
    distance: float
    volume: float = 0.0


def plan_clearances(view: View, node: Node) -> Plan:
    """All pairs of bodies of different instances that are nearer to each other than the label says, mm; nearest first.

    Boxes decide who is asked, the kernel how far apart they are; those that could not be compared are left out.
    """
    limit = float(node.label)
    (outcome,) = yield [Node("assembly", node.at, "")]
    (measured,) = yield [Node("extents", node.at, "")]
    placed: tuple[Placed, ...] = needed(outcome)
    extents: Extents = needed(measured)
    of: dict[tuple[str, ...], int] = {}
    bodies = [
        (of.setdefault(body.body.path, len(of)), body, _grown(box, limit / 2))
        for one in placed
        for body, box in zip(one.bodies, extents.of[one.instance].boxes, strict=True)
    ]
    found: list[Clearance] = []
    for a, b in near(bodies):
        states = yield [x.node("finished") for x in (a, b)]
        shapes = tuple(needed(o).shape(x.item) for o, x in zip(states, (a, b), strict=True))
        given = PlacedInput(_between(a.stands, b.stands))
        made: Made = yield Recipe("apart", given, shapes)
        if made.problem is not None or made.value > limit:
            continue
        volume = 0.0
        if made.value == 0:
            shared: Made = yield Recipe("clash", given, shapes)
            volume = shared.value if shared.problem is None else 0.0
        found.append(Clearance(a.body, b.body, made.value, volume))
    return tuple(sorted(found, key=lambda c: (c.distance, -c.volume)))


def _grown(box: Box, by: float) -> Box:
    return (*(c - by for c in box[:3]), *(c + by for c in box[3:]))


def near(bodies: list[tuple[int, PlacedBody, Box]]) -> list[tuple[PlacedBody, PlacedBody]]:
    """Pairs of different instances whose boxes meet, swept along x, in the order of the bodies.

    Args:
        bodies: each with the number of its instance, and its box.
    """
    order = sorted(range(len(bodies)), key=lambda k: bodies[k][2][0])
    found: list[tuple[int, int]] = []
    open_: list[int] = []
    for k in order:
        of, _, box = bodies[k]
        open_ = [j for j in open_ if bodies[j][2][3] > box[0]]
        found += [(min(j, k), max(j, k)) for j in open_ if bodies[j][0] != of and boxes_meet(bodies[j][2], box)]
        open_.append(k)
    return [(bodies[i][1], bodies[j][1]) for i, j in sorted(found)]


def _between(a: Rigid, b: Rigid) -> Rigid:
    """Where b stands as seen from a; finer differences are the noise of reckoning back."""
    found = rigid.times(rigid.inverse(a), b)
    return tuple(round(v, 8 if k % 4 == 3 else 11) + 0.0 for k, v in enumerate(found))


def _below(head: str, body: InPlace) -> InPlace:
    return body._replace(path=(head, *body.path))
