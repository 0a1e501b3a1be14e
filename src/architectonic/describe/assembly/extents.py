"""What an assembly weighs and how large it is where its parts stand. It comes after the picture: a turned body is measured
anew, from its geometry."""

from __future__ import annotations

from architectonic.base import rigid
from architectonic.describe.assembly.plans import Placed, PlacedBody
from architectonic.describe.recipes import PlacedInput
from architectonic.describe.results import Node, NodeFault, Plan, Recipe, Value, needed
from architectonic.describe.view import View

Box = tuple[float, ...]
"""x0, y0, z0, x1, y1, z1, mm, in the assembly."""


class Extent(Value, frozen=True):
    """Of an instance, or of all together.

    Attributes:
        mass: in g, None when any body has no density, or there are none.
        box: None without bodies.
        boxes: of its bodies, in their order.
    """

    mass: float | None = None
    box: Box | None = None
    boxes: tuple[Box, ...] = ()


class Extents(Value, frozen=True):
    """Of all together, and of each instance by its id."""

    whole: Extent
    of: dict[str, Extent]


def plan_extents(view: View, node: Node) -> Plan:
    """What is only planned yet has no bodies, and does not count."""
    (outcome,) = yield [Node("assembly", node.at, "")]
    placed: tuple[Placed, ...] = needed(outcome)
    found: dict[str, Extent] = {}
    for one in placed:
        masses = []
        boxes = []
        for body in one.bodies:
            masses.append((yield from plan_weight(body)))
            boxes.append((yield from _plan_box(body)))
        known = [m for m in masses if m is not None]
        mass = sum(known) if known and len(known) == len(masses) else None
        found[one.instance] = Extent(mass, around(boxes), tuple(boxes))
    solid = [e for e in found.values() if e.boxes]
    weights = [e.mass for e in solid if e.mass is not None]
    total = sum(weights) if weights and len(weights) == len(solid) else None
    return Extents(Extent(total, around([e.box for e in solid if e.box is not None])), found)


def plan_weight(body: PlacedBody) -> Plan:
    """Sub-plan: the mass of a body in place, g, None when it is not known. Of one that the assembly works on further it is
    that of the part's body by the share of its volume."""
    (weight,) = yield [Node("mass", body.body.at, body.body.body)]
    if weight.value is None or not body.worked:
        return weight.value
    whole, left = yield [Node("measure", body.body.at, body.body.body), body.node("measure")]
    return weight.value * needed(left)["volume_mm3"] / needed(whole)["volume_mm3"]


def _plan_box(body: PlacedBody) -> Plan:
    """The box of a body where it stands."""
    (measured,) = yield [body.node("measure")]
    box = tuple(needed(measured)["box_mm"])
    if rigid.shifts_only(body.stands):
        return (*rigid.moved(body.stands, box[:3]), *rigid.moved(body.stands, box[3:]))
    (finished,) = yield [body.node("finished")]
    made = yield Recipe("box", PlacedInput(body.stands), (needed(finished).shape(body.item),))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return made.value


def around(boxes: list[Box]) -> Box | None:
    """The box around boxes; None around nothing."""
    if not boxes:
        return None
    return tuple(min(b[i] for b in boxes) for i in range(3)) + tuple(max(b[i] for b in boxes) for i in range(3, 6))
