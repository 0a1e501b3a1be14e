"""Extrude: regions pushed along their plane's normal. Reads regions, ends and the bodies it acts on."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.describe.feed import plan_region
from architectonic.describe.planes import along, dot, plan_plane
from architectonic.describe.recipes import ExtrudeInput
from architectonic.describe.results import Frame, Loops, ModelState, Node, NodeFault, Plan, Recipe, fault
from architectonic.describe.sketch import as_region, piece_result
from architectonic.describe.value import evaluate
from architectonic.describe.view import View
from architectonic.family.records import Distance, Extrude, Symmetric, ToPlane
from architectonic.quantities.units import LENGTH
from architectonic.sketch.regions import outline


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
    if far - near < tolerance.FEATURE:
        raise fault(
            "extrude.length",
            f"its end lies {tolerance.length(near - far):g} mm behind its start" if far < near else "it has no length",
            "give a positive length or flip the side",
        )
    areas: list[Loops] = [
        tuple(tuple(piece_result(p) for p in loop) for loop in loops)
        for loops in outline([as_region(p.region) for p in placed])
    ]
    bodies = _bodies(view, node, record, given)
    payload = ExtrudeInput(
        operation=record.id,
        does=record.does,
        frame=frame,
        areas=tuple(areas),
        start=direction * near,
        end=direction * far,
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
    """Positions of far and near end along the direction of the extrusion, mm from the sketch's plane."""
    far = yield from _end(view, node, record, record.far, frame, direction)
    if isinstance(record.near, Symmetric):
        if not isinstance(record.far, Distance):
            raise fault("extrude.symmetric", "a symmetric extrusion needs a distance", "give its whole length")
        return far / 2, -far / 2
    if record.near is None:
        return far, 0.0
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
        return side * value
    plane = yield from plan_plane(view, node, end.target, record.id)
    distance = _parallel_distance(plane, frame)
    if distance is None:
        raise fault("extrude.tilted", "the face it ends on is not parallel to the sketch", "pick a parallel face")
    offset = 0.0
    if end.offset is not None:
        offset = yield from evaluate(view, node, end.offset, LENGTH)
    return tolerance.length(direction * distance + side * offset)


def _parallel_distance(plane: Frame, frame: Frame) -> float | None:
    """Distance of a parallel plane along the frame's normal; None when it is tilted."""
    if abs(abs(dot(plane.normal, frame.normal)) - 1.0) > 1e-9:
        return None
    return dot(along(plane.origin, frame.origin, -1.0), frame.normal)


def _same_plane(a: Frame, b: Frame) -> bool:
    distance = _parallel_distance(a, b)
    return distance is not None and abs(distance) <= tolerance.MODELLING and a.x == b.x and a.origin == b.origin
