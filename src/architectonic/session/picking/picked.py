"""What was picked in a picture, as a reference with its witness."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from architectonic.base import tolerance
from architectonic.base.labels import pair
from architectonic.family.records import SELF, Reference, Witness
from architectonic.family.references import Stage
from architectonic.render.camera import BodyMesh


def witness(mesh: BodyMesh, kind: str, label: str) -> Witness | None:
    """What the picture knows of a face, edge or vertex; None when it does not show it."""
    if kind == "face" and label in mesh.faces:
        index = mesh.faces.index(label)
        corners = mesh.points[mesh.triangles[mesh.face == index]].astype(float)
        neighbours = {n for e in mesh.edges if label in pair(e) for n in pair(e)} - {label}
        plane = mesh.planes[index]
        areas = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1) / 2
        at = (corners.mean(axis=1) * areas[:, None]).sum(axis=0) / max(areas.sum(), 1e-12)
        return Witness(
            kind=mesh.face_kinds[index],
            neighbours=tuple(sorted(neighbours)),
            at=_point(at),
            normal=tuple(plane[1]) if plane else (),
            size=_digits(areas.sum()),
        )
    if kind == "edge" and label in mesh.edges:
        index = mesh.edges.index(label)
        points = mesh.lines[mesh.line_starts[index] : mesh.line_starts[index + 1]].astype(float)
        steps = np.linalg.norm(np.diff(points, axis=0), axis=1)
        middles = (points[1:] + points[:-1]) / 2
        return Witness(
            kind=mesh.edge_kinds[index],
            convex=mesh.convex[index],
            neighbours=tuple(sorted(pair(label))),
            at=_point((middles * steps[:, None]).sum(axis=0) / max(steps.sum(), 1e-12)),
            size=_digits(steps.sum()),
        )
    if kind == "vertex" and label in mesh.corners:
        faces = {n for e in pair(label) for n in pair(e)}
        return Witness(kind="vertex", neighbours=tuple(sorted(faces)), at=_point(mesh.corners[label]))
    return None


def _point(at: np.ndarray) -> tuple[float, ...]:
    return tuple(round(float(c), 4) + 0.0 for c in at)  # a picture's accuracy; it only ranks candidates


def _digits(value: float) -> float:
    return tolerance.length(float(f"{value:.5g}"))


def reference(
    mesh: BodyMesh | None, body: str, kind: str, label: str, stage: Stage = "here", of: str = SELF
) -> Reference:
    """A reference to a picked face, edge or vertex of a body."""
    seen = witness(mesh.at_home, kind, label) if mesh is not None else None
    return Reference(of=of, item=body, stage=stage, label=label, witness=seen)


def face_at(mesh: BodyMesh, at: Sequence[float]) -> str:
    """The face of a picture that comes nearest to a point, mm."""
    corners, p = mesh.points[mesh.triangles].astype(float), np.array(at, float)
    along = np.roll(corners, -1, axis=1) - corners
    normal = np.cross(along[:, 0], -along[:, 2])
    normal /= np.maximum(np.linalg.norm(normal, axis=1), 1e-12)[:, None]
    inside = (np.einsum("tkc,tc->tk", np.cross(along, p - corners), normal) >= 0).all(axis=1)
    share = np.einsum("tkc,tkc->tk", p - corners, along) / np.maximum(np.einsum("tkc,tkc->tk", along, along), 1e-12)
    feet = corners + np.clip(share, 0.0, 1.0)[..., None] * along
    beside = np.linalg.norm(p - feet, axis=2).min(axis=1)
    above = np.abs(np.einsum("tc,tc->t", p - corners[:, 0], normal))
    return mesh.faces[int(mesh.face[int(np.argmin(np.where(inside, above, beside)))])]
