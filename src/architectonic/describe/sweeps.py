"""Revolve, sweep, loft, thicken and rib: solids swept from regions, curves and faces."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.base.labels import plain
from architectonic.describe.curves import as_piece
from architectonic.describe.places import ends_of, plan_curve, plan_line, plan_shape
from architectonic.describe.planes import plan_plane
from architectonic.describe.recipes import LoftInput, RevolveInput, RibInput, SweepInput, ThickenInput, Thing, Wanted
from architectonic.describe.results import (
    Axis,
    Frame,
    ModelState,
    Node,
    NodeFault,
    PieceResult,
    PlacedCurve,
    Plan,
    Recipe,
    fault,
)
from architectonic.describe.sketch import piece_result
from architectonic.describe.solid import (
    acted,
    named_bodies,
    plan_areas,
    plan_length,
    plan_made,
    replaced,
    targets,
    wanted_by_body,
)
from architectonic.describe.value import evaluate, plan_source
from architectonic.describe.view import View, is_standard
from architectonic.family.records import Body, Loft, Reference, Revolve, Rib, Sweep, Thicken
from architectonic.family.scopes import Scope
from architectonic.quantities.units import ANGLE


def plan_revolve(view: View, node: Node, record: Revolve, given: ModelState) -> Plan:
    """Bodies after a revolve."""
    areas = yield from plan_areas(view, node, record.regions, record.id)
    axis = yield from plan_line(view, node, record.axis, record.id)
    turn = math.tau
    if record.angle is not None:
        turn = yield from evaluate(view, node, record.angle, ANGLE)
        if not tolerance.FEATURE < turn < math.tau + tolerance.MEASURE:
            told = f"{math.degrees(turn):g}° is no turn that can be made"
            raise fault("revolve.angle", told, "give more than 0 and at most 360°")
    start = -turn / 2 if record.symmetric else -turn if record.flip else 0.0
    bodies = targets(view, node, record, given)
    shapes = [s for _, s in bodies]
    target = None
    if record.target is not None:
        if record.symmetric:
            raise fault("revolve.both_ways", "what goes up to a face goes one way only", "take “both ways” out")
        target = yield from _plan_target(view, node, record.target, record.id, shapes)
        d = axis.direction
        axis = Axis(axis.origin, (-d[0], -d[1], -d[2])) if record.flip else axis
    payload = RevolveInput(
        operation=record.id,
        does=record.does,
        bodies=named_bodies(record, bodies),
        areas=tuple(areas),
        axis=axis,
        start=tolerance.ratio(start),
        turn=tolerance.ratio(turn),
        target=target,
    )
    state = yield from plan_made(record, given, "revolve", payload, shapes)
    return state


def _plan_target(view: View, node: Node, reference: Reference, standing: str, shapes: list[str]) -> Plan:
    """Sub-plan: what something turns up to: a plane, or a face of one of the shapes that come along."""
    at: Scope = yield from plan_source(view, node, reference)
    record = (
        None if is_standard(reference) or at.document != node.document else view.record(Node("", *at, reference.item))
    )
    if isinstance(record, Body) and reference.label:
        gone = fault(
            "body.missing", "the body of the face it goes up to does not exist here", "pick another face", "missing"
        )
        shapes.append((yield from plan_shape(view, node, at, reference, standing, gone)))
        return Thing(len(shapes) - 1, Wanted(reference.label, reference.witness))
    return Thing(frame=(yield from plan_plane(view, node, reference, standing)))


def plan_sweep(view: View, node: Node, record: Sweep, given: ModelState) -> Plan:
    """Bodies after a sweep."""
    areas = yield from plan_areas(view, node, record.regions, record.id)
    if len(areas) != 1:
        raise fault("sweep.planes", "its regions lie in different sketches", "use one operation for each")
    if not record.path:
        raise fault("sweep.no_path", "it has no path", "pick curves or edges that meet end to end")
    curves: list[PlacedCurve] = []
    for reference in record.path:
        curve = yield from plan_curve(view, node, reference, record.id)
        curves.append(curve)
    named = [plain(r.label) or r.item for r in record.path]  # sides are told apart by what they lie along
    bodies = targets(view, node, record, given)
    payload = SweepInput(
        operation=record.id,
        does=record.does,
        bodies=named_bodies(record, bodies),
        area=areas[0],
        path=way(chained(curves, named)),
    )
    state = yield from plan_made(record, given, "sweep", payload, [s for _, s in bodies])
    return state


def way(pieces: list[tuple[PlacedCurve, PieceResult]]) -> tuple[tuple[Frame, PieceResult, tuple[float, ...]], ...]:
    """Pieces as a recipe has them."""
    return tuple((c.frame, piece, c.heights) for c, piece in pieces)


def chained(curves: list[PlacedCurve], names: list[str]) -> list[tuple[PlacedCurve, PieceResult]]:
    """Curves as a path from end to end, in whatever order they were picked; each starts where the one before ends.

    Raises:
        NodeFault: they do not meet.
    """
    pieces = [as_piece(name, c.curve) for name, c in zip(names, curves, strict=True)]
    if len(curves) == 1:
        return [(curves[0], piece_result(pieces[0]))]
    ends = [ends_of(c) for c in curves]
    if any(len(e) != 2 for e in ends):
        raise fault("sweep.closed", "a closed curve cannot be one of several", "pick it alone")
    near = 10 * tolerance.FEATURE

    def degree(p: tuple[float, float, float]) -> int:
        return sum(math.dist(p, q) < near for e in ends for q in e)

    loose = [k for k, e in enumerate(ends) if any(degree(p) == 1 for p in e)]
    first = loose[0] if loose else 0
    flip = degree(ends[first][0]) != 1 if loose else False
    order = [(first, flip)]
    at = ends[first][0 if flip else 1]
    left = [k for k in range(len(curves)) if k != first]
    while left:
        step = next(((k, i) for k in left for i in (0, 1) if math.dist(ends[k][i], at) < near), None)
        if step is None:
            raise fault("sweep.gap", "the curves of the path do not meet end to end", "pick curves that do")
        k, i = step
        order.append((k, i == 1))
        at = ends[k][1 - i]
        left.remove(k)
    return [(curves[k], piece_result(pieces[k].reversed() if back else pieces[k])) for k, back in order]


def plan_loft(view: View, node: Node, record: Loft, given: ModelState) -> Plan:
    """Bodies after a loft."""
    areas = yield from plan_areas(view, node, record.regions, record.id)
    if len(areas) < 2:
        raise fault("loft.sections", "it needs regions on two planes at least", "pick the next region")
    if any(len(a.areas) != 1 for a in areas):
        raise fault("loft.parted", "a section is in several pieces", "pick one region of each sketch")
    if record.guides and record.straight:
        raise fault("loft.both", "its sides cannot be straight and follow guides", "take one of them out")
    guides: list[tuple[Frame, PieceResult, tuple[float, ...]]] = []
    for reference in record.guides:
        curve = yield from plan_curve(view, node, reference, record.id)
        guides += way([(curve, piece_result(as_piece(plain(reference.label) or reference.item, curve.curve)))])
    bodies = targets(view, node, record, given)
    payload = LoftInput(
        operation=record.id,
        does=record.does,
        bodies=named_bodies(record, bodies),
        sections=tuple(areas),
        straight=record.straight,
        guides=tuple(guides),
    )
    state = yield from plan_made(record, given, "loft", payload, [s for _, s in bodies])
    return state


def plan_thicken(view: View, node: Node, record: Thicken, given: ModelState) -> Plan:
    """Bodies after faces were thickened."""
    if not record.faces:
        raise fault("thicken.no_face", "it has no face", "pick faces")
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


def plan_rib(view: View, node: Node, record: Rib, given: ModelState) -> Plan:
    """Bodies after a rib was added."""
    if not record.curves:
        raise fault("rib.no_curve", "it has no curve", "pick curves of one sketch that meet end to end")
    thickness = yield from plan_length(view, node, record.thickness, "thickness")
    curves: list[PlacedCurve] = []
    for reference in record.curves:
        curve = yield from plan_curve(view, node, reference, record.id)
        if curve.heights or (curves and curve.frame != curves[0].frame):
            raise fault("rib.planes", "its curves do not lie in one plane", "pick curves of one sketch")
        curves.append(curve)
    pieces = chained(curves, [plain(r.label) or r.item for r in record.curves])
    first, last = pieces[0][1].start, pieces[-1][1].end
    if math.dist(first, last) < tolerance.FEATURE:
        raise fault("rib.closed", "its curves are closed", "use an extrude for a closed outline")
    bodies = acted(view, node, record.acts_on, given)
    payload = RibInput(
        operation=record.id,
        does="add",
        bodies=tuple(b for b, _ in bodies),
        frame=curves[0].frame,
        curves=tuple(piece for _, piece in pieces),
        thickness=thickness,
        flip=record.flip,
    )
    made = yield Recipe("rib", payload, tuple(s for _, s in bodies))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)
