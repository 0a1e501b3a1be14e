"""Colours of faces by how they lean to a direction: what comes out of a mould, what is too steep, what faces away."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from architectonic.render.camera import BodyMesh
from architectonic.render.palette import BANDS, LEANING, UNKNOWN, rgb

FACETS = 0.003
"""How far, in rad, the normals of a round face's facets may miss its own."""


class MouldPull(NamedTuple):
    """The direction in which a mould opens (unit), and the least draft, rad."""

    direction: tuple[float, float, float]
    least: float


def normals(mesh: BodyMesh) -> np.ndarray:
    """Outward unit normals of triangles, (m, 3)."""
    a, b, c = (mesh.points[mesh.triangles[:, k]].astype(float) for k in range(3))
    n = np.cross(b - a, c - a)
    found: np.ndarray = n / np.maximum(np.linalg.norm(n, axis=1), 1e-12)[:, None]
    return found


def smoothed(mesh: BodyMesh) -> np.ndarray:
    """Normals of triangles with the facetting evened out: means of those around their corners, by angle, within a face.

    Facets of a cone lean by up to 0.4 degrees less than the cone (Thürmer & Wüthrich, Journal of Graphics Tools 3,
    1998, for the weights); after this within FACETS.
    """
    corners, own = mesh.points.astype(float)[mesh.triangles], normals(mesh)
    _, shared = np.unique(
        np.stack([np.repeat(mesh.face, 3), mesh.triangles.ravel()], axis=1), axis=0, return_inverse=True
    )
    shared = shared.reshape(-1, 3)
    total = np.zeros((shared.max() + 1 if len(shared) else 0, 3))
    for k in range(3):
        u, v = corners[:, (k + 1) % 3] - corners[:, k], corners[:, (k + 2) % 3] - corners[:, k]
        size = np.maximum(np.linalg.norm(u, axis=1) * np.linalg.norm(v, axis=1), 1e-12)
        angle = np.arccos(np.clip((u * v).sum(axis=1) / size, -1, 1))
        np.add.at(total, shared[:, k], own * angle[:, None])
    total /= np.maximum(np.linalg.norm(total, axis=1), 1e-12)[:, None]
    mean = total[shared].mean(axis=1)
    found: np.ndarray = mean / np.maximum(np.linalg.norm(mean, axis=1), 1e-12)[:, None]
    return found


def drafts(mesh: BodyMesh, pull: MouldPull) -> np.ndarray:
    """The draft of each triangle, rad: 0 along the pull, positive when it faces the opening, negative when away."""
    found: np.ndarray = np.arcsin(np.clip(smoothed(mesh) @ np.array(pull.direction), -1.0, 1.0))
    return found


def leaning(mesh: BodyMesh, pull: MouldPull) -> np.ndarray:
    """For each triangle 0 with draft, 1 too steep, 2 facing the other half, (m,)."""
    angle = drafts(mesh, pull)
    found: np.ndarray = np.where(np.abs(angle) < max(pull.least - FACETS, FACETS), 1, np.where(angle > 0, 0, 2))
    return found


def tinted(mesh: BodyMesh, pull: MouldPull) -> np.ndarray:
    """Colours of triangles, (m, 3) uint8."""
    palette = np.array([[round(255 * c) for c in rgb(colour)] for _, colour in LEANING], np.uint8)
    found: np.ndarray = palette[leaning(mesh, pull)]
    return found


STEPS = (1.0, 1.25, 2.0)
"""Where the bands of a survey end, by its limit."""


class Cells(NamedTuple):
    """What a body is coloured by: triangles of their own, and the figure of each.

    Attributes:
        points (n, 3) float32 mm; triangles (m, 3); values (m,), NaN where there is none; limit: what they should not fall below.
    """

    points: np.ndarray
    triangles: np.ndarray
    values: np.ndarray
    limit: float

    def colours(self) -> np.ndarray:
        """Of triangles, (m, 3) uint8."""
        palette = np.array([[round(255 * c) for c in rgb(colour)] for colour in (*BANDS, UNKNOWN)], np.uint8)
        band = np.searchsorted(np.array(STEPS) * self.limit, self.values, side="right")
        found: np.ndarray = palette[np.where(np.isnan(self.values), len(BANDS), band)]
        return found
