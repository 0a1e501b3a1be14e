"""Revolve to a surface: curves turned about an axis."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solids.revolve import plan_turn
from architectonic.describe.operations.surface import SurfaceInput, plan_chain, plan_surface
from architectonic.describe.recipes import Way
from architectonic.describe.references.places import plan_line
from architectonic.describe.results import Axis, ModelState, Node, Plan
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Angle, Flag
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import LineBlank, PathBlank
from architectonic.family.operations.surfaces.revolve_surface import RevolveSurface


class RevolveSurfaceInput(SurfaceInput, frozen=True, kw_only=True):
    """Curves turned about an axis, from an angle on, rad."""

    path: Way
    axis: Axis
    start: float
    turn: float


def plan(view: View, node: Node, record: RevolveSurface, given: ModelState) -> Plan:
    """Bodies with the surface."""
    path = yield from plan_chain(view, node, record.curves, record.id, "curve")
    axis = yield from plan_line(view, node, record.axis, record.id)
    turn = math.tau
    if record.angle is not None:
        turn = yield from plan_turn(view, node, record.angle)
    start = -turn / 2 if record.symmetric else -turn if record.flip else 0.0
    payload = RevolveSurfaceInput(
        operation=record.id,
        body=record.body,
        path=path,
        axis=axis,
        start=tolerance.ratio(start),
        turn=tolerance.ratio(turn),
    )
    state = yield from plan_surface(record, given, "revolve_surface", payload)
    return state


KIND = OperationKind(
    RevolveSurface,
    (
        Sentence("revolve_surface", "Revolve a surface", "revolve", "Surface", (
            PathBlank("curves", ""), LineBlank("axis", "about"), Angle("angle", "by", "180 deg", "+ angle", optional=True),
            Flag("symmetric", "both ways"), Flag("flip", "the other way", quiet=True),
        ), short="Revolved", needs=anywhere, also=("turn", "lathe", "spin", "revolved surface")),
    ),
    plan,
    recipe="revolve_surface", given=RevolveSurfaceInput, version=1,
    group="surfaces",
    rank=12,
)  # fmt: skip
