"""What can be traced on the plane of a sketch."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, NamedTuple

import numpy as np

from architectonic.base import rigid, tolerance
from architectonic.base.labels import pair
from architectonic.describe.drawn.readings import samples
from architectonic.describe.references.feed import taken_along
from architectonic.describe.references.planes import in_space, y_axis
from architectonic.describe.results import Axis, Frame, Node, PlacedCurve, SketchResult, Spot
from architectonic.describe.words.sentences import place_words
from architectonic.family.records import (
    Datum,
    Family,
    Model,
    Sketch,
    Takes,
    Witness,
)
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.targets import Look
from architectonic.render.camera import BodyMesh
from architectonic.render.pictures import meshes_of
from architectonic.session.feeds.held import held
from architectonic.session.picking import picked

How = Literal["projected", "crossing", "section"]


SMOOTH = 0.15
"""Edges that meet at a smaller angle (rad) go on smoothly into each other; facets turn a little at their ends."""


REACH = 50.0


END_ON = 0.999
"""Cosine of the angle to the line of sight above which a facetted axis counts as seen end on."""


class Traceable(NamedTuple):
    """Something that can be traced, as it is seen on the sketch's plane.

    Attributes:
        at: the scope it stands in; takes, item, label: as a socket takes it.
        points: where it is seen, shape (n, 2), mm; one point of a vertex.
        words: what it is, for the pointer.
        depth: how far before (+) or behind (-) the plane its middle lies, mm.
        among: the assembly that it is seen in, "" for none; path: ids of the instances that lead to it there.
    """

    at: Scope
    takes: Takes
    item: str
    label: str
    points: np.ndarray
    words: str
    depth: float = 0.0
    witness: Witness | None = None
    how: How = "projected"
    among: str = ""
    path: tuple[str, ...] = ()


def offered(
    family: Family, evaluation: Evaluation, at: Scope, sketch: str, others: list[Look], until: str = ""
) -> list[Traceable]:
    """Everything that a sketch can trace: of its own document before it, and of what is seen beside it.

    Args:
        others: bodies and sketches of other documents that are visible.
        until: the operation that the document's own bodies are shown up to.
    """
    frame = evaluation.value(Node("frame", at, sketch))
    if not isinstance(frame, Frame):
        return []
    found = list(_of_sketches(family, evaluation, at, frame, sketch))
    found += _of_datums(family, evaluation, at, frame, sketch)
    found += _of_feeds(evaluation, at, frame)
    if _bodies_before(family, at, sketch):
        found += _of_bodies(family, evaluation, Look(at, until), frame)
    for look in others:
        there = taken_along(rigid.inverse(look.stands), frame)  # the plane as what is looked at has it
        seen = [
            *_of_sketches(family, evaluation, look.at, there, ""),
            *_of_datums(family, evaluation, look.at, there, ""),
        ]
        seen += _of_bodies(family, evaluation, look, frame)
        found += [t._replace(among=look.among, path=look.path) for t in seen]
    return found


def _bodies_before(family: Family, at: Scope, sketch: str) -> bool:
    """Whether a sketch comes after something that makes bodies."""
    for operation in getattr(family.documents[at.document], "build", ()):
        if operation.id == sketch:
            return False
        if getattr(operation, "does", "") == "make":
            return True
    return False


def _seen(frame: Frame, points: np.ndarray) -> tuple[np.ndarray, float]:
    axes = np.array([frame.x, y_axis(frame), frame.normal])
    flat = (np.asarray(points, float).reshape(-1, 3) - np.array(frame.origin)) @ axes.T
    return flat[:, :2], float(flat[:, 2].mean())


def _of_sketches(family: Family, evaluation: Evaluation, at: Scope, frame: Frame, own: str) -> Iterator[Traceable]:
    document = family.documents[at.document]
    for operation in document.build if isinstance(document, Model) else ():
        if operation.id == own:
            return
        solved, plane = (evaluation.value(Node(w, at, operation.id)) for w in ("solve", "frame"))
        if not isinstance(operation, Sketch) or not isinstance(solved, SketchResult) or not isinstance(plane, Frame):
            continue
        for key, c in solved.curves.items():
            points, depth = _seen(frame, np.array([in_space(plane, p) for p in samples(c)]))
            words = f"{place_words(operation, key)} of {operation.name}"
            if document.id != at.document or not own:
                words = f"{words}, {document.name}"
            yield Traceable(at, "curve", operation.id, key, points, words, depth)


def _of_datums(family: Family, evaluation: Evaluation, at: Scope, frame: Frame, own: str) -> Iterator[Traceable]:
    document = family.documents[at.document]
    for operation in document.build if isinstance(document, Model) else ():
        if operation.id == own:
            return
        value = evaluation.value(Node("frame", at, operation.id)) if isinstance(operation, Datum) else None
        yield from _of_place(at, operation.id, operation.name, value, frame)


def _of_feeds(evaluation: Evaluation, at: Scope, frame: Frame) -> Iterator[Traceable]:
    """What feeds hold already: it is traced from them, not taken a second time."""
    for fed in held(evaluation, at):
        if isinstance(fed.value, PlacedCurve):
            plane = fed.value.frame
            points, depth = _seen(frame, np.array([in_space(plane, p) for p in samples(fed.value.curve)]))
            yield Traceable(at, "curve", fed.id, "", points, fed.name, depth)
        else:
            yield from _of_place(at, fed.id, fed.name, fed.value, frame)


def _of_place(at: Scope, key: str, name: str, value: object, frame: Frame) -> Iterator[Traceable]:
    """A point, a line without ends, or a plane where it crosses."""
    if isinstance(value, Spot):
        points, depth = _seen(frame, np.array([value.at]))
        yield Traceable(at, "vertex", key, "", points, f"point {name}", depth)
    elif isinstance(value, Axis):
        ends = np.array([np.array(value.origin) + s * np.array(value.direction) for s in (-REACH, REACH)])
        points, depth = _seen(frame, ends)
        yield Traceable(at, "axis", key, "", points, f"axis {name}", depth)
    elif isinstance(value, Frame) and abs(np.dot(value.normal, frame.normal)) < 1 - tolerance.MEASURE:
        line = np.cross(value.normal, frame.normal)
        line = line / np.linalg.norm(line)
        system = np.array([value.normal, frame.normal, line])
        heights = [
            np.dot(value.normal, value.origin),
            np.dot(frame.normal, frame.origin),
            np.dot(line, frame.origin),
        ]
        foot = np.linalg.solve(system, np.array(heights))
        points, _ = _seen(frame, np.array([foot - REACH * line, foot + REACH * line]))
        words = f"where plane {name} crosses"
        yield Traceable(at, "plane", key, "", points, words, 0.0, None, "crossing")


def _of_bodies(family: Family, evaluation: Evaluation, look: Look, frame: Frame) -> Iterator[Traceable]:
    for (_, there, body), mesh, _ in meshes_of(evaluation, look):
        record = family.documents[there.document]
        name = record.bodies[body].name if isinstance(record, Model) and body in record.bodies else body
        for k, label in enumerate(mesh.edges):
            points, depth = _seen(frame, mesh.lines[mesh.line_starts[k] : mesh.line_starts[k + 1]])
            seen = picked.witness(mesh, "edge", label)
            yield Traceable(there, "edge", body, label, points, f"edge of {name}", depth, seen)
        for k, label in enumerate(mesh.faces):
            if mesh.face_kinds and mesh.face_kinds[k] == "cylinder":
                corners = mesh.points[mesh.triangles[mesh.face == k]].astype(float).reshape(-1, 3)
                if len(corners):
                    yield from _axis_of(frame, there, body, label, name, corners, mesh)


def _axis_of(
    frame: Frame, at: Scope, body: str, label: str, name: str, corners: np.ndarray, mesh: BodyMesh
) -> Iterator[Traceable]:
    """The axis of a round face, as far as its facets show it: offered where it is seen end on, as a centre."""
    normals = np.cross(corners[1::3] - corners[0::3], corners[2::3] - corners[0::3])
    sizes = np.linalg.norm(normals, axis=1)
    seen_from = sizes > tolerance.MEASURE
    normals = normals[seen_from] / sizes[seen_from][:, None]
    if len(normals) < 3:
        return
    direction = np.linalg.svd(normals)[2][-1]
    if abs(np.dot(direction, frame.normal)) < END_ON:
        return
    flat, depth = _seen(frame, corners)
    # least squares circle (Kasa, 1976) through the corners as they are seen
    a = np.column_stack([2 * flat, np.ones(len(flat))])
    centre = np.linalg.lstsq(a, (flat**2).sum(axis=1), rcond=None)[0][:2]
    seen = picked.witness(mesh, "face", label)
    yield Traceable(at, "axis", body, label, centre.reshape(1, 2), f"centre of a round face of {name}", depth, seen)


def outline(mesh: BodyMesh, face: str) -> list[str]:
    """Labels of all edges around a face."""
    return [e for e in mesh.edges if face in pair(e)]


def loop(mesh: BodyMesh, face: str, edge: str) -> list[str]:
    """Of the outline of a face the edges that join an edge end to end: one of its borders."""
    ends = {k: {tuple(np.round(p, 3)) for p in _tips(mesh, k)} for k in outline(mesh, face)}
    found, grown = [edge], [edge]
    while grown:
        here = ends.get(grown.pop(), set())
        near = [k for k, there in ends.items() if k not in found and here & there]
        found += near
        grown += near
    return found


def _tips(mesh: BodyMesh, edge: str) -> np.ndarray:
    """Both ends of an edge."""
    k = mesh.edges.index(edge)
    ends: np.ndarray = mesh.lines[[mesh.line_starts[k], mesh.line_starts[k + 1] - 1]].astype(float)
    return ends


def chain(mesh: BodyMesh, edge: str) -> list[str]:
    """An edge with all that goes on smoothly from it."""
    ends = {}
    for k, label in enumerate(mesh.edges):
        points = mesh.lines[mesh.line_starts[k] : mesh.line_starts[k + 1]].astype(float)
        if len(points) > 1:
            ends[label] = [(points[0], points[0] - points[1]), (points[-1], points[-1] - points[-2])]
    found, grown = [edge], [edge]
    while grown:
        for at, out in ends.get(grown.pop(), ()):
            for other, tips in ends.items():
                if other in found:
                    continue
                for tip, leaves in tips:
                    turn = -np.dot(out, leaves) / (np.linalg.norm(out) * np.linalg.norm(leaves) or 1.0)
                    if np.linalg.norm(tip - at) < 10 * tolerance.FEATURE and turn > np.cos(SMOOTH):
                        found.append(other)
                        grown.append(other)
                        break
    return found
