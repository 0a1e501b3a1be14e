"""Triangles and edge lines for pictures, as plain arrays."""

from __future__ import annotations

import io
import math
import struct
from collections import defaultdict
from itertools import product
from typing import Any, NamedTuple

import numpy as np
from OCP.BinTools import BinTools
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepTools import BRepTools
from OCP.GCPnts import GCPnts_TangentialDeflection
from OCP.IMeshTools import IMeshTools_MeshAlgoType_Delabella, IMeshTools_MeshAlgoType_Watson, IMeshTools_Parameters
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopLoc import TopLoc_Location

from architectonic.base import tolerance
from architectonic.base.labels import pair, plain
from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import EDGE, FACE, SOLID, ancestors, is_planar, subshapes
from architectonic.kernel.shapes.verdict import rough_volume
from architectonic.kernel.shapes.witness import convexity, edge_kind, face_kind

Facets = tuple[np.ndarray, np.ndarray, np.ndarray]
"""Points (n, 3), triangles (m, 3), outward, and the face of each (m,)."""
PLAIN = frozenset({"plane", "cylinder", "cone", "sphere", "torus"})
"""Faces of these kinds are facetted rightly."""
MISSES = 0.015
"""Share by which facets may miss the volume, beside what they must."""
Attempts = tuple[tuple[Any, float], ...]
ATTEMPTS: Attempts = (
    (IMeshTools_MeshAlgoType_Delabella, 1.0),  # five times quicker than the other on faces with many holes
    (IMeshTools_MeshAlgoType_Watson, 1.0),
    (IMeshTools_MeshAlgoType_Delabella, 1.3),
    (IMeshTools_MeshAlgoType_Delabella, 2.0),
    (IMeshTools_MeshAlgoType_Delabella, 3.5),
    (IMeshTools_MeshAlgoType_Delabella, 0.7),
)
"""Ways to facet, the share of the angle with each; what is wrong at a fine angle was right at coarser ones."""
ROUGH: Attempts = (ATTEMPTS[0], ATTEMPTS[3])
"""Enough to see whether there is a sound way at all."""


class EdgeLine(NamedTuple):
    """An edge in a picture: its points, and what it is."""

    points: list[tuple[float, float, float]]
    convex: str
    kind: str


def mesh(body: Labelled, angle: float = 0.16, picked: Labelled | None = None) -> dict[str, Any]:
    """Triangulate a body.

    Args:
        picked: the body that this one is drawn in place of: faces and edges are those that it has; other edges are called "".

    Returns:
        points (n, 3) float32 mm; triangles (m, 3) int32, outward; face (m,) int32 index into faces;
        faces: labels; planes: origin and normal of planar faces or None; lines (k, 3) float32 with
        line_starts (e + 1,) int32, edges: labels, convex: convex, concave, smooth or "" of each; face_kinds and edge_kinds (kernel.witness).
        Arrays as bytes.
    """
    (points, triangles, owner), deflection = facets(body.shape, body.face_list, angle)
    lines = list(_lines(body, angle, deflection).items())
    if picked is not None:
        owner = _faces_of(picked, body)[owner]
        lines = _lines_of(picked, dict(lines), _lines(picked, angle, deflection))
    known = picked or body
    starts = np.cumsum([0, *(len(line.points) for _, line in lines)])
    return {
        "points": points.astype(np.float32).tobytes(),
        "triangles": triangles.astype(np.int32).tobytes(),
        "face": owner.astype(np.int32).tobytes(),
        "faces": [names[0] for names in known.faces],
        "planes": [is_planar(f) for f in known.face_list],
        "lines": np.asarray([p for _, line in lines for p in line.points], np.float32).reshape(-1, 3).tobytes(),
        "line_starts": starts.astype(np.int32).tobytes(),
        "edges": [label for label, _ in lines],
        "convex": [line.convex for _, line in lines],
        "face_kinds": [face_kind(f) for f in known.face_list],
        "edge_kinds": [line.kind for _, line in lines],
    }


def _lines(body: Labelled, angle: float, deflection: float) -> dict[str, EdgeLine]:
    around = dict(ancestors(body.shape, EDGE, FACE))
    found = {}
    for label, edge in body.edges.items():
        sampler = GCPnts_TangentialDeflection(BRepAdaptor_Curve(edge), angle / 2, deflection)
        points = [sampler.Value(i).Coord() for i in range(1, sampler.NbPoints() + 1)]
        found[label] = EdgeLine(points, convexity(edge, around[edge]), edge_kind(edge))
    return found


def _faces_of(picked: Labelled, drawn: Labelled) -> np.ndarray:
    """Of each face that is drawn the number of the one that it stands for."""
    places = {plain(names[0]): k for k, names in reversed(list(enumerate(picked.faces)))}
    exact = {names[0]: k for k, names in enumerate(picked.faces)}
    return np.array([exact.get(names[0], places.get(plain(names[0]), 0)) for names in drawn.faces])


def _lines_of(picked: Labelled, drawn: dict[str, EdgeLine], own: dict[str, EdgeLine]) -> list[tuple[str, EdgeLine]]:
    """The edges of the body that is picked as they are drawn, then those that it has not."""
    pieces: dict[frozenset[str], list[str]] = defaultdict(list)
    for label in drawn:
        if label not in picked.edges:
            pieces[frozenset(map(plain, pair(label)))].append(label)
    found = []
    for label in picked.edges:
        line = drawn.pop(label, own[label])
        for piece in pieces.pop(frozenset(map(plain, pair(label))), ()):
            line = line._replace(points=_on(line.points if line is not own[label] else [], drawn.pop(piece).points))
        found.append((label, line))
    return [*found, *(("", line._replace(kind="")) for line in drawn.values())]


def _on(line: list[Any], piece: list[Any]) -> list[Any]:
    """A line with a piece put to the end that it meets."""
    if not line:
        return piece
    reach = [
        (math.dist(end, tip), k) for k, (end, tip) in enumerate(product((line[0], line[-1]), (piece[0], piece[-1])))
    ]
    way = min(reach)[1]
    turned = piece if way in (1, 2) else piece[::-1]
    return [*turned, *line] if way < 2 else [*line, *turned]


def facets(
    shape: Any, faces: list[Any], angle: float, attempts: Attempts = ATTEMPTS, chord: float = 0.0
) -> tuple[Facets, float]:
    """Facets of a shape, and how far they may lie from its faces, mm.

    The kernel passes over some faces without a word, and fills some freeform ones wrongly at some angles: what lacks a
    face, is open, or encloses another volume than the solid has, is made again in another way.

    Args:
        chord: how far they may lie, mm; 0 for what its size asks for in a picture.
    """
    b = quick_box(shape)
    deflection = chord or max(0.01, 0.0006 * math.dist(b[:3], b[3:]))
    simple = all(face_kind(f) in PLAIN for f in faces) or not subshapes(shape, SOLID)
    wanted = IMeshTools_Parameters()
    wanted.Deflection, wanted.InParallel = deflection, True
    for algorithm, share in attempts:
        wanted.MeshAlgo, wanted.Angle = algorithm, share * angle
        BRepTools.Clean_s(shape)  # what faces have from other bodies that they are part of depends on what came before
        BRepMesh_IncrementalMesh(shape, wanted)
        found = _facets(shape, faces)
        complete = all(BRep_Tool.Triangulation_s(f, TopLoc_Location()) is not None for f in faces)
        if complete and (simple or (may_enclose(_enclosed(found), shape, angle) and _closed(found))):
            break
    return found, deflection


def _closed(facets: Facets) -> bool:
    """Whether every side of a triangle is that of one other; points at one place are one."""
    points, triangles, _ = facets
    _, same = np.unique(np.round(points, 6), axis=0, return_inverse=True)
    corners = same.reshape(-1)[triangles]
    sides = np.sort(np.concatenate([corners[:, [0, 1]], corners[:, [1, 2]], corners[:, [2, 0]]]), axis=1)
    _, counts = np.unique(sides, axis=0, return_counts=True)
    return bool((counts == 2).all())


def can_be_facetted(shape: Any, angle: float = 0.3) -> bool:
    """Whether the facets of a shape enclose about what its faces do: those of a face that folds over do not."""
    found, _ = facets(shape, subshapes(shape, FACE), angle, ROUGH)
    return may_enclose(_enclosed(found), shape, angle)


def may_enclose(volume: float, shape: Any, angle: float) -> bool:
    """Whether facets of this volume may be those of a shape: on round faces they lie within, by 1 - sin(a) / a."""
    exact = rough_volume(shape)
    return abs(volume - exact) <= (MISSES + 1 - math.sin(angle) / angle) * abs(exact)


def _enclosed(facets: Facets) -> float:
    """The volume within facets, mm3 (divergence theorem)."""
    points, triangles, _ = facets
    a, b, c = (points[triangles[:, k]] for k in range(3))
    return float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6)


def _facets(shape: Any, faces: list[Any]) -> Facets:
    """What the kernel has made for each face.

    The kernel gives no arrays: its bytes are read where they can be, four times quicker than asking for every node.
    """
    found = []
    for index, face in enumerate(faces):
        location = TopLoc_Location()
        t = BRep_Tool.Triangulation_s(face, location)
        if t is not None:
            found.append((index, t, location, face.Orientation() == TopAbs_REVERSED))
    blocks = _written(shape)
    points, triangles, owner, size = [np.zeros((0, 3))], [np.zeros((0, 3), np.int64)], [np.zeros(0, np.int64)], 0
    for index, t, location, flip in found:
        nodes, corners = blocks.get(_mark(t)) or _asked(t)
        points.append(nodes if location.IsIdentity() else _moved(nodes, location.Transformation()))
        triangles.append((corners[:, [0, 2, 1]] if flip else corners) - 1 + size)
        owner.append(np.full(len(corners), index))
        size += len(nodes)
    return _without_points(np.concatenate(points), np.concatenate(triangles), np.concatenate(owner))


def _without_points(
    points: np.ndarray, triangles: np.ndarray, owner: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Triangles with two corners at one place, as at the pole of a sphere, left out: they close nothing."""
    a, b, c = (points[triangles[:, k]] for k in range(3))
    apart = tolerance.MODELLING**2
    keep = np.ones(len(triangles), bool)
    for p, q in ((a, b), (b, c), (c, a)):
        side = p - q
        keep &= np.einsum("ij,ij->i", side, side) > apart
    return points, triangles[keep], owner[keep]


def _moved(points: np.ndarray, move: Any) -> np.ndarray:
    """Points at another place."""
    m = np.array([[move.Value(i, j) for j in range(1, 5)] for i in range(1, 4)])
    found: np.ndarray = points @ m[:, :3].T + m[:, 3]
    return found


def _asked(t: Any) -> tuple[np.ndarray, np.ndarray]:
    """Nodes and triangles of a face, one by one."""
    nodes = [t.Node(i).Coord() for i in range(1, t.NbNodes() + 1)]
    corners = [t.Triangle(i).Get() for i in range(1, t.NbTriangles() + 1)]
    return np.array(nodes, float).reshape(-1, 3), np.array(corners, np.int64).reshape(-1, 3)


Block = tuple[np.ndarray, np.ndarray]
Mark = tuple[int, int, tuple[tuple[float, float, float], ...]]
_HEADING = b"Triangulations "
_TOLD = (0, 1, 2, -1)
"""Nodes by which the facets of a face are told apart: no two faces share three nodes that span a plane."""


def _mark(t: Any) -> Mark:
    """By what the facets of a face are found again."""
    count = t.NbNodes()
    return count, t.NbTriangles(), tuple(t.Node(k % count + 1).Coord() for k in _TOLD)


def _heading(data: bytes) -> tuple[int, int]:
    """Where the triangulations begin and how many there are; `PolygonOnTriangulations` has a heading of its own."""
    at = data.find(_HEADING)
    while at > 0 and data[at - 2 : at] == b"On":
        at = data.find(_HEADING, at + 1)
    end = data.find(b"\n", at)
    count = data[at + len(_HEADING) : end]
    return (end + 1, int(count)) if at >= 0 and end > 0 and count.isdigit() else (0, 0)


def _written(shape: Any) -> dict[Mark, Block]:
    """Nodes and triangles as they stand in the bytes of a shape, whose order is the kernel's own; what is not laid out
    as expected is left out.

    After the heading, for each: int32 nodes and triangles, a byte each for coordinates of the surface and for normals,
    float64 deflection, float64 nodes, then float64 pairs, int32 triangles and float32 normals.
    """
    stream = io.BytesIO()
    BinTools.Write_s(shape, stream)
    data = stream.getvalue()
    head = _heading(data)
    found: dict[Mark, Block] = {}
    twice: set[Mark] = set()
    at, count_of_all = head
    for _ in range(count_of_all):
        if at + 18 > len(data):
            return {}
        nodes, count, has_uv, has_normals = struct.unpack_from("<iiBB", data, at)
        at += 18
        after = at + 24 * nodes + (16 * nodes if has_uv else 0)
        end = after + 12 * count + (12 * nodes if has_normals else 0)
        if nodes < 3 or count < 1 or end > len(data):
            return {}
        points = np.frombuffer(data, "<f8", 3 * nodes, at).reshape(-1, 3)
        corners = np.frombuffer(data, "<i4", 3 * count, after).reshape(-1, 3).astype(np.int64)
        at = end
        if corners.min() < 1 or corners.max() > nodes:
            return {}
        told = tuple((float(x), float(y), float(z)) for x, y, z in points[list(_TOLD)])
        mark = (nodes, count, told)
        twice |= {mark} & found.keys()
        found[mark] = (points, corners)
    return {k: v for k, v in found.items() if k not in twice}
