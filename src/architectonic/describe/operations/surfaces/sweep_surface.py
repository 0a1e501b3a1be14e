"""Sweep to a surface: curves moved along a path."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.surface import SurfaceInput, plan_chain, plan_surface
from architectonic.describe.recipes import Way
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import ModelState, Node, Plan, fault
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Angle, Number
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import PathBlank
from architectonic.family.operations.surfaces.sweep_surface import SweepSurface
from architectonic.quantities.units import ANGLE, NUMBER


class SweepSurfaceInput(SurfaceInput, frozen=True, kw_only=True):
    """Curves along a path, led by a rail, twisted by rad and grown at its end."""

    section: Way
    path: Way
    rail: Way = ()
    twist: float = 0.0
    scale: float = 1.0


def plan(view: View, node: Node, record: SweepSurface, given: ModelState) -> Plan:
    """Bodies with the surface."""
    section = yield from plan_chain(view, node, record.curves, record.id, "curve")
    path = yield from plan_chain(view, node, record.path, record.id, "path")
    rail: Way = ()
    if record.rail:
        rail = yield from plan_chain(view, node, record.rail, record.id, "rail")
    twist, scale = 0.0, 1.0
    if record.twist is not None:
        twist = yield from evaluate(view, node, record.twist, ANGLE)
    if record.scale is not None:
        scale = yield from evaluate(view, node, record.scale, NUMBER)
        if scale < tolerance.FEATURE:
            raise fault("sweep.scale", f"it cannot grow to {scale:g} times its size", "give a positive number")
    payload = SweepSurfaceInput(
        operation=record.id,
        body=record.body,
        section=section,
        path=path,
        rail=rail,
        twist=tolerance.ratio(twist),
        scale=tolerance.ratio(scale),
    )
    state = yield from plan_surface(record, given, "sweep_surface", payload)
    return state


KIND = OperationKind(
    SweepSurface,
    (
        Sentence("sweep_surface", "Sweep a surface", "sweep", "Surface", (
            PathBlank("curves", ""), PathBlank("path", "along"), PathBlank("rail", "led by", "", "+ a second rail"),
            Angle("twist", "twisted by", "90 deg", "+ twist", optional=True),
            Number("scale", "growing to", "0.5", "+ grow", optional=True),
        ), short="Swept", needs=anywhere, also=("rail", "twist", "swept surface")),
    ),
    plan,
    recipe="sweep_surface", given=SweepSurfaceInput, version=1,
    group="surfaces",
    rank=14,
)  # fmt: skip
