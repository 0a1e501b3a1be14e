"""Where a cell of the check matrix is decided: the bodies it is seen on, coloured by what is measured of them, and its places,
the worst first, each with the plane that cuts it open."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.check.cells import CheckCell
from architectonic.describe.assembly.clashes import Clashes
from architectonic.describe.measured import Gauged, SurveyResult
from architectonic.describe.references.surveys import SURVEYS, label_of, surveyed_in
from architectonic.describe.results import Node, Vector
from architectonic.family import scopes
from architectonic.family.operations.holes.hole import Hole
from architectonic.family.records import Measurement, Measures, Rule
from architectonic.family.scopes import InPlace, Scope
from architectonic.family.walk import index
from architectonic.propagate.targets import Look
from architectonic.quantities import units
from architectonic.render.pictures import Knows, Seen, alike, meshes_of
from architectonic.render.section import CutPlane
from architectonic.render.tint import Cells
from architectonic.session.model.surveying import Surveyed, cells, figure

NEAR = 6.0
"""So many walls, or times what is measured, are seen around a place."""
SHARE = 0.03
"""Of the body at least so much is."""


class CellPlace(NamedTuple):
    """One place.

    Attributes:
        told: its figure in words; at: where, mm; ends: for a length, the points it lies between.
        lit: labels of faces and edges that are lit; among: bodies that are shown of it, None for all.
        cut: the plane that opens it, None where nothing is hidden; around: how far is seen around it, mm.
        faces: which way what is there faces, None where that is not known.
    """

    told: str
    at: Vector
    ends: tuple[Vector, ...] = ()
    lit: tuple[str, ...] = ()
    among: frozenset[InPlace] | None = None
    cut: CutPlane | None = None
    around: float = 10.0
    faces: Vector | None = None


class CellSight(NamedTuple):
    """What there is to see.

    Attributes:
        bodies: in place; colours: what some of them, by their place in the list, are coloured by.
        places: the worst first; what, limit: the survey that colours them and its limit, "" for none.
    """

    bodies: list[Seen]
    colours: dict[int, Cells]
    places: list[CellPlace]
    what: Measures | str = ""
    limit: float = 0.0

    def shows_as(self, other: CellSight) -> bool:
        """Whether the same is to be seen: the same bodies where they stand, and the same places."""
        places = [(p.told, p.at, p.ends, p.lit, p.among) for p in self.places]
        same = places == [(p.told, p.at, p.ends, p.lit, p.among) for p in other.places]
        return same and (self.what, self.limit) == (other.what, other.limit) and alike(self.bodies, other.bodies)


def sight(knows: Knows, cell: CheckCell) -> CellSight | None:
    """What there is to see of a cell, as far as it is known; None where it is decided by values alone, or nothing is known.

    Args:
        knows: is asked for all that is needed; what it does not know may be there the next time.
    """
    if cell.ask.document not in knows.family.documents:
        return None
    record = index(knows.family.documents[cell.ask.document]).get(cell.ask.item)
    if cell.ask.what == "clashes":
        return _clashing(knows, cell.at)
    if isinstance(record, Hole):
        return _drilled(knows, cell.at, record)
    if not isinstance(record, Rule):
        return None
    for ref in record.holds.refs.values():
        try:
            there = scopes.source_scope(knows.family, cell.at, ref.document, ref.configuration)
        except UserFault:
            continue
        item = index(knows.family.documents[there.document]).get(ref.item)
        if isinstance(item, Measurement):
            limit = (cell.limit or 0.0) * units.factor(cell.unit) if cell.unit else 0.0
            return _surveyed(knows, there, item, limit) if item.what in SURVEYS else _gauged(knows, there, item)
    return None


def _surveyed(knows: Knows, at: Scope, record: Measurement, limit: float) -> CellSight | None:
    kind = SURVEYS[record.what]
    refs, second = surveyed_in(record)
    nodes = {r.item: Node("surveyed", at, r.item, label_of(record.what, second)) for r in refs}
    of = {b: v for b, n in nodes.items() if isinstance(v := knows.value(n), SurveyResult)}
    bodies = [s for s in meshes_of(knows, Look(at)) if s[0].body in nodes]
    if not of or not bodies:
        return None
    found = Surveyed(at, record.what, second, of)
    colours = {
        k: cells(of[b.body], record.what, limit)
        for k, (b, _, _) in enumerate(bodies)
        if b.body in of and of[b.body].values
    }
    where = {b.body: k for k, (b, _, _) in enumerate(bodies)}
    worst = found.places
    beyond = [(b, p) for b, p in worst if kind.is_worse(p.value, limit)] or worst[:1]
    places = []
    for body, place in beyond:
        if body not in where:
            continue
        _, mesh, _ = bodies[where[body]]
        own = colours.get(where[body])
        points, triangles = (own.points, own.triangles) if own is not None else (mesh.points, mesh.triangles)
        normal = _normal_at(points, triangles, place.at)
        length = place.value if kind.quantity == "length" and record.what != "curvature" else 0.0
        plane = through(place.at, normal, mesh.points) if kind.coloured else None
        lit = () if kind.coloured else tuple(x for x in (place.label, place.other) if x)
        size = float(np.linalg.norm(np.ptp(mesh.points, axis=0)))
        behind = _vector(np.array(place.at) - place.value * normal)
        places.append(
            CellPlace(
                figure(record.what, place.value),
                place.at,
                (place.at, behind) if kind.figure == "wall" else (),
                lit=lit,
                cut=plane,
                around=max(NEAR * length, SHARE * size),
                faces=_vector(normal),
            )
        )
    return CellSight(bodies, colours, places, record.what, limit)


def _gauged(knows: Knows, at: Scope, record: Measurement) -> CellSight | None:
    """What a measurement lies between."""
    value = knows.value(Node("gauged", at, record.id))
    bodies = meshes_of(knows, Look(at))
    if not isinstance(value, Gauged) or not bodies or not value.ends:
        return None
    ends = np.array(value.ends, float)
    middle = _vector(ends.mean(axis=0))
    size = max(float(np.linalg.norm(np.ptp(m.points, axis=0))) for _, m, _ in bodies)
    told = units.shown(value.value, "deg" if record.what == "angle" else "mm", 3)
    lit = tuple(r.label for r in record.of if r.label)
    around = max(float(np.linalg.norm(ends[-1] - ends[0])), SHARE * size)
    return CellSight(bodies, {}, [CellPlace(told, middle, value.ends, lit, around=around)])


def _clashing(knows: Knows, at: Scope) -> CellSight | None:
    """Pairs that fill the same space, cut open where they do."""
    found, bodies = knows.value(Node("clashes", at, "")), meshes_of(knows, Look(at))
    if not isinstance(found, Clashes) or not found.pairs or not bodies:
        return None
    seen = {b: m for b, m, _ in bodies}
    places = []
    for pair in sorted(found.pairs, key=lambda p: -p.volume):
        if pair.a not in seen or pair.b not in seen:
            continue
        one, two = seen[pair.a].points, seen[pair.b].points
        low, high = np.maximum(one.min(axis=0), two.min(axis=0)), np.minimum(one.max(axis=0), two.max(axis=0))
        middle = _vector((low + high) / 2)
        room = high - low
        normal = tuple(1.0 if k == int(np.argmax(room)) else 0.0 for k in range(3))
        around = max(float(np.linalg.norm(room)), 1.0)
        both = frozenset((pair.a, pair.b))
        places.append(
            CellPlace(
                f"{pair.volume:.4g} mm³",
                middle,
                among=both,
                cut=CutPlane(np.array(middle), _towards(normal)),
                around=around,
            )
        )
    return CellSight(bodies, {}, places)


def _drilled(knows: Knows, at: Scope, record: Hole) -> CellSight | None:
    """Where a hole set is."""
    bodies = meshes_of(knows, Look(at))
    faces = [(m, f) for _, m, _ in bodies for f in m.faces if f.startswith(f"{record.id}:")]
    if not faces:
        return None
    points = np.concatenate([m.points[m.triangles[m.face == m.faces.index(f)]].reshape(-1, 3) for m, f in faces])
    middle = _vector((points.min(axis=0) + points.max(axis=0)) / 2)
    around = max(float(np.linalg.norm(np.ptp(points, axis=0))) * 0.7, 1.0)
    return CellSight(bodies, {}, [CellPlace(record.name, middle, lit=tuple(f for _, f in faces), around=around)])


def _vector(of: np.ndarray) -> Vector:
    return float(of[0]), float(of[1]), float(of[2])


def _normal_at(points: np.ndarray, triangles: np.ndarray, at: Vector) -> np.ndarray:
    """The normal of the facet that comes nearest to a point."""
    corners = points[triangles].astype(float)
    k = int(np.argmin(np.linalg.norm(corners.mean(axis=1) - np.array(at), axis=1)))
    normal: np.ndarray = np.cross(corners[k, 1] - corners[k, 0], corners[k, 2] - corners[k, 0])
    return normal / max(float(np.linalg.norm(normal)), 1e-12)


def through(at: Vector, normal: np.ndarray, points: np.ndarray) -> CutPlane:
    """A plane through a place that shows its wall at its true thickness: it contains the normal there, and stands upright; or,
    under or over a level face, goes on to the middle of the body."""
    if abs(normal[2]) < 0.95:
        beside = np.array([0.0, 0.0, 1.0])
    else:
        beside = (points.min(axis=0) + points.max(axis=0)).astype(float) / 2 - np.array(at)
        beside -= (beside @ normal) * normal
        if float(np.linalg.norm(beside)) < tolerance.FEATURE:
            beside = np.array([1.0, 0.0, 0.0])
    across = np.cross(normal, beside)
    return CutPlane(np.array(at, float), _towards(across / max(float(np.linalg.norm(across)), 1e-12)))


def _towards(normal: np.ndarray | tuple[float, ...]) -> np.ndarray:
    """Of the two sides of a plane, the one that is looked at from where views are begun: from the front and above."""
    n = np.array(normal, float)
    return n if float(n @ np.array([0.62, -1.0, 0.62])) > -1e-9 * math.sqrt(3) else -n
