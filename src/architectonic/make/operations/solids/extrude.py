"""How the operation extrude is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.solids.extrude import ExtrudeInput
from architectonic.describe.recipes import Height, Prism, Until
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import KernelFrame
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import prisms, shells
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import act, frame_of, loops_of, united
from architectonic.make.queries import faces_of


def make(given: ExtrudeInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """The bodies that changed or were made.

    Raises:
        MakeFault: the outline crosses itself; the kernel refuses; nothing is cut, or nothing is left.
    """
    try:
        return act(given, shapes, tool(given, shapes))
    except KernelRefusal as refusal:
        raise MakeFault("extrude.refused", str(refusal), "change the sketch or the ends") from None


def tool(given: ExtrudeInput, shapes: list[Labelled]) -> Labelled:
    """What is added or cut.

    Raises:
        KernelRefusal: an outline crosses itself, or an end is not met.
    """
    targets = shapes[: len(given.bodies)] if given.does != "make" else []
    return united([_prism(given, p, targets, shapes) for p in given.prisms])


def _prism(given: ExtrudeInput, prism: Prism, targets: list[Labelled], shapes: list[Labelled]) -> Labelled:
    frame, areas, name = frame_of(prism.area.frame), loops_of(prism.area), given.operation
    reach = (0.0, 0.0)
    if not (isinstance(prism.start, tuple) and isinstance(prism.end, tuple)):
        ended_on = (shapes[e.shape] for e in (prism.start, prism.end) if isinstance(e, Until))
        reach = prisms.reach(frame, [*targets, *ended_on])
    start = _height(prism.start, reach, not prism.up)
    end = _height(prism.end, reach, prism.up)
    made = prisms.prism(frame, areas, start, end, name)
    if prism.draft:
        sides = [f for f, n in zip(made.face_list, made.faces, strict=True) if n[0].startswith(f"{name}:side")]
        neutral = KernelFrame(frame.point_at(start[0]), frame.x, frame.normal)
        pull = frame.normal if prism.up else (-frame.normal[0], -frame.normal[1], -frame.normal[2])
        made = shells.draft(made, sides, neutral, pull, prism.draft)
    for end_, role in ((prism.start, "start"), (prism.end, "end")):
        if isinstance(end_, Until):
            other = "end" if role == "start" else "start"
            faces = faces_of(shapes[end_.shape], end_.face, "the face it ends on")
            made = prisms.until(made, faces, f"{name}:{role}", f"{name}:{other}")
    if prism.end == "next":
        made = prisms.to_next(made, targets, frame, prism.up, given.does == "cut")
    return made


def _height(end: Height | str | Until, reach: tuple[float, float], up: bool) -> Height:
    """A level height, or one beyond everything in the direction of the end."""
    if isinstance(end, tuple):
        return end
    return (reach[1] if up else reach[0], 0.0, 0.0)
