"""Draft: faces leaning in along the normal of a plane."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import acted, replaced, wanted_by_body
from architectonic.describe.recipes import Wanted
from architectonic.describe.references.planes import plan_plane
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import Frame, ModelState, Node, NodeFault, Plan, Recipe, Value, fault
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Angle, Flag
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import Faces, PlaneBlank
from architectonic.family.operations.solids.draft import Draft
from architectonic.quantities.units import ANGLE


class DraftInput(Value, frozen=True, kw_only=True):
    """Faces on each body, in the order of the shapes that come along; the angle in rad."""

    operation: str
    faces: tuple[tuple[str, tuple[Wanted, ...]], ...]
    plane: Frame
    angle: float
    flip: bool


def plan(view: View, node: Node, record: Draft, given: ModelState) -> Plan:
    """Bodies after faces were tilted."""
    if not record.faces:
        raise fault("draft.no_face", "has no face", "pick faces")
    angle = yield from evaluate(view, node, record.angle, ANGLE)
    if not tolerance.FEATURE < abs(angle) < math.pi / 3:
        raise fault("draft.angle", f"faces are not tilted by {math.degrees(angle):g}°", "give an angle up to 60°")
    plane = yield from plan_plane(view, node, record.plane, record.id)
    by_body = wanted_by_body(record.faces)
    bodies = acted(view, node, tuple(by_body), given)
    payload = DraftInput(
        operation=record.id,
        faces=tuple((b, tuple(by_body[b])) for b, _ in bodies),
        plane=plane,
        angle=angle,
        flip=record.flip,
    )
    made = yield Recipe("draft", payload, tuple(s for _, s in bodies))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


KIND = OperationKind(
    Draft,
    (
        Sentence("draft", "Draft faces", "draft", "Draft", (
            Faces("faces"), Angle("angle", "by", "2 deg"), PlaneBlank("plane", "about where they meet"),
            Flag("flip", "the other way", quiet=True),
        ), short="Draft", also=("taper", "tilt", "incline")),
    ),
    plan,
    recipe="draft", given=DraftInput, version=2,
    group="solids",
    rank=70,
)  # fmt: skip
