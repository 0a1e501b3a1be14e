"""Edge treatments: edges of bodies rounded or bevelled."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from architectonic.base import tolerance
from architectonic.describe.operations.solid import acted, plan_length, replaced, wanted_by_body
from architectonic.describe.recipes import BevelInput, FacesInput, FilletInput
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import ModelState, Node, NodeFault, Plan, Recipe, fault
from architectonic.describe.view import View
from architectonic.family.records import Bevel, Fillet, OnEdges, RoundOver
from architectonic.quantities.units import ANGLE


def plan_fillet(view: View, node: Node, record: Fillet, given: ModelState) -> Plan:
    """Bodies after a fillet."""
    radius = yield from plan_length(view, node, record.radius, "radius")
    last = None
    if record.last is not None:
        last = yield from plan_length(view, node, record.last, "radius at the end")

    def payload(edges: Any) -> FilletInput:
        return FilletInput(operation=record.id, edges=edges, radius=radius, last=last)

    state = yield from _along(view, node, record, given, "fillet", payload)
    return state


def plan_bevel(view: View, node: Node, record: Bevel, given: ModelState) -> Plan:
    """Bodies after a bevel."""
    distance = yield from plan_length(view, node, record.distance, "distance")
    second = angle = None
    if record.second is not None:
        second = yield from plan_length(view, node, record.second, "distance on the other face")
    elif record.angle is not None:
        angle = yield from evaluate(view, node, record.angle, ANGLE)
        if not tolerance.FEATURE < angle < 1.57:
            raise fault("bevel.angle", "a bevel stands between 0 and 90° to its first face", "give such an angle")

    def payload(edges: Any) -> BevelInput:
        return BevelInput(
            operation=record.id, edges=edges, distance=distance, second=second, angle=angle, flip=record.flip
        )

    state = yield from _along(view, node, record, given, "bevel", payload)
    return state


def _along(
    view: View, node: Node, record: OnEdges, given: ModelState, kind: str, payload: Callable[[Any], Any]
) -> Plan:
    """Something along edges, which are found by label in the state that the operation is given."""
    if not record.edges:
        raise fault("operation.no_edge", "it has no edge", "pick edges")
    by_body = wanted_by_body(record.edges)
    present = acted(view, node, tuple(by_body), given)
    edges = tuple((body, tuple(by_body[body])) for body, _ in present)
    made = yield Recipe(kind, payload(edges), tuple(shape for _, shape in present))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


def plan_round_over(view: View, node: Node, record: RoundOver, given: ModelState) -> Plan:
    """Bodies after narrow faces were rounded over."""
    if not record.faces:
        raise fault("operation.no_face", "it has no face", "pick the narrow face that the round takes the place of")
    by_body = wanted_by_body(record.faces)
    present = acted(view, node, tuple(by_body), given)
    payload = FacesInput(operation=record.id, faces=tuple((b, tuple(by_body[b])) for b, _ in present))
    made = yield Recipe("round_over", payload, tuple(shape for _, shape in present))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)
