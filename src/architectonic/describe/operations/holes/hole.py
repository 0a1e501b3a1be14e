"""Hole: drilled at places, for what is to go in."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import acted, plan_face_or_plane, replaced, with_data
from architectonic.describe.recipes import Wanted
from architectonic.describe.references.places import nature, plan_point
from architectonic.describe.references.planes import along, dot, plan_plane
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import (
    Frame,
    HoleSet,
    HolesResult,
    ModelState,
    Node,
    NodeFault,
    Plan,
    Recipe,
    Value,
    fault,
    needed,
)
from architectonic.describe.view import View
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.blanks import Choice, Flag, Length
from architectonic.describe.words.holes import Cones, HoleEnd, HoleStart, LeftOut, Places, SizeOf, Steps
from architectonic.describe.words.spoken import Sentence
from architectonic.family.operations.holes.hole import Core, ForPin, ForScrew, Hole, Matching, Plain, Tapped
from architectonic.family.operations.solids.extrude import Distance, ToFace
from architectonic.family.records import Reference
from architectonic.quantities.standards import fits, plastics, screws, threads
from architectonic.quantities.units import LENGTH


class Level(Value, frozen=True):
    """Where a hole begins or ends that is said by something else: heights over its places, or a face and what is added.

    Attributes:
        heights: of each hole, mm along it from its place; () where they come from a face.
        face: among the shapes that come along, and in which.
    """

    heights: tuple[float, ...] = ()
    face: Wanted | None = None
    shape: int = -1
    offset: float = 0.0

    def only(self, number: int) -> Level:
        """That of one hole."""
        return Level(self.heights[number : number + 1], self.face, self.shape, self.offset)


class HoleInput(Value, frozen=True, kw_only=True):
    """Bodies in the order of the shapes that come along first, and holes in them.

    Attributes:
        bores: key and place of each; the normal looks into the material.
        begins: "material", "place" or "outside", or a level; ends: "depth" from where it begins, "through", or a level.
        tip: whole angle of the drill's point, rad; None for a flat end.
        within, numbers: of each, what its labels stand within where it is a member of a pattern, and what it is called.
    """

    operation: str
    bodies: tuple[str, ...]
    bores: tuple[tuple[str, Frame], ...]
    holes: HoleSet
    begins: Level | str
    ends: Level | str
    tip: float | None
    within: tuple[str, ...] = ()
    numbers: tuple[int, ...] = ()


POINT = 2.0594885173533086
"""Whole angle of a drill's point, 118 deg (common practice), rad."""


def plan(view: View, node: Node, record: Hole, given: ModelState) -> Plan:
    """Bodies with the holes, which carry what is known of them."""
    (outcome,) = yield [Node("holes", node.at, record.id)]
    holes: HolesResult = needed(outcome, "")
    bodies = acted(view, node, record.acts_on, given)
    if not holes.places:
        raise fault("hole.none", "all of its holes are left out", "", "off")
    payload, shapes = yield from plan_input(view, node, record, holes, bodies)
    made = yield Recipe("hole", payload, tuple(shapes))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return with_data(replaced(given, made.key, made.value), made.value, {record.id: holes.set})


def plan_input(view: View, node: Node, record: Hole, holes: HolesResult, bodies: list[tuple[str, str]]) -> Plan:
    """Sub-plan: what is asked of the kernel, and the shapes that come along."""
    shapes = [s for _, s in bodies]
    frames = [p.frame for p in holes.places]
    begins: Level | str = "material" if record.near is None else "place"
    if record.near == "outside":
        begins = "outside"
    elif isinstance(record.near, ToFace):
        begins = yield from _plan_level(view, node, record, record.near, frames, shapes, -1.0)
    ends: Level | str = "depth" if isinstance(record.far, Distance) else "through"
    if isinstance(record.far, ToFace):
        ends = yield from _plan_level(view, node, record, record.far, frames, shapes, 1.0)
    payload = HoleInput(
        operation=record.id,
        bodies=tuple(b for b, _ in bodies),
        bores=tuple((p.key, p.frame) for p in holes.places),
        holes=holes.set,
        begins=begins,
        ends=ends,
        tip=None if record.flat else POINT,
    )
    return payload, shapes


def _plan_level(
    view: View, node: Node, record: Hole, end: ToFace, frames: list[Frame], shapes: list[str], side: float
) -> Plan:
    """Sub-plan: heights at which the axes meet a plane or stand level with a point; a curved face comes along."""
    offset = 0.0
    if end.offset is not None:
        offset = side * (yield from evaluate(view, node, end.offset, LENGTH))
    target: Reference = end.target
    if nature(view, node, target) == "point":
        point = yield from plan_point(view, node, target, record.id)
        heights = [dot(along(point, f.origin, -1.0), f.normal) for f in frames]
    else:
        curved = target.witness is not None and target.witness.kind not in ("", "plane", "line")
        if curved:
            thing = yield from plan_face_or_plane(view, node, target, record.id, shapes)
            if thing.wanted is not None:
                return Level(face=thing.wanted, shape=thing.shape, offset=offset)
        plane: Frame = yield from plan_plane(view, node, target, record.id)
        heights = []
        for f in frames:
            steep = dot(plane.normal, f.normal)
            if abs(steep) < tolerance.FEATURE:
                raise fault(
                    "hole.alongside", "the face stands along the hole and is never reached", "pick another face"
                )
            heights.append(dot(along(plane.origin, f.origin, -1.0), plane.normal) / steep)
    return Level(tuple(tolerance.length(h + offset) for h in heights))


_INTO = (Places("places"), Bodies("acts_on", "into"))
_ENDS = (HoleEnd("far", first="10 mm"), HoleStart("near", clause="+ start"), Flag("flat", "flat end"))
_MORE = (LeftOut("left_out", "but not at", clause="+ leave some out"), Flag("flip", "Flip side", quiet=True))
_RECESSES = (
    Steps("counterbore", "counterbored", "8 mm", clause="+ counterbore", unless="countersink"),
    Cones("countersink", "countersunk", "9 mm", clause="+ countersink", unless="counterbore"),
    Steps("step", "then narrower", "3 mm", clause="+ step"),
)
_FITS = tuple((f, f"{f} fit") for f in ("medium", "fine", "coarse"))
_SIZES = tuple((s.key, s.name) for s in screws.SCREWS)
_THREADS = tuple((t.key, t.name) for t in threads.THREADS)

KIND = OperationKind(
    Hole,
    (
        Sentence("hole", "Hole", "drill", "Hole", (
            *_INTO, Length("by.diameter", "Ø", "5 mm"), *_ENDS, *_RECESSES, *_MORE,
        ), by=Plain, also=("bore", "drill", "through hole", "blind hole", "counterbore", "countersink", "stepped hole")),
        Sentence("screw_hole", "Hole for screws", "drill", "Screw hole", (
            *_INTO, SizeOf("by.size", "for", "M4", sizes=_SIZES),
            Choice("by.head", choices=(("socket", "socket head"), ("flat", "countersunk head"), ("any", "any head"))),
            Flag("by.sunk", "sunk"), Choice("by.fit", choices=_FITS),
            Length("by.diameter", "Ø", "4.5 mm", clause="+ own diameter", optional=True), *_ENDS, *_RECESSES, *_MORE,
        ), short="For screws", by=ForScrew, also=("clearance hole", "counterbore", "countersink", "ISO 273", "bolt", "bore")),
        Sentence("tapped_hole", "Tapped hole", "tap", "Tapped hole", (
            *_INTO, SizeOf("by.size", "with", "M4", sizes=_THREADS),
            Choice("by.hand", choices=(("right", "right hand"), ("left", "left hand"))),
            Choice("by.tolerance", choices=(("", "usual class"), *((c, c) for c in ("6H", "6G", "5H", "2B", "3B")))),
            Length("by.depth", "thread", "8 mm", clause="+ thread depth", optional=True),
            Length("by.drill", "drilled Ø", "3.3 mm", clause="+ own drill", optional=True), Flag("by.shown", "thread modelled", quiet=True),
            *_ENDS, *_RECESSES, *_MORE,
        ), short="Tapped", by=Tapped, also=("thread", "tap", "screw thread", "ISO 261", "UNC", "UNF")),
        Sentence("pin_hole", "Hole for pins", "bore", "Pin hole", (
            *_INTO, Length("by.diameter", "for pins Ø", "4 mm"),
            Choice("by.fit", choices=tuple((c, c) for c in fits.CLASSES)), *_ENDS, *_RECESSES, *_MORE,
        ), short="For pins", by=ForPin, also=("dowel", "ream", "fit", "ISO 286", "bearing")),
        Sentence("core_hole", "Core for screws into plastic", "core", "Core", (
            *_INTO, Length("by.screw", "for screws Ø", "3 mm"),
            Choice("by.into", "into", choices=tuple((k, k) for k in plastics.CORES)), *_ENDS, *_RECESSES, *_MORE,
        ), short="Core", by=Core, also=("self tapping", "boss hole", "thread forming", "plastic")),
        Sentence("matching_hole", "Holes that match", "drill", "Matching holes", (
            *_INTO, Choice("by.fit", "what matches, with", choices=_FITS), Flag("by.sunk", "heads sunk"),
            *_ENDS, *_RECESSES, *_MORE,
        ), short="Matching", by=Matching, also=("mating holes", "counterpart")),
    ),
    plan,
    recipe="hole", given=HoleInput, version=1,
    group="holes",
    rank=10,
)  # fmt: skip
