"""Surfaces joined along their edges, the gaps between them measured; what is closed becomes a solid."""

from __future__ import annotations

import math
from itertools import combinations
from typing import Any, NamedTuple

from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeSolid, BRepBuilderAPI_MakeVertex, BRepBuilderAPI_Sewing
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_SHELL
from OCP.TopoDS import TopoDS

from architectonic.base.labels import base
from architectonic.kernel.shapes.labelled import Labelled, centre, named
from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal, rough_volume, sound
from architectonic.kernel.shapes.witness import normal_at
from architectonic.kernel.surfaces.sheets import area, parts_of, surface
from architectonic.kernel.surfaces.trimming import shell_of

SAMPLES = 9
"""Points of an edge at which a gap is measured."""
LOST = 1e-6
"""Share of an area that joining may lose."""


class Gap(NamedTuple):
    """Two free edges that lie along each other; how far apart they are at least and at most, mm."""

    a: str
    b: str
    least: float
    most: float


def joined(surfaces: list[Labelled], limit: float) -> Labelled:
    """Surfaces as one, edges that lie within a limit of each other made one; faces keep their labels.

    Raises:
        KernelRefusal: they do not all hang together then; says how far apart they are.
    """
    sewing = BRepBuilderAPI_Sewing(limit)
    for one in surfaces:
        sewing.Add(one.shape)
    sewing.Perform()
    shape = sewing.SewedShape()
    if shape is None or shape.IsNull():
        raise KernelRefusal("the surfaces could not be joined")
    before = sum(area(s.shape) for s in surfaces)
    around = sum(_long(e) for s in surfaces for e in s.free_edges.values())
    if abs(area(shape) - before) > LOST * before + limit * around or _doubled(shape, limit):
        raise KernelRefusal("the surfaces could not be joined soundly: they lie over each other, or an edge is shorter than the gap that is allowed")  # fmt: skip
    names: dict[Any, list[str]] = {}
    rims: dict[Any, str] = {}
    for one in surfaces:
        for face, labels in zip(one.face_list, one.faces, strict=True):
            for after in subshapes(sewing.ModifiedSubShape(face), FACE):
                names[after] = [*dict.fromkeys([*names.get(after, []), *labels])]
        for edge, rim in one.rim_of.items():
            for after in subshapes(sewing.ModifiedSubShape(edge), EDGE):
                rims[after] = rim
    assert all(f in names for f in subshapes(shape, FACE)), "a face of the result has no history"
    shells = parts_of(shape)
    made = surface(shells[0] if len(shells) == 1 else shape, {f: _bare(n, surfaces) for f, n in names.items()}, rims)
    if len(shells) > 1:
        found = gaps(made)
        away = min(float(BRepExtrema_DistShapeShape(p, q).Value()) for p, q in combinations(shells, 2))
        told = (
            f": edges that lie along each other are {_mm(found[0].most)} apart"
            if found
            else f": they are {_mm(away)} apart"
            if away > limit
            else ": they meet away from their edges"
        )
        raise KernelRefusal(
            f"the surfaces do not hang together by edges within {_mm(limit)}{told}",
            [e for g in found for e in (g.a, g.b)],
        )
    return made


def _long(edge: Any) -> float:
    props = GProp_GProps()
    BRepGProp.LinearProperties_s(edge, props)
    return float(props.Mass())


def _doubled(shape: Any, limit: float) -> bool:
    """Whether more than two faces meet at an edge, or one lies over another between the same edges."""
    beside: dict[Any, set[Any]] = {}
    for edge, faces in ancestors(shape, EDGE, FACE):
        if len({*faces}) > 2:
            return True
        for face in faces:
            beside.setdefault(face, set()).add(edge)
    for (a, first), (b, second) in combinations(beside.items(), 2):
        if first == second and math.dist(centre(a), centre(b)) < limit and abs(area(a) - area(b)) < limit * limit:
            return True
    return False


def _mm(value: float) -> str:
    return f"{value:.3g} mm"


def _bare(labels: list[str], surfaces: list[Labelled]) -> list[str]:
    """Labels as they were where no other surface has the same, else without what told pieces apart."""
    counted = [n for s in surfaces for own in s.faces for n in own]
    return [n if counted.count(n) == 1 else base(n) for n in labels]


def closed(body: Labelled, limit: float) -> Labelled:
    """A surface without free edges as a solid.

    Raises:
        KernelRefusal: it has free edges, which are named with the widest gap; or it encloses nothing sound.
    """
    free = body.free_edges
    if free:
        wide = gaps(body)
        told = f"; the widest gap between two of them is {_mm(max(g.most for g in wide))}" if wide else ""
        count = f"{len(free)} edge{'s are' if len(free) > 1 else ' is'} free"
        raise KernelRefusal(f"the surface does not close: {count}, joined within {_mm(limit)}{told}", free)
    shells = [p for p in parts_of(body.shape) if p.ShapeType() == TopAbs_SHELL]
    if len(shells) != 1:
        raise KernelRefusal("the surface closes in several parts: make a solid of each")
    shell = TopoDS.Shell(shells[0])
    solid = BRepBuilderAPI_MakeSolid(shell).Solid()
    if rough_volume(solid) < 0:  # turned face by face: blends make nonsense of a shell that is turned as a whole
        solid = BRepBuilderAPI_MakeSolid(shell_of(subshapes(shell.Reversed(), FACE))).Solid()
    checked = sound(solid, "what the surface encloses is no sound solid", crossing=True)
    kept = dict(zip(body.face_list, body.faces, strict=True))
    return named(checked, {f: [base(n) if "#" in n else n for n in kept[f]] for f in subshapes(checked, FACE)})


def gaps(body: Labelled, most: float = 5.0) -> list[Gap]:
    """Free edges that lie along each other over half of the shorter one at least, with how far they are apart.

    Args:
        most: edges that are further apart, mm, belong to an opening.
    """
    found = []
    for (a, first), (b, second) in combinations(body.free_edges.items(), 2):
        near = [d for d in _apart(first, second) if d <= most]
        back = [d for d in _apart(second, first) if d <= most]
        best = max(near, back, key=len)
        if len(best) > SAMPLES // 2:
            found.append(Gap(a, b, min(best), max(best)))
    return sorted(found, key=lambda g: g.most)


class Seam(NamedTuple):
    """An edge of a surface: how long it is, mm; free: it bounds one face alone.

    Attributes:
        gap: to the free edge that lies along it, mm; None where none does. beside: that edge.
        angle: the largest between the normals of the two faces that meet there, rad; 0 of a free one.
    """

    label: str
    free: bool
    length: float
    gap: float | None
    beside: str
    angle: float


def seams(body: Labelled) -> list[Seam]:
    """All edges of a surface, free ones first, then by how sharply faces meet."""
    free = body.free_edges
    nearest: dict[str, tuple[float, str]] = {}
    for g in gaps(body):
        for own, other in ((g.a, g.b), (g.b, g.a)):
            nearest.setdefault(own, (g.most, other))
    around = dict(ancestors(body.shape, EDGE, FACE))
    found = []
    for label, edge in body.edges.items():
        gap, beside = nearest.get(label, (None, ""))
        angle = 0.0 if label in free else _largest_angle(edge, around[edge])
        found.append(Seam(label, label in free, _long(edge), gap, beside, angle))
    return sorted(found, key=lambda s: (not s.free, -s.angle, s.label))


def _largest_angle(edge: Any, faces: list[Any]) -> float:
    """Between the normals of two faces along the edge that they share, rad."""
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    low, high = curve.FirstParameter(), curve.LastParameter()
    most = 0.0
    for k in range(SAMPLES):
        at = curve.Value(low + (high - low) * (k + 0.5) / SAMPLES)
        normals = [normal_at(f, at) for f in faces[:2]]
        if len(normals) == 2 and None not in normals:
            most = max(most, float(normals[0].Angle(normals[1])))
    return most


def _apart(edge: Any, other: Any) -> list[float]:
    """How far points of an edge are from another one, mm."""
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    low, high = curve.FirstParameter(), curve.LastParameter()
    found = []
    for k in range(SAMPLES):
        at = curve.Value(low + (high - low) * (k + 0.5) / SAMPLES)
        found.append(float(BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(at).Vertex(), other).Value()))
    return found
