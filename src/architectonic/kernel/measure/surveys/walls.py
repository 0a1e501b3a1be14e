"""Thickness of walls: by rays square to the surface, and by the largest ball that touches it from inside."""

from __future__ import annotations

from typing import Any

import numpy as np
from OCP.gp import gp_Dir, gp_Lin, gp_Pnt
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector
from scipy.spatial import cKDTree

from architectonic.base import tolerance
from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.measure.surveys.survey import Survey, SurveyCells, cells_of, worst
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors
from architectonic.kernel.shapes.witness import normal_at

ROUNDS = 24
"""Balls have shrunk to their size after so many rounds."""
NEIGHBOURS = 20
"""SurveyCells near the middle of a ball that are asked how near they come."""
OPPOSITE = -0.5
"""Cosine between the outward normals of the two sides of one wall, at most: 120 deg; beyond that they are a corner."""


def by_rays(body: Labelled, marks: frozenset[str] = frozenset()) -> Survey:
    """How far it is from each cell to the other side, square to it, on the exact faces; of small cells that lie side by side
    one is asked for all.

    Args:
        marks: ids of operations whose faces are no walls: texts and the like.
    """
    cells = _walls_of(body, marks, cells_of(body, 0.35))
    middles, inward = cells.middles, -cells.normals
    ray = _Ray(body, 0.5 * cells.size)
    asked, standing = _asked(cells)
    found = [ray.across(middles[k], inward[k], int(cells.face[k])) for k in asked]
    values, opposite = np.array([found[k][0] for k in standing]), [found[k][1] for k in standing]
    labels = [body.faces[f][0] for f in cells.face]
    at, face = _closer(cells, values)
    directions = [_inward(body.face_list[f], p) for p, f in zip(at, face, strict=True)]
    more = [
        ray.across(p, d, f) if d is not None else (np.nan, "") for p, d, f in zip(at, directions, face, strict=True)
    ]
    places = worst(
        np.concatenate([values, [w for w, _ in more]]),
        np.concatenate([middles, at]),
        labels + [body.faces[f][0] for f in face],
        opposite + [f for _, f in more],
        body,
    )
    return Survey(places, cells.points, cells.triangles, values)


SMALL, SPREAD = 0.05, 0.35
"""A cell is small below this share of the square of the size of cells; those within so many sizes of each other are one."""


def _asked(cells: SurveyCells) -> tuple[np.ndarray, np.ndarray]:
    """Which cells are asked, and by the place in that list which of them stands for each cell: one of the same face."""
    c = cells.corners
    area = np.linalg.norm(np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0]), axis=1) / 2
    voxel = np.column_stack([cells.face, np.floor(cells.middles / (SPREAD * cells.size)).astype(int)])
    _, group = np.unique(voxel, axis=0, return_inverse=True)
    group = group.reshape(-1)
    large = area > SMALL * cells.size**2
    served = np.isin(group, group[large])
    left = np.flatnonzero(~served)
    _, first = np.unique(group[left], return_index=True)
    asked = np.sort(np.concatenate([np.flatnonzero(large), left[first]]))
    apart = np.column_stack([cells.middles, cells.face * 1e6])  # never one of another face
    _, standing = cKDTree(apart[asked]).query(apart)
    return asked, standing


def _walls_of(body: Labelled, marks: frozenset[str], cells: SurveyCells) -> SurveyCells:
    """Cells without those of marks."""
    marked = np.array([n[0].partition(":")[0] in marks for n in body.faces])
    wall = ~marked[cells.face]
    return SurveyCells(cells.points, cells.triangles[wall], cells.face[wall], cells.size)


class _Ray:
    """Lines through a body on its exact faces.

    Args:
        back: how far a point may stand off its face, mm.
    """

    def __init__(self, body: Labelled, back: float) -> None:
        self.body, self.back = body, back
        self.intersector = IntCurvesFace_ShapeIntersector()
        self.intersector.Load(body.shape, tolerance.MODELLING)
        b = quick_box(body.shape)
        self.far = float(np.linalg.norm(np.subtract(b[3:], b[:3]))) + 1.0
        self.index = {f: k for k, f in enumerate(body.face_list)}
        self.beside: dict[int, set[int]] = {}
        for _, around in ancestors(body.shape, EDGE, FACE):
            for f in around:
                self.beside.setdefault(self.index[f], set()).update(self.index[g] for g in around)

    def across(self, p: np.ndarray, d: np.ndarray, face: int) -> tuple[float, str]:
        """How far it is from a face to the next one along a direction, and which that is; NaN where there is none."""
        line = gp_Lin(gp_Pnt(*(float(c) for c in p)), gp_Dir(*(float(c) for c in d)))
        self.intersector.Perform(line, -self.back, self.far)
        hits = sorted(
            (self.intersector.WParameter(i + 1), self.index.get(self.intersector.Face(i + 1), -1))
            for i in range(self.intersector.NbPnt())
        )
        own = [w for w, f in hits if f == face and abs(w) <= self.back]
        start = min(own, key=abs) if own else 0.0
        beyond = next(((w, f) for w, f in hits if w > start + tolerance.FEATURE), None)
        if beyond is None or self._is_corner(p, d, face, *beyond):
            return np.nan, ""
        return beyond[0] - start, self.body.faces[beyond[1]][0] if beyond[1] >= 0 else ""

    def _is_corner(self, p: np.ndarray, d: np.ndarray, face: int, way: float, other: int) -> bool:
        """Whether two faces that meet do not face away from each other: what lies between is a corner, no wall."""
        if other not in self.beside.get(face, ()):
            return False
        inward = _inward(self.body.face_list[other], p + way * d)
        return inward is not None and float(inward @ d) > OPPOSITE


CLOSER = 60
"""So many of the thinnest cells are looked at again, at more points and square to the exact face."""
_WEIGHTS = np.array([(i, j, 4 - i - j) for i in range(5) for j in range(5 - i)]) / 4


def _closer(cells: SurveyCells, values: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Points all over the thinnest cells, and the faces that they are on."""
    thin = np.argsort(np.where(np.isnan(values), np.inf, values), kind="stable")[:CLOSER]
    corners = cells.corners[thin]
    points = np.einsum("wk,nkc->nwc", 0.02 / 3 + 0.98 * _WEIGHTS, corners).reshape(-1, 3)
    return points, np.repeat(cells.face[thin], len(_WEIGHTS))


def _inward(face: Any, p: np.ndarray) -> np.ndarray | None:
    """The exact direction into the material; None where it cannot be told."""
    normal = normal_at(face, gp_Pnt(*(float(c) for c in p)))
    return None if normal is None else -np.array([normal.X(), normal.Y(), normal.Z()])


def by_ball(body: Labelled, marks: frozenset[str] = frozenset()) -> Survey:
    """The diameter of the largest ball inside that touches each cell (Ma, Bae, Choi, 3D medial axis point approximation using
    nearest neighbors and the normal field, Visual Computer 28, 2012); to the accuracy of the facets."""
    cells = _walls_of(body, marks, cells_of(body, 0.14))
    middles, normals, corners = cells.middles, cells.normals, cells.corners
    tree = cKDTree(middles)
    b = quick_box(body.shape)
    radius = np.full(len(middles), 0.5 * float(np.linalg.norm(np.subtract(b[3:], b[:3]))))
    opposite = np.full(len(middles), -1)
    active = np.arange(len(middles))
    count = min(NEIGHBOURS, len(middles))
    for _ in range(ROUNDS):
        if not len(active):
            break
        p, n = middles[active], normals[active]
        centre = p - radius[active][:, None] * n
        _, near = tree.query(centre, k=count)
        near = near.reshape(len(active), count)
        touch = _nearest(np.repeat(centre, count, axis=0), corners[near.ravel()]).reshape(len(active), count, 3)
        way = p[:, None, :] - touch  # from where the ball is touched to where it stands
        depth = np.einsum("ijk,ik->ij", way, n)
        square = np.einsum("ijk,ijk->ij", way, way)
        with np.errstate(divide="ignore", invalid="ignore"):
            fits = square / (2 * depth)
        facing = np.einsum("ijk,ik->ij", normals[near], n)
        own = (depth <= 0) | (square < tolerance.FEATURE**2) | (facing > OPPOSITE)
        fits[own] = np.inf
        best = fits.argmin(axis=1)
        found = fits[np.arange(len(active)), best]
        shrinks = found < radius[active] - tolerance.FEATURE
        radius[active[shrinks]] = found[shrinks]
        opposite[active[shrinks]] = near[np.arange(len(active)), best][shrinks]
        active = active[shrinks]
    others = [body.faces[cells.face[k]][0] if k >= 0 else "" for k in opposite]
    return _survey(body, cells, np.where(opposite >= 0, 2 * radius, np.nan), others)


def _survey(body: Labelled, cells: SurveyCells, values: np.ndarray, opposite: list[str]) -> Survey:
    labels = [body.faces[f][0] for f in cells.face]
    return Survey(worst(values, cells.middles, labels, opposite, body), cells.points, cells.triangles, values)


def _nearest(p: np.ndarray, t: np.ndarray) -> np.ndarray:
    """The point of each triangle that is nearest to a point (Ericson, Real-Time Collision Detection, 5.1.5).

    Args:
        p: (n, 3); t: corners, (n, 3, 3).
    """
    a, b, c = t[:, 0], t[:, 1], t[:, 2]
    ab, ac, ap = b - a, c - a, p - a
    d1, d2 = _dots(ab, ap), _dots(ac, ap)
    bp, cp = p - b, p - c
    d3, d4, d5, d6 = _dots(ab, bp), _dots(ac, bp), _dots(ab, cp), _dots(ac, cp)
    va, vb, vc = d3 * d6 - d5 * d4, d5 * d2 - d1 * d6, d1 * d4 - d3 * d2
    with np.errstate(divide="ignore", invalid="ignore"):
        inside = 1.0 / (va + vb + vc)
        found = a + ab * (vb * inside)[:, None] + ac * (vc * inside)[:, None]
        side = np.stack([d1 / (d1 - d3), d2 / (d2 - d6), (d4 - d3) / ((d4 - d3) + (d5 - d6))], axis=1)
    cases = [
        ((va <= 0) & (d4 - d3 >= 0) & (d5 - d6 >= 0), b + (c - b) * side[:, 2:3]),
        ((vb <= 0) & (d2 >= 0) & (d6 <= 0), a + ac * side[:, 1:2]),
        ((vc <= 0) & (d1 >= 0) & (d3 <= 0), a + ab * side[:, 0:1]),
        ((d6 >= 0) & (d5 <= d6), c),
        ((d3 >= 0) & (d4 <= d3), b),
        ((d1 <= 0) & (d2 <= 0), a),
    ]
    for where, point in cases:
        found = np.where(where[:, None], point, found)
    nearest: np.ndarray = found
    return nearest


def _dots(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    found: np.ndarray = np.einsum("ij,ij->i", a, b)
    return found
