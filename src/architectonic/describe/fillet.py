"""Fillet: edges of bodies rounded with one radius."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.describe.extrude import replaced
from architectonic.describe.recipes import FilletInput, Wanted
from architectonic.describe.results import ModelState, Node, NodeFault, Plan, Recipe, fault
from architectonic.describe.value import evaluate
from architectonic.describe.view import View
from architectonic.family.records import Fillet
from architectonic.quantities.units import LENGTH


def plan(view: View, node: Node, record: Fillet, given: ModelState) -> Plan:
    """Bodies after a fillet; edges are found by label in the state that the operation is given."""
    if not record.edges:
        raise fault("fillet.no_edge", "it has no edge", "pick edges to round")
    radius = yield from evaluate(view, node, record.radius, LENGTH)
    if radius < tolerance.FEATURE:
        raise fault("fillet.radius", f"the radius is {radius:g} mm", "give a positive radius")
    by_body: dict[str, list[Wanted]] = {}
    for reference in record.edges:
        by_body.setdefault(reference.item, []).append(Wanted(reference.label, reference.witness))
    shapes = [(body, given.shape(body)) for body in by_body]
    lost = [body for body, shape in shapes if shape is None]
    if len(lost) == len(shapes):
        raise fault("fillet.no_body", "the body it rounds does not exist here", "pick edges again", "missing")
    present = [(body, shape) for body, shape in shapes if shape is not None]
    payload = FilletInput(record.id, radius, tuple((body, tuple(by_body[body])) for body, _ in present))
    made = yield Recipe("fillet", payload, tuple(shape for _, shape in present))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)
