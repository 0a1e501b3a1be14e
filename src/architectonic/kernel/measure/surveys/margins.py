"""What is left between a hole and the edge of the face that it goes into, and between holes."""

from __future__ import annotations

from typing import Any

import numpy as np

from architectonic.kernel.measure import gauge
from architectonic.kernel.measure.holes import hole_of
from architectonic.kernel.measure.surveys.survey import Survey, worst
from architectonic.kernel.shapes.labelled import Labelled, centre
from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors, subshapes


def around_holes(body: Labelled, drilled: frozenset[str], between: bool) -> Survey:
    """The least way from the mouth of each hole to the other edges of its face, mm.

    Args:
        drilled: ids of the operations that drilled.
        between: to the mouths of other holes; otherwise to all other edges.
    """
    label_of = {e: k for k, e in body.edges.items()}
    hole = {f: hole_of(n, drilled) for f, n in zip(body.face_list, body.faces, strict=True)}
    mouths: dict[Any, dict[Any, str]] = {}
    for edge, around in ancestors(body.shape, EDGE, FACE):
        of = next((hole[f] for f in around if hole[f]), "")
        for face in around:
            if of and not hole[face]:
                mouths.setdefault(face, {})[edge] = of
    values, at, labels, opposite = [], [], [], []
    for face, own in mouths.items():
        for edge, key in own.items():
            others = [e for e in subshapes(face, EDGE) if (own.get(e, key) != key if between else e not in own)]
            ways = [(gauge.distance(edge, e)[0], e) for e in others]
            if ways:
                least, other = min(ways, key=lambda w: w[0])
                values.append(least)
                at.append(centre(edge))
                labels.append(label_of.get(edge, ""))
                opposite.append(label_of.get(other, ""))
    if not values:
        return Survey([])
    return Survey(worst(np.array(values), np.array(at), labels, opposite, body))
