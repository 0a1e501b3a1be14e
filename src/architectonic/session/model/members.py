"""The members of an operation that makes several alike: holes at places, copies of a pattern."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from architectonic.base import rigid
from architectonic.base.labels import makers
from architectonic.describe.results import HolesResult, Node, Vector
from architectonic.family.operations.patterns.pattern import PatternBodies, PatternSteps
from architectonic.family.scopes import Scope
from architectonic.family.walk import index
from architectonic.propagate.evaluation import Evaluation
from architectonic.render.camera import BodyMesh


class Member(NamedTuple):
    """One of them: its key, its number, where it is (mm), and whether it is left out."""

    key: str
    number: int
    at: Vector
    out: bool


def members(evaluation: Evaluation, at: Scope, operation: str) -> list[Member]:
    """All members that can be left out, those that are among them, as far as they are known; [] where there are none."""
    holes = evaluation.value(Node("holes", at, operation))
    if isinstance(holes, HolesResult):
        found = [(p, False) for p in holes.places] + [(p, True) for p in holes.left_out]
        return [Member(p.key, k + 1, p.frame.origin, out) for k, (p, out) in enumerate(found)]
    moves = evaluation.value(Node("members", at, operation))
    record = index(evaluation.family.documents[at.document]).get(operation)
    if moves is None or not isinstance(record, (PatternSteps, PatternBodies)):
        return []
    first = _first(evaluation, at, record)
    return [Member(m.key, m.number, rigid.moved(m.move, first), m.out) for m in moves]


def _first(evaluation: Evaluation, at: Scope, record: PatternSteps | PatternBodies) -> Vector:
    """The middle of what is repeated, as its picture shows it."""
    clouds: list[np.ndarray] = []
    sources = {r.item for r in record.of} if isinstance(record, PatternSteps) else set()
    for source in sources:
        holes = evaluation.value(Node("holes", at, source))
        if isinstance(holes, HolesResult) and holes.places:
            return holes.places[0].frame.origin
    for body in record.acts_on:
        made = evaluation.value(Node("mesh", at, body))
        if not made:
            continue
        mesh = BodyMesh.from_result(made)
        if not sources:
            clouds.append(mesh.points)
            continue
        own = [k for k, label in enumerate(mesh.faces) if next(iter(makers(label)), "") in sources]
        clouds.append(mesh.points[np.unique(mesh.triangles[np.isin(mesh.face, own)])])
    points = np.concatenate(clouds) if any(len(c) for c in clouds) else np.zeros((1, 3))
    x, y, z = (points.min(axis=0) + points.max(axis=0)) / 2
    return (float(x), float(y), float(z))
