"""Thicken: a plate on faces."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import (
    named_bodies,
    plan_faces,
    plan_length,
    plan_made,
    targets,
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
from architectonic.describe.words.things import FacesOrSurfaces
from architectonic.family.operations.solids.thicken import Thicken


class ThickenInput(SolidInput, frozen=True, kw_only=True):
    """Faces by the shape they are on (counted after those of `bodies`; an empty label for all of it), and how thick, mm;
    negative inwards; both: half of it on either side."""

    faces: tuple[tuple[int, Wanted], ...]
    thickness: float
    both: bool = False


def plan(view: View, node: Node, record: Thicken, given: ModelState) -> Plan:
    """Bodies after faces were thickened."""
    if not record.faces:
        raise fault("thicken.no_face", "has no face", "pick faces")
    thickness = yield from plan_length(view, node, record.thickness, "thickness")
    bodies = targets(view, node, record, given)
    shapes = [s for _, s in bodies]
    faces = plan_faces(record.faces, given, shapes)
    payload = ThickenInput(
        operation=record.id,
        does=record.does,
        bodies=named_bodies(record, bodies),
        faces=faces,
        thickness=-thickness if record.flip else thickness,
        both=record.both,
    )
    state: ModelState = yield from plan_made(record, given, "thicken", payload, shapes)
    used = {r.item for r in record.faces if not r.label and r.item not in record.acts_on}
    return state if record.keep else ModelState(tuple(b for b in state.bodies if b.id not in used))


KIND = OperationKind(
    Thicken,
    (
        Sentence("thicken", "Thicken faces", "", "Plate", (
            Does("acts_on"), FacesOrSurfaces("faces", "on"), Length("thickness", "thick", "2 mm"), Flag("flip", "inwards", quiet=True),
            Flag("both", "half on either side"), Flag("keep", "keeping the surface", quiet=True),
        ), short="Thicken", also=("plate", "offset face")),
    ),
    plan,
    recipe="thicken", given=ThickenInput, version=4,
    group="solids",
    rank=80,
)  # fmt: skip
