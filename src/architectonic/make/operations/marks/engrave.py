"""How the operation engrave is made with the kernel."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import msgspec

from architectonic.base import tolerance
from architectonic.describe.operations.marks.engrave import EngraveInput
from architectonic.describe.recipes import Area
from architectonic.describe.references.planes import along, dot
from architectonic.kernel.measure import gauge
from architectonic.kernel.shapes.labelled import Labelled, centre
from architectonic.kernel.shapes.topology import compound
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import prisms, wraps
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import changed_by, frame_of, loops_of, side_of, united
from architectonic.make.queries import faces_of

BEYOND = 0.005
"""How far letters may stand over an edge that they touch, mm."""


def make(given: EngraveInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """The bodies with the mark.

    Raises:
        MakeFault: the face is gone; a text stands over its edge; a region does not lie along it; it reaches no body.
    """
    faces = faces_of(shapes[-1], given.face, "the face that is marked")
    try:
        tools = list(_on_drum(given, faces) if given.frame is None else _on_plane(given, faces))
        if given.text:
            start = f"{given.operation}:start"
            letters = [f for t in tools for f in t.find_faces(start)]
            over = gauge.standing_over(letters, faces)
            if over > BEYOND:
                told = f"“{given.text}” stands {over:.3g} mm over the edge of the face"
                raise MakeFault("engrave.over", told, "make its letters smaller, move it, or turn it")
        return changed_by(given.does, given.bodies, shapes, united(tools))
    except KernelRefusal as refusal:
        raise MakeFault("engrave.refused", str(refusal), "pick another face, or change what is marked") from None


def tool(given: EngraveInput, shapes: list[Labelled]) -> Labelled:
    """What is cut or added.

    Raises:
        MakeFault: the face is gone.
        KernelRefusal: a region does not lie along it, or the kernel gives up.
    """
    faces = faces_of(shapes[-1], given.face, "the face that is marked")
    return united(list(_on_drum(given, faces) if given.frame is None else _on_plane(given, faces)))


def _letters(given: EngraveInput) -> list[Any]:
    return [tuple(tuple(side_of(p) for p in loop) for loop in loops) for loops in given.words]


def _on_plane(given: EngraveInput, faces: list[Any]) -> Iterator[Labelled]:
    """What is cut or added on a flat face."""
    face = given.frame
    assert face is not None
    by = given.depth if given.raised else -given.depth
    if given.words:
        middle = centre(compound(faces))
        up = dot(along(middle, face.origin, -1.0), face.normal)
        frame = msgspec.structs.replace(face, origin=along(middle, face.normal, -up))
        yield prisms.prism(frame_of(frame), _letters(given), (0.0, 0.0, 0.0), (by, 0.0, 0.0), given.operation)
    for area in given.areas:
        yield _pushed(given, area, by)


def _pushed(given: EngraveInput, area: Area, by: float) -> Labelled:
    """Regions of a plane along the face, pushed from the face on."""
    face, frame = given.frame, area.frame
    assert face is not None
    facing = dot(face.normal, frame.normal)
    if abs(abs(facing) - 1.0) > tolerance.MODELLING:
        raise KernelRefusal("its sketch does not lie along the face")
    height = dot(along(face.origin, frame.origin, -1.0), frame.normal)
    end = height + (by if facing > 0 else -by)
    return prisms.prism(frame_of(frame), loops_of(area), (height, 0.0, 0.0), (end, 0.0, 0.0), given.operation)


def _on_drum(given: EngraveInput, faces: list[Any]) -> Iterator[Labelled]:
    """What is cut or added on a round face."""
    drum = wraps.drum_of(faces[0])
    by = given.depth if given.raised != drum.inside else -given.depth
    if given.words:
        yield wraps.between(drum, _letters(given), by, given.operation)
    for area in given.areas:
        yield wraps.between(wraps.seen_from(drum, frame_of(area.frame)), loops_of(area), by, given.operation)
