"""Operations as sentences: the row in Made of, the name of an undo step and the line in a report are the same words."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from architectonic.base.labels import faces_around, kind_of, pair
from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, curve_of, taken_apart
from architectonic.family import names
from architectonic.family.records import (
    AnyAxis,
    AnyPlane,
    AnyPoint,
    Constraint,
    CrossingAxis,
    Curve,
    EllipticArc,
    Expression,
    Family,
    FrameAt,
    LineAxis,
    LinePlane,
    MidPlane,
    Model,
    OffsetPlane,
    PointAt,
    PointCrossing,
    PointHere,
    PointsAxis,
    PointsPlane,
    Reference,
    Sketch,
    Socket,
    Spline,
    SquareAxis,
    SquarePlane,
    TangentPlane,
)
from architectonic.family.walk import index
from architectonic.quantities.units import shown
from architectonic.sketch.curves.kinds import IMAGES
from architectonic.sketch.solving import images

PLANES = {"front": "Front", "top": "Top", "right": "Right"}
STANDARD_WORDS = {**PLANES, "x": "the x axis", "y": "the y axis", "z": "the z axis", "origin": "the origin"}


def bodies(document: Model, ids: tuple[str, ...]) -> str:
    """Names of bodies, parted by commas."""
    return ", ".join(document.bodies[b].name if b in document.bodies else "a body that is gone" for b in ids)


def target(family: Family, document: Model, reference: Reference) -> str:
    """What a reference means, in words."""
    if reference.item in STANDARD_WORDS:
        return STANDARD_WORDS[reference.item]
    source = family.documents.get(document.id if reference.of == "self" else reference.of)
    if source is None:
        return "something that is gone"
    record = index(source).get(reference.item)
    if isinstance(record, Socket):
        return fed(family, record)
    name = getattr(record, "name", "something that is gone")
    if not reference.label or record is None:
        return name
    if isinstance(record, Sketch):
        return f"{place_words(record, reference.label)} of {name}"
    return f"{noun_of(reference.label)} of {name}"


def fed(family: Family, socket: Socket) -> str:
    """What a socket takes from its source, in words."""
    there, label = family.documents.get(socket.source.of), socket.source.label
    inner = index(there).get(socket.source.item) if there else None
    name = getattr(inner, "name", "something that is gone")
    if socket.takes == "layout":
        return getattr(there, "name", name)
    if not label or inner is None:
        return name
    if socket.takes == "region":
        return f"a region of {name}"
    return f"{place_words(inner, label) if isinstance(inner, Sketch) else noun_of(label)} of {name}"


def noun_of(label: str) -> str:
    """What a label of a body names, with its article."""
    return {"vertex": "a vertex", "edge": "an edge", "face": "a face"}[kind_of(label)]


def text(family: Family, document: Model, expression: Expression) -> str:
    """An expression with the names of now."""
    return names.shown_text(family, document, expression)


def datum(family: Family, document: Model, by: AnyPlane | AnyAxis | AnyPoint) -> str:
    """What a datum is placed by, in words."""

    def of(reference: Reference) -> str:
        return target(family, document, reference)

    def value(expression: Expression) -> str:
        return text(family, document, expression)

    words: dict[type, Callable[[Any], str]] = {
        OffsetPlane: lambda b: f"{of(b.plane)} + {value(b.distance)}",
        LinePlane: lambda b: f"through {of(b.line)}, turned {value(b.angle)}",
        SquarePlane: lambda b: f"square to {of(b.line)}" + (f" at {value(b.share)} of it" if b.share else ""),
        MidPlane: lambda b: f"midway between {of(b.first)} and {of(b.second)}",
        PointsPlane: lambda b: "through " + ", ".join(of(p) for p in b.points),
        TangentPlane: lambda b: f"touching {of(b.face)} at {value(b.angle)}",
        FrameAt: lambda b: f"{of(b.plane)} through {of(b.origin)}" + (f", x along {of(b.along)}" if b.along else ""),
        LineAxis: lambda b: f"along {of(b.line)}",
        PointsAxis: lambda b: f"from {of(b.points[0])} to {of(b.points[1])}",
        CrossingAxis: lambda b: f"where {of(b.first)} and {of(b.second)} cross",
        SquareAxis: lambda b: f"square to {of(b.plane)} through {of(b.point)}",
        PointHere: lambda b: f"at {of(b.point)}",
        PointAt: lambda b: f"at {value(b.x)}, {value(b.y)}, {value(b.z)}",
        PointCrossing: lambda b: f"where {of(b.line)} crosses {of(b.plane)}",
    }
    return words[type(by)](by)


CONSTRAINTS = {
    "coincident": "joined",
    "horizontal": "level",
    "vertical": "upright",
    "parallel": "parallel",
    "perpendicular": "square",
    "equal": "equal",
    "tangent": "tangent",
    "on_curve": "on the curve",
    "fix": "fixed",
    "collinear": "in line",
    "concentric": "about one centre",
    "midpoint": "in the middle",
    "symmetric": "symmetric",
    "distance": "length",
    "horizontal_distance": "across",
    "vertical_distance": "up",
    "angle": "angle",
    "radius": "radius",
    "diameter": "diameter",
    "arc_length": "arc length",
    "smooth": "smooth",
    "offset": "offset",
    "mirrored": "mirrored",
    "shifted": "repeated along",
    "turned": "repeated about",
    "count": "in all",
}
PARTS = {
    "along": "first half axis",
    "across": "second half axis",
    "over": "upper corner",
    "from": "first handle",
    "to": "last handle",
}
"""Words for points of curves, where they differ from their names."""


def constraint(family: Family, document: Model, sketch: Sketch, c: Constraint, chosen: str = "") -> str:
    """A constraint in a few words, as seen from one of its curves."""
    words = CONSTRAINTS[c.kind]
    others = [p for p in c.of if curve_of(p) != chosen]
    if c.value is not None:
        shown = names.shown_text(family, document, c.value, sketch)
        words = f"{words} {c.name} = {shown}" if c.name else f"{words} {shown}"
    elif c.reads:
        words = f"{words} {c.name}".rstrip() + ", only read"
    if c.kind in IMAGES:
        return f"{words} {_partner(sketch, c, chosen)}"
    if others and len(c.of) > 1:
        words += " with " + " and ".join(place_words(sketch, p) for p in others)
    return words


def holds(sketch: Sketch, c: Constraint, value: float | None = None) -> str:
    """A constraint with what it holds, as the window says it: `line 2 upright`, `line 3 length 20 mm`.

    Args:
        value: of a dimension, mm or rad.
    """
    first = curve_of(c.of[0])
    others = [p for p in c.of if curve_of(p) != first]
    whole = c.of[0] if len(c.of) == 1 or others else first
    words = CONSTRAINTS[c.kind]
    if value is not None:
        unit = names.unit_of(c)
        words += f" {shown(value, unit, 3)}"
        words += f" ({c.name})" if c.name else ""
    told = f"{place_words(sketch, whole)} {words}"
    return f"{told} with {' and '.join(place_words(sketch, p) for p in others)}" if others else told


def _partner(sketch: Sketch, c: Constraint, chosen: str) -> str:
    """Of what a curve is a copy, or what is copied from it; how many of a whole."""
    first, pairs = (c.of[0] if IMAGES[c.kind][0] else ""), images.pairs_of(c.kind, c.of)
    about = f", {place_words(sketch, first)}" if first and curve_of(first) != chosen else ""
    for original, copy in pairs:
        if copy == chosen:
            return f"from {place_words(sketch, original)}{about}"
        if original == chosen:
            return f"as {place_words(sketch, copy)}{about}"
    return f"{len(pairs)} curves{about}"


def _word(curve: Curve) -> str:
    words = {EllipticArc: "part of an ellipse", Spline: "curve"}
    return words.get(type(curve), type(curve).__name__.lower())


def place_words(sketch: Sketch, place: str) -> str:
    """`the start of line 2`, `the x axis`."""
    curve, part = taken_apart(place)
    fixed: dict[str, str] = {ORIGIN: "the origin", X_AXIS: "the x axis", Y_AXIS: "the y axis"}
    if curve in fixed:
        return fixed[curve]
    keys = list(sketch.curves)
    kind = _word(sketch.curves[curve]) if curve in sketch.curves else "something gone"
    name = f"{kind} {keys.index(curve) + 1}" if curve in sketch.curves else kind
    said = f"point {part[1:]}" if part[:1] == "p" and part[1:].isdigit() else PARTS.get(part, part)
    return f"the {said} of {name}" if part and part != "at" else name


def face_words(document: object, label: str) -> str:
    """`o1:side:c9` as `side of Foot block`; an edge names both its faces, a vertex those around it."""
    kind = kind_of(label)
    faces = {label} if kind == "face" else pair(label) if kind == "edge" else faces_around(label)
    roles: dict[str, dict[str, None]] = {}
    for face in sorted(faces):
        operation, _, rest = face.partition(":")
        name = operation
        if isinstance(document, Model):
            name = next((o.name for o in document.build if o.id == operation), operation)
        roles.setdefault(name, {})[rest.split(":")[0].split("#")[0]] = None
    return " and ".join(f"{' and '.join(own)} of {name}" for name, own in roles.items())
