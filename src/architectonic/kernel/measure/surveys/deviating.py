"""Deviation: how far the faces of a body lie from those of another one."""

from __future__ import annotations

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.gp import gp_Pnt

from architectonic.kernel.measure.surveys.survey import Survey, cells_of, on_faces, worst
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import compound


def from_body(body: Labelled, other: Labelled) -> Survey:
    """How far each cell lies from the nearest point of another body's faces, mm, from exact face to exact face.

    It is 0 inside a solid only where its faces are: a solid is held against as the surface around it.
    """
    cells = cells_of(body, count=1200)
    at = np.array(
        [c if foot is None else foot.at for c, foot in zip(cells.middles, on_faces(body, cells), strict=True)]
    )
    values = np.full(len(at), np.nan)
    labels, others = [body.faces[f][0] for f in cells.face], [""] * len(at)
    faces = compound(other.face_list)
    measure = BRepExtrema_DistShapeShape()
    measure.LoadS2(faces)
    for k, p in enumerate(at):
        measure.LoadS1(BRepBuilderAPI_MakeVertex(gp_Pnt(*(float(c) for c in p))).Vertex())
        if measure.Perform():
            values[k] = measure.Value()
    return Survey(worst(values, at, labels, others, body, most=True), cells.points, cells.triangles, values)
