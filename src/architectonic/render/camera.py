"""Meshes as arrays and the parallel projection they are seen in; plain NumPy, so that a window opens before VTK is in."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np

VIEWS: dict[str, tuple[tuple[float, float, float], tuple[float, float, float]]] = {
    "isometric": ((-0.62, 1.0, -0.62), (0.0, 0.0, 1.0)),
    "front": ((0.0, 1.0, 0.0), (0.0, 0.0, 1.0)),
    "top": ((0.0, 0.0, -1.0), (0.0, 1.0, 0.0)),
    "right": ((-1.0, 0.0, 0.0), (0.0, 0.0, 1.0)),
}
"""Direction of looking and up, in the document's axes (z is up, the front view looks along +y)."""


@dataclass
class BodyMesh:
    """A body's triangles and edges as arrays (see kernel.mesh for their shapes).

    `source` is the result they were read from: the same object means the same picture.
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
