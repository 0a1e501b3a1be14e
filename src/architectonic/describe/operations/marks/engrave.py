"""Engrave: text and regions cut into a face, or raised on it."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Literal

from architectonic.base.errors import UserFault
from architectonic.describe.drawn.curves import piece_result
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import acted, plan_areas, plan_length, replaced
from architectonic.describe.recipes import Area, Wanted
from architectonic.describe.references.places import plan_shape
from architectonic.describe.references.planes import plan_plane
from architectonic.describe.references.rule import unit_of
from architectonic.describe.references.value import evaluate, plan_source
from architectonic.describe.results import Frame, Loops, ModelState, Node, NodeFault, Plan, Recipe, Value, fault
from architectonic.describe.view import View
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.blanks import Angle, Flag, Length
from architectonic.describe.words.marks import Lettering, MarkedFace
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import Regions
from architectonic.family import scopes
from architectonic.family.documents.part import Part
from architectonic.family.operations.marks.engrave import Areas, Engrave, TextPiece, Words
from architectonic.family.references import Expression
from architectonic.family.scopes import Scope
from architectonic.quantities import units
from architectonic.quantities.units import ANGLE, LENGTH, Dimension
from architectonic.sketch.curves import lettering, regions

SHOWN = 3
"""Decimals of values in texts."""


class EngraveInput(Value, frozen=True, kw_only=True):
    """A face of the last shape, and what is marked on it.

    Attributes:
        bodies: in the order of the shapes that come along first.
        frame: of a flat face, whose normal looks out of the material; None of a round one.
        words: loops of letters about the middle of the face; areas: regions on their own planes. One of the two is empty.
        text: what the letters say.
    """

    operation: str
    bodies: tuple[str, ...]
    face: Wanted
    frame: Frame | None
    words: tuple[Loops, ...] = ()
    areas: tuple[Area, ...] = ()
    depth: float
    raised: bool
    text: str = ""

    @property
    def does(self) -> Literal["add", "cut"]:
        """What it does to the bodies."""
        return "add" if self.raised else "cut"


def plan(view: View, node: Node, record: Engrave, given: ModelState) -> Plan:
    """Bodies with the mark."""
    if not record.face.item:
        raise fault("engrave.no_face", "has no face", "pick a flat face or a cylinder")
    bodies = acted(view, node, record.acts_on, given)
    shapes = [s for _, s in bodies]
    at: Scope = yield from plan_source(view, node, record.face)
    gone = fault("body.missing", "the body of its face does not exist here", "pick another face", "missing")
    shape = yield from plan_shape(view, node, at, record.face, record.id, gone)
    witness, frame = record.face.witness, None
    if witness is None or witness.kind in ("", "plane"):
        frame = yield from plan_plane(view, node, record.face, record.id)
    elif witness.kind != "cylinder":
        raise fault("engrave.face", f"a {witness.kind} cannot be marked", "pick a flat face or a cylinder")
    depth = yield from plan_length(view, node, record.depth, "depth")
    told, words, areas = "", (), ()
    if isinstance(record.by, Words):
        told = yield from _plan_text(view, node, record.by.text, record.acts_on)
        words = yield from _plan_words(view, node, record.by, told, record.by.mirrored != node.is_other_way)
    else:
        areas = yield from plan_areas(view, node, record.by.regions, record.id)
    payload = EngraveInput(
        operation=record.id,
        bodies=tuple(b for b, _ in bodies),
        face=Wanted(record.face.label, record.face.witness),
        frame=frame,
        words=tuple(words),
        areas=tuple(areas),
        depth=depth,
        raised=record.raised,
        text=told,
    )
    made = yield Recipe("engrave", payload, (*shapes, shape))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


def _plan_text(view: View, node: Node, pieces: tuple[TextPiece, ...], bodies: tuple[str, ...]) -> Plan:
    """Sub-plan: a text with its properties and values as they are here."""
    document = view.document(node)
    told = ""
    for piece in pieces:
        if piece.of == "size":
            told += dict(scopes.configurations(view.family, document)).get(node.at.configuration, "")
        elif piece.of == "number":
            items = document.part_items if isinstance(document, Part) else ()
            own = (i.number for i in items if i.number and set(i.bodies) & set(bodies))
            told += next(own, scopes.said(view.family, node.at, "number") or document.number)
        elif piece.of == "name":
            told += document.name
        elif piece.value is not None:
            value = yield from evaluate(view, node, piece.value, None)
            kind = view.compiled(node, piece.value, None).kind
            unit = unit_of(tuple(kind)) if isinstance(kind, Dimension) else ""
            told += units.shown(float(value), unit, SHOWN)
        else:
            told += piece.text
    if not told.strip():
        raise fault("engrave.no_text", "its text is empty here", "give the document a number, or type a text")
    return told


def _plan_words(view: View, node: Node, by: Words, told: str, mirrored: bool) -> Plan:
    """Sub-plan: the letters of a text about the middle of a face."""
    height = yield from plan_length(view, node, by.height, "height of the letters")
    x = yield from _plan_moved(view, node, by.x, LENGTH)
    y = yield from _plan_moved(view, node, by.y, LENGTH)
    turn = yield from _plan_moved(view, node, by.turn, ANGLE)
    try:
        _, wide = lettering.set_out(told)
    except UserFault as problem:
        raise fault("engrave.text", problem.what, problem.mend) from None
    half, c, s = height * wide / 2, math.cos(turn), math.sin(turn)
    side = -1.0 if mirrored else 1.0

    def at(u: float, v: float) -> tuple[float, float]:
        return x + side * u * c - v * s, y + side * u * s + v * c

    base = (at(-half, -height / 2), at(half, -height / 2), at(-half, height / 2))
    return _letters(told, tuple(k for p in base for k in p), mirrored)


@lru_cache(maxsize=64)
def _letters(told: str, base: tuple[float, ...], mirrored: bool) -> tuple[Loops, ...]:
    """The letters of a text as areas: the same for all that is done beside them, and 50 ms to find for a dozen letters."""
    found = regions.find(lettering.pieces("text", told, base))
    ink = "-" if mirrored else "+"  # the hollows of letters are regions too, run the other way
    letters = [r for r in found if r.label.startswith(ink)]
    return tuple(tuple(tuple(piece_result(p) for p in loop) for loop in r.loops) for r in letters)


def _plan_moved(view: View, node: Node, by: Expression | None, quantity: Dimension) -> Plan:
    return 0.0 if by is None else (yield from evaluate(view, node, by, quantity))


_INTO = (MarkedFace("face", "on"), Bodies("acts_on", "in"), Length("depth", "as deep as", "0.4 mm"))
_RAISED = Flag("raised", "raised instead")
_SIDE = Flag("by.mirrored", "to be read in a mirror")

KIND = OperationKind(
    Engrave,
    (
        Sentence("engrave", "Engrave a text", "engrave", "Mark", (
            Lettering("by.text", first="{number} {size}"), *_INTO, Length("by.height", "letters", "4 mm"), _RAISED,
            Length("by.x", "moved along x", "0 mm", clause="+ along x", signed=True, optional=True),
            Length("by.y", "along y", "0 mm", clause="+ along y", signed=True, optional=True),
            Angle("by.turn", "turned", "0 deg", clause="+ turn", optional=True), _SIDE,
        ), short="Text", by=Words, also=("mark", "emboss", "lettering", "raise", "part number", "stamp")),
        Sentence("engrave_regions", "Engrave regions", "engrave", "Mark", (
            Regions("by.regions"), *_INTO, _RAISED,
        ), short="Regions", by=Areas, also=("mark", "emboss", "raise", "logo", "sign", "wrap")),
    ),
    plan,
    recipe="engrave", given=EngraveInput, version=1,
    group="marks",
    rank=10,
)  # fmt: skip
