"""Split, combine and move: what becomes of whole bodies."""

from __future__ import annotations

from architectonic.describe.recipes import BridgeInput, CombineInput, MoveInput, SplitInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import dividing, placing, prisms, shells, sweeps
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import frame_of, loops_of, side_of, united
from architectonic.make.queries import faces_of

Made = tuple[list[str], dict[str, Labelled]]


def split(given: SplitInput, shapes: list[Labelled]) -> Made:
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
    if given.face is not None:
        faces = faces_of(shapes[given.face[0]], given.face[1], "the face that divides it")
        return dividing.extensions(faces, shape, given.operation)
    assert given.frame is not None
    frame = frame_of(given.frame)
    if not given.lines:
        return dividing.plane(frame, shape, given.operation)
    return dividing.walls(frame, [[side_of(p) for p in chain] for chain in given.lines], shape, given.operation)


_DOES = {"unite": "add", "subtract": "cut", "overlap": "overlap"}


def combine(given: CombineInput, shapes: list[Labelled]) -> Made:
    """The first body after the others were united with it or taken from it.

    Raises:
        MakeFault: nothing is left; the others do not reach it; there is no room for the clearance.
    """
    first, *others = shapes
    try:
        if given.clearance:
            others = [shells.grown(o, given.clearance, given.operation) for o in others]
        result = prisms.boolean(_DOES[given.does], first, united(others))
    except KernelRefusal as refusal:
        raise MakeFault("combine.refused", str(refusal), "move one of the bodies or change the clearance") from None
    if result is None:
        raise MakeFault("combine.nothing_left", "nothing of the body would be left", "choose other bodies")
    if given.does == "subtract" and result.faces == first.faces:
        raise MakeFault("combine.no_effect", "the bodies do not reach each other", "move one of them")
    return [given.body], {given.body: result}


def bridge(given: BridgeInput, shapes: list[Labelled]) -> Made:
    """The first body, joined with the second from face to face.

    Raises:
        MakeFault: no solid goes from one face to the other.
    """
    first, second = shapes
    try:
        sections = [(frame_of(a.frame), loops_of(a)[0]) for a in given.ends]
        between = sweeps.loft(sections, True, given.operation)
        result = prisms.boolean("add", first, united([between, second]))
    except KernelRefusal as refusal:
        raise MakeFault("bridge.refused", str(refusal), "pick other faces") from None
    assert result is not None, "something is left of bodies that are united"
    return [given.body], {given.body: result}


def move(given: MoveInput, shapes: list[Labelled]) -> Made:
    """The bodies, or copies of them, elsewhere.

    Raises:
        MakeFault: the kernel refuses.
    """
    if given.shift is not None:
        way = placing.shifted(given.shift)
    elif given.axis is not None:
        way = placing.turned(given.axis.origin, given.axis.direction, given.angle)
    elif given.onto is not None:
        way = placing.onto(frame_of(given.onto[0]), frame_of(given.onto[1]))
    elif given.mirror is not None:
        way = placing.mirrored(frame_of(given.mirror))
    else:
        assert given.about is not None
        way = placing.scaled(given.about, given.factor)
    way = way.Inverted() if given.back else way
    made = {}
    for (body, to), shape in zip(given.bodies, shapes, strict=True):
        try:
            made[to] = placing.placed(shape, way, "" if to == body else given.operation)
        except KernelRefusal as refusal:
            raise MakeFault("move.refused", str(refusal), "change how it is moved") from None
    return list(made), made
