"""Revolve, sweep, loft, thicken and rib: solids swept from regions, curves and faces."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.base.labels import plain
from architectonic.describe.drawn.curves import as_piece, piece_result
from architectonic.describe.operations.solid import (
    acted,
    named_bodies,
    plan_areas,
    plan_face_or_plane,
    plan_length,
    plan_made,
    replaced,
    targets,
    wanted_by_body,
)
from architectonic.describe.recipes import LoftInput, RevolveInput, RibInput, SweepInput, ThickenInput
from architectonic.describe.references.chains import chained, way
from architectonic.describe.references.places import plan_curve, plan_line
from architectonic.describe.references.value import evaluate
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
from architectonic.describe.view import View
from architectonic.family.records import Loft, Revolve, Rib, Sweep, Thicken
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
        target = yield from plan_face_or_plane(view, node, record.target, record.id, shapes)
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
