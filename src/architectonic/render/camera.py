"""Meshes as arrays and the parallel projection they are seen in; plain NumPy, so that a window opens before VTK is in."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np

from architectonic.base.rigid import IDENTITY, Rigid, moved, turned

VIEWS: dict[str, tuple[tuple[float, float, float], tuple[float, float, float]]] = {
    "isometric": ((-0.62, 1.0, -0.62), (0.0, 0.0, 1.0)),
    "front": ((0.0, 1.0, 0.0), (0.0, 0.0, 1.0)),
    "top": ((0.0, 0.0, -1.0), (0.0, 1.0, 0.0)),
    "right": ((-1.0, 0.0, 0.0), (0.0, 0.0, 1.0)),
}
"""Direction of looking and up, in the document's axes (z is up, the front view looks along +y)."""


TURN = 0.008
"""Radians that a drag turns by, a pixel."""
SAME_POINT = 1e-3
"""Ends of edges that lie nearer to each other are one corner, mm."""


@dataclass
class BodyMesh:
    """A body's triangles and edges as arrays (see kernel.mesh for their shapes).

    `source` is the result they were read from: the same object in the same place means the same picture.
    """

    points: np.ndarray
    triangles: np.ndarray
    face: np.ndarray
    faces: list[str]
    planes: list[Any]
    lines: np.ndarray
    line_starts: np.ndarray
    edges: list[str]
    convex: list[str] = field(default_factory=list)
    face_kinds: list[str] = field(default_factory=list)
    edge_kinds: list[str] = field(default_factory=list)
    source: Any = None
    stands: Rigid = IDENTITY
    home: BodyMesh | None = None

    def placed(self, stands: Rigid) -> BodyMesh:
        """The same body where it stands; the picture of where it was made stays at hand as `at_home`."""
        if stands == IDENTITY:
            return self
        turn, shift = np.array(stands).reshape(4, 4)[:3, :3], np.array(stands).reshape(4, 4)[:3, 3]
        planes = [(moved(stands, p[0]), turned(stands, p[1])) if p else p for p in self.planes]
        return replace(
            self,
            points=(self.points @ turn.T + shift).astype(np.float32),
            lines=(self.lines @ turn.T + shift).astype(np.float32),
            planes=planes,
            stands=stands,
            home=self,
        )

    @property
    def at_home(self) -> BodyMesh:
        """The body where it was made."""
        return self.home or self

    @staticmethod
    def from_result(result: dict[str, Any]) -> BodyMesh:
        """From the result of the recipe `mesh`."""
        return BodyMesh(
            np.frombuffer(result["points"], np.float32).reshape(-1, 3),
            np.frombuffer(result["triangles"], np.int32).reshape(-1, 3),
            np.frombuffer(result["face"], np.int32),
            list(result["faces"]),
            list(result["planes"]),
            np.frombuffer(result["lines"], np.float32).reshape(-1, 3),
            np.frombuffer(result["line_starts"], np.int32),
            list(result["edges"]),
            list(result["convex"]),
            list(result["face_kinds"]),
            list(result["edge_kinds"]),
            result,
        )

    def has(self, label: str) -> bool:
        """Whether it shows a face, edge or vertex of this label."""
        return label in self.faces or label in self.edges or label in self.corners

    @cached_property
    def corners(self) -> dict[str, np.ndarray]:
        """Points where two edges or more end, by label: as the kernel's side names vertices, by their edges."""
        ends: dict[tuple[int, ...], tuple[np.ndarray, set[str]]] = {}
        for k, edge in enumerate(self.edges):
            if not edge or self.line_starts[k] == self.line_starts[k + 1]:
                continue  # it has no name, or the kernel gave it no points
            for at in (self.lines[self.line_starts[k]], self.lines[self.line_starts[k + 1] - 1]):
                _near(ends, at.astype(float))[1].add(edge)
        same: dict[str, list[np.ndarray]] = defaultdict(list)
        for at, edges in ends.values():
            if len(edges) > 1:  # where a closed edge begins is nothing to pick
                same["(" + "|".join(sorted(edges)) + ")"].append(at)
        found = {}
        for label, points in same.items():
            points.sort(key=lambda p: np.round(p, 3).tolist())
            for k, at in enumerate(points):
                found[label if len(points) == 1 else f"{label}#{k + 1}"] = at
        return found


def _near(ends: dict[tuple[int, ...], tuple[np.ndarray, set[str]]], at: np.ndarray) -> tuple[np.ndarray, set[str]]:
    """What stands at a point already, or a new entry for it."""
    cell = tuple(int(c) for c in np.round(at / SAME_POINT).tolist())
    for i in (0, -1, 1):
        for j in (0, -1, 1):
            for k in (0, -1, 1):
                found = ends.get((cell[0] + i, cell[1] + j, cell[2] + k))
                if found is not None:
                    return found
    return ends.setdefault(cell, (at, set()))


@dataclass
class Camera:
    """A parallel projection: direction of looking, up, focus and half the visible height in mm."""

    direction: np.ndarray = field(default_factory=lambda: np.array(VIEWS["isometric"][0]))
    up: np.ndarray = field(default_factory=lambda: np.array(VIEWS["isometric"][1]))
    focus: np.ndarray = field(default_factory=lambda: np.zeros(3))
    scale: float = 100.0

    def axes(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Right, up and forward unit vectors."""
        forward = self.direction / np.linalg.norm(self.direction)
        right = np.cross(forward, self.up)
        right /= np.linalg.norm(right)
        return right, np.cross(right, forward), forward

    def turned(self, dx: float, dy: float) -> Camera:
        """Turned as by a drag of so many pixels: about the axis that points up, and about what lies across the picture."""
        right, _, _ = self.axes()
        z = np.array([0.0, 0.0, 1.0])
        direction, up = (_rotated(_rotated(v, z, -TURN * dx), right, -TURN * dy) for v in (self.direction, self.up))
        return replace(self, direction=direction, up=up)

    def slid(self, dx: float, dy: float, height: float) -> Camera:
        """Slid by so many pixels of a picture of that height."""
        right, up, _ = self.axes()
        k = 2 * self.scale / height
        return replace(self, focus=self.focus - k * dx * right + k * dy * up)

    def nearer(self, clicks: float, x: float, y: float, height: float) -> Camera:
        """Nearer by so many clicks of a wheel, towards a place so many pixels from the middle of the picture."""
        factor = 0.9**clicks
        right, up, _ = self.axes()
        k = 2 * self.scale / height * (1 - factor)
        return replace(self, focus=self.focus + k * x * right - k * y * up, scale=self.scale * factor)

    def project(self, points: np.ndarray, width: int, height: int) -> np.ndarray:
        """Pixels (x right, y down) and depth of points (n, 3)."""
        right, up, forward = self.axes()
        d = np.asarray(points, float).reshape(-1, 3) - self.focus
        k = height / 2 / self.scale
        return np.stack([width / 2 + k * (d @ right), height / 2 - k * (d @ up), d @ forward], axis=1)

    def ray(self, x: float, y: float, width: int, height: int) -> tuple[np.ndarray, np.ndarray]:
        """Origin (far before the scene) and direction of the line of sight through a pixel."""
        right, up, forward = self.axes()
        k = self.scale / (height / 2)
        at = self.focus + (x - width / 2) * k * right - (y - height / 2) * k * up
        return at - forward * 1e5, forward


def _rotated(v: np.ndarray, axis: np.ndarray, angle: float) -> np.ndarray:
    c, s = np.cos(angle), np.sin(angle)
    return np.asarray(v * c + np.cross(axis, v) * s + axis * (axis @ v) * (1 - c))


def frame(camera: Camera, clouds: list[np.ndarray], aspect: float, margin: float = 1.12) -> Camera:
    """A camera of the same direction that shows all of some points, each (n, 3)."""
    points = [c for c in clouds if len(c)]
    if not points:
        return camera
    cloud = np.concatenate(points).astype(float)
    right, up, forward = camera.axes()
    u, v, w = cloud @ right, cloud @ up, cloud @ forward
    centre = (u.min() + u.max()) / 2 * right + (v.min() + v.max()) / 2 * up + (w.min() + w.max()) / 2 * forward
    half = max((v.max() - v.min()) / 2, (u.max() - u.min()) / 2 / aspect, 1e-3)
    return Camera(camera.direction, camera.up, centre, half * margin)
