"""How the operation hole is made with the kernel."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

import msgspec

from architectonic.base import tolerance
from architectonic.describe.operations.holes.hole import HoleInput, Level
from architectonic.describe.operations.holes.section import Drilled, DrilledInput
from architectonic.describe.results import Frame
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import bores, inserting, prisms
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import changed_by, frame_of
from architectonic.make.queries import faces_of

ROOM = 1.0
"""How far a tool that goes through reaches beyond the material, mm."""
INSIDE = 1.0 - 1e-6
"""Share of a radius at which lines about an axis ask for material: just inside of what touches it."""


class Reach(NamedTuple):
    """One hole, mm along its axis from its place: where the tool begins, where the hole does, where its full diameter ends.

    Attributes:
        last: where the material ends that it is in; whole: it is in one piece of material, from `entry` on.
    """

    top: float
    entry: float
    depth: float
    last: float
    whole: bool


def make(given: HoleInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """The bodies with the holes in them, all drilled at once.

    Raises:
        MakeFault: one lies beside all bodies, ends beyond them or before it begins, or cannot be of its sizes.
    """
    reaches = list(_reaches(given, shapes))
    try:
        quick = _put_in(given, shapes, reaches)
        if quick is not None:
            return [given.bodies[0]], {given.bodies[0]: quick}
        return changed_by("cut", given.bodies, shapes, _tool(given, reaches))
    except KernelRefusal as refusal:
        raise MakeFault("hole.refused", str(refusal), "move the holes, or change their sizes") from None


def drilled(given: DrilledInput, shapes: list[Labelled]) -> tuple[Drilled, dict[str, Labelled]]:
    """What one hole goes through.

    Raises:
        MakeFault: as of `make`.
    """
    hole = given.hole
    (reach,) = _reaches(hole, shapes)
    ((_, frame),) = hole.bores
    start = _shifted(frame, reach.entry)
    bodies = [
        *zip(hole.bodies, shapes, strict=False),
        *zip(given.others, shapes[len(shapes) - len(given.others) :], strict=True),
    ]
    length = 2.0 * (reach.depth - reach.entry) + hole.holes.widest
    found = [
        (body, tolerance.length(a), tolerance.length(b))
        for body, shape in bodies
        for a, b in _material(hole, bores.Probe([shape]), start, length)
    ]
    return Drilled(
        top=tolerance.length(reach.top - reach.entry),
        depth=tolerance.length(reach.depth - reach.entry),
        acted=tuple(s for s in found if s[0] in hole.bodies),
        beside=tuple(s for s in found if s[0] not in hole.bodies),
    ), {}


def tool(given: HoleInput, shapes: list[Labelled]) -> Labelled:
    """All drills as they have gone in, side by side.

    Raises:
        MakeFault: as of `make`, but for what the bodies say when they are cut.
    """
    return _tool(given, list(_reaches(given, shapes)))


FEW = 8
"""From so many holes on they are put straight into the solid, where nothing is in their way."""


def _put_in(given: HoleInput, shapes: list[Labelled], reaches: list[Reach]) -> Labelled | None:
    """The body with many holes that nothing is in the way of; None where a boolean has to find out."""
    holes = given.holes
    deep = (holes.step[1] if holes.step else 0.0) + (0.0 if given.tip is None else holes.diameter)
    if len(given.bodies) != 1 or len(reaches) < FEW or not all(r.whole for r in reaches):
        return None
    through = given.ends == "through"
    depths = [tolerance.length((r.last if through else r.depth) - r.entry) for r in reaches]
    if through and holes.step is not None:
        return None
    if not through and any(r.depth + deep > r.last - tolerance.FEATURE for r in reaches):
        return None
    tools = _tools(given, reaches, [(0.0, depth) for depth in depths])
    drills = [
        inserting.Drill(
            tool_, frame_of(_shifted(f, r.entry)), depth if through else depth + deep, holes.widest / 2, through
        )
        for tool_, (_, f), r, depth in zip(tools, given.bores, reaches, depths, strict=True)
    ]
    return inserting.insert(shapes[0], drills)


def _tool(given: HoleInput, reaches: list[Reach]) -> Labelled:
    sizes = [(tolerance.length(r.top - r.entry), tolerance.length(r.depth - r.entry)) for r in reaches]
    return bores.together(_tools(given, reaches, sizes))


def _tools(given: HoleInput, reaches: list[Reach], sizes: list[tuple[float, float]]) -> list[Labelled]:
    """The drill of each hole where it has gone in; `sizes` are where it begins and ends, mm from its mouth."""
    known: dict[tuple[float, float], bores.Turned] = {}
    tools = []
    within = given.within or ("",) * len(given.bores)
    for (key, frame), stands, reach, size in zip(given.bores, within, reaches, sizes, strict=True):
        if size not in known:  # what is alike is turned once, at its own mouth
            known[size] = _turned(given, *size)
        tools.append(known[size].at(frame_of(_shifted(frame, reach.entry)), given.operation, key, stands))
    return tools


def _turned(given: HoleInput, top: float, depth: float) -> bores.Turned:
    holes = given.holes
    try:
        tip = given.tip if given.ends == "depth" else None
        sides = bores.profile(top, depth, holes.diameter, holes.counterbore, holes.countersink, holes.step, tip)
    except KernelRefusal as refusal:
        raise MakeFault("hole.shape", str(refusal), "change its sizes or its depth") from None
    return bores.Turned(top, sides)


def _shifted(frame: Frame, by: float) -> Frame:
    """A plane put along its normal."""
    o, n = frame.origin, frame.normal
    return msgspec.structs.replace(frame, origin=(o[0] + by * n[0], o[1] + by * n[1], o[2] + by * n[2]))


def _reaches(given: HoleInput, shapes: list[Labelled]) -> Iterator[Reach]:
    targets = shapes[: len(given.bodies)]
    probe, count = bores.Probe(targets), len(given.bores)
    far: dict[tuple[float, ...], tuple[float, float]] = {}
    for number, (_, frame) in enumerate(given.bores):
        where = "it" if count == 1 else f"hole {number + 1} of {count}"
        where = f"member {given.numbers[number]}" if given.numbers else where
        direction = frame.normal
        if direction not in far:  # heights of everything over the plane through the document's origin
            far[direction] = prisms.reach(frame_of(msgspec.structs.replace(frame, origin=(0.0, 0.0, 0.0))), targets)
        at = sum(o * d for o, d in zip(frame.origin, direction, strict=True))
        low, high = (h - at for h in far[direction])
        start = low if given.begins == "outside" else 0.0
        if isinstance(given.begins, Level):
            start = _level(given.begins, number, frame, high, shapes, where)
        material = _material(given, probe, _shifted(frame, start), max(high - start, 0.0))
        if not material:
            raise MakeFault(
                "hole.beside", f"{where} lies beside the bodies", "move it, flip its side, or choose the bodies"
            )
        first, last = start + material[0][0], start + max(end for _, end in material)
        entry = first if given.begins in ("material", "outside") else start
        if given.ends == "through":
            depth = last + ROOM
        elif isinstance(given.ends, Level):
            depth = _level(given.ends, number, frame, high, shapes, where)
            if depth < entry + tolerance.FEATURE:
                told = f"{where} would end {entry - depth:.4g} mm before it begins"
                raise MakeFault("hole.depth", told, "pick another end, or flip its side")
        else:
            assert given.holes.depth is not None
            depth = entry + given.holes.depth
            if depth > last + tolerance.FEATURE:
                told = f"{where} is {given.holes.depth:.4g} mm deep and the material ends after {last - entry:.4g} mm"
                raise MakeFault("hole.depth", told, "let it go through, or make it less deep")
        whole = len(material) == 1 and abs(start + material[0][0] - entry) < tolerance.FEATURE
        yield Reach(start, entry, depth, last, whole)


def _material(given: HoleInput, probe: bores.Probe, frame: Frame, far: float) -> list[bores.Span]:
    """What the axis goes through, or where that is hollow already, what lies about it within the widest radius."""
    found = probe.through(frame.origin, frame.normal, far) if far > tolerance.FEATURE else []
    if found or far <= tolerance.FEATURE:
        return found
    return probe.ring(frame.origin, frame.normal, frame.x, INSIDE * given.holes.widest / 2, far)


def _level(level: Level, number: int, frame: Frame, far: float, shapes: list[Labelled], where: str) -> float:
    """Where the axis of a hole meets what it begins or ends on."""
    if level.heights:
        return level.heights[number]
    assert level.face is not None
    shape = shapes[level.shape]
    sheets = [prisms.extended(f, shape.shape) for f in faces_of(shape, level.face, "the face it ends on")]
    found = [h for s in sheets if (h := bores.meets(s, frame.origin, frame.normal, far)) is not None]
    if not found:
        raise MakeFault("hole.misses", f"{where} does not meet the face it ends on", "pick another face")
    return min(found) + level.offset
