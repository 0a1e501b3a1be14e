"""Offset: faces again at a distance, or in place."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import plan_faces, plan_length
from architectonic.describe.operations.surface import SurfaceInput, plan_surface
from architectonic.describe.recipes import Wanted
from architectonic.describe.results import ModelState, Node, Plan, fault
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Flag, Length
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import FacesOrSurfaces
from architectonic.family.operations.surfaces.offset import OffsetSurface


class OffsetInput(SurfaceInput, frozen=True, kw_only=True):
    """Faces by the shape they are on (an empty label for all of it), and how far they are moved along their normals, mm."""

    faces: tuple[tuple[int, Wanted], ...]
    distance: float


def plan(view: View, node: Node, record: OffsetSurface, given: ModelState) -> Plan:
    """Bodies with the surface."""
    if not record.faces:
        raise fault("offset.no_face", "has no face", "pick faces")
    distance = 0.0
    if record.distance is not None:
        distance = yield from plan_length(view, node, record.distance, "distance", zero=True)
    shapes: list[str] = []
    faces = plan_faces(record.faces, given, shapes)
    payload = OffsetInput(
        operation=record.id,
        body=record.body,
        faces=faces,
        distance=tolerance.length(-distance if record.flip else distance),
    )
    state = yield from plan_surface(record, given, "offset", payload, tuple(shapes))
    return state


KIND = OperationKind(
    OffsetSurface,
    (
        Sentence("offset", "Offset faces to a surface", "offset", "Offset", (
            FacesOrSurfaces("faces", ""), Length("distance", "by", "2 mm", "+ distance", optional=True),
            Flag("flip", "the other way", quiet=True),
        ), short="Offset", also=("copy faces", "parallel surface", "extract")),
    ),
    plan,
    recipe="offset", given=OffsetInput, version=2,
    group="surfaces",
    rank=30,
)  # fmt: skip
