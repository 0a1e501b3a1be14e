"""Extrude: regions pushed along their plane's normal. Reads regions, ends and the bodies it acts on."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.describe.feed import plan_region
from architectonic.describe.planes import along, dot, plan_plane, y_axis
from architectonic.describe.recipes import ExtrudeInput, Height
from architectonic.describe.results import Frame, Loops, ModelState, Node, NodeFault, Plan, Recipe, fault
from architectonic.describe.sketch import as_piece_of, as_region, piece_result
from architectonic.describe.value import evaluate
from architectonic.describe.view import View
from architectonic.family.records import Distance, Extrude, Symmetric, ToPlane
from architectonic.quantities.units import LENGTH
from architectonic.sketch.regions import outline

PARALLEL = 1e-9
"""Planes that rise less than this over one another are parallel: below it lies the rounding of their normals."""


def plan(view: View, node: Node, record: Extrude, given: ModelState) -> Plan:
    """Bodies after an extrude."""
    if not record.regions:
        raise fault("extrude.no_region", "it has no region", "pick a region of a sketch")
    placed, off = [], None
    for reference in record.regions:
        try:
            region = yield from plan_region(view, node, reference)
            placed.append(region)
        except NodeFault as problem:
            if problem.problem.severity != "off":
                raise
            off = problem
    if not placed:
        assert off is not None
        raise off
    frame = placed[0].frame
    if not all(_same_plane(p.frame, frame) for p in placed):
        raise fault("extrude.planes", "its regions lie on different planes", "use one operation for each plane")
    direction = -1.0 if record.flip else 1.0
    far, near = yield from _ends(view, node, record, frame, direction)
    areas: list[Loops] = [
        tuple(tuple(piece_result(p) for p in loop) for loop in loops)
        for loops in outline([as_region(p.region) for p in placed])
    ]
    shortest = _least(areas, (far[0] - near[0], far[1] - near[1], far[2] - near[2]))
    if shortest < tolerance.FEATURE:
        raise fault(
            "extrude.length",
            f"its end lies {tolerance.length(-shortest):g} mm behind its start" if shortest < 0 else "it has no length",
            "give a positive length or flip the side",
        )
    bodies = _bodies(view, node, record, given)
    payload = ExtrudeInput(
        operation=record.id,
        does=record.does,
        frame=frame,
        areas=tuple(areas),
        start=_along_normal(near, direction),
        end=_along_normal(far, direction),
        bodies=tuple(b for b, _ in bodies) or record.acts_on,
    )
    made = yield Recipe("extrude", payload, tuple(shape for _, shape in bodies))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


def replaced(given: ModelState, key: str, changed: list[str]) -> ModelState:
    """A state in which some bodies have the shapes that a recipe made."""
    new = {body: f"{key}.{body}" for body in changed}
    kept = [(body, new.pop(body, shape)) for body, shape in given.bodies]
    return ModelState((*kept, *new.items()))


def _bodies(view: View, node: Node, record: Extrude, given: ModelState) -> list[tuple[str, str]]:
    if record.does == "make":
        return []
    found = [(b, s) for b, s in given.bodies if b in record.acts_on]
    if not found:
        known = {b: body.name for b, body in view.model(node).bodies.items()}
        names = ", ".join(known.get(b, "a body that is gone") for b in record.acts_on)
        what = f"what it acts on does not exist here: {names}" if record.acts_on else "it acts on no body"
        raise fault("extrude.no_body", what, "choose the bodies it acts on", "missing")
    return found


def _ends(view: View, node: Node, record: Extrude, frame: Frame, direction: float) -> Plan:
    """Far and near end as heights over the sketch's plane, in the direction of the extrusion."""
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
    end: Distance | ToPlane,
    frame: Frame,
    direction: float,
    side: float = 1.0,
) -> Plan:
    if isinstance(end, Distance):
        value = yield from evaluate(view, node, end.value, LENGTH)
        if value < 0:
            raise fault("extrude.negative", f"the distance is {value:g} mm", "give a positive one, or flip the side")
        return side * value, 0.0, 0.0
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


def _same_plane(a: Frame, b: Frame) -> bool:
    height = _height(a, b)
    return height is not None and height[1:] == (0.0, 0.0) and abs(height[0]) <= tolerance.MODELLING and a.x == b.x
