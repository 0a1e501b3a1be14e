"""Extrude: regions pushed along their plane's normal."""

from __future__ import annotations

import math

import msgspec

from architectonic.base import tolerance
from architectonic.describe.drawn.curves import as_piece_of
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import named_bodies, plan_areas, plan_made, targets
from architectonic.describe.recipes import Area, End, Height, Prism, SolidInput, Until, Wanted
from architectonic.describe.references.places import nature, plan_point
from architectonic.describe.references.planes import along, dot, plan_plane, y_axis
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import Frame, Loops, ModelState, Node, Plan, fault
from architectonic.describe.view import View
from architectonic.describe.words.acting import Does, FarEnd, NearEnd
from architectonic.describe.words.blanks import Angle, Flag
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import Regions
from architectonic.family.operations.solids.extrude import (
    Distance,
    Extrude,
    Far,
    Near,
    Symmetric,
    Through,
    ToFace,
    ToNext,
)
from architectonic.family.records import SELF, Reference
from architectonic.quantities.units import ANGLE, LENGTH


class ExtrudeInput(SolidInput, frozen=True, kw_only=True):
    """Prisms, one for each plane."""

    prisms: tuple[Prism, ...]


PARALLEL = 1e-9
"""Planes that rise less than this over one another are parallel: below it lies the rounding of their normals."""


def plan(view: View, node: Node, record: Extrude, given: ModelState) -> Plan:
    """Bodies after an extrude."""
    areas = yield from plan_areas(view, node, record.regions, record.id)
    bodies = targets(view, node, record, given)
    shapes = [shape for _, shape in bodies]
    draft = 0.0
    if record.draft is not None:
        draft = yield from evaluate(view, node, record.draft, ANGLE)
    prisms = []
    for area in areas:
        prism = yield from _prism(view, node, record, given, area, shapes)
        prisms.append(msgspec.structs.replace(prism, draft=draft))
    payload = ExtrudeInput(
        operation=record.id,
        does=record.does,
        bodies=named_bodies(record, bodies),
        prisms=tuple(prisms),
    )
    state = yield from plan_made(record, given, "extrude", payload, shapes)
    return state


def _prism(view: View, node: Node, record: Extrude, given: ModelState, area: Area, shapes: list[str]) -> Plan:
    """One of the prisms; a curved face that it ends on comes along as one more shape."""
    direction = -1.0 if record.flip else 1.0
    far, near = yield from _ends(view, node, record, area.frame, direction)
    if isinstance(far, tuple) and isinstance(near, tuple):
        shortest = _least(list(area.areas), (far[0] - near[0], far[1] - near[1], far[2] - near[2]))
        if shortest < tolerance.FEATURE:
            behind = f"its end lies {tolerance.length(-shortest):g} mm behind its start"
            told = behind if shortest < 0 else "has no length"
            raise fault("extrude.length", told, "give a positive length or flip the side")
    ends: list[End] = []
    for end in (near, far):
        if isinstance(end, Reference):
            shape = given.shape(end.item)
            if shape is None:
                raise fault("face.missing", "the body of the face it ends on does not exist here", "pick another face")
            shapes.append(shape)
            ends.append(Until(Wanted(end.label, end.witness), len(shapes) - 1))
        else:
            ends.append(_along_normal(end, direction) if isinstance(end, tuple) else end)
    return Prism(area=area, start=ends[0], end=ends[1], up=direction > 0)


def _ends(view: View, node: Node, record: Extrude, frame: Frame, direction: float) -> Plan:
    """Far and near end: heights over the plane in the direction of the extrusion, "through", "next", or a face."""
    if isinstance(record.far, (Through, ToNext)) or isinstance(record.near, Through):
        if record.does == "make":
            raise fault("extrude.nothing_there", "a new body has nothing to go through", "end it at a distance or face")
    far = yield from _end(view, node, record, record.far, frame, direction)
    if isinstance(record.near, Symmetric):
        if not isinstance(record.far, Distance):
            raise fault("extrude.symmetric", "a symmetric extrusion needs a distance", "give its whole length")
        return (far[0] / 2, 0.0, 0.0), (-far[0] / 2, 0.0, 0.0)
    if record.near is None:
        return far, (0.0, 0.0, 0.0)
    near = yield from _end(view, node, record, record.near, frame, direction, -1.0)
    return far, near


def _end(
    view: View,
    node: Node,
    record: Extrude,
    end: Far | Near,
    frame: Frame,
    direction: float,
    side: float = 1.0,
) -> Plan:
    if isinstance(end, (Through, ToNext)):
        return "through" if isinstance(end, Through) else "next"
    if isinstance(end, Distance):
        value = yield from evaluate(view, node, end.value, LENGTH)
        if value < 0:
            raise fault("extrude.negative", f"the distance is {value:g} mm", "give a positive one, or flip the side")
        return side * value, 0.0, 0.0
    assert isinstance(end, ToFace)
    if _is_curved(end.target):
        if end.offset is not None:
            raise fault("extrude.curved", "an offset needs a flat face to end on", "leave the offset empty")
        return end.target
    if nature(view, node, end.target) == "point":
        point = yield from plan_point(view, node, end.target, record.id)
        plane = Frame(point, frame.x, frame.normal)
    else:
        plane = yield from plan_plane(view, node, end.target, record.id)
    height = _height(plane, frame)
    if height is None:
        raise fault(
            "extrude.alongside",
            "the face it ends on stands along the direction of the extrusion and is never reached",
            "pick a face that lies across it",
        )
    offset = 0.0
    if end.offset is not None:
        offset = yield from evaluate(view, node, end.offset, LENGTH)
    return tolerance.length(direction * height[0] + side * offset), direction * height[1], direction * height[2]


def _height(plane: Frame, frame: Frame) -> Height | None:
    """Height of a plane over another's points, along that one's normal; None where they are square to each other."""
    steep = dot(plane.normal, frame.normal)
    if abs(steep) < 1e-6:
        return None
    base = dot(along(plane.origin, frame.origin, -1.0), plane.normal) / steep
    slopes = (-dot(frame.x, plane.normal) / steep, -dot(y_axis(frame), plane.normal) / steep)
    if math.hypot(*slopes) < PARALLEL:
        return base, 0.0, 0.0
    return base, tolerance.ratio(slopes[0]), tolerance.ratio(slopes[1])


def _along_normal(height: Height, direction: float) -> Height:
    return direction * height[0] + 0.0, direction * height[1] + 0.0, direction * height[2] + 0.0


def _least(areas: list[Loops], height: Height) -> float:
    """The least height over the points of some areas; it lies on an outline, at an end or where an arc turns."""
    c, a, b = height
    slope = math.hypot(a, b)
    found = math.inf
    for piece in (p for loops in areas for p in loops[0]):
        points = [piece.start, piece.end]
        if piece.radius and slope:
            low = (piece.centre[0] - piece.radius * a / slope, piece.centre[1] - piece.radius * b / slope)
            begin = math.atan2(piece.start[1] - piece.centre[1], piece.start[0] - piece.centre[0])
            turn = math.atan2(-b, -a) - begin
            if (turn % math.tau if piece.turn > 0 else -turn % math.tau) <= abs(piece.turn):
                points.append(low)
        if piece.path is not None and slope:
            points += as_piece_of(piece).points()
        found = min(found, *(c + a * u + b * v for u, v in points))
    return found


def _is_curved(reference: Reference) -> bool:
    """Whether a face of the model's own bodies was picked that is not flat."""
    witness = reference.witness
    return reference.of == SELF and witness is not None and witness.kind not in ("", "plane", "line")


KIND = OperationKind(
    Extrude,
    (
        Sentence("extrude", "Extrude", "", "Block", (
            Does("acts_on"), Regions("regions", "of"), NearEnd("near"), FarEnd("far", first="10 mm"),
            Angle("draft", "leaning in by", "2 deg", "+ draft"), Flag("flip", "Flip side", quiet=True),
        ), needs=anywhere, also=("pad", "boss", "pocket", "push", "cut")),
    ),
    plan,
    recipe="extrude", given=ExtrudeInput, version=4,
    group="solids",
    rank=10,
)  # fmt: skip
