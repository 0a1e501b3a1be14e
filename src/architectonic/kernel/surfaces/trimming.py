"""Surfaces cut by each other into pieces, each known by what bounds it and on which side of it it lies."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from typing import Any

from OCP.BRep import BRep_Builder
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepAlgoAPI import BRepAlgoAPI_BuilderAlgo
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopoDS import TopoDS_Shell

from architectonic.base.labels import base, plain
from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.shapes.labelled import Labelled, centre, history, is_free
from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors, listed, shape_list, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.shapes.witness import normal_at
from architectonic.kernel.surfaces.sheets import area, rims_after, sheet, surface, together

BEFORE, BEHIND = "before", "behind"
"""On which side of what cuts it a piece lies: before it is where its normals point."""
WHOLE = 1e-6
"""Share of an area by which the pieces of a surface may miss it."""


@dataclass(frozen=True)
class TrimmedPiece:
    """A piece of one of several surfaces.

    Attributes:
        of: number of the surface that it is a piece of.
        bounds: the faces that bound it and on which side of each it lies: `o2:side:c9:before`.
        sides: the same by the number of the surface that cuts: `1:before`.
        rims: what else bounds it; faces: the faces that it has a part of.
        shape: it alone; area in mm2; at: centre of its largest face, mm.
    """

    of: int
    bounds: tuple[str, ...]
    sides: tuple[str, ...]
    rims: tuple[str, ...]
    faces: tuple[str, ...]
    shape: Labelled
    area: float
    at: tuple[float, float, float]


def pieces(surfaces: list[Labelled], cutters: list[Labelled]) -> list[TrimmedPiece]:
    """The pieces that surfaces fall into when they are cut by each other and by further ones.

    Raises:
        KernelRefusal: the kernel gives up, or loses a part of a surface.
    """
    sources = [*surfaces, *cutters]
    algorithm = BRepAlgoAPI_BuilderAlgo()
    algorithm.SetArguments(shape_list([s.shape for s in sources]))
    algorithm.Build()
    if not algorithm.IsDone():
        raise KernelRefusal("the surfaces could not be cut by each other")
    whole = algorithm.Shape()
    names = history(whole, sources, algorithm, {})
    rims = rims_after(sources, algorithm)
    owner: dict[Any, int] = {}
    for number, source in enumerate(sources):
        for face in source.face_list:
            for image in listed(algorithm.Modified(face)) or [face]:
                owner.setdefault(image, number)
    around = list(ancestors(whole, EDGE, FACE))
    groups = _groups(around, owner)
    found = [_piece(g, number, around, owner, names, rims) for number in range(len(surfaces)) for g in groups[number]]
    for number, source in enumerate(surfaces):
        before, after = area(source.shape), sum(p.area for p in found if p.of == number)
        if abs(before - after) > WHOLE * before:
            raise KernelRefusal("the surfaces could not be cut by each other soundly here; move one of them a little")
    return found


def _groups(around: list[tuple[Any, list[Any]]], owner: dict[Any, int]) -> dict[int, list[list[Any]]]:
    """Faces of each surface that hang together where nothing cuts them."""
    lead = {f: f for f in owner}

    def root(face: Any) -> Any:
        while lead[face] != face:
            face = lead[face]
        return face

    for _, faces in around:
        if len({owner[f] for f in faces}) == 1:
            for other in faces[1:]:
                lead[root(other)] = root(faces[0])
    found: dict[int, dict[Any, list[Any]]] = defaultdict(dict)
    for face in owner:
        found[owner[face]].setdefault(root(face), []).append(face)
    return defaultdict(list, {k: list(v.values()) for k, v in found.items()})


def _piece(
    faces: list[Any],
    number: int,
    around: list[tuple[Any, list[Any]]],
    owner: dict[Any, int],
    names: dict[Any, list[str]],
    rims: dict[Any, str],
) -> TrimmedPiece:
    own = set(faces)
    bounds, sides, free = set(), set(), set()
    told: dict[Any, str] = {}
    for edge, beside in around:
        mine = [f for f in beside if f in own]
        if not mine:
            continue
        others = [f for f in beside if owner[f] != number]
        if others:
            for mine_one in mine:
                for other in others:
                    side = side_of(edge, mine_one, other)
                    bounds.add(f"{plain(names[other][0])}:{side}")
                    sides.add(f"{owner[other]}:{side}")
            told[edge] = min(f"{plain(names[o][0])}:{side_of(edge, mine[0], o)}" for o in others)
        elif is_free(edge, beside):
            told[edge] = rims.get(edge, "")
            free.add(plain(told[edge]))
    shape = shell_of(faces)
    made = surface(shape, {f: names[f] for f in faces}, told)
    largest = max(faces, key=area)
    return TrimmedPiece(
        number,
        tuple(sorted(bounds)),
        tuple(sorted(sides)),
        tuple(sorted(free)),
        tuple(sorted({plain(base(names[f][0])) for f in faces})),
        made,
        area(shape),
        centre(largest),
    )


def side_of(edge: Any, face: Any, cutter: Any) -> str:
    """On which side of a cutter a face lies beside an edge that both share: where the cutter's normal points, or behind it."""
    curve = BRepAdaptor_Curve(edge)
    at, way = gp_Pnt(), gp_Vec()
    curve.D1(curve.FirstParameter() + 0.5 * (curve.LastParameter() - curve.FirstParameter()), at, way)
    own = next(e for e in subshapes(face, EDGE) if e.IsSame(edge))
    if own.Orientation() == TopAbs_REVERSED:
        way.Reverse()
    up, out = normal_at(face, at), normal_at(cutter, at)
    if up is None or out is None:
        return BEHIND
    # walking along the edge with the normal up, the face lies to the left
    return BEFORE if gp_Vec(up).Crossed(way).Dot(gp_Vec(out)) > 0 else BEHIND


def shell_of(faces: list[Any]) -> Any:
    """Faces that hang together as one shell."""
    builder, shell = BRep_Builder(), TopoDS_Shell()
    builder.MakeShell(shell)
    for face in faces:
        builder.Add(shell, face)
    return shell


def kept(parts: list[tuple[int, Labelled]], sources: list[Labelled]) -> dict[int, Labelled]:
    """What is left of each surface when only some pieces stay; its faces are told apart within it alone.

    Args:
        parts: the number of the surface, and the piece of it.
    """
    made: dict[int, Labelled] = {}
    for number in dict.fromkeys(n for n, _ in parts):
        mine = [p for n, p in parts if n == number]
        names: dict[Any, list[str]] = {}
        rims: dict[Any, str] = {}
        for p in mine:
            names.update({f: _whole(n, sources[number]) for f, n in zip(p.face_list, p.faces, strict=True)})
            rims.update(p.rim_of)
        shape = together([p.shape for p in mine])
        made[number] = surface(sheet(shape, "what is left is no sound surface"), names, rims)
    return made


def _whole(labels: tuple[str, ...], source: Labelled) -> list[str]:
    """Labels of a piece of a face as the face had them: the pieces are told apart anew."""
    known = {n for own in source.faces for n in own}
    return [n if n in known else base(n) for n in labels]


def size_of(body: Labelled) -> float:
    """How large a surface is across, mm; a rough measure to reach beyond it."""
    x0, y0, z0, x1, y1, z1 = quick_box(body.shape)
    return float(max(x1 - x0, y1 - y0, z1 - z0))
