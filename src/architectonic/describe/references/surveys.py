"""Surveys of bodies: figures all over their faces, and the worst places, each of which can be a value of its own."""

from __future__ import annotations

from typing import NamedTuple

import msgspec

from architectonic.describe.recipes import SurveyInput
from architectonic.describe.references.places import plan_line
from architectonic.describe.references.value import plan_source
from architectonic.describe.results import Axis, Node, NodeFault, Plan, Recipe, SurveyResult, Vector, fault, needed
from architectonic.describe.view import View
from architectonic.family.operations.marks.engrave import Engrave
from architectonic.family.records import Measurement, Measures, Reference
from architectonic.family.scopes import Scope


class SurveyKind(NamedTuple):
    """What is looked for.

    Attributes:
        title: in words; figure: what a place's figure is; quantity: of it; about: what its direction is, "" where it needs none.
        coloured: it has a figure everywhere, which the part is coloured by.
        nothing: what to say where there is nothing of the kind.
    """

    title: str
    figure: str
    quantity: str = "length"
    about: str = ""
    coloured: bool = False
    nothing: str = ""


SURVEYS: dict[Measures, SurveyKind] = {
    "wall": SurveyKind("Wall thickness, by rays", "wall", coloured=True, nothing="it has no walls"),
    "wall by ball": SurveyKind("Wall thickness, by balls", "wall", coloured=True, nothing="it has no walls"),
    "draft": SurveyKind("Draft", "draft", "angle", "opens along", True, "it has no faces"),
    "curvature": SurveyKind("Smallest radius of faces", "radius", coloured=True, nothing="it has flat faces only"),
    "inside radius": SurveyKind(
        "Inside corners for a cutter", "radius", about="tool along", nothing="it has no inside corners"
    ),
    "hole to edge": SurveyKind("Holes to edges", "left", nothing="it has no holes"),
    "hole to hole": SurveyKind("Holes to holes", "left", nothing="it has no two holes in one face"),
}
"""By the measurement that the worst place is."""


def label_of(what: Measures, direction: Reference | None = None) -> str:
    """A survey as the label of a node."""
    return msgspec.json.encode((what, direction)).decode()


def plan_surveyed(view: View, node: Node) -> Plan:
    """The survey that the node's label names, of a body."""
    what, direction = msgspec.json.decode(node.label, type=tuple[Measures, Reference | None])
    (outcome,) = yield [Node("finished", node.at, "")]
    body = next((b for b in needed(outcome).bodies if b.id == node.item), None)
    if body is None:
        raise fault("body.missing", "this body does not exist here", "switch on what makes it", "missing")
    along: Vector | None = None
    if SURVEYS[what].about:
        axis: Axis = yield from plan_line(view, node, direction or Reference(item="z"), "")
        along = axis.direction
    marks = (
        tuple(o.id for o in view.model(node).build if isinstance(o, Engrave)) if SURVEYS[what].figure == "wall" else ()
    )
    drilled = tuple(sorted(body.attributes)) if "hole" in what or what == "inside radius" else ()
    made = yield Recipe("survey", SurveyInput(what, along, drilled, marks), (body.shape,))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return made.value


def plan_worst(view: View, node: Node, record: Measurement) -> Plan:
    """Sub-plan: the figure of the worst place of the bodies that a measurement is of."""
    bodies = [r for r in record.of if not SURVEYS[record.what].about or r is not record.of[-1] or len(record.of) == 1]
    direction = record.of[-1] if len(bodies) < len(record.of) else None
    least = None
    for reference in bodies:
        at: Scope = yield from plan_source(view, node, reference)
        (outcome,) = yield [Node("surveyed", at, reference.item, label_of(record.what, direction))]
        found: SurveyResult = needed(outcome, "the body that it measures")
        for place in found.places[:1]:
            least = place if least is None or place.value < least.value else least
    if least is None:
        raise fault("survey.nothing", SURVEYS[record.what].nothing, "", "off")
    return least
