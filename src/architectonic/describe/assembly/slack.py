"""How far instances can shift because joints have play."""

from __future__ import annotations

from architectonic.describe.assembly.extents import Extents
from architectonic.describe.assembly.posing import PoseInput, numbers, plan_driven, plan_pose_input, where_they_stand
from architectonic.describe.results import Node, Plan, Recipe, Value, Vector, needed
from architectonic.describe.view import View
from architectonic.family.records import Assembly


class SlackInput(Value, frozen=True, array_like=True):
    """An assembly where it stands, the play of its joints, mm, and a point of each instance, in the assembly."""

    pose: PoseInput
    plays: dict[str, float]
    points: dict[str, Vector]


def plan_slack(view: View, node: Node) -> Plan:
    """How far the middle of each instance can shift, mm, by its id; {} where no joint has play."""
    document = view.document(node)
    assert isinstance(document, Assembly)
    plays: dict[str, float] = {}
    for bond in document.bonds:
        play = yield from plan_driven(view, node, bond, "play")
        plays |= {bond.id: play} if play else {}
    given: PoseInput | None = (yield from plan_pose_input(view, node)) if plays else None
    if given is None:
        return {}
    posed, measured = yield [Node("posed", node.at, ""), Node("extents", node.at, "")]
    extents: Extents = needed(measured)
    boxes = {k: e.box for k, e in extents.of.items() if e.box is not None}
    points = {b.id: _middle(boxes[b.id]) for b in given.bodies if b.id in boxes and not b.fixed}
    made = yield Recipe("slack", SlackInput(where_they_stand(given, needed(posed)), plays, points), ())
    return made.value


def _middle(box: tuple[float, ...]) -> Vector:
    x, y, z = ((box[k] + box[k + 3]) / 2 for k in range(3))
    return x, y, z


def compute_slack(payload: SlackInput) -> dict[str, float]:
    """The recipe."""
    from architectonic.assembly.slack import slack
    from architectonic.base import tolerance

    bodies, bonds = numbers(payload.pose)
    held = {p.body for b in bonds for p in (b.a, b.b)}
    points = {k: p for k, p in payload.points.items() if k in held}
    found = slack([b for b in bodies if b.id in held], bonds, payload.plays, points)
    return {k: tolerance.length(v) for k, v in found.items()}
