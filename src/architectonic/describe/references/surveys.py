"""Surveys of bodies: figures all over their faces, and the worst places, each of which can be a value of its own."""

from __future__ import annotations

from typing import NamedTuple

import msgspec

from architectonic.describe.measured import SurveyResult
from architectonic.describe.recipes import SurveyInput
from architectonic.describe.references.places import plan_line
from architectonic.describe.references.value import plan_source
from architectonic.describe.results import Axis, ModelState, Node, NodeFault, Plan, Recipe, Vector, fault, needed
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
        against: what the bodies are held against is called, "" where it needs none.
        most: the greatest figure is the worst one, not the least.
    """

    title: str
    figure: str
    quantity: str = "length"
    about: str = ""
    coloured: bool = False
    nothing: str = ""
    against: str = ""
    most: bool = False

    @property
    def second(self) -> bool:
        """Whether it needs something besides the bodies."""
        return bool(self.about or self.against)

    @property
    def bound(self) -> str:
        """What a limit is, in words."""
        return "at most" if self.most else "at least"

    def is_worse(self, value: float, than: float) -> bool:
        """Whether a figure lies on the wrong side of another one."""
        return value > than if self.most else value < than


SURVEYS: dict[Measures, SurveyKind] = {
    "wall": SurveyKind("Wall thickness, by rays", "wall", coloured=True, nothing="it has no walls"),
    "wall by ball": SurveyKind("Wall thickness, by balls", "wall", coloured=True, nothing="it has no walls"),
    "draft": SurveyKind("Draft", "draft", "angle", "opens along", True, "it has no faces"),
    "curvature": SurveyKind("Smallest radius of faces", "radius", coloured=True, nothing="it has flat faces only"),
    "deviation": SurveyKind(
        "Deviation from another body", "apart", coloured=True, nothing="it has no faces", against="from", most=True
    ),
    "inside radius": SurveyKind(
        "Inside corners for a cutter", "radius", about="tool along", nothing="it has no inside corners"
    ),
    "hole to edge": SurveyKind("Holes to edges", "left", nothing="it has no holes"),
    "hole to hole": SurveyKind("Holes to holes", "left", nothing="it has no two holes in one face"),
}
"""By the measurement that the worst place is."""


def label_of(what: Measures, second: Reference | None = None) -> str:
    """A survey as the label of a node; with its direction, or the body that it is held against."""
    return msgspec.json.encode((what, second)).decode()


def surveyed_in(record: Measurement) -> tuple[tuple[Reference, ...], Reference | None]:
    """The bodies that a measurement looks for its worst place on, and its direction or the body that they are held against."""
    apart = SURVEYS[record.what].second and len(record.of) > 1
    return (record.of[:-1], record.of[-1]) if apart else (record.of, None)


def plan_surveyed(view: View, node: Node) -> Plan:
    """The survey that the node's label names, of a body."""
    what, second = msgspec.json.decode(node.label, type=tuple[Measures, Reference | None])
    (outcome,) = yield [Node("finished", node.at, "")]
    state: ModelState = needed(outcome)
    body = state.body(node.item)
    along: Vector | None = None
    shapes = [body.shape]
    if SURVEYS[what].about:
        axis: Axis = yield from plan_line(view, node, second or Reference(item="z"), "")
        along = axis.direction
    if SURVEYS[what].against:
        if second is None:
            raise fault("survey.alone", "needs a body to hold it against", "choose another body", "missing")
        at: Scope = yield from plan_source(view, node, second)
        (outcome,) = yield [Node("finished", at, "")]
        state = needed(outcome)
        shapes.append(state.body(second.item).shape)
    marks = (
        tuple(o.id for o in view.model(node).build if isinstance(o, Engrave)) if SURVEYS[what].figure == "wall" else ()
    )
    drilled = tuple(sorted(body.attributes)) if "hole" in what or what == "inside radius" else ()
    made = yield Recipe("survey", SurveyInput(what, along, drilled, marks), tuple(shapes))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return made.value


def plan_worst(view: View, node: Node, record: Measurement) -> Plan:
    """Sub-plan: the figure of the worst place of the bodies that a measurement is of."""
    kind = SURVEYS[record.what]
    bodies, second = surveyed_in(record)
    worst = None
    for reference in bodies:
        at: Scope = yield from plan_source(view, node, reference)
        (outcome,) = yield [Node("surveyed", at, reference.item, label_of(record.what, second))]
        found: SurveyResult = needed(outcome, "the body that it measures")
        for place in found.places[:1]:
            worst = place if worst is None or kind.is_worse(place.value, worst.value) else worst
    if worst is None:
        raise fault("survey.nothing", kind.nothing, "", "off")
    return worst
