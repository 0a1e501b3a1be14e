"""What something solid does to bodies, and the sides of areas as the kernel takes them."""

from __future__ import annotations

from dataclasses import replace

from architectonic.describe.recipes import Area, SolidInput, Way
from architectonic.describe.results import Frame, PieceResult
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import KernelFrame, Loop, Side
from architectonic.kernel.shapes.verdict import volume
from architectonic.kernel.solids.prisms import boolean
from architectonic.make.fault import MakeFault
from architectonic.sketch.curves.piece import Piece

SAME = 1e-9
"""Share of a volume below which a cut takes nothing away."""


def frame_of(frame: Frame) -> KernelFrame:
    """A plane as the kernel takes it."""
    return KernelFrame(frame.origin, frame.x, frame.normal)


def side_of(p: PieceResult) -> Side:
    """A piece of an outline as the kernel takes it."""
    piece = Piece(p.curve, p.forward, p.start, p.end, p.centre, p.radius, p.turn, p.path, p.span)
    return Side(p.curve, p.start, p.end, p.centre, p.radius, piece.at(0.5), p.turn > 0, p.path, p.span)


def way_of(pieces: Way) -> tuple[tuple[KernelFrame, Side], ...]:
    """Pieces with their planes as the kernel takes them."""
    return tuple((frame_of(f), replace(side_of(piece), heights=heights)) for f, piece, heights in pieces)


def loops_of(area: Area) -> list[tuple[Loop, ...]]:
    """The connected areas of a plane, of each its loops."""
    return [tuple(tuple(side_of(p) for p in loop) for loop in loops) for loops in area.areas]


def united(solids: list[Labelled]) -> Labelled:
    """Several solids as one tool."""
    made = solids[0]
    for other in solids[1:]:
        both = boolean("add", made, other)
        assert both is not None, "something is left of two solids that are united"
        made = both
    return made


def act(given: SolidInput, shapes: list[Labelled], tool: Labelled) -> tuple[list[str], dict[str, Labelled]]:
    """The bodies that something solid made or changed.

    Raises:
        MakeFault: it reaches none of them, or nothing is left of one.
    """
    if given.does == "make":
        return [given.bodies[0]], {given.bodies[0]: tool}
    return changed_by(given.does, given.bodies, shapes, tool)


def changed_by(
    does: str, bodies: tuple[str, ...], shapes: list[Labelled], tool: Labelled
) -> tuple[list[str], dict[str, Labelled]]:
    """Bodies that a tool is added to, cut from or overlapped with; those that it does not reach are left out.

    Raises:
        MakeFault: it reaches none of them, or nothing is left of one.
    """
    changed = {}
    for body, shape in zip(bodies, shapes, strict=False):
        result = boolean(does, shape, tool)
        if result is None:
            raise MakeFault("operation.nothing_left", "nothing of the body would be left", "make it smaller")
        if does == "cut" and result.faces == shape.faces:
            before, after = volume(shape.shape), volume(result.shape)
            if abs(before - after) <= SAME * before:
                continue
        changed[body] = result
    if not changed:
        what = f"it {does}s nothing: it does not reach the body"
        raise MakeFault("operation.no_effect", what, "extend it or flip its side")
    return list(changed), changed
