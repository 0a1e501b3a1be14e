"""Helpers of tests: faces."""

from PyQt6.QtCore import QPoint

from tests.support.canvases import block, edge_at, measured, seen_edges, tap  # noqa: F401


def face_at(canvas, role, kinds=("face",)):
    """A pixel inside the seen part of the face of a role, away from its edges and corners."""
    mesh = canvas.meshes[0][1]
    for triangle, number in zip(mesh.triangles, mesh.face, strict=True):
        if role not in mesh.faces[number]:
            continue
        x, y, _ = canvas.camera.project(mesh.points[triangle].mean(axis=0), canvas.width(), canvas.height())[0]
        if not 0 < y < canvas.height():
            continue
        hits = canvas.picker.at(canvas.camera, x, y, canvas.width(), canvas.height())
        if [h.label for h in hits if h.kind == "face"][:1] == [mesh.faces[number]] and hits[0].kind in kinds:
            return QPoint(round(x), round(y))
    raise AssertionError(f"no part of {role} is seen")
