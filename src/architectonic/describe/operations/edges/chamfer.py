"""Chamfer: edges cut off flat."""

from __future__ import annotations

from typing import Any

from architectonic.base import tolerance
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import plan_along, plan_length
from architectonic.describe.recipes import EdgesInput
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import ModelState, Node, Plan, fault
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Angle, Flag, Length
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import Edges
from architectonic.family.operations.edges.chamfer import Chamfer
from architectonic.quantities.units import ANGLE


class ChamferInput(EdgesInput, frozen=True, kw_only=True):
    """Distances in mm, an angle in rad (kernel.blends.Chamfer)."""

    distance: float
    second: float | None = None
    angle: float | None = None
    flip: bool = False


def plan(view: View, node: Node, record: Chamfer, given: ModelState) -> Plan:
    """Bodies after a chamfer."""
    distance = yield from plan_length(view, node, record.distance, "distance")
    second = angle = None
    if record.second is not None:
        second = yield from plan_length(view, node, record.second, "distance on the other face")
    elif record.angle is not None:
        angle = yield from evaluate(view, node, record.angle, ANGLE)
        if not tolerance.FEATURE < angle < 1.57:
            raise fault("chamfer.angle", "a chamfer stands between 0 and 90° to its first face", "give such an angle")

    def payload(edges: Any) -> ChamferInput:
        return ChamferInput(
            operation=record.id, edges=edges, distance=distance, second=second, angle=angle, flip=record.flip
        )

    state = yield from plan_along(view, node, record, given, "chamfer", payload)
    return state


KIND = OperationKind(
    Chamfer,
    (
        Sentence("chamfer", "Chamfer edges", "chamfer", "Chamfer", (
            Edges("edges"), Length("distance", "by", "1 mm"),
            Length("second", "and on the other face by", "2 mm", "+ two distances", unless="angle"),
            Angle("angle", "at", "45 deg", "+ angle", unless="second"), Flag("flip", "from the other face", quiet=True),
        ), short="Chamfer", also=("bevel", "break edges")),
    ),
    plan,
    recipe="chamfer", given=ChamferInput, version=2,
    group="edge treatments",
    rank=20,
)  # fmt: skip
