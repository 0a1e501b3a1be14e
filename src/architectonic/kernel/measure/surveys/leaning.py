"""Draft: how faces lean to the direction in which a mould opens."""

from __future__ import annotations

import numpy as np
from OCP.gp import gp_Pnt

from architectonic.kernel.measure.surveys.survey import Survey, cells_of, worst
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import is_planar
from architectonic.kernel.shapes.witness import normal_at

Vector = tuple[float, float, float]


def by_draft(body: Labelled, pull: Vector) -> Survey:
    """The angle, rad, by which each cell leans to a direction: 0 for a wall along it, on the exact faces."""
    cells = cells_of(body, count=2000)
    normals, middles = cells.normals.copy(), cells.middles
    planes = [is_planar(f) for f in body.face_list]
    for k, face in enumerate(cells.face):
        plane = planes[face]
        if plane is not None:
            normals[k] = plane[1]
            continue
        exact = normal_at(body.face_list[face], gp_Pnt(*(float(c) for c in middles[k])))
        if exact is not None:
            normals[k] = (exact.X(), exact.Y(), exact.Z())
    values = np.abs(np.arcsin(np.clip(normals @ np.array(pull), -1.0, 1.0)))
    labels = [body.faces[f][0] for f in cells.face]
    return Survey(worst(values, middles, labels, [""] * len(labels), body), cells.points, cells.triangles, values)
