"""Ball: a solid about a point."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import named_bodies, plan_length, plan_made, targets
from architectonic.describe.recipes import SolidInput
from architectonic.describe.references.places import plan_point
from architectonic.describe.results import ModelState, Node, Plan, Vector
from architectonic.describe.view import View
from architectonic.describe.words.acting import Does
from architectonic.describe.words.blanks import Length
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import PointBlank
from outpost.family.operations.ball import Ball


class BallInput(SolidInput, frozen=True, kw_only=True):
    """Where, and how large, mm."""

    centre: Vector
    radius: float


def plan(view: View, node: Node, record: Ball, given: ModelState) -> Plan:
    """Bodies after a ball."""
    centre = yield from plan_point(view, node, record.centre, record.id)
    radius = yield from plan_length(view, node, record.radius, "radius")
    bodies = targets(view, node, record, given)
    payload = BallInput(
        operation=record.id, does=record.does, bodies=named_bodies(record, bodies), centre=centre, radius=radius
    )
    return (yield from plan_made(record, given, "ball", payload, [s for _, s in bodies]))


KIND = OperationKind(
    Ball,
    (
        Sentence(
            "ball",
            "Ball",
            "",
            "Ball",
            (Does("acts_on"), PointBlank("centre", "about"), Length("radius", "with radius", "5 mm")),
            needs=anywhere,
            also=("sphere",),
        ),
    ),
    plan,
    recipe="ball",
    given=BallInput,
    version=1,
    group="solids",
    rank=90,
)
