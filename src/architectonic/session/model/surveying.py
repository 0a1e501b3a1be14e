"""Surveys of the bodies of a part: the worst places over all of them, kept as rules, and what would mend a thin corner."""

from __future__ import annotations

import math
from typing import Literal, NamedTuple

import numpy as np

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.base.labels import plain
from architectonic.describe.measured import SurveyPlace, SurveyResult
from architectonic.describe.references.surveys import SURVEYS, label_of
from architectonic.describe.results import Node
from architectonic.family import edits, names
from architectonic.family.operations.edges.chamfer import Chamfer
from architectonic.family.operations.edges.fillet import Fillet
from architectonic.family.records import Family, Measurement, Measures, Model, Reference
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units
from architectonic.render.camera import BodyMesh
from architectonic.render.tint import STEPS, Cells
from architectonic.session.open import queries

EVEN = 0.97
"""A place that has this share of the usual wall is no thin one."""
BEHIND = 4.0
"""Within so many thicknesses of a thin place lies the inside corner that belongs to it."""


class Surveyed(NamedTuple):
    """What a survey found on the bodies of a part.

    Attributes:
        of: by body; second: along which direction, or against which body; None where there is none.
    """

    at: Scope
    what: Measures
    second: Reference | None
    of: dict[str, SurveyResult]

    @property
    def places(self) -> list[tuple[str, SurveyPlace]]:
        """All places with their bodies, the worst first."""
        found = [(k, p) for k, s in self.of.items() for p in s.places]
        return sorted(found, key=lambda bp: bp[1].value, reverse=SURVEYS[self.what].most)

    def beyond(self, limit: float) -> list[SurveyPlace]:
        """Places on the wrong side of a limit."""
        return [p for _, p in self.places if SURVEYS[self.what].is_worse(p.value, limit)]


def survey(family: Family, at: Scope, what: Measures, bodies: list[str], second: Reference | None) -> Surveyed:
    """Survey bodies of a part.

    Raises:
        UserFault: none of them is there, or they cannot be surveyed.
    """
    nodes = {b: Node("surveyed", at, b, label_of(what, second)) for b in bodies}
    found = queries.ask(family, list(nodes.values()))
    known = {b: v for b, n in nodes.items() if isinstance(v := found.value(n), SurveyResult)}
    if not known:
        problems = (o.problem for n in nodes.values() if (o := found.outcomes.get(n)) is not None)
        why = next((p.what for p in problems if p is not None), "it has no bodies")
        raise UserFault(why, family.documents[at.document].name)
    return Surveyed(at, what, second, known)


def figure(what: Measures, value: float) -> str:
    """A place's figure as it is read."""
    return units.shown(value, "deg" if SURVEYS[what].quantity == "angle" else "mm", 2)


def as_rule(family: Family, found: Surveyed, name: str, limit: str, make_id: IdSource = new_id) -> Family:
    """Keep the worst place of a survey as a value, and a rule that it does not go beyond a limit.

    Raises:
        UserFault: the name is taken, or the limit cannot be used.
    """
    document = edits.model(family, found.at.document)
    bodies = tuple(Reference(item=b) for b in found.of)
    kind = SURVEYS[found.what]
    second = (found.second or Reference(item="z"),) if kind.second else ()
    kept = Measurement(id=make_id(), name=name, what=found.what, of=(*bodies, *second))
    family = edits.put_measurement(family, document.id, kept)
    bound = names.bind_quantity(family, document, limit, kind.quantity, "deg" if kind.quantity == "angle" else "mm")
    told = f"the {kind.figure} must be {kind.bound} {limit}"
    holds = f"{name} {'<=' if kind.most else '>='} {names.shown_text(family, document, bound)}"
    return edits.add_rule(family, document.id, f"{kind.title} {kind.bound} {limit}", holds, told, make_id)


def cells(found: SurveyResult, what: Measures, limit: float) -> Cells:
    """What a body is coloured by, where it has figures everywhere."""
    return Cells(
        np.frombuffer(found.points, np.float32).reshape(-1, 3),
        np.frombuffer(found.triangles, np.int32).reshape(-1, 3),
        np.frombuffer(found.values, np.float32),
        limit,
        SURVEYS[what].most,
    )


def band_ends(what: Measures, limit: float) -> list[str]:
    """Where the bands of colour end, in words, the limit first."""
    return [figure(what, limit / s if SURVEYS[what].most else limit * s) for s in STEPS]


class Treatment(NamedTuple):
    """What would even out a wall that is treated on one side only.

    Attributes:
        kind: fillet or chamfer; edges: the inside corners behind all that is treated outside; size: an expression.
    """

    kind: Literal["fillet", "chamfer"]
    edges: tuple[str, ...]
    size: str

    @property
    def word(self) -> str:
        """What is done to them."""
        return "Round" if self.kind == "fillet" else "Bevel"

    @property
    def field(self) -> str:
        """What the size is called in the operation."""
        return "radius" if self.kind == "fillet" else "distance"


def treatment_inside(
    family: Family, found: Surveyed, body: str, place: SurveyPlace, mesh: BodyMesh
) -> Treatment | None:
    """The matching treatment of the inside corners of a rounded or chamfered outside that is thin at a place; None elsewhere."""
    document = edits.model(family, found.at.document)
    treated = {o.id: o for o in document.build if isinstance(o, (Fillet, Chamfer))}
    label = plain(place.label)
    key = next((k for k in treated if label.startswith(f"{k}:")), "")
    if not key:
        return None
    if not _nearest_inside(mesh, np.array(place.at), BEHIND * place.value):
        return None
    edges = _insides(mesh, key, BEHIND * place.value)
    values = np.frombuffer(found.of[body].values, np.float32)
    wall = float(np.nanmedian(values)) if len(values) else 0.0
    if not edges or place.value > EVEN * wall:
        return None
    record = treated[key]
    if isinstance(record, Chamfer) and (record.second is not None or record.angle is not None):
        return None
    size = record.radius if isinstance(record, Fillet) else record.distance
    shown = names.shown_text(family, document, size)
    share = 1.0 if isinstance(record, Fillet) else 2.0 - math.sqrt(2.0)  # so that both bevels are a wall apart
    return Treatment("fillet" if isinstance(record, Fillet) else "chamfer", edges, f"{shown} - {wall * share:.3g} mm")


def _insides(mesh: BodyMesh, operation: str, far: float) -> tuple[str, ...]:
    """Inside edges behind all faces that an operation made."""
    found: dict[str, None] = {}
    for k, label in enumerate(mesh.faces):
        if plain(label).startswith(f"{operation}:"):
            middle = mesh.points[mesh.triangles[mesh.face == k]].reshape(-1, 3).astype(float).mean(axis=0)
            found[_nearest_inside(mesh, middle, far)] = None
    return tuple(e for e in found if e)


def _nearest_inside(mesh: BodyMesh, at: np.ndarray, far: float) -> str:
    """The inside edge that comes nearest to a place; "" where none is near."""
    best, least = "", far
    for k, (label, bends) in enumerate(zip(mesh.edges, mesh.convex, strict=True)):
        if bends != "concave":
            continue
        line = mesh.lines[mesh.line_starts[k] : mesh.line_starts[k + 1]].astype(float)
        a, b = line[:-1], line[1:]
        way = b - a
        t = np.clip(np.einsum("ij,ij->i", at - a, way) / np.maximum(np.einsum("ij,ij->i", way, way), 1e-12), 0, 1)
        apart = float(np.linalg.norm(a + t[:, None] * way - at, axis=1).min())
        if apart < least:
            best, least = label, apart
    return best


def bodies_in(evaluation: Evaluation, at: Scope) -> list[str]:
    """The bodies of a part that are surveyed: all that do not only stand behind."""
    state, document = evaluation.value(Node("finished", at, "")), evaluation.family.documents.get(at.document)
    if not isinstance(document, Model) or state is None:
        return []
    return [b.id for b in state.bodies if b.id in document.bodies and not document.bodies[b.id].backdrop_only]
