"""Whether rounds and chamfers run into walls that they do not touch, or fold over: the kernel calls both valid."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Section

from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.measure.mesh import PLAIN, can_be_facetted
from architectonic.kernel.shapes.topology import EDGE, FACE, VERTEX, ancestors, subshapes
from architectonic.kernel.shapes.witness import face_kind


def is_wrong(shape: Any, made: list[Any]) -> bool:
    """Whether new faces of a solid cross faces that they do not touch, or the solid is not what its faces enclose."""
    if _crosses(shape, made):
        return True
    return any(face_kind(f) not in PLAIN for f in made) and not can_be_facetted(shape)


def _crosses(shape: Any, made: list[Any]) -> bool:
    """Whether new faces meet others that share no vertex with them; boxes tell most of them apart."""
    faces = subshapes(shape, FACE)
    index = {f: k for k, f in enumerate(faces)}
    beside: dict[int, set[int]] = defaultdict(set)
    for _, around in ancestors(shape, VERTEX, FACE):
        numbers = {index[f] for f in around}
        for k in numbers:
            beside[k] |= numbers
    boxes = np.array([quick_box(f) for f in faces])
    for face in made:
        k = index[face]
        apart = (boxes[:, :3] > boxes[k, 3:]).any(axis=1) | (boxes[:, 3:] < boxes[k, :3]).any(axis=1)
        for other in np.flatnonzero(~apart):
            if other == k or int(other) in beside[k]:
                continue
            cut = BRepAlgoAPI_Section(face, faces[other], False)  # a hundred times quicker than their distance
            cut.Build()
            if cut.IsDone() and subshapes(cut.Shape(), EDGE):
                return True
    return False
