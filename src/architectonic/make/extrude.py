"""Extrude: a prism of each area, then what it does to each body."""

from __future__ import annotations

from architectonic.describe.recipes import ExtrudeInput
from architectonic.describe.results import PieceResult
from architectonic.kernel import solids
from architectonic.kernel.labelled import Labelled
from architectonic.kernel.measure import measure
from architectonic.kernel.outlines import Frame, Side
from architectonic.kernel.verdict import KernelRefusal
from architectonic.make.fault import MakeFault
from architectonic.sketch.piece import Piece


def _side(p: PieceResult) -> Side:
    piece = Piece(p.curve, p.forward, p.start, p.end, p.centre, p.radius, p.turn, p.path, p.span)
    return Side(p.curve, p.start, p.end, p.centre, p.radius, piece.at(0.5), p.turn > 0, p.path, p.span)


def make(given: ExtrudeInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """The bodies that changed or were made.

    Raises:
        MakeFault: the outline crosses itself; the kernel refuses; nothing is cut, or nothing is left.
    """
    frame = Frame(given.frame.origin, given.frame.x, given.frame.normal)
    areas = [tuple(tuple(_side(p) for p in loop) for loop in loops) for loops in given.areas]
    try:
        tool = solids.prism(frame, areas, given.start, given.end, given.operation)
        if given.does == "make":
            return [given.bodies[0]], {given.bodies[0]: tool}
        made = {body: _act(given, shape, tool) for body, shape in zip(given.bodies, shapes, strict=True)}
    except KernelRefusal as refusal:
        raise MakeFault("extrude.refused", str(refusal), "change the sketch or the ends") from None
    changed = {body: shape for body, shape in made.items() if shape is not None}
    if not changed:
        raise MakeFault(
            "extrude.no_effect",
            f"it {given.does}s nothing: it does not reach the body",
            "extend it or flip its side",
        )
    return list(changed), changed


def _act(given: ExtrudeInput, body: Labelled, tool: Labelled) -> Labelled | None:
    """The body after the boolean; None when the tool does not touch it."""
    result = solids.boolean(given.does, body, tool)
    if result is None:
        raise MakeFault("extrude.nothing_left", "nothing of the body would be left", "make it smaller")
    if given.does == "cut" and result.faces == body.faces:
        before, after = measure(body)["volume_mm3"], measure(result)["volume_mm3"]
        if abs(before - after) <= 1e-9 * before:
            return None
    return result
