"""Which way something that is pushed goes: where it begins, and the side on which the material lies."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from architectonic.describe.references.planes import in_space
from architectonic.describe.results import Frame, Node, PlacedRegion, SketchResult
from architectonic.family.records import Model, Reference
from architectonic.propagate.evaluation import Evaluation
from architectonic.render.camera import BodyMesh
from architectonic.session.picking.picked import witness
from architectonic.session.picking.subject import Subject


def place_of(subject: Subject, reference: Reference) -> tuple[np.ndarray, np.ndarray] | None:
    """A point inside a region or face, and the normal there."""
    evaluation, document, at = subject.evaluation, subject.document, subject.at
    if not isinstance(document, Model) or evaluation is None:
        return None
    if reference.item in document.bodies:
        mesh = subject.mesh(subject.own(reference.item), reference.label)
        seen = witness(mesh, "face", reference.label) if mesh is not None else None
        return (np.array(seen.at), np.array(seen.normal)) if seen is not None and seen.normal else None
    fed = evaluation.value(Node("socket", at, reference.item))
    if isinstance(fed, PlacedRegion):
        return np.array(in_space(fed.frame, fed.region.inside)), np.array(fed.frame.normal)
    frame = evaluation.value(Node("frame", at, reference.item))
    solved = evaluation.value(Node("solve", at, reference.item))
    if not isinstance(frame, Frame) or not isinstance(solved, SketchResult):
        return None
    inside = next((r.inside for r in solved.regions if r.label == reference.label), None)
    return None if inside is None else (np.array(in_space(frame, inside)), np.array(frame.normal))


def behind(subject: Subject, reference: Reference, bodies: Iterable[str], settled: Evaluation | None) -> bool:
    """Whether more of some bodies lies behind a region or face than before it: a cut goes that way.

    Args:
        settled: what is known of them without the open sentence.
    """
    place, acted = place_of(subject, reference), set(bodies)
    outcomes = settled.outcomes.items() if settled is not None else ()
    wanted = [o.value for n, o in outcomes if n.what == "mesh" and n.at == subject.at and n.item in acted]
    clouds = [points for value in wanted if value and len(points := BodyMesh.from_result(value).points)]
    if place is None or not clouds:
        return False
    origin, normal = place
    heights = (np.concatenate(clouds) - origin) @ normal
    return bool(-heights.min() > heights.max())
