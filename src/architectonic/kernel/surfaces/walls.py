"""Surfaces moved along their normals, and thickened to solids; with labels."""

from __future__ import annotations

import math
from functools import partial
from typing import Any

from OCP.BRepOffset import BRepOffset_MakeOffset, BRepOffset_Skin
from OCP.GeomAbs import GeomAbs_Intersection

from architectonic.base.labels import plain
from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.measure.curvature import smallest_radius
from architectonic.kernel.measure.mesh import can_be_facetted
from architectonic.kernel.shapes.labelled import Labelled, named
from architectonic.kernel.shapes.topology import EDGE, FACE, compound, listed, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal, built, volume
from architectonic.kernel.solids.shells import ACCURACY, thick
from architectonic.kernel.surfaces.sheets import alone, area, attempt, parts_of, sheet, surface, together
from architectonic.kernel.surfaces.trimming import shell_of

PLENTY = 3.0
"""How many times the wall's own volume, or its thickness beyond the surface, a corner may add to a thickened surface."""


def copied(faces: list[tuple[Any, str]], operation: str) -> Labelled:
    """Faces as a surface of their own, in parts where they do not hang together; labelled `<operation>:copy:<face>`."""
    groups = _hanging([f for f, _ in faces])
    whole = sheet(together([g[0] if len(g) == 1 else shell_of(g) for g in groups]), "the faces could not be taken out")
    return surface(whole, {f: [f"{operation}:copy:({plain(n)})"] for f, n in faces}, {})


def _hanging(faces: list[Any]) -> list[list[Any]]:
    """Faces that meet at edges, each group by itself."""
    at: dict[Any, list[Any]] = {}
    for face in faces:
        for edge in subshapes(face, EDGE):
            at.setdefault(edge, []).append(face)
    groups: list[list[Any]] = []
    left = dict.fromkeys(faces)
    while left:
        group = [next(iter(left))]
        del left[group[0]]
        for face in group:  # it grows while it is gone through
            for other in [f for e in subshapes(face, EDGE) for f in at[e] if f in left]:
                left.pop(other, None)
                if other not in group:
                    group.append(other)
        groups.append(group)
    return groups


def moved(body: Labelled, by: float, operation: str) -> Labelled:
    """A surface at a distance from one, along its normals; sharp edges stay sharp.

    Labels: `<operation>:offset:<face>`.

    Raises:
        KernelRefusal: it would fold: somewhere it is rounder than that.
    """
    refused = f"the surface cannot be moved by {abs(by):g} mm"
    _refuse_folding(body, by, refused)
    algorithm = _offset(body, by, False)

    def make() -> Any:
        algorithm.MakeOffsetShape()
        return algorithm.Shape() if algorithm.IsDone() else None

    shape = attempt(make, refused)
    _refuse_stray(body, shape, by, refused)
    shape = alone(shape)
    names, rims = _history(body, algorithm, shape, operation, "offset")
    return surface(shape, names, rims)


def thickened(body: Labelled, by: float, operation: str, both: bool = False) -> Labelled:
    """What lies between a surface and the one at a distance from it.

    Args:
        by: mm, along the normals or, negative, against them; both: half of it on either side.

    Labels: `<operation>:start:<face>` on the surface, `<operation>:end:<face>` opposite, `<operation>:side:<edge>`.

    Raises:
        KernelRefusal: it would fold, or is no sound solid.
    """
    refused = f"the surface cannot be thickened by {abs(by):g} mm"
    if both:
        half = moved(body, -by / 2, operation)
        by_plain = {plain(own[0]): own for own in body.faces}
        head = f"{operation}:offset:("
        kept = tuple(by_plain.get(own[0].removeprefix(head)[:-1], own) for own in half.faces)
        half = Labelled(half.shape, kept, half.rims)
        return thickened(half, by, operation)
    _refuse_folding(body, by, refused)
    solids: list[Any] = []
    names: dict[Any, list[str]] = {}
    for part in parts_of(body.shape):
        inside = set(subshapes(part, FACE))
        own = Labelled(part, tuple(n for f, n in zip(body.face_list, body.faces, strict=True) if f in inside))
        algorithm = _offset(own, by, True)
        solid = built(partial(thick, algorithm), f"{refused}: it is too round or has too sharp a corner for that")
        wall = abs(by) * area(part)
        if not wall / PLENTY < volume(solid) < PLENTY * wall or not can_be_facetted(solid):
            raise KernelRefusal(f"{refused}: a corner or a round is in the way")
        _refuse_stray(body, solid, by, refused)
        for face in subshapes(solid, FACE):
            names[face] = [_role(algorithm, face, own, body, operation)]
        solids.append(solid)
    return named(solids[0] if len(solids) == 1 else compound(solids), names)


def _offset(body: Labelled, by: float, solid: bool) -> Any:
    algorithm = BRepOffset_MakeOffset()
    algorithm.Initialize(body.shape, by, ACCURACY, BRepOffset_Skin, False, False, GeomAbs_Intersection, solid)
    return algorithm


def _refuse_folding(body: Labelled, by: float, refused: str) -> None:
    """A surface folds where its centres of curvature lie between it and the one at a distance: the kernel makes both alike."""
    radius, where = math.inf, ""
    for face, labels in zip(body.face_list, body.faces, strict=True):
        found = smallest_radius(face, by > 0)
        if found < radius:
            radius, where = found, labels[0]
    if radius <= abs(by) * (1 + 1e-6):
        raise KernelRefusal(f"{refused}: it would fold, its smallest radius on that side is {radius:.3g} mm", [where])


def _refuse_stray(body: Labelled, made: Any, by: float, refused: str) -> None:
    """At a point such as the tip of a cone the kernel makes surfaces that reach to the stars, and calls them valid."""
    room = PLENTY * abs(by) + 1e-3
    before, after = quick_box(body.shape), quick_box(made)
    if any(a < b - 2 * room for a, b in zip(after[:3], before[:3], strict=True)) or any(
        a > b + 2 * room for a, b in zip(after[3:], before[3:], strict=True)
    ):
        raise KernelRefusal(f"{refused}: it has a tip or too sharp a corner")


def _history(
    body: Labelled, algorithm: Any, shape: Any, operation: str, role: str
) -> tuple[dict[Any, list[str]], dict[Any, str]]:
    names: dict[Any, list[str]] = {}
    found = subshapes(shape, FACE)
    for face, labels in zip(body.face_list, body.faces, strict=True):
        for made in listed(algorithm.Generated(face)):
            if made in found:
                names.setdefault(made, [f"{operation}:{role}:({plain(labels[0])})"])
    for label, part in (*body.edges.items(), *body.vertices.items()):
        for made in listed(algorithm.Generated(part)):
            if made in found:
                names.setdefault(made, [f"{operation}:round:({plain(label)})"])
    for face in found:
        names.setdefault(face, [f"{operation}:rim"])
    rims = {}
    edges = subshapes(shape, EDGE)
    for edge, rim in body.rim_of.items():
        for made in listed(algorithm.Generated(edge)):
            if made in edges:
                rims[made] = rim
    return names, rims


def _role(algorithm: Any, face: Any, own: Labelled, body: Labelled, operation: str) -> str:
    """What a face of a thickened surface is: the surface itself, the one opposite, or along one of its edges."""
    for before, labels in zip(body.face_list, body.faces, strict=True):
        if face == before:
            return f"{operation}:start:({plain(labels[0])})"
        if any(face == made for made in listed(algorithm.Generated(before))):
            return f"{operation}:end:({plain(labels[0])})"
    beside = set(subshapes(face, EDGE))
    along = [label for label, edge in body.free_edges.items() if edge in beside]
    if along:
        return f"{operation}:side:{plain(min(along))}"
    for label, part in (*body.edges.items(), *body.vertices.items()):
        if any(face == made for made in listed(algorithm.Generated(part))):
            return f"{operation}:round:({plain(label)})"
    return f"{operation}:rim"
