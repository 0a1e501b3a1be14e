"""Measurements of what was picked: which figures it has, kept under a name, and their words."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.describe.measured import Gauged
from architectonic.describe.references.measurement import passing
from architectonic.describe.references.surveys import SURVEYS
from architectonic.describe.results import Axis, Node, Outcome
from architectonic.describe.words.sentences import face_words
from architectonic.family.names import unit_of
from architectonic.family.records import (
    SELF,
    AnyDocument,
    Body,
    Datum,
    Family,
    Measurement,
    Measures,
    Model,
    Reference,
    Sketch,
)
from architectonic.family.scopes import Scope
from architectonic.family.walk import index
from architectonic.quantities import units

WORDS: dict[Measures, str] = {
    "distance": "Shortest distance",
    "apart": "Apart without ends",
    "angle": "Angle",
    "radius": "Radius",
    "length": "Length",
    "area": "Area",
    "volume": "Volume",
    "mass": "Mass",
    "centre x": "Centre, x",
    "centre y": "Centre, y",
    "centre z": "Centre, z",
    **{what: f"{'Most' if kind.most else 'Least'}: {kind.title.lower()}" for what, kind in SURVEYS.items()},
}


BRIEF = {**WORDS, "distance": "Shortest", "apart": "Apart"}
"""The same for a narrow column, below a heading."""


def kinds_for(of: tuple[Reference, ...]) -> tuple[Measures, ...]:
    """The figures that one or two picked things may have."""
    if len(of) == 2:
        return ("distance", "apart", "angle")
    if len(of) != 1:
        return ()
    label = of[0].label
    if not label:
        return ("volume", "mass", "area", "centre x", "centre y", "centre z")
    if label.startswith("(("):
        return ()
    return ("length", "radius") if label.startswith("(") else ("area", "radius")


def asked(at: Scope, of: tuple[Reference, ...]) -> dict[Measures, Node]:
    """The nodes whose values are the figures of what is picked."""
    return {what: Node("gauged", at, "", passing(what, of)) for what in kinds_for(of)}


def figure(what: Measures, value: float) -> str:
    """A figure with its unit."""
    record = Measurement(id="", name="", what=what, of=())
    return units.shown(value, unit_of(record), 4)


def axis_words(axis: Axis) -> list[tuple[str, str]]:
    """Where an axis is, as two rows: beside which origin when it runs along x, y or z, else through which point."""
    along = next((k for k in range(3) if abs(axis.direction[k]) > 1 - tolerance.MEASURE), None)
    if along is None:
        through = ", ".join(f"{c + 0.0:.6g}" for c in axis.origin)
        return [("Axis through", through), ("Axis along", ", ".join(f"{c + 0.0:.3g}" for c in axis.direction))]
    where = ", ".join(f"{'xyz'[k]} {axis.origin[k] + 0.0:.6g}" for k in range(3) if k != along)
    return [("Axis at", where), ("Axis along", "xyz"[along])]


def told(answers: dict[Measures, Outcome]) -> list[tuple[Measures, Gauged]]:
    """The figures that things turned out to have."""
    return [(what, o.value) for what, o in answers.items() if isinstance(o.value, Gauged)]


def of_words(family: Family, document: AnyDocument, record: Measurement) -> str:
    """What a measurement is of, in words."""
    return " and ".join(_thing(family, document, r) for r in record.of)


def _thing(family: Family, document: AnyDocument, reference: Reference) -> str:
    source = document if reference.of == SELF else family.documents.get(reference.of)
    if source is None:
        return "something that is gone"
    found = index(source).get(reference.item)
    if isinstance(found, (Datum, Sketch)):
        return found.name
    body = source.bodies.get(reference.item) if isinstance(source, Model) else None
    name = body.name if isinstance(body, Body) else ""
    if not reference.label:
        return name or reference.item
    words = face_words(source, reference.label)
    return f"{words} of {name}" if name and isinstance(source, Model) and len(source.bodies) > 1 else words
