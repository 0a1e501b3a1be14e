"""Walls: bodies hollowed, faces thickened, faces tilted; with labels."""

from __future__ import annotations

import math
from functools import partial
from typing import Any

from OCP.BRepOffset import BRepOffset_MakeOffset, BRepOffset_Skin
from OCP.BRepOffsetAPI import BRepOffsetAPI_DraftAngle, BRepOffsetAPI_MakeOffsetShape
from OCP.GeomAbs import GeomAbs_Intersection
from OCP.gp import gp_Ax3, gp_Dir, gp_Pln, gp_Pnt

from architectonic.base.labels import plain
from architectonic.kernel.shapes.labelled import Labelled, carry, named
from architectonic.kernel.shapes.outlines import KernelFrame, Vector
from architectonic.kernel.shapes.topology import FACE, listed, subshapes, unwrapped
from architectonic.kernel.shapes.verdict import KernelRefusal, built, volume
from architectonic.kernel.solids.prisms import boolean

ACCURACY = 1e-4
"""Within which the kernel joins offset faces, mm (its own default for walls)."""


def shell(
    body: Labelled, open_faces: list[Any], thickness: float, own: list[tuple[Any, float]], operation: str
) -> Labelled:
    """A body hollowed to a wall, some of its faces left open.

    Labels: outer faces keep theirs, the rim that of the face that was opened; inside `<operation>:inner:<face>`, and
    `<operation>:round:<edge or vertex>` where the inside is rounded.

    Args:
        thickness: mm, inwards; negative: the wall stands outside.
        own: faces with a wall of another thickness.

    Raises:
        KernelRefusal: the wall is thicker than the body has room for, or the kernel gives up.
    """
    refused = f"a wall of {abs(thickness):g} mm does not fit: somewhere the body is too thin or a round is too small"
    before = volume(body.shape)
    if not open_faces:
        inner = grown(body, -thickness, operation) if thickness > 0 else body
        outer = body if thickness > 0 else grown(body, -thickness, operation)
        rest = boolean("cut", outer, inner)
        if rest is None:
            raise KernelRefusal(refused)
        return rest
    algorithm = BRepOffset_MakeOffset()
    algorithm.Initialize(body.shape, -thickness, ACCURACY, BRepOffset_Skin, False, False, GeomAbs_Intersection, False)
    for face in open_faces:
        algorithm.AddFace(face)
    for face, other in own:
        algorithm.SetOffsetOnFace(face, -other)

    def make() -> Any:
        algorithm.MakeThickSolid()
        return algorithm.Shape() if algorithm.IsDone() else None

    solid = built(make, refused)
    after = volume(solid)
    hollow = after < before * (1 - 1e-9) if thickness > 0 else after > 0
    if not hollow:  # too thick a wall gives the whole body back, called valid
        raise KernelRefusal(refused)
    return _walled(body, algorithm, solid, open_faces, operation)


def _walled(body: Labelled, algorithm: Any, solid: Any, open_faces: list[Any], operation: str) -> Labelled:
    faces = subshapes(solid, FACE)
    names: dict[Any, list[str]] = {f: [] for f in faces}
    for face, labels in zip(body.face_list, body.faces, strict=True):
        if face in names:
            names[face] += labels
        for made in listed(algorithm.Generated(face)):
            if made in names and not names[made]:
                rim = face in open_faces
                names[made].append(labels[0] if rim else f"{operation}:inner:{plain(labels[0])}")
        for made in listed(algorithm.Modified(face)):
            if made in names and not names[made]:
                names[made] += labels
    for parts in (body.edges, body.vertices):
        for label, subshape in parts.items():
            for made in listed(algorithm.Generated(subshape)):
                if made in names and not names[made]:
                    names[made].append(f"{operation}:round:{plain(label)}")
    lost = [f for f in faces if not names[f]]
    for face in lost:  # the kernel keeps no history of some rims: they border on what was opened
        names[face].append(f"{operation}:rim")
    return named(solid, names)


def grown(body: Labelled, by: float, operation: str) -> Labelled:
    """A body whose every face is moved outwards by a distance (inwards when negative); sharp edges stay sharp.

    Labels: `<operation>:inner:<face>` of a shrunk body, those of the faces of a grown one.

    Raises:
        KernelRefusal: there is no room for it.
    """
    refused = f"the body cannot be {'grown' if by > 0 else 'shrunk'} by {abs(by):g} mm all round"
    algorithm = BRepOffsetAPI_MakeOffsetShape()

    def make() -> Any:
        algorithm.PerformByJoin(body.shape, by, ACCURACY, BRepOffset_Skin, False, False, GeomAbs_Intersection)
        return algorithm.Shape()

    solid = built(make, refused)
    if (volume(solid) - volume(body.shape)) * by <= 0:
        raise KernelRefusal(refused)
    faces = subshapes(solid, FACE)
    names: dict[Any, list[str]] = {f: [] for f in faces}
    parts = [("inner", f, n) for f, n in body.name_of.items()]
    parts += [("round", e, n) for named_ones in (body.edges, body.vertices) for n, e in named_ones.items()]
    for kind, subshape, label in parts:
        for made in listed(algorithm.Generated(subshape)):
            if made in names and not names[made]:
                own = by > 0 and kind == "inner"
                names[made].append(label if own else f"{operation}:{kind}:{plain(label)}")
    assert all(names.values()), "an offset face has no history"
    return named(solid, names)


def thicken(faces: list[tuple[Any, str]], by: float, operation: str) -> Labelled:
    """Solids on faces: each face moved along its normal by a distance, and all that lies between.

    Labels: `<operation>:start:<face>` on the face itself, `<operation>:end:<face>`, `<operation>:side:<edge>`.

    Raises:
        KernelRefusal: the face curves more sharply than it is thickened.
    """
    refused = f"the face cannot be thickened by {abs(by):g} mm: it curves more sharply than that"
    made: Labelled | None = None
    for face, label in faces:
        algorithm = BRepOffset_MakeOffset()
        algorithm.Initialize(face, by, ACCURACY, BRepOffset_Skin, False, False, GeomAbs_Intersection, True)
        solid = built(partial(thick, algorithm), refused)
        found = subshapes(solid, FACE)
        one = named(solid, {f: [_role(algorithm, f, face, label, operation)] for f in found})
        made = one if made is None else boolean("add", made, one)
    assert made is not None
    return made


def thick(algorithm: Any) -> Any:
    """What an offset of a face encloses, the right way out."""
    algorithm.MakeOffsetShape()
    solid = unwrapped(algorithm.Shape()) if algorithm.IsDone() else None
    return solid.Reversed() if solid is not None and volume(solid) < 0 else solid


def _role(algorithm: Any, found: Any, face: Any, label: str, operation: str) -> str:
    if found.IsSame(face):
        return f"{operation}:start:{plain(label)}"
    if any(found.IsSame(g) for g in listed(algorithm.Generated(face))):
        return f"{operation}:end:{plain(label)}"
    return f"{operation}:side:{plain(label)}"


def draft(body: Labelled, faces: list[Any], neutral: KernelFrame, pull: Vector, angle: float) -> Labelled:
    """Faces tilted by an angle about where they meet a neutral plane; every face keeps its label.

    Args:
        pull: the direction that the body is drawn out in; angle: rad, positive thins it in that direction.

    Raises:
        KernelRefusal: a face stands too flat, or its neighbours have no room.
    """
    refused = f"the faces cannot be tilted by {math.degrees(angle):g}°: a neighbour has no room, or one is no plane or cylinder"
    algorithm = BRepOffsetAPI_DraftAngle(body.shape)
    plane = gp_Pln(gp_Ax3(gp_Pnt(*neutral.origin), gp_Dir(*neutral.normal)))
    for face in faces:
        algorithm.Add(face, gp_Dir(*pull), angle, plane)
        if not algorithm.AddDone():
            raise KernelRefusal(refused)

    def make() -> Any:
        algorithm.Build()
        return algorithm.Shape() if algorithm.IsDone() else None

    solid = built(make, refused)
    made: dict[Any, str] = {}
    for face, labels in zip(body.face_list, body.faces, strict=True):
        for tilted in listed(algorithm.Generated(face)):  # tilted faces come as generated, not as modified
            made[tilted] = labels[0]
    return carry(solid, [body], algorithm, made)
