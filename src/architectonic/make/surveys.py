"""Surveys of bodies with the kernel."""

from __future__ import annotations

import numpy as np

from architectonic.base import tolerance
from architectonic.describe.measured import FairnessResult, SurveyPlace, SurveyResult
from architectonic.describe.recipes import BodyInput, SurveyInput
from architectonic.kernel.measure import fairness
from architectonic.kernel.measure.surveys import corners, deviating, leaning, margins, rounding, walls
from architectonic.kernel.measure.surveys.survey import Survey
from architectonic.kernel.shapes.labelled import Labelled


def surveyed(given: SurveyInput, shapes: list[Labelled]) -> tuple[SurveyResult, dict[str, Labelled]]:
    """Figures all over a body, and the worst places."""
    found = _found(given, *shapes)
    angle = given.what == "draft"
    places = tuple(
        SurveyPlace(
            tolerance.ratio(p.value) if angle else tolerance.length(p.value),
            (tolerance.length(p.at[0]), tolerance.length(p.at[1]), tolerance.length(p.at[2])),
            p.label,
            p.other,
        )
        for p in found.places
    )
    return SurveyResult(
        places=places,
        points=found.points.astype(np.float32).tobytes(),
        triangles=found.triangles.astype(np.int32).tobytes(),
        values=found.values.astype(np.float32).tobytes(),
    ), {}


def looked_along(_: BodyInput, shapes: list[Labelled]) -> tuple[FairnessResult, dict[str, Labelled]]:
    """How fair the faces and edges of a body run."""
    found = fairness.fairness(shapes[0])
    starts = np.cumsum([0, *(len(c.at) for c in found.combs)])
    return FairnessResult(
        points=found.points.astype(np.float32).tobytes(),
        normals=found.normals.astype(np.float32).tobytes(),
        triangles=found.triangles.astype(np.int32).tobytes(),
        edges=tuple(c.label for c in found.combs),
        starts=starts.astype(np.int32).tobytes(),
        at=b"".join(c.at.astype(np.float32).tobytes() for c in found.combs),
        bends=b"".join(c.bends.astype(np.float32).tobytes() for c in found.combs),
    ), {}


def _found(given: SurveyInput, body: Labelled, other: Labelled | None = None) -> Survey:
    direction, drilled = given.direction or (0.0, 0.0, 1.0), frozenset(given.drilled)
    if given.what == "wall":
        return walls.by_rays(body, frozenset(given.marks))
    if given.what == "wall by ball":
        return walls.by_ball(body, frozenset(given.marks))
    if given.what == "draft":
        return leaning.by_draft(body, direction)
    if given.what == "curvature":
        return rounding.by_radius(body)
    if given.what == "deviation":
        assert other is not None
        return deviating.from_body(body, other)
    if given.what == "inside radius":
        return corners.inside(body, direction, drilled)
    return margins.around_holes(body, drilled, given.what == "hole to hole")
