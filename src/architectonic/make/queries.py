"""Questions to shapes: faces, edges, vertices and axes by label, sections, measurements, triangles; and files."""

from __future__ import annotations

import math
from typing import Any

from architectonic.base import tolerance
from architectonic.describe.drawn.curves import as_piece, as_piece_of, piece_result
from architectonic.describe.measured import SeamSeen
from architectonic.describe.recipes import (
    BodyInput,
    BoredInput,
    FaceInput,
    FindInput,
    MeshInput,
    OutlineInput,
    PlacedInput,
    SectionInput,
    Wanted,
)
from architectonic.describe.references.planes import on_plane
from architectonic.describe.references.witness import disagreement
from architectonic.describe.results import (
    Axis,
    CurveResult,
    Found,
    Frame,
    HoleFound,
    PlacedCurve,
    PlacedRegion,
    RegionResult,
)
from architectonic.describe.sketch.trace import brought
from architectonic.kernel.measure import bodies, gauge, holes, likeness, mesh
from architectonic.kernel.shapes import curves
from architectonic.kernel.shapes.labelled import Labelled, centre
from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors, is_planar, location, standing
from architectonic.kernel.shapes.witness import edge_facts, face_facts
from architectonic.kernel.solids import placing
from architectonic.kernel.surfaces import joining
from architectonic.make.fault import MakeFault
from architectonic.make.nearest import nearest
from architectonic.sketch.curves.piece import Piece


def faces_of(shape: Labelled, wanted: Wanted, what: str) -> list[Any]:
    """The face of a label, all its pieces when it was split since.

    Raises:
        MakeFault: gone (with candidates), or not what was picked.
    """
    told, found = f"{what} is gone", []
    for f in shape.find_faces(wanted.label):
        facts = face_facts(shape, f) if wanted.witness else None
        differs = disagreement(wanted.witness, facts.kind, "", facts.neighbours) if facts else ""
        if differs:
            told = f"{what} is not the one that was picked: {differs}"
        else:
            found.append(f)
    if not found:
        best = nearest([shape], wanted, "face")
        raise MakeFault("face.missing", told, "pick a face again", "missing", best, {wanted.label: best})
    return found


def stood(given: PlacedInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """A body where it stands, as a shape of its own; its faces keep their labels."""
    (shape,) = shapes
    return ["body"], {"body": placing.placed(shape, location(given.placement).Transformation())}


def outline(given: OutlineInput, shapes: list[Labelled]) -> tuple[PlacedRegion, dict[str, Labelled]]:
    """A planar face as a region: its sides are named by the edges around it.

    Raises:
        MakeFault: gone (with candidates), not planar, or in pieces.
    """
    (shape,) = shapes
    plane, _ = face(FaceInput(given.face), shapes)
    found = faces_of(shape, given.face, "the face it starts from")
    if len(found) != 1:
        raise MakeFault("face.parted", "the face it starts from is in pieces now", "pick one piece")
    frame = Frame(plane["origin"], plane["x"], plane["normal"])
    loops = []
    for number, around in enumerate(curves.edges_around(shape, found[0])):
        pieces = chained([as_piece(name, brought(placed_curve(curves.curve_of(e)), frame)) for name, e in around])
        outwards = sum(p.area() for p in pieces) > 0
        if outwards != (number == 0):  # the face lies on the left of all its sides
            pieces = [p.reversed() for p in reversed(pieces)]
        loops.append(tuple(piece_result(p) for p in pieces))
    area = sum(as_piece_of(p).area() for loop in loops for p in loop)
    inside = on_plane(frame, centre(found[0]))
    return PlacedRegion(frame, RegionResult(given.face.label, tuple(loops), area, inside)), {}


def chained(pieces: list[Piece]) -> list[Piece]:
    """Pieces of a loop in order, each turned so that it ends where the next one starts."""
    if len(pieces) == 1:
        return pieces
    first, second = pieces[0], pieces[1]
    far = [min(math.dist(end, q) for q in (second.start, second.end)) for end in (first.start, first.end)]
    made = [first.reversed() if far[0] < far[1] else first]
    for p in pieces[1:]:
        at = made[-1].end
        made.append(p if math.dist(p.start, at) <= math.dist(p.end, at) else p.reversed())
    return made


def face(given: FaceInput, shapes: list[Labelled]) -> tuple[dict[str, Any], dict[str, Labelled]]:
    """The plane of a planar face; its pieces may be several but must lie in one plane.

    Raises:
        MakeFault: gone (with candidates), not planar, or its pieces parted.
    """
    label, witness = given.face.label, given.face.witness
    matched = [(shape, f) for shape in shapes for f in shape.find_faces(label)]
    told = "the face it takes is gone"
    found = []
    for shape, f in matched:
        facts = face_facts(shape, f) if witness else None
        differs = disagreement(witness, facts.kind, "", facts.neighbours) if facts else ""
        if differs:
            told = f"the face it takes is not the one that was picked: {differs}"
        else:
            found.append(f)
    if not found:
        best = nearest(shapes, given.face, "face")
        raise MakeFault("face.missing", told, "pick a face again", "missing", best, {label: best})
    planes = [is_planar(f) for f in found]
    first = planes[0]
    if first is None or any(p is None for p in planes):
        raise MakeFault("face.not_planar", "the face it takes is not planar", "pick a planar face")
    origin, normal = first
    height = sum(a * b for a, b in zip(origin, normal, strict=True))
    for plane in planes[1:]:
        assert plane is not None
        if abs(sum(a * b for a, b in zip(plane[0], normal, strict=True)) - height) > tolerance.MODELLING:
            raise MakeFault("face.parted", "the pieces of the face lie at different heights", "pick one piece")
    n = tuple(tolerance.ratio(c) for c in normal)
    foot = tuple(tolerance.length(height * c) for c in normal)
    x = (1.0, 0.0, 0.0) if abs(n[0]) < 0.9 else (0.0, 1.0, 0.0)
    d = sum(a * b for a, b in zip(x, n, strict=True))
    flat = [a - d * b for a, b in zip(x, n, strict=True)]
    size = sum(c * c for c in flat) ** 0.5
    return {"origin": foot, "x": tuple(tolerance.ratio(c / size) for c in flat), "normal": n}, {}


def measurements(_: BodyInput, shapes: list[Labelled]) -> tuple[dict[str, Any], dict[str, Labelled]]:
    """Measurements of one body, rounded to 12 digits: beyond lies the noise of summing over faces."""
    found = bodies.measure(shapes[0])
    return {k: _significant(v) if isinstance(v, (float, tuple)) else v for k, v in found.items()}, {}


def _significant(value: Any) -> Any:
    if isinstance(value, tuple):
        return tuple(tolerance.length(v) for v in value)
    return float(f"{value:.12g}")


def shared(_: BodyInput, shapes: list[Labelled]) -> tuple[float, dict[str, Labelled]]:
    """The volume that two bodies both fill, mm3; 0 where they only touch."""
    return _significant(bodies.shared_volume(shapes[0].shape, shapes[1].shape)), {}


def clash(given: PlacedInput, shapes: list[Labelled]) -> tuple[float, dict[str, Labelled]]:
    """The volume that two bodies both fill where the second stands, as seen from the first, mm3; 0 where they only touch."""
    return _significant(bodies.shared_volume(shapes[0].shape, standing(shapes[1].shape, given.placement))), {}


def apart(given: PlacedInput, shapes: list[Labelled]) -> tuple[float, dict[str, Labelled]]:
    """How far apart two bodies are where the second stands, as seen from the first, mm; 0 where they touch or overlap."""
    far, _, _ = gauge.distance(shapes[0].shape, standing(shapes[1].shape, given.placement))
    return (0.0 if far < tolerance.FEATURE else _significant(far)), {}


def alike(_: BodyInput, shapes: list[Labelled]) -> tuple[str, dict[str, Labelled]]:
    """Whether two bodies have the same shape: "same", "mirrored" or ""."""
    return likeness.likeness(*shapes), {}


def bored(given: BoredInput, shapes: list[Labelled]) -> tuple[list[HoleFound], dict[str, Labelled]]:
    """The holes of some operations in one body."""
    found = holes.bored(shapes[0], frozenset(given.operations))
    return [
        HoleFound(
            b.operation,
            b.key,
            _on_grid(b.at),
            _ratios(b.direction),
            tolerance.length(b.diameter),
            tolerance.length(b.depth),
            tolerance.ratio(b.whole),
        )
        for b in found
    ], {}


def triangles(given: MeshInput, shapes: list[Labelled]) -> tuple[dict[str, Any], dict[str, Labelled]]:
    """Triangles and edge lines of one body."""
    return mesh.mesh(shapes[0], given.angle, *shapes[1:]), {}


def seams(_: BodyInput, shapes: list[Labelled]) -> tuple[tuple[SeamSeen, ...], dict[str, Labelled]]:
    """The edges of a surface: how long, free or how sharply faces meet there, and gaps between free ones."""
    return tuple(
        SeamSeen(
            s.label,
            s.free,
            _significant(s.length),
            None if s.gap is None else tolerance.length(s.gap),
            s.beside,
            tolerance.ratio(s.angle),
        )
        for s in joining.seams(shapes[0])
    ), {}


def box(given: PlacedInput, shapes: list[Labelled]) -> tuple[tuple[float, ...], dict[str, Labelled]]:
    """The box of a body where it stands, mm."""
    found = bodies.box(standing(shapes[0].shape, given.placement))
    return tuple(_significant(c) for c in found), {}


def find(given: FindInput, shapes: list[Labelled]) -> tuple[Found, dict[str, Labelled]]:
    """An edge as exact curves, a vertex as a point, a round face or edge as its axis.

    Raises:
        MakeFault: gone (with candidates), or not what was picked.
    """
    wanted, what = given.wanted, given.what
    told = f"the {'face' if what == 'axis' else what} it takes is gone"
    for shape in shapes:
        if what == "vertex":
            corners = shape.find_vertices(wanted.label)
            if corners:
                return Found(point=_on_grid(curves.point_of(corners[0]))), {}
            continue
        matches = shape.find_edges(wanted.label) if what == "edge" else shape.find_faces(wanted.label)
        good, differs = [], ""
        for match in matches:
            differs = _differs(shape, match, what, wanted) or differs
            if not differs:
                good.append(match)
        if good and what == "edge":
            return Found(curves=tuple(placed_curve(curves.curve_of(e)) for e in good)), {}
        if good:
            turned = curves.axis_of_face(good[0])
            if turned is None:
                raise MakeFault("face.no_axis", "the face it takes is not round", "pick a cylinder or a cone")
            axis = Axis(_on_grid(turned.origin), _ratios(turned.direction))
            return Found(axis=axis, radius=tolerance.length(turned.radius), slope=tolerance.ratio(turned.slope)), {}
        if differs:
            told = f"what it takes is not what was picked: {differs}"
    best = nearest(shapes, wanted, "face" if what == "axis" else what)
    raise MakeFault(f"{what}.missing", told, "pick it again", "missing", best, {wanted.label: best})


def _differs(shape: Labelled, match: Any, what: str, wanted: Wanted) -> str:
    """What tells a match from what was picked, in words."""
    if wanted.witness is None:
        return ""
    if what == "edge":
        facts = edge_facts(shape, match, dict(ancestors(shape.shape, EDGE, FACE))[match])
        return disagreement(wanted.witness, facts.kind, facts.convex, facts.neighbours)
    facts = face_facts(shape, match)
    return disagreement(wanted.witness, facts.kind, "", facts.neighbours)


def section(given: SectionInput, shapes: list[Labelled]) -> tuple[Found, dict[str, Labelled]]:
    """The curves in which a plane cuts a body.

    Raises:
        MakeFault: it does not meet the body.
    """
    f = given.frame
    found = [entry for shape in shapes for entry in curves.section(shape, f.origin, f.x, f.normal)]
    if not found:
        raise MakeFault("section.empty", "the plane does not cut the body here", "move the plane", "missing")
    return Found(curves=tuple(placed_curve(c) for _, c in found), labels=tuple(label for label, _ in found)), {}


def _on_grid(p: tuple[float, float, float]) -> tuple[float, float, float]:
    return (tolerance.length(p[0]), tolerance.length(p[1]), tolerance.length(p[2]))


def _ratios(d: tuple[float, float, float]) -> tuple[float, float, float]:
    return (tolerance.ratio(d[0]), tolerance.ratio(d[1]), tolerance.ratio(d[2]))


def placed_curve(c: curves.ExactCurve) -> PlacedCurve:
    """An exact curve as a result, on the grid."""
    frame = Frame(_on_grid(c.origin), _ratios(c.x), _ratios(c.normal))
    values = tuple(tolerance.length(v) for v in c.values)
    knots = tuple(tolerance.ratio(k) for k in c.knots)
    return PlacedCurve(frame, CurveResult(c.kind, values, data=knots), tuple(tolerance.length(h) for h in c.heights))
