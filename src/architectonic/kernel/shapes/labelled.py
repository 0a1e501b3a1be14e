"""Solids whose faces, edges and vertices have names (docs/decisions/0002).

A face carries the label of what made it, through the kernel's own history; edges and vertices are named by the faces
around them. Labels never contain counters unless neighbours are equal.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property
from types import MappingProxyType
from typing import Any

import msgspec
from OCP.BRep import BRep_Tool
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps
from OCP.TopoDS import TopoDS

from architectonic.base.labels import base, faces_around, kind_of, pair, plain
from architectonic.kernel.shapes.topology import (
    EDGE,
    FACE,
    VERTEX,
    ancestors,
    from_bytes,
    listed,
    subshapes,
    to_bytes,
)
from architectonic.kernel.shapes.verdict import rough_volume

Names = tuple[str, ...]
"""The name of a face, then its aliases from uniting."""


@dataclass(frozen=True)
class Labelled:
    """A body's shape with the names of its faces, in the kernel's face order.

    Attributes:
        rims: of a surface, what each of its edges that bound one face alone lies along, in the kernel's edge order and ""
            for other edges: such an edge is named as one between its face and a face of that name; () of a solid.
    """

    shape: Any
    faces: tuple[Names, ...]
    rims: tuple[str, ...] = ()

    @cached_property
    def face_list(self) -> list[Any]:
        """Faces in order."""
        return subshapes(self.shape, FACE)

    @cached_property
    def name_of(self) -> dict[Any, str]:
        """Label of each face."""
        return {f: n[0] for f, n in zip(self.face_list, self.faces, strict=True)}

    @cached_property
    def rim_of(self) -> dict[Any, str]:
        """What each edge that bounds one face alone lies along, where that has a name."""
        if not self.rims:
            return {}
        return {e: rim for e, rim in zip(subshapes(self.shape, EDGE), self.rims, strict=True) if rim}

    @cached_property
    def free_edges(self) -> dict[str, Any]:
        """The edges that bound one face alone, by label; none of a solid."""
        free = {e for e, around in ancestors(self.shape, EDGE, FACE) if is_free(e, around)}
        return {label: e for label, e in self.edges.items() if e in free}

    @cached_property
    def rough_volume(self) -> float:
        """As of verdict.rough_volume, kept."""
        return rough_volume(self.shape)

    @cached_property
    def edges(self) -> dict[str, Any]:
        """Edges by label, seams and degenerate edges left out."""
        by_pair: dict[tuple[str, ...], list[Any]] = defaultdict(list)
        for edge, around in ancestors(self.shape, EDGE, FACE):
            names = sorted({self.name_of[f] for f in around})
            if is_free(edge, around):
                names = sorted((*names, self.rim_of.get(edge, "")))
            if len(names) > 1 or (len(around) > 1 and not BRep_Tool.IsClosed_s(edge, TopoDS.Face(around[0]))):
                if not BRep_Tool.Degenerated_s(edge):
                    by_pair[tuple(names)].append(edge)
        at_vertex = self._faces_at_vertices
        found: dict[str, Any] = {}
        for between, edges in by_pair.items():
            head = "(" + "|".join(between) + ")"
            if len(edges) == 1:
                found[head] = edges[0]
                continue
            ends = [
                sorted({n for v in subshapes(e, VERTEX) for n in at_vertex.get(v, ())} - set(between)) for e in edges
            ]
            tags = [f"{head}@({'|'.join(e)})" for e in ends]
            order = sorted(range(len(edges)), key=lambda k: (tags[k], centre(edges[k])))
            for k in order:
                same = [j for j in order if tags[j] == tags[k]]
                found[tags[k] if len(same) == 1 else f"{tags[k]}#{same.index(k) + 1}"] = edges[k]
        return found

    @cached_property
    def _faces_at_vertices(self) -> dict[Any, list[str]]:
        return {v: [self.name_of[f] for f in around] for v, around in ancestors(self.shape, VERTEX, FACE)}

    @cached_property
    def vertices(self) -> dict[str, Any]:
        """Vertices by label: their edges."""
        edge_name = {e: n for n, e in self.edges.items()}
        found: dict[str, list[Any]] = defaultdict(list)
        for vertex, around in ancestors(self.shape, VERTEX, EDGE):
            names = sorted({edge_name[e] for e in around if e in edge_name})
            if names:
                found["(" + "|".join(names) + ")"].append(vertex)
        out = {}
        for label, same in found.items():
            same.sort(key=lambda v: tuple(round(c, 5) for c in _point(v)))
            for k, vertex in enumerate(same):
                out[label if len(same) == 1 else f"{label}#{k + 1}"] = vertex
        return out

    def find_faces(self, label: str) -> list[Any]:
        """The face of a label; all its pieces when it was split since; [] when it is lost."""
        exact = [f for f, n in zip(self.face_list, self.faces, strict=True) if label in n]
        return exact or [
            f
            for f, n in zip(self.face_list, self.faces, strict=True)
            if label in map(base, n) or plain(label) in map(plain, n)
        ]

    def find_edges(self, label: str) -> list[Any]:
        """The edge of a label; all its pieces when one of its faces or it itself was split since."""
        if label in self.edges:
            return [self.edges[label]]
        wanted = pair(label)
        same = [e for n, e in self.edges.items() if pair(n) == wanted]
        if same and "@" not in label:
            return same
        loose = {base(n) for n in wanted}
        pieces = [e for n, e in self.edges.items() if {base(k) for k in pair(n)} == loose]
        return pieces if "@" not in label else (same if len(same) == 1 else [])

    def find_vertices(self, label: str) -> list[Any]:
        """The vertex of a label; the only one between the same faces when edges were split since; [] when it is lost."""
        if label in self.vertices:
            return [self.vertices[label]]
        same = [v for n, v in self.vertices.items() if faces_around(n) == faces_around(label)]
        return same if len(same) == 1 else []

    def candidates(self, label: str, among: Iterable[str]) -> dict[str, int]:
        """Labels that a lost one might have meant, and how many faces they have in common with it; one at least."""

        def faces(k: str) -> set[str]:
            return {base(n) for n in (faces_around(k) if kind_of(k) == "vertex" else pair(k))}

        wanted = faces(label)
        shared = {k: len(wanted & faces(k)) for k in among}
        return {k: count for k, count in shared.items() if count}

    def to_bytes(self) -> bytes:
        """Shape and labels in one block."""
        return msgspec.msgpack.encode((self.faces, to_bytes(self.shape), self.rims))

    @staticmethod
    def from_bytes(data: bytes) -> Labelled:
        """Inverse of `to_bytes`."""
        faces, shape, rims = msgspec.msgpack.decode(data, type=tuple[tuple[Names, ...], bytes, Names])
        return Labelled(from_bytes(shape), faces, rims)


def is_free(edge: Any, around: list[Any]) -> bool:
    """Whether an edge bounds one face alone, and is no seam of it and no point."""
    return len(around) == 1 and not is_seam(edge, around[0])


def is_seam(edge: Any, face: Any) -> bool:
    """Whether an edge is where a face meets itself, or is a point."""
    return bool(BRep_Tool.Degenerated_s(edge) or BRep_Tool.IsClosed_s(edge, TopoDS.Face(face)))


def _point(vertex: Any) -> tuple[float, float, float]:
    p = BRep_Tool.Pnt_s(vertex)
    return (p.X(), p.Y(), p.Z())


def centre(shape: Any) -> tuple[float, float, float]:
    """Centre of an edge or face, rounded, for a stable order."""
    props = GProp_GProps()
    if shape.ShapeType() == EDGE:
        BRepGProp.LinearProperties_s(shape, props)
    else:
        BRepGProp.SurfaceProperties_s(shape, props)
    p = props.CentreOfMass()
    return (round(p.X(), 5), round(p.Y(), 5), round(p.Z(), 5))


def name_pieces(
    shape: Any, faces: list[Any], names: list[list[str]], rims: Mapping[Any, str] = MappingProxyType({})
) -> tuple[Names, ...]:
    """Give the pieces of a split face different labels.

    Pieces are told apart by the neighbours that only they have, where there is none by what their edges lie along; only
    when these are equal, by a number in order of their centres.
    """
    first = [sorted(n)[0] for n in names]
    groups: dict[str, list[int]] = defaultdict(list)
    for i, label in enumerate(first):
        groups[label].append(i)
    if all(len(g) == 1 for g in groups.values()):
        return tuple(tuple(sorted(n)) for n in names)
    index = {f: i for i, f in enumerate(faces)}
    neighbours: dict[int, set[str]] = defaultdict(set)
    for edge, around in ancestors(shape, EDGE, FACE):
        for f in around:
            neighbours[index[f]] |= {base(first[index[g]]) for g in around if g != f}
            if len(around) == 1 and rims.get(edge):
                neighbours[index[f]].add(rims[edge])
    out = [sorted(n) for n in names]
    for label, group in groups.items():
        if len(group) == 1:
            continue
        own = {i: neighbours[i] - {label} for i in group}
        shared = set.intersection(*own.values())
        tags = {i: f"({'|'.join(sorted(own[i] - shared))})" if own[i] - shared else "" for i in group}
        for i in sorted(group, key=lambda i: (tags[i], centre(faces[i]))):
            same = sorted((j for j in group if tags[j] == tags[i]), key=lambda j: centre(faces[j]))
            number = "" if len(same) == 1 else str(same.index(i) + 1)
            tag = tags[i] + number
            out[i][0] = f"{label}#{tag}" if tag else label
    return tuple(tuple(n) for n in out)


def carry(shape: Any, sources: list[Labelled], algorithm: Any, made: dict[Any, str]) -> Labelled:
    """Label a result through the history of the algorithm that made it; arguments and errors as of `history`."""
    return named(shape, history(shape, sources, algorithm, made))


def named(shape: Any, names: dict[Any, list[str]]) -> Labelled:
    """A shape with a name for every face; pieces of one name are told apart."""
    faces = subshapes(shape, FACE)
    return Labelled(shape, name_pieces(shape, faces, [names[f] for f in faces]))


def history(shape: Any, sources: list[Labelled], algorithm: Any, made: dict[Any, str]) -> dict[Any, list[str]]:
    """Names of the faces of a result, through the history of the algorithm that made it.

    Args:
        shape: the result.
        sources: labelled inputs.
        algorithm: answers Modified and IsDeleted.
        made: labels of new faces.

    Raises:
        AssertionError: a face has no history; a defect of the operation's naming.
    """
    names: dict[Any, list[str]] = {f: [] for f in subshapes(shape, FACE)}
    for source in sources:
        for face, labels in zip(source.face_list, source.faces, strict=True):
            after = listed(algorithm.Modified(face))
            if not after and not algorithm.IsDeleted(face):
                after = [face]
            for f in after:
                if f in names:
                    names[f] += [n for n in labels if n not in names[f]]
    for f, label in made.items():
        if f in names and not names[f]:
            names[f].append(label)
    assert all(names.values()), "a face of the result has no history"
    return names
