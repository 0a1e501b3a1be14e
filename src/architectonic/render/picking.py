"""Picking on the processor: all faces along a ray, and edges near a pixel."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from architectonic.render.camera import BodyMesh, Camera

EDGE_PIXELS = 6.0
CORNER_PIXELS = 8.0


class RayHit(NamedTuple):
    """What lies under the pointer: kind ("face", "edge" or "vertex"), key of the body, label, pixel and depth (mm)."""

    kind: str
    body: Any
    label: str
    x: float
    y: float
    depth: float


class Picker:
    """Bodies prepared for picking.

    Args:
        bodies: key and mesh of each visible body.
    """

    def __init__(self, bodies: list[tuple[Any, BodyMesh]]) -> None:
        self.bodies = bodies

    def at(self, camera: Camera, x: float, y: float, width: int, height: int) -> list[RayHit]:
        """Everything under a pixel, nearest first: a corner and an edge that are seen there, then faces front to back."""
        faces: list[RayHit] = []
        for key, mesh in self.bodies:
            flat = camera.project(mesh.points, width, height)
            faces += _faces(key, mesh, flat, x, y)
        faces.sort(key=lambda h: h.depth)
        nearest = faces[0].depth if faces else np.inf
        edges = [e for key, mesh in self.bodies for e in _edges(key, mesh, camera, x, y, width, height, nearest)]
        edges.sort(key=lambda h: abs(h.x - x) + abs(h.y - y))
        corners = [c for key, mesh in self.bodies for c in _corners(key, mesh, camera, x, y, width, height, nearest)]
        corners.sort(key=lambda h: abs(h.x - x) + abs(h.y - y))
        seen: dict[tuple[str, Any, str], RayHit] = {}
        for hit in [*corners[:1], *edges[:1], *faces]:
            seen.setdefault(hit[:3], hit)
        return list(seen.values())


def _faces(key: Any, mesh: BodyMesh, flat: np.ndarray, x: float, y: float) -> list[RayHit]:
    """Triangles that hold the pixel, by barycentric coordinates."""
    if not len(mesh.triangles):
        return []
    a, b, c = (flat[mesh.triangles[:, k]] for k in range(3))
    d = (b[:, 1] - c[:, 1]) * (a[:, 0] - c[:, 0]) + (c[:, 0] - b[:, 0]) * (a[:, 1] - c[:, 1])
    with np.errstate(divide="ignore", invalid="ignore"):
        u = ((b[:, 1] - c[:, 1]) * (x - c[:, 0]) + (c[:, 0] - b[:, 0]) * (y - c[:, 1])) / d
        v = ((c[:, 1] - a[:, 1]) * (x - c[:, 0]) + (a[:, 0] - c[:, 0]) * (y - c[:, 1])) / d
        u, v = (
            np.nan_to_num(u, nan=-1.0, posinf=-1.0, neginf=-1.0),
            np.nan_to_num(v, nan=-1.0, posinf=-1.0, neginf=-1.0),
        )
    inside = (u >= -1e-9) & (v >= -1e-9) & (u + v <= 1 + 1e-9) & (np.abs(d) > 1e-9)
    found = []
    for k in np.flatnonzero(inside):
        depth = float(u[k] * a[k, 2] + v[k] * b[k, 2] + (1 - u[k] - v[k]) * c[k, 2])
        found.append(RayHit("face", key, mesh.faces[mesh.face[k]], x, y, depth))
    return found


def _edges(
    key: Any, mesh: BodyMesh, camera: Camera, x: float, y: float, width: int, height: int, nearest: float
) -> list[RayHit]:
    """Edges within a few pixels that are not hidden behind the nearest face."""
    if len(mesh.lines) < 2:
        return []
    flat = camera.project(mesh.lines, width, height)
    p, q = flat[:-1], flat[1:]
    owner = np.searchsorted(mesh.line_starts, np.arange(len(p)), side="right") - 1
    joined = np.searchsorted(mesh.line_starts, np.arange(1, len(p) + 1), side="right") - 1 == owner
    step = q[:, :2] - p[:, :2]
    length = np.maximum((step**2).sum(axis=1), 1e-12)
    t = np.clip(((x - p[:, 0]) * step[:, 0] + (y - p[:, 1]) * step[:, 1]) / length, 0, 1)
    nx, ny = p[:, 0] + t * step[:, 0], p[:, 1] + t * step[:, 1]
    depth = p[:, 2] + t * (q[:, 2] - p[:, 2])
    slack = _slack(camera, height)
    named = np.array([bool(e) for e in mesh.edges])[owner]  # those of a modelled thread stand for nothing
    near = joined & named & (np.hypot(nx - x, ny - y) <= EDGE_PIXELS) & (depth <= nearest + slack)
    return [
        RayHit("edge", key, mesh.edges[owner[k]], float(nx[k]), float(ny[k]), float(depth[k]))
        for k in np.flatnonzero(near)
    ]


def _slack(camera: Camera, height: int) -> float:
    """An edge or corner lies on its faces: it is allowed the depth that a few pixels of a sloped face take, mm."""
    return EDGE_PIXELS * 2 * camera.scale / height * 2


def _corners(
    key: Any, mesh: BodyMesh, camera: Camera, x: float, y: float, width: int, height: int, nearest: float
) -> list[RayHit]:
    """Corners within a few pixels that are not hidden behind the nearest face."""
    if not mesh.corners:
        return []
    labels = list(mesh.corners)
    flat = camera.project(np.array(list(mesh.corners.values())), width, height)
    near = (np.hypot(flat[:, 0] - x, flat[:, 1] - y) <= CORNER_PIXELS) & (
        flat[:, 2] <= nearest + _slack(camera, height)
    )
    return [
        RayHit("vertex", key, labels[k], float(flat[k, 0]), float(flat[k, 1]), float(flat[k, 2]))
        for k in np.flatnonzero(near)
    ]
