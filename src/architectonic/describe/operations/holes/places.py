"""Where the holes of an operation go in: points, round curves, whole sketches, places on faces, fed hole sets."""

from __future__ import annotations

import msgspec
import numpy as np
from scipy.spatial import cKDTree

from architectonic.base import tolerance
from architectonic.base.places import curve_of, point_of
from architectonic.describe.operations.holes.sets import plan_set
from architectonic.describe.references.places import of_sketch, plan_place, spot_of
from architectonic.describe.references.planes import in_space, on_plane, plan_plane
from architectonic.describe.references.switched import is_on
from architectonic.describe.references.value import evaluate, plan_source
from architectonic.describe.results import (
    Frame,
    HolePlaced,
    HoleSet,
    HolesResult,
    Node,
    PlacedCurve,
    Plan,
    SketchResult,
    Spot,
    Vector,
    fault,
    needed,
)
from architectonic.describe.view import View, is_standard
from architectonic.family.operations.holes.hole import Hole, HolePlace
from architectonic.family.records import Body, Datum, Reference, Sketch, Socket
from architectonic.family.scopes import Scope
from architectonic.quantities.units import LENGTH

ROUND = ("circle", "arc", "ellipse", "elliptic_arc")


def plan_holes(view: View, node: Node) -> Plan:
    """Places and hole set of an operation, whether it is on or not."""
    record = view.record(node)
    if not isinstance(record, Hole):
        raise fault("hole.missing", "the holes it takes are gone", "take others", "missing")
    if not (yield from is_on(view, node, record)):
        raise fault("hole.off", f"{record.name} is off here", "", "off")
    if not record.places:
        raise fault("hole.no_place", "has no place", "pick points, circles or round edges")
    found: dict[str, HolePlaced] = {}
    fed: HoleSet | None = None
    for place in record.places:
        new, theirs = yield from _plan_place(view, node, record, place)
        fed = fed or theirs
        found |= {p.key: p for p in new}
    made = yield from plan_set(view, node, record, fed)
    turned = {k: _turned(p, record.flip) for k, p in found.items()}
    kept = tuple(p for k, p in turned.items() if k not in record.left_out)
    refuse_meeting(kept, made)
    return HolesResult(made, kept, fed, tuple(p for k, p in turned.items() if k in record.left_out))


def _plan_place(view: View, node: Node, record: Hole, place: HolePlace) -> Plan:
    """Sub-plan: holes at one place, or at all of a sketch or hole set; and the set, when it is a fed one."""
    reference = place.at
    if place.x is not None and place.y is not None:
        frame = yield from plan_plane(view, node, reference, record.id)
        x = yield from evaluate(view, node, place.x, LENGTH)
        y = yield from evaluate(view, node, place.y, LENGTH)
        return [_at(place.id, in_space(frame, (x, y)), frame.normal, frame.x)], None
    at: Scope = yield from plan_source(view, node, reference)
    own = at.document == node.document and not is_standard(reference)
    source = view.record(Node("", at, reference.item)) if own else None
    if isinstance(source, Socket):
        (outcome,) = yield [Node("socket", at, reference.item)]
        value = needed(outcome, "what is fed")
        if isinstance(value, HolesResult):
            named = [HolePlaced(f"{reference.item}:{p.key}", p.frame) for p in value.places]
            return [_turned(p, False) for p in named], value.set  # they look into the material already
    if isinstance(source, Sketch) and not point_of(reference.label):
        solved, frame = yield [Node("solve", at, source.id), Node("frame", at, source.id)]
        return _of_sketch(needed(solved, "its sketch"), needed(frame), source, reference), None
    if isinstance(source, Datum) or source is None or (isinstance(source, Body) and not reference.label):
        raise fault("hole.no_direction", "a hole needs a point in a plane, or a round edge", "pick another place")
    value = yield from plan_place(view, node, reference, record.id)
    if isinstance(source, Sketch):
        (outcome,) = yield [Node("frame", at, source.id)]
        frame = needed(outcome)
        return [_at(reference.label, spot_of(value), frame.normal, frame.x)], None
    if isinstance(value, PlacedCurve) and value.curve.kind in ("point", *ROUND):
        centre = in_space(value.frame, value.curve.values[:2])  # type: ignore[arg-type]
        key = reference.label or reference.item
        return [_at(key, centre, value.frame.normal, value.frame.x)], None
    what = "a point alone has no direction" if isinstance(value, Spot) else "what was picked is not round"
    raise fault("hole.no_direction", what, "pick points of a sketch, circles or round edges")


def _of_sketch(solved: SketchResult, frame: Frame, sketch: Sketch, reference: Reference) -> list[HolePlaced]:
    """A point or round curve of a sketch, or all of its points and those of its circles that are no helpers."""
    if reference.label:
        curve = of_sketch(solved, frame, curve_of(reference.label))
        if curve.curve.kind not in ("point", *ROUND):
            raise fault("hole.no_centre", "what was picked has no centre", "pick a point, a circle or an arc")
        return [_at(reference.label, in_space(frame, curve.curve.values[:2]), frame.normal, frame.x)]  # type: ignore[arg-type]
    found = {k: c for k, c in solved.curves.items() if c.kind == "point" or (c.kind == "circle" and not c.helper)}
    if not found:
        raise fault("hole.no_place", f"{sketch.name} has no point and no circle", "draw points where holes are wanted")
    ordered = sorted(found.items(), key=lambda entry: (round(entry[1].values[0], 6), entry[1].values[1]))
    return [_at(k, in_space(frame, c.values[:2]), frame.normal, frame.x) for k, c in ordered]  # type: ignore[arg-type]


def _at(key: str, point: Vector, normal: Vector, x: Vector) -> HolePlaced:
    """A place whose normal still looks out of the material."""
    spot = (tolerance.length(point[0]), tolerance.length(point[1]), tolerance.length(point[2]))
    return HolePlaced(key, Frame(spot, x, normal))


def _turned(placed: HolePlaced, flip: bool) -> HolePlaced:
    """Into the material: against the normal unless it is flipped. Fed places look that way already."""
    n = placed.frame.normal
    into = n if flip else (-n[0] + 0.0, -n[1] + 0.0, -n[2] + 0.0)
    return msgspec.structs.replace(placed, frame=msgspec.structs.replace(placed.frame, normal=into))


def refuse_meeting(places: tuple[HolePlaced, ...], holes: HoleSet) -> None:
    """Holes side by side must not run into each other.

    Raises:
        NodeFault: two of one direction do; says which.
    """
    wide = holes.widest
    by_direction: dict[Vector, list[int]] = {}
    for k, placed in enumerate(places):
        by_direction.setdefault(placed.frame.normal, []).append(k)
    for direction, group in by_direction.items():
        x = places[group[0]].frame.x
        flat = Frame((0.0, 0.0, 0.0), x, direction)
        points = np.array([on_plane(flat, places[k].frame.origin) for k in group])
        for i, j in sorted(cKDTree(points).query_pairs(wide - tolerance.FEATURE)):
            gap = float(np.linalg.norm(points[i] - points[j]))
            told = f"holes {group[i] + 1} and {group[j] + 1} stand on the same place"
            if gap > tolerance.FEATURE:
                told = f"holes {group[i] + 1} and {group[j] + 1} run into each other: {gap:.3g} mm apart and {wide:g} mm wide"
            raise fault("hole.meeting", told, "move them apart, or leave one out")
