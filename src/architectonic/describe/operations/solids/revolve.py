"""Revolve: regions turned about an axis."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import (
    named_bodies,
    plan_areas,
    plan_face_or_plane,
    plan_made,
    targets,
)
from architectonic.describe.recipes import Area, SolidInput, Thing
from architectonic.describe.references.places import plan_line
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import (
    Axis,
    ModelState,
    Node,
    Plan,
    fault,
)
from architectonic.describe.view import View
from architectonic.describe.words.acting import Does
from architectonic.describe.words.blanks import Angle, Flag
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import LineBlank, PlaneBlank, Regions
from architectonic.family.operations.solids.revolve import Revolve
from architectonic.family.records import Expression
from architectonic.quantities.units import ANGLE


class RevolveInput(SolidInput, frozen=True, kw_only=True):
    """Areas turned about an axis, from an angle on, rad."""

    areas: tuple[Area, ...]
    axis: Axis
    start: float
    turn: float
    target: Thing | None = None


def plan_turn(view: View, node: Node, angle: Expression) -> Plan:
    """Sub-plan: an angle to turn by, rad.

    Raises:
        NodeFault: it is none that can be made.
    """
    turn = yield from evaluate(view, node, angle, ANGLE)
    if not tolerance.FEATURE < turn < math.tau + tolerance.MEASURE:
        told = f"{math.degrees(turn):g}° is no turn that can be made"
        raise fault("revolve.angle", told, "give more than 0 and at most 360°")
    return turn


def plan(view: View, node: Node, record: Revolve, given: ModelState) -> Plan:
    """Bodies after a revolve."""
    areas = yield from plan_areas(view, node, record.regions, record.id)
    axis = yield from plan_line(view, node, record.axis, record.id)
    turn = math.tau
    if record.angle is not None:
        turn = yield from plan_turn(view, node, record.angle)
    start = -turn / 2 if record.symmetric else -turn if record.flip else 0.0
    bodies = targets(view, node, record, given)
    shapes = [s for _, s in bodies]
    target = None
    if record.target is not None:
        if record.symmetric:
            raise fault("revolve.both_ways", "what goes up to a face goes one way only", "take “both ways” out")
        target = yield from plan_face_or_plane(view, node, record.target, record.id, shapes)
        d = axis.direction
        axis = Axis(axis.origin, (-d[0], -d[1], -d[2])) if record.flip else axis
    payload = RevolveInput(
        operation=record.id,
        does=record.does,
        bodies=named_bodies(record, bodies),
        areas=tuple(areas),
        axis=axis,
        start=tolerance.ratio(start),
        turn=tolerance.ratio(turn),
        target=target,
    )
    state = yield from plan_made(record, given, "revolve", payload, shapes)
    return state


KIND = OperationKind(
    Revolve,
    (
        Sentence("revolve", "Revolve", "", "Turning", (
            Does("acts_on"), Regions("regions", "of"), LineBlank("axis", "about"),
            Angle("angle", "by", "90 deg", "+ angle", unless="target"),
            PlaneBlank("target", "up to", "", "+ up to a face", unless="angle", optional=True), Flag("symmetric", "both ways"),
            Flag("flip", "the other way", quiet=True),
        ), needs=anywhere, also=("turn", "lathe", "spin")),
    ),
    plan,
    recipe="revolve", given=RevolveInput, version=3,
    group="solids",
    rank=20,
)  # fmt: skip
