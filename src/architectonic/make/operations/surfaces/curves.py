"""How curves in space are found with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.curves.curve import CurveInput3D
from architectonic.describe.recipes import Thing
from architectonic.describe.results import Found
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.surfaces import crossing
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import way_of
from architectonic.make.operations.surface import sheet_of
from architectonic.make.queries import faces_of, placed_curve


def space_curve(given: CurveInput3D, shapes: list[Labelled]) -> tuple[Found, dict[str, Labelled]]:
    """The curves, with labels.

    Raises:
        MakeFault: there are none; a face is gone.
    """
    drawn = [way_of(w) for w in given.drawn]
    try:
        if given.by == "two_views":
            found = crossing.two_views(drawn[0], drawn[1])
        elif given.by == "wrapped_on":
            found = crossing.wrapped(drawn[0], _face(given.things[0], shapes)[0])
        elif given.by == "isoline":
            thing = given.things[0]
            face, label = _face(thing, shapes)
            found = crossing.isoline(face, label, given.share, given.across)
        else:
            around = shapes[0] if shapes else None
            sheets = [sheet_of(t, shapes, around) for t in given.things]
            if given.by == "crossing":
                found = crossing.crossing(sheets[0], sheets[1])
            else:
                found = crossing.projected(drawn[0], sheets[0], given.drawn[0][0][0].normal)
    except KernelRefusal as refusal:
        raise MakeFault("curve.refused", str(refusal), "move one of them, or pick others", "missing") from None
    return Found(curves=tuple(placed_curve(c) for _, c in found), labels=tuple(k for k, _ in found)), {}


def _face(thing: Thing, shapes: list[Labelled]) -> tuple[object, str]:
    """One face, and its label.

    Raises:
        KernelRefusal: it is a plane without an end, or a surface of several faces.
    """
    if thing.shape < 0:
        raise KernelRefusal("a plane has no lines of its own: pick a face")
    shape = shapes[thing.shape]
    faces = faces_of(shape, thing.wanted, "the face") if thing.wanted is not None else shape.face_list
    if len(faces) != 1:
        raise KernelRefusal("the surface has several faces: pick one of them")
    return faces[0], shape.name_of[faces[0]]
