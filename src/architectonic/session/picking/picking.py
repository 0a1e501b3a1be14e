"""More of what was picked: all that is like it, that the same operation made, that lies around it or runs on from it."""

from __future__ import annotations

import numpy as np

from architectonic.base.labels import pair, plain
from architectonic.render.camera import BodyMesh
from architectonic.session.picking.picked import witness

ALIKE = 2e-3
"""Sizes read off a picture that differ by less than this share are alike: facets miss them by as much."""
MEET = 1e-3
"""Ends nearer than this, in mm, meet: coordinates of a picture have single precision."""
STRAIGHT_ON = 0.03
"""Edges that meet at less than this angle, rad, run on from each other; facets of arcs turn by less."""


def like(mesh: BodyMesh, kind: str, label: str) -> list[str]:
    """Faces or edges of the same kind and size, edges also of the same convexity; the picked one first."""
    wanted = witness(mesh, kind, label)
    if wanted is None:
        return []
    found = [label]
    for other in mesh.faces if kind == "face" else mesh.edges:
        seen = witness(mesh, kind, other) if other != label else None
        if seen is None or (seen.kind, seen.convex) != (wanted.kind, wanted.convex):
            continue
        if abs((seen.size or 0) - (wanted.size or 0)) <= ALIKE * max(seen.size or 0, wanted.size or 0):
            found.append(other)
    return found


def made_together(mesh: BodyMesh, kind: str, label: str) -> list[str]:
    """Faces that the same operation made; of an edge, all convex or concave edges between faces of the same operations."""
    if kind == "face":
        return [f for f in mesh.faces if f.split(":")[0] == label.split(":")[0]]
    wanted = {plain(f).split(":")[0] for f in pair(label)}
    bend = mesh.convex[mesh.edges.index(label)] if label in mesh.edges else ""
    return [
        e
        for e, convex in zip(mesh.edges, mesh.convex, strict=True)
        if convex == bend and {plain(f).split(":")[0] for f in pair(e)} == wanted
    ]


def around(mesh: BodyMesh, label: str) -> list[str]:
    """The edges around a face."""
    return [e for e in mesh.edges if label in pair(e)]


def chain(mesh: BodyMesh, label: str) -> list[str]:
    """The edges that run on smoothly from an edge, itself among them, in the order of the picture."""
    ends = {e: _ends(mesh, k) for k, e in enumerate(mesh.edges)}
    if label not in ends:
        return []
    found, stack = {label}, [label]
    while stack:
        here = stack.pop()
        for other in mesh.edges:
            if other not in found and any(_runs_on(a, b) for a in ends[here] for b in ends[other]):
                found.add(other)
                stack.append(other)
    return [e for e in mesh.edges if e in found]


def _ends(mesh: BodyMesh, k: int) -> list[tuple[np.ndarray, np.ndarray]]:
    """Both ends of an edge with the direction that leads out of it; none of a closed one."""
    run = mesh.lines[mesh.line_starts[k] : mesh.line_starts[k + 1]].astype(float)
    if len(run) < 2 or np.linalg.norm(run[0] - run[-1]) < MEET:
        return []

    return [(run[0], _tangent(run)), (run[-1], _tangent(run[::-1]))]


def _tangent(run: np.ndarray) -> np.ndarray:
    """The direction at the start of a run of facets, leading out; extrapolated, as a chord lags half a facet behind."""
    first = (run[0] - run[1]) / max(float(np.linalg.norm(run[0] - run[1])), 1e-12)
    if len(run) < 3:
        return np.asarray(first)
    second = (run[1] - run[2]) / max(float(np.linalg.norm(run[1] - run[2])), 1e-12)
    found = 1.5 * first - 0.5 * second
    return np.asarray(found / np.linalg.norm(found))


def _runs_on(a: tuple[np.ndarray, np.ndarray], b: tuple[np.ndarray, np.ndarray]) -> bool:
    return bool(np.linalg.norm(a[0] - b[0]) < MEET and np.linalg.norm(a[1] + b[1]) < STRAIGHT_ON)
