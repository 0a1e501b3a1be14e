"""Small pictures of bodies as arrays, in any thread, without a 3D library."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from architectonic.describe.assembly.extents import Extents
from architectonic.describe.results import ModelState, Node
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.render.camera import BodyMesh, Camera, frame
from architectonic.render.palette import INK, rgb
from architectonic.render.raster import raster, traced

LIGHT = np.array([-0.45, 0.55, 0.70])
MARGIN = 1.15
EDGE, NEAR = 0.6, 1.5
"""How dark edges are, and by how many pixels they may lie behind faces and be seen."""


def shaded(
    meshes: Sequence[tuple[BodyMesh, str]], width: int, height: int, ground: str, scale: float | None = None
) -> np.ndarray:
    """Bodies from the front left above, as triangles that face the eye.

    Args:
        ground: `#RRGGBB` behind them.
        scale: half the visible height, mm, so that several pictures can be compared; what the bodies need by default.

    Returns:
        (height, width, 3) bytes.
    """
    camera = framed([m.points for m, _ in meshes], width / height)
    camera = camera if scale is None else replace(camera, scale=scale)
    right, up, forward = camera.axes()
    light = LIGHT[0] * right + LIGHT[1] * up - LIGHT[2] * forward
    light /= np.linalg.norm(light)
    parts = []
    for number, (mesh, _) in enumerate(meshes):
        flat = camera.project(mesh.points, width, height)[mesh.triangles]
        corners = mesh.points[mesh.triangles].astype(float)
        normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        size = np.linalg.norm(normal, axis=1)
        facing = (normal @ forward < 0) & (size > 1e-12)
        shade = 0.62 + 0.38 * np.clip((normal[facing] / size[facing, None]) @ light, 0, 1)
        parts.append((flat[facing], shade, np.full(int(facing.sum()), number)))
    flat, shade, owner = (np.concatenate([p[k] for p in parts]) for k in range(3))
    tint = np.array([np.array(rgb(colour)) * 255 for _, colour in meshes])
    behind = np.array(rgb(ground)) * 255
    colours = np.vstack([tint[owner] * shade[:, None], behind]).astype(np.uint8)
    found, depth = raster(flat, width, height)
    pixels = np.ascontiguousarray(colours[found])  # the last one where nothing is seen
    for mesh, _ in meshes:
        ends = _segments(mesh)
        if len(ends):
            lines = camera.project(ends.reshape(-1, 3), width, height).reshape(-1, 2, 3)
            row, column = traced(lines, depth, NEAR * camera.scale / (height / 2))
            pixels[row, column] = (pixels[row, column] * (1 - EDGE) + np.array(rgb(INK)) * 255 * EDGE).astype(np.uint8)
    return pixels


def _segments(mesh: BodyMesh) -> np.ndarray:
    """The pieces of the edges at which faces meet at an angle, (n, 2, 3)."""
    starts, sharp = mesh.line_starts, [c != "smooth" for c in mesh.convex] or [True] * len(mesh.edges)
    found = [
        np.stack([mesh.lines[a : b - 1], mesh.lines[a + 1 : b]], axis=1)
        for a, b, keep in zip(starts[:-1], starts[1:], sharp, strict=True)
        if keep and b - a > 1
    ]
    return np.concatenate(found) if found else np.zeros((0, 2, 3))


def framed(clouds: Sequence[np.ndarray], wide: float) -> Camera:
    """A camera that sees all points, each (n, 3), in a picture so many times as wide as high."""
    return frame(Camera(), list(clouds), wide, MARGIN)


def scale_of(evaluation: Evaluation, rows: Sequence[Scope], wide: float) -> float:
    """Half the height, mm, in which the largest of some rows is seen whole."""
    scales = [framed([corners], wide).scale for at in rows if (corners := _corners(evaluation, at)) is not None]
    return max(scales, default=1.0)


def _corners(evaluation: Evaluation, at: Scope) -> np.ndarray | None:
    """The corners of the box around a row, (8, 3) mm; None while it is not known."""
    whole = evaluation.value(Node("extents", at, ""))
    boxes = [whole.whole.box] if isinstance(whole, Extents) else []
    state = evaluation.value(Node("finished", at, ""))
    for body in state.bodies if isinstance(state, ModelState) else ():
        measured = evaluation.value(Node("measure", at, body.id))
        boxes.append(tuple(measured["box_mm"]) if measured else None)
    known = np.array([b for b in boxes if b is not None and len(b) == 6])
    if not len(known):
        return None
    low, high = known[:, :3].min(axis=0), known[:, 3:].max(axis=0)
    return np.array([[(low, high)[k >> i & 1][i] for i in range(3)] for k in range(8)])
