"""Bodies cut open by a plane: what lies behind it, and the filled cut with its hatching."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from architectonic.render.camera import BodyMesh
from architectonic.render.tint import Cells

GRID = 1e-4
"""Points of a cut nearer than this, in mm, are one: triangles of neighbouring faces meet within single precision."""


class CutPlane(NamedTuple):
    """A plane by a point (mm) and its unit normal; what lies on the side of the normal is taken away."""

    origin: np.ndarray
    normal: np.ndarray

    def heights(self, points: np.ndarray) -> np.ndarray:
        """How far points (n, 3) lie on the side of the normal."""
        found: np.ndarray = (np.asarray(points, float) - self.origin) @ self.normal
        return found

    def axes(self) -> np.ndarray:
        """Two unit directions in the plane, (2, 3)."""
        beside = np.array([0.0, 0.0, 1.0]) if abs(self.normal[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
        u = np.cross(beside, self.normal)
        u /= np.linalg.norm(u)
        return np.array([u, np.cross(self.normal, u)])


class Cap(NamedTuple):
    """The filled cut of one body: its outline as segments (s, 2, 3) and hatching (h, 2, 3)."""

    outline: np.ndarray
    hatching: np.ndarray


def cut_open(mesh: BodyMesh, plane: CutPlane, hatch: float, turn: float) -> tuple[BodyMesh, Cap | None]:
    """What of a body lies behind a plane, and its cut; None when the plane misses it.

    Args:
        hatch: how far the lines of the hatching lie apart, mm; turn: their direction in the plane, rad.
    """
    above = plane.heights(mesh.points)
    if not (above > 0).any():
        return mesh, None
    points, triangles, face, outline = _triangles(mesh, above)
    lines, starts = _lines(mesh, plane.heights(mesh.lines))
    kept = replace(
        mesh,
        points=points.astype(np.float32),
        triangles=triangles.astype(np.int32),
        face=face.astype(np.int32),
        lines=lines.astype(np.float32),
        line_starts=starts.astype(np.int32),
    )
    if not len(outline):
        return kept, None
    return kept, Cap(outline, _hatched(outline, plane, hatch, turn))


def open_all(
    bodies: list[tuple[BodyMesh, str]], plane: CutPlane, apart: float
) -> tuple[list[BodyMesh], list[tuple[Cap, str]]]:
    """What of bodies lies behind a plane, and their cuts with their colours; the hatching of neighbours turns.

    Args:
        apart: how far the lines of the hatching lie apart, mm.
    """
    kept, cuts = [], []
    for k, (mesh, colour) in enumerate(bodies):
        behind, cap = cut_open(mesh, plane, apart, math.pi / 4 if k % 2 == 0 else -math.pi / 4)
        kept.append(behind)
        if cap is not None:
            cuts.append((cap, colour))
    return kept, cuts


def cells_behind(cells: Cells, mesh: BodyMesh, plane: CutPlane) -> Cells:
    """What of a body's colours lies behind a plane."""
    above = plane.heights(cells.points)
    own = replace(mesh, points=cells.points, triangles=cells.triangles, face=np.arange(len(cells.triangles)))
    points, triangles, which, _ = _triangles(own, above)
    return cells._replace(
        points=points.astype(np.float32), triangles=triangles.astype(np.int32), values=cells.values[which]
    )


def _between(p: np.ndarray, q: np.ndarray, a: np.ndarray, b: np.ndarray) -> np.ndarray:
    """Where the ways from p (height a) to q (height b) meet the plane."""
    t = (a / (a - b))[:, None]
    found: np.ndarray = p + t * (q - p)
    return found


def _triangles(mesh: BodyMesh, above: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Points, triangles and their faces behind the plane, and the segments along it."""
    corners, out = mesh.triangles, above[mesh.triangles] > 0
    count = out.sum(axis=1)
    whole = count == 0
    points = [mesh.points.astype(float)]
    triangles, faces = [corners[whole]], [mesh.face[whole]]
    segments = []
    size = len(mesh.points)
    for alone_is_out, number in ((True, 1), (False, 2)):
        rows = np.flatnonzero(count == number)
        if not len(rows):
            continue
        odd = (out[rows] == alone_is_out).argmax(axis=1)  # the corner that lies on a side of its own
        a, b, c = (corners[rows, (odd + k) % 3] for k in range(3))
        p, q, r = (mesh.points[k].astype(float) for k in (a, b, c))
        x = _between(p, q, above[a], above[b])
        y = _between(p, r, above[a], above[c])
        n = len(rows)
        ix, iy = np.arange(size, size + n), np.arange(size + n, size + 2 * n)
        points += [x, y]
        size += 2 * n
        if alone_is_out:
            triangles += [np.stack([ix, b, c], axis=1), np.stack([ix, c, iy], axis=1)]
            faces += [mesh.face[rows], mesh.face[rows]]
        else:
            triangles.append(np.stack([a, ix, iy], axis=1))
            faces.append(mesh.face[rows])
        segments.append(np.stack([x, y], axis=1))
    outline = np.concatenate(segments) if segments else np.zeros((0, 2, 3))
    long = np.linalg.norm(outline[:, 1] - outline[:, 0], axis=1) > GRID
    return np.concatenate(points), np.concatenate(triangles), np.concatenate(faces), outline[long]


def _lines(mesh: BodyMesh, above: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Edges behind the plane; of one that goes through it several times the pieces are joined by nothing."""
    points, starts = [], [0]
    for a, b in zip(mesh.line_starts[:-1], mesh.line_starts[1:], strict=True):
        run, h = mesh.lines[a:b].astype(float), above[a:b]
        keep: list[np.ndarray] = []
        for k in range(len(run)):
            if k and (h[k - 1] > 0) != (h[k] > 0):
                keep.append(run[k - 1] + h[k - 1] / (h[k - 1] - h[k]) * (run[k] - run[k - 1]))
            if h[k] <= 0:
                keep.append(run[k])
        points += keep
        starts.append(len(points))
    return (np.array(points) if points else np.zeros((0, 3))), np.array(starts)


def _hatched(outline: np.ndarray, plane: CutPlane, apart: float, turn: float) -> np.ndarray:
    """Parallel lines inside an outline, by the even-odd rule, (h, 2, 3)."""
    u, v = plane.axes()
    along, across = np.cos(turn) * u + np.sin(turn) * v, np.cos(turn) * v - np.sin(turn) * u
    flat = np.stack([(outline - plane.origin) @ along, (outline - plane.origin) @ across], axis=2)
    low, high = flat[:, :, 1].min(), flat[:, :, 1].max()
    found = []
    for level in np.arange(np.ceil(low / apart), np.floor(high / apart) + 1) * apart:
        p, q = flat[:, 0], flat[:, 1]
        crossing = (p[:, 1] <= level) != (q[:, 1] <= level)
        a, b = p[crossing], q[crossing]
        at = np.sort(a[:, 0] + (level - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0]))
        for k in range(0, len(at) - 1, 2):
            found.append([plane.origin + s * along + level * across for s in (at[k], at[k + 1])])
    return np.array(found) if found else np.zeros((0, 2, 3))
