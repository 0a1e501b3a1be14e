"""What the blanks of a model can be filled with: planes, lines, points, picked faces and edges."""

from __future__ import annotations

from typing import Protocol

from architectonic.base.places import curve_of, point_of, point_on
from architectonic.describe.words.sentences import place_words, target
from architectonic.family.operations.base import OnEdges, Solid
from architectonic.family.operations.holes.hole import Hole
from architectonic.family.operations.marks.engrave import Engrave
from architectonic.family.records import (
    ORIGIN,
    STANDARD_AXES,
    STANDARD_PLANES,
    AnyDocument,
    AnyOperation,
    Circle,
    Datum,
    Family,
    Line,
    Model,
    Point,
    Reference,
    Sketch,
    Trace,
)
from architectonic.family.walk import surfaces_of

Named = list[tuple[str, Reference]]


class Choosing(Protocol):
    """For whom candidates are looked for: a document, what stands before its marker, and what is chosen in it."""

    @property
    def family(self) -> Family:
        """The family."""

    @property
    def document(self) -> AnyDocument | None:
        """The document; None when it is gone."""

    @property
    def build(self) -> tuple[AnyOperation, ...]:
        """Its build list."""

    @property
    def before_marker(self) -> list[AnyOperation]:
        """The operations that a new one comes after."""

    @property
    def curves(self) -> tuple[str, ...]:
        """Chosen curves and points of sketches."""

    def picked(self, kind: str) -> list[Reference]:
        """Picked faces, edges or vertices of its own bodies, as the next operation finds them."""


MANY = 8
"""Lines or points of one sketch beyond which only chosen ones are listed."""


def planes(subject: Choosing) -> Named:
    """Everything flat that an operation at the marker can stand or end on: name and reference.

    Standard planes, datums before the marker, fed planes and faces, and the picked faces.
    """
    family, document = subject.family, subject.document
    if not isinstance(document, Model):
        return []
    found = [(name, Reference(item=name)) for name in STANDARD_PLANES]
    for operation in subject.before_marker:
        if isinstance(operation, Datum) and operation.gives == "plane":
            found.append((operation.name, Reference(item=operation.id)))
    for feed in document.feeds.values():
        for key, socket in feed.sockets.items():
            if socket.takes in ("plane", "face"):
                reference = Reference(item=key)
                found.append((f"{target(family, document, reference)} of {feed.name}", reference))
    found += [("the picked face", r) for r in subject.picked("face") if r.witness is None or r.witness.kind == "plane"]
    return found


def lines(subject: Choosing) -> Named:
    """Everything that an axis or a direction can be taken from, what is chosen or picked first."""
    document = subject.document
    if not isinstance(document, Model):
        return []
    chosen: Named = []
    rest: Named = []
    for operation in subject.before_marker:
        if isinstance(operation, Datum) and operation.gives == "axis":
            rest.append((operation.name, Reference(item=operation.id)))
        elif isinstance(operation, Sketch):
            for key, curve in operation.curves.items():
                reference = Reference(item=operation.id, label=key)
                entry = (f"{place_words(operation, key)} of {operation.name}", reference)
                if key in subject.curves:
                    chosen.append(entry)
                elif isinstance(curve, (Line, Trace)) and len(operation.curves) <= MANY:
                    rest.append(entry)
    chosen += [("the picked edge", r) for r in subject.picked("edge")]
    chosen += [(f"the axis of {name}", r) for name, r in round_faces(subject)]
    axes = [(f"the {name} axis", Reference(item=name)) for name in STANDARD_AXES]
    return [*chosen, *rest, *axes]


def points(subject: Choosing) -> Named:
    """Everything that a point can be taken from, what is chosen first."""
    document = subject.document
    if not isinstance(document, Model):
        return []
    chosen: Named = []
    rest: Named = []
    for operation in subject.before_marker:
        if isinstance(operation, Datum) and operation.gives == "point":
            rest.append((operation.name, Reference(item=operation.id)))
        elif isinstance(operation, Sketch):
            for place in subject.curves:
                if point_of(place) and curve_of(place) in operation.curves:
                    words = f"{place_words(operation, place)} of {operation.name}"
                    chosen.append((words, Reference(item=operation.id, label=place)))
            if len(operation.curves) <= MANY:
                rest += points_of(operation)
    origin = [("the origin", Reference(item=ORIGIN))]
    return [*chosen, *(e for e in rest if e[1] not in [c[1] for c in chosen]), *origin]


def points_of(sketch: Sketch) -> Named:
    """Ends, centres and drawn points of a sketch: words and reference."""
    found: Named = []
    for key, curve in sketch.curves.items():
        if isinstance(curve, Line):
            parts = ["start", "end"]
        elif isinstance(curve, Circle):
            parts = ["centre"]
        elif isinstance(curve, Point):
            parts = ["at"]
        else:
            continue
        for part in parts:
            place = point_on(key, part)
            found.append((f"{place_words(sketch, place)} of {sketch.name}", Reference(item=sketch.id, label=place)))
    return found


def has_points(sketch: Sketch) -> bool:
    """Whether points are drawn in a sketch."""
    return any(isinstance(c, Point) for c in sketch.curves.values())


def hole_places(subject: Choosing) -> Named:
    """Sketches whose points and circles holes can go in at, and fed hole sets."""
    document = subject.document
    if not isinstance(document, Model):
        return []
    found: Named = []
    for operation in subject.before_marker:
        if isinstance(operation, Sketch) and any(
            isinstance(c, Point) or (isinstance(c, Circle) and not c.helper) for c in operation.curves.values()
        ):
            found.append((f"all points of {operation.name}", Reference(item=operation.id)))
    for feed in document.feeds.values():
        for key, socket in feed.sockets.items():
            if socket.takes == "holes":
                found.append(
                    (f"{target(subject.family, document, Reference(item=key))} of {feed.name}", Reference(item=key))
                )
    return found


def repeatable(subject: Choosing) -> Named:
    """Earlier operations that a pattern can repeat, the last ones first."""
    found = [o for o in subject.before_marker if isinstance(o, (Hole, OnEdges, Engrave)) or _adds_or_cuts(o)]
    return [(o.name, Reference(item=o.id, stage="here")) for o in reversed(found)]


def _adds_or_cuts(operation: AnyOperation) -> bool:
    return isinstance(operation, Solid) and operation.does in ("add", "cut")


def round_faces(subject: Choosing) -> Named:
    """Picked faces that have an axis."""
    found = [r for r in subject.picked("face") if r.witness is not None and r.witness.kind in ("cylinder", "cone")]
    return [(f"the picked {r.witness.kind}", r) for r in found if r.witness is not None]


def curved_faces(subject: Choosing) -> Named:
    """Picked faces that are not flat."""
    found = [r for r in subject.picked("face") if r.witness is not None and r.witness.kind != "plane"]
    return [(f"the picked {r.witness.kind}", r) for r in found if r.witness is not None]


def places(subject: Choosing) -> Named:
    """Everything that can be laid on something like it."""
    return [*points(subject), *planes(subject), *lines(subject)]


def dividers(subject: Choosing) -> Named:
    """Everything that bodies can be split by."""
    sketches = [
        (f"the lines of {o.name}", Reference(item=o.id)) for o in subject.before_marker if isinstance(o, Sketch)
    ]
    document = subject.document
    known = surfaces_of(document) if isinstance(document, Model) else ()
    whole = [(document.bodies[b].name, Reference(item=b, stage="here")) for b in known]  # type: ignore[union-attr]
    return [*curved_faces(subject), *sketches, *whole, *planes(subject)]


def ends(subject: Choosing) -> Named:
    """Planes, faces and points that something which is pushed can reach, the standard planes last."""
    known = [*planes(subject), *curved_faces(subject)]
    found = [(name, r) for name, r in known if r.item not in STANDARD_PLANES]
    found += [(name, r) for name, r in points(subject) if name != "the origin"]
    return [*found, *((f"the {name} plane", r) for name, r in known if r.item in STANDARD_PLANES)]
