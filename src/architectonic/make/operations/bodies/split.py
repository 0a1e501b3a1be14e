"""How the operation split is made with the kernel."""

from __future__ import annotations

from architectonic.base.labels import plain
from architectonic.describe.operations.bodies.split import SplitInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import dividing
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import frame_of, side_of
from architectonic.make.queries import faces_of

Made = tuple[list[str], dict[str, Labelled]]


def make(given: SplitInput, shapes: list[Labelled]) -> Made:
    """Each body cut in two: what lies before the divider stays the body, what lies behind is the new one.

    Raises:
        MakeFault: the divider is gone, or leaves every body whole.
    """
    made: dict[str, Labelled] = {}
    for (body, new), shape in zip(given.bodies, shapes, strict=False):
        try:
            parts = dividing.halves(shape, _sheet(given, shape, shapes))
        except KernelRefusal as refusal:
            raise MakeFault("split.refused", str(refusal), "move what divides it") from None
        before, behind = reversed(parts) if given.flip else parts
        if before is not None and behind is not None:
            made[body] = before
            made[new or f"{body}-behind"] = behind
    if not made:
        what = {"plane": "plane", "lines": "sketch", "face": "face, even extended,"}[given.by]
        raise MakeFault("split.misses", f"the {what} does not go through what it splits", "move it, or pick another")
    return list(made), made


def _sheet(given: SplitInput, shape: Labelled, shapes: list[Labelled]) -> Labelled:
    """What divides a body, reaching beyond it."""
    if given.face is not None and not given.face[1].label:
        whole = shapes[given.face[0]]
        return Labelled(whole.shape, tuple((f"{given.operation}:wall:({plain(n[0])})",) for n in whole.faces))
    if given.face is not None:
        faces = faces_of(shapes[given.face[0]], given.face[1], "the face that divides it")
        return dividing.extensions(faces, shape, given.operation)
    assert given.frame is not None
    frame = frame_of(given.frame)
    if not given.lines:
        return dividing.plane(frame, shape, given.operation)
    return dividing.walls(frame, [[side_of(p) for p in chain] for chain in given.lines], shape, given.operation)
