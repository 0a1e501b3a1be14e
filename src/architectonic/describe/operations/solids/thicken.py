"""Thicken: a plate on faces."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import (
    named_bodies,
    plan_length,
    plan_made,
    targets,
    wanted_by_body,
)
from architectonic.describe.recipes import SolidInput, Wanted
from architectonic.describe.results import (
    ModelState,
    Node,
    Plan,
    fault,
)
from architectonic.describe.view import View
from architectonic.describe.words.acting import Does
from architectonic.describe.words.blanks import Flag, Length
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import Faces
from architectonic.family.operations.solids.thicken import Thicken


class ThickenInput(SolidInput, frozen=True, kw_only=True):
    """Faces by the shape they are on (counted after those of `bodies`), and how thick, mm; negative inwards."""

    faces: tuple[tuple[int, Wanted], ...]
    thickness: float


def plan(view: View, node: Node, record: Thicken, given: ModelState) -> Plan:
    """Bodies after faces were thickened."""
    if not record.faces:
        raise fault("thicken.no_face", "has no face", "pick faces")
    thickness = yield from plan_length(view, node, record.thickness, "thickness")
    bodies = targets(view, node, record, given)
    shapes = [s for _, s in bodies]
    faces = []
    for body, wanted in wanted_by_body(record.faces).items():
        shape = given.shape(body)
        if shape is None:
            raise fault("face.missing", "the body of its face does not exist here", "pick another face", "missing")
        shapes.append(shape)
        faces += [(len(shapes) - 1, w) for w in wanted]
    payload = ThickenInput(
        operation=record.id,
        does=record.does,
        bodies=named_bodies(record, bodies),
        faces=tuple(faces),
        thickness=-thickness if record.flip else thickness,
    )
    state = yield from plan_made(record, given, "thicken", payload, shapes)
    return state


KIND = OperationKind(
    Thicken,
    (
        Sentence("thicken", "Thicken faces", "", "Plate", (
            Does("acts_on"), Faces("faces", "on"), Length("thickness", "thick", "2 mm"), Flag("flip", "inwards", quiet=True),
        ), short="Thicken", also=("plate", "offset face")),
    ),
    plan,
    recipe="thicken", given=ThickenInput, version=2,
    group="solids",
    rank=80,
)  # fmt: skip
