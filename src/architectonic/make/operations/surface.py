"""What the makers of surfaces share."""

from __future__ import annotations

from collections.abc import Callable

from architectonic.describe.recipes import Thing, Wanted
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import SOLID, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import dividing
from architectonic.kernel.surfaces import trimming, walls
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import frame_of
from architectonic.make.queries import faces_of

Made = tuple[list[str], dict[str, Labelled]]


def surface_of(body: str, code: str, make: Callable[[], Labelled], mend: str) -> Made:
    """A body as the kernel makes it.

    Raises:
        MakeFault: it refuses.
    """
    try:
        return [body], {body: make()}
    except KernelRefusal as refusal:
        raise MakeFault(code, str(refusal), mend, at=refusal.at) from None


def cutter(thing: Thing, shapes: list[Labelled], surfaces: list[Labelled], name: str) -> Labelled:
    """A plane, or faces carried on as they run, as a sheet that reaches beyond surfaces.

    Args:
        shapes: among which a face's body is.

    Raises:
        MakeFault: the face is gone.
    """
    if thing.wanted is None:
        assert thing.frame is not None
        sheets = [dividing.plane(frame_of(thing.frame), s, name) for s in surfaces]
        return max(sheets, key=trimming.size_of)
    faces = faces_of(shapes[thing.shape], thing.wanted, "the face that cuts")
    return dividing.extensions(faces, max(surfaces, key=trimming.size_of), name)


def taken(wanted: tuple[tuple[int, Wanted], ...], shapes: list[Labelled], operation: str) -> Labelled:
    """Faces of one body as a surface, or all of a body.

    Raises:
        MakeFault: a face is gone, or the faces are of several bodies.
    """
    numbers = {n for n, _ in wanted}
    if len(numbers) > 1:
        raise MakeFault("faces.of_several", "its faces are of several bodies", "use one operation for each")
    shape = shapes[numbers.pop()]
    if all(not w.label for _, w in wanted):
        return shape if not subshapes(shape.shape, SOLID) else walls.copied(list(shape.name_of.items()), operation)
    faces = [f for _, w in wanted for f in faces_of(shape, w, "a face it takes")]
    return walls.copied([(f, shape.name_of[f]) for f in faces], operation)


def sheet_of(thing: Thing, shapes: list[Labelled], around: Labelled | None) -> Labelled:
    """A surface, a face of one, or a plane that reaches beyond what it may cross."""
    if thing.frame is not None:
        if around is None:
            raise KernelRefusal("two planes cross in a line without an end: make it a datum axis")
        return dividing.plane(frame_of(thing.frame), around, "plane")
    if thing.wanted is None:
        return shapes[thing.shape]
    shape = shapes[thing.shape]
    faces = faces_of(shape, thing.wanted, "a face it takes")
    taken = walls.copied([(f, shape.name_of[f]) for f in faces], "face")
    return Labelled(taken.shape, tuple((shape.name_of[f],) for f in taken.face_list), taken.rims)
