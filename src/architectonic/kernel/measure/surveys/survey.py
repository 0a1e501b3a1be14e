"""What all surveys of a body have: a grid of cells on its faces, figures on them, and the worst places."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any, NamedTuple

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.GeomAPI import GeomAPI_ProjectPointOnSurf
from OCP.gp import gp_Pnt
from OCP.TopoDS import TopoDS

from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.measure.mesh import facets
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import is_planar

Vector = tuple[float, float, float]
CELLS = 1500
"""About how many cells a survey has."""
MOST_PLACES = 8
NEAR = 0.04
"""Places nearer to each other than this share of the body's size are one."""


class WorstPlace(NamedTuple):
    """A place and its figure.

    Attributes:
        label: of the face or edge there; other: of what lies opposite, "" for nothing.
    """

    value: float
    at: Vector
    label: str
    other: str = ""


class Survey(NamedTuple):
    """What a survey found, the worst place first.

    Attributes:
        points (n, 3) mm, triangles (m, 3), values (m,): the picture of it; empty where there is none. NaN where a cell has none.
    """

    places: list[WorstPlace]
    points: np.ndarray = np.zeros((0, 3))
    triangles: np.ndarray = np.zeros((0, 3), np.int64)
    values: np.ndarray = np.zeros(0)


class SurveyCells(NamedTuple):
    """Small triangles on the faces of a body, all of about one size.

    Attributes:
        points (n, 3); triangles (m, 3), outward; face (m,): index of the face of each; size: length of their sides, mm.
    """

    points: np.ndarray
    triangles: np.ndarray
    face: np.ndarray
    size: float

    @property
    def corners(self) -> np.ndarray:
        """Of each triangle, (m, 3, 3)."""
        found: np.ndarray = self.points[self.triangles]
        return found

    @property
    def middles(self) -> np.ndarray:
        """Of each triangle, (m, 3)."""
        found: np.ndarray = self.corners.mean(axis=1)
        return found

    @property
    def normals(self) -> np.ndarray:
        """Outward unit normals, (m, 3)."""
        c = self.corners
        n = np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0])
        found: np.ndarray = n / np.maximum(np.linalg.norm(n, axis=1), 1e-15)[:, None]
        return found


def cells_of(body: Labelled, angle: float = 0.16, count: int = CELLS) -> SurveyCells:
    """Facets of a body, divided until none is much larger than the others."""
    (points, triangles, face), _ = facets(body.shape, body.face_list, angle)
    a, b, c = (points[triangles[:, k]] for k in range(3))
    area = float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum()) / 2
    size = math.sqrt(2.5 * area / count)
    corners = points[triangles]
    for _ in range(40):
        sides = np.linalg.norm(corners[:, [1, 2, 0]] - corners, axis=2)
        large = sides.max(axis=1) > 1.6 * size
        if not large.any() or len(corners) > 4 * count:
            break
        corners, face = _halved(corners, face, sides, large)
    flat = corners.reshape(-1, 3)
    return SurveyCells(flat, np.arange(len(flat)).reshape(-1, 3), face, size)


class Foot(NamedTuple):
    """A cell's middle brought onto the exact face: where, its surface and the parameters there."""

    at: Vector
    surface: Any
    u: float
    v: float


def on_faces(body: Labelled, cells: SurveyCells) -> Iterator[Foot | None]:
    """The middles of cells on their exact faces; None for cells of flat faces, which lie there, and where none is found."""
    flat = [is_planar(f) is not None for f in body.face_list]
    surfaces = [BRep_Tool.Surface_s(TopoDS.Face(f)) for f in body.face_list]
    for face, middle in zip(cells.face, cells.middles, strict=True):
        if flat[face]:
            yield None
            continue
        foot = GeomAPI_ProjectPointOnSurf(gp_Pnt(*(float(c) for c in middle)), surfaces[face])
        if not foot.NbPoints():
            yield None
            continue
        p = foot.NearestPoint()
        yield Foot((p.X(), p.Y(), p.Z()), surfaces[face], *foot.LowerDistanceParameters())


def _halved(
    corners: np.ndarray, face: np.ndarray, sides: np.ndarray, large: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Large triangles divided at the middle of their longest side."""
    kept, cut = corners[~large], corners[large]
    first = sides[large].argmax(axis=1)
    rows = np.arange(len(cut))
    p, q, r = cut[rows, first], cut[rows, (first + 1) % 3], cut[rows, (first + 2) % 3]
    m = (p + q) / 2
    halves = [np.stack([p, m, r], axis=1), np.stack([m, q, r], axis=1)]
    own = face[large]
    return np.concatenate([kept, *halves]), np.concatenate([face[~large], own, own])


def worst(
    values: np.ndarray, at: np.ndarray, labels: list[str], others: list[str], body: Labelled, most: bool = False
) -> list[WorstPlace]:
    """The places with the least figures, or with the greatest, none of them near another one."""
    b = quick_box(body.shape)
    apart = NEAR * math.dist(b[:3], b[3:])
    found: list[int] = []
    for k in np.argsort(-values if most else values, kind="stable"):
        if not np.isfinite(values[k]) or len(found) >= MOST_PLACES:
            break
        if all(np.linalg.norm(at[k] - at[f]) > apart for f in found):
            found.append(int(k))
    return [WorstPlace(float(values[k]), _vector(at[k]), labels[k], others[k]) for k in found]


def _vector(p: Any) -> Vector:
    return float(p[0]), float(p[1]), float(p[2])
