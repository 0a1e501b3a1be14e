"""Whether two bodies have the same shape, wherever they stand, or mirrored shapes.

Faces and edges are reduced to what no motion changes (kind, size) and a point (their centroid). A motion that carries
three points of one body to three of the other is tried for every triple that fits; it must carry all of them.
"""

from __future__ import annotations

from itertools import product
from typing import Any, Literal, NamedTuple

import numpy as np
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps

from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.witness import edge_kind, face_kind

NEAR = 1e-5
"""How far, by the size of the body, centroids may miss each other: the accuracy that the kernel integrates them with."""
MOST = 2000
"""Triples that are tried; shapes with more ways to lie are told apart by fewer, as most of their motions agree."""


class Marks(NamedTuple):
    """Centroids (n, 3), kinds and sizes (mm or mm2) of all faces and edges."""

    points: np.ndarray
    kinds: list[str]
    sizes: np.ndarray

    @property
    def extent(self) -> float:
        """How far the points lie apart."""
        return float(np.linalg.norm(self.points.max(axis=0) - self.points.min(axis=0)))


def marks(body: Labelled) -> Marks:
    """The marks of a body."""
    points, kinds, sizes = [], [], []

    def add(shape: Any, kind: str, fill: Any) -> None:
        props = GProp_GProps()
        fill(shape, props)
        c = props.CentreOfMass()
        points.append((c.X(), c.Y(), c.Z()))
        kinds.append(kind)
        sizes.append(props.Mass())

    for face in body.face_list:
        add(face, f"face {face_kind(face)}", lambda s, p: BRepGProp.SurfaceProperties_s(s, p, NEAR * NEAR))
    for edge in body.edges.values():  # seams are not among them: where they lie is an accident
        add(edge, f"edge {edge_kind(edge)}", BRepGProp.LinearProperties_s)
    return Marks(np.array(points), kinds, np.array(sizes))


def likeness(first: Labelled, second: Labelled) -> Literal["", "same", "mirrored"]:
    """How the shapes of two bodies compare; a shape that is its own mirror image counts as the same."""
    a, b = marks(first), marks(second)
    if sorted(a.kinds) != sorted(b.kinds) or not np.allclose(np.sort(a.sizes), np.sort(b.sizes), rtol=NEAR, atol=0):
        return ""
    near = NEAR * max(a.extent, b.extent, 1e-3)
    base = _triple(a)
    if base is None:
        return "same" if _along_a_line(a, b, near) else ""
    mirrored = False
    for other in _fitting(a, base, b, near):
        turn, shift = _motion(a.points[list(base)], b.points[list(other)])
        if _carries(a, b, turn, shift, near):
            return "same"
        normal = np.cross(*(b.points[list(other[1:])] - b.points[other[0]]))
        normal /= np.linalg.norm(normal)
        flip = np.eye(3) - 2 * np.outer(normal, normal)
        foot = b.points[other[0]]
        mirrored = mirrored or _carries(a, b, flip @ turn, flip @ (shift - foot) + foot, near)
    return "mirrored" if mirrored else ""


def _rarity(m: Marks) -> list[int]:
    """How many marks are of each mark's kind and size."""
    return [
        sum(k == kind and abs(s - size) <= NEAR * size for k, s in zip(m.kinds, m.sizes, strict=True))
        for kind, size in zip(m.kinds, m.sizes, strict=True)
    ]


def _triple(m: Marks) -> tuple[int, int, int] | None:
    """Three marks off one line, the rarest first; None when all lie on a line."""
    rare = _rarity(m)
    order = sorted(range(len(m.kinds)), key=lambda k: (rare[k], k))
    limit = NEAR * 100 * max(m.extent, 1e-3)
    first = order[0]
    second = next((k for k in order[1:] if np.linalg.norm(m.points[k] - m.points[first]) > limit), None)
    if second is None:
        return None
    way = m.points[second] - m.points[first]
    way /= np.linalg.norm(way)
    for k in order:
        off = m.points[k] - m.points[first]
        if np.linalg.norm(off - way * (off @ way)) > limit:
            return first, second, k
    return None


def _fitting(a: Marks, base: tuple[int, int, int], b: Marks, near: float) -> list[tuple[int, int, int]]:
    """Triples of b that are as far apart as those of a, of the same kinds and sizes."""

    def like(k: int) -> list[int]:
        return [
            j
            for j in range(len(b.kinds))
            if b.kinds[j] == a.kinds[k] and abs(b.sizes[j] - a.sizes[k]) <= NEAR * a.sizes[k]
        ]

    def apart(m: Marks, i: int, j: int) -> float:
        return float(np.linalg.norm(m.points[i] - m.points[j]))

    p, q, r = base
    pairs = [(i, j) for i, j in product(like(p), like(q)) if abs(apart(b, i, j) - apart(a, p, q)) <= 2 * near]
    found = []
    for (i, j), k in product(pairs, like(r)):
        if abs(apart(b, i, k) - apart(a, p, r)) <= 2 * near and abs(apart(b, j, k) - apart(a, q, r)) <= 2 * near:
            found.append((i, j, k))
            if len(found) == MOST:
                break
    return found


def _motion(a: np.ndarray, b: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The rotation and shift that carry three points to three others (Kabsch 1976)."""
    ca, cb = a.mean(axis=0), b.mean(axis=0)
    u, _, vt = np.linalg.svd((a - ca).T @ (b - cb))
    sign = np.sign(np.linalg.det(vt.T @ u.T))
    turn: np.ndarray = vt.T @ np.diag([1.0, 1.0, sign]) @ u.T
    return turn, cb - turn @ ca


def _carries(a: Marks, b: Marks, turn: np.ndarray, shift: np.ndarray, near: float) -> bool:
    """Whether a motion carries every mark of a to one of b, of the same kind and size."""
    moved = a.points @ turn.T + shift
    gaps = np.linalg.norm(moved[:, None, :] - b.points[None, :, :], axis=2)
    kinds = np.array(a.kinds)[:, None] == np.array(b.kinds)[None, :]
    sizes = np.abs(a.sizes[:, None] - b.sizes[None, :]) <= NEAR * a.sizes[:, None]
    return bool(((gaps <= 10 * near) & kinds & sizes).any(axis=1).all())


def _along_a_line(a: Marks, b: Marks, near: float) -> bool:
    """Whether marks on a line lie in the same order, one way or the other."""

    def places(m: Marks) -> list[tuple[float, str, float]]:
        centre = m.points.mean(axis=0)
        way = m.points[np.argmax(np.linalg.norm(m.points - centre, axis=1))] - centre
        size = np.linalg.norm(way)
        along = (m.points - centre) @ (way / size) if size > near else np.zeros(len(m.kinds))
        return sorted(zip(along.tolist(), m.kinds, m.sizes.tolist(), strict=True))

    one = places(a)
    for other in (places(b), sorted((-t, k, s) for t, k, s in places(b))):
        steps = zip(sorted(t for t, _, _ in one), sorted(t for t, _, _ in other), strict=True)
        if all(abs(s - t) <= 10 * near for s, t in steps):
            return True
    return False
