"""What a reference that finds nothing any more may have meant."""

from __future__ import annotations

from typing import Any, Literal

from architectonic.describe.recipes import Wanted
from architectonic.describe.references.witness import Candidate, ranked
from architectonic.kernel.shapes.curves import point_of
from architectonic.kernel.shapes.labelled import Labelled, centre
from architectonic.kernel.shapes.witness import edge_kind, face_kind

MOST = 5
"""Candidates that are told."""


def nearest(shapes: list[Labelled], wanted: Wanted, what: Literal["face", "edge", "vertex"]) -> tuple[str, ...]:
    """Labels that share something with a lost one, the likeliest first."""
    found: list[Candidate] = []
    for shape in shapes:
        parts = _parts(shape, what)
        for label, shared in shape.candidates(wanted.label, parts).items():
            part = parts[label]
            kind = "vertex" if what == "vertex" else edge_kind(part) if what == "edge" else face_kind(part)
            found.append(Candidate(label, shared, kind, point_of(part) if what == "vertex" else centre(part)))
    return tuple(ranked(wanted.witness, found)[:MOST])


def _parts(shape: Labelled, what: Literal["face", "edge", "vertex"]) -> dict[str, Any]:
    if what == "face":
        return {n: f for f, n in shape.name_of.items()}
    return shape.edges if what == "edge" else shape.vertices
