"""The sentence of every operation on bodies, as data: its blanks in order, what fills each, and the words between.

The row in Made of, the sentence editor and the command line all read it from here; a new kind adds its entry.
"""

from __future__ import annotations

from typing import Any, Literal, NamedTuple

from architectonic.describe.words.sentences import bodies, datum, target, text
from architectonic.family.records import (
    Align,
    AnyOperation,
    Back,
    Bevel,
    BodyOperation,
    Bridge,
    Combine,
    Datum,
    Distance,
    Draft,
    Expression,
    Extrude,
    Family,
    Fillet,
    Loft,
    Mirror,
    Model,
    Move,
    Reference,
    Revolve,
    Rib,
    RoundOver,
    Scale,
    Shell,
    Shift,
    Sketch,
    Split,
    Sweep,
    Symmetric,
    TakeOut,
    Thicken,
    Through,
    ToFace,
    ToNext,
    Turn,
    Underlay,
)

Takes = Literal[
    "regions", "faces", "edges", "path",  # what is picked, several
    "walls",  # faces that are picked, with a thickness of their own
    "does", "bodies", "body",  # bodies
    "plane", "line", "point", "place",  # one of a list; a place is a point, a line or a plane
    "divider",  # a plane, a face of any kind or a sketch
    "move",  # an earlier move
    "length", "angle", "number",  # expressions
    "near", "far",  # ends of an extrusion
    "choice", "flag",
]  # fmt: skip


class Blank(NamedTuple):
    """One blank of a sentence.

    Attributes:
        field: of the record; `by.x` is the field x of its field `by`.
        takes: what fills it.
        word: what stands before it.
        first: what a new sentence has in it.
        clause: of a further clause: the words that add it to the sentence; "" of the main one.
        choices: of a choice: value and words.
        unless: another field that takes the place of this one when it is filled.
    """

    field: str
    takes: Takes
    word: str = ""
    first: str = ""
    clause: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    unless: str = ""


class Sentence(NamedTuple):
    """A kind of operation in words.

    Attributes:
        title: of the action that makes one; verb: the words that its row begins with.
        called: what a new one is called.
        needs: what must be there before one can be made: nothing, a body, or a move.
    """

    title: str
    verb: str
    called: str
    blanks: tuple[Blank, ...]
    needs: Literal["", "body", "move"] = "body"
    by: type | None = None


DOES = Blank("acts_on", "does")
SENTENCES: dict[str, tuple[type[BodyOperation], Sentence]] = {
    "extrude": (Extrude, Sentence("Extrude", "", "Block", (
        DOES, Blank("regions", "regions", "of"), Blank("near", "near"), Blank("far", "far", "", "10 mm"),
        Blank("draft", "angle", "leaning in by", "2 deg", "+ draft"), Blank("flip", "flag", "Flip side")), "")),
    "revolve": (Revolve, Sentence("Revolve", "", "Turning", (
        DOES, Blank("regions", "regions", "of"), Blank("axis", "line", "about"),
        Blank("angle", "angle", "by", "90 deg", "+ angle", unless="target"),
        Blank("target", "plane", "up to", "", "+ up to a face", unless="angle"), Blank("symmetric", "flag", "both ways"),
        Blank("flip", "flag", "the other way")), "")),
    "sweep": (Sweep, Sentence("Sweep", "", "Run", (
        DOES, Blank("regions", "regions", "of"), Blank("path", "path", "along")), "")),
    "loft": (Loft, Sentence("Loft", "", "Transition", (
        DOES, Blank("regions", "regions", "through"), Blank("straight", "flag", "straight between them"),
        Blank("guides", "path", "guided by", "", "+ guides")), "")),
    "rib": (Rib, Sentence("Rib", "add a rib to", "Rib", (
        Blank("acts_on", "bodies"), Blank("curves", "path", "along"), Blank("thickness", "length", "thick", "2 mm"),
        Blank("flip", "flag", "on the other side")))),
    "thicken": (Thicken, Sentence("Thicken faces", "", "Plate", (
        DOES, Blank("faces", "faces", "on"), Blank("thickness", "length", "thick", "2 mm"), Blank("flip", "flag", "inwards")))),
    "fillet": (Fillet, Sentence("Round edges", "round", "Round", (
        Blank("edges", "edges"), Blank("radius", "length", "with radius", "1 mm"),
        Blank("last", "length", "growing to", "2 mm", "+ another at the end")))),
    "round_over": (RoundOver, Sentence("Round faces over", "round over", "Round over", (Blank("faces", "faces"),))),
    "bevel": (Bevel, Sentence("Bevel edges", "bevel", "Bevel", (
        Blank("edges", "edges"), Blank("distance", "length", "by", "1 mm"),
        Blank("second", "length", "and on the other face by", "2 mm", "+ two distances", unless="angle"),
        Blank("angle", "angle", "at", "45 deg", "+ angle", unless="second"), Blank("flip", "flag", "from the other face")))),
    "shell": (Shell, Sentence("Hollow out", "hollow", "Hollow", (
        Blank("acts_on", "bodies"), Blank("thickness", "length", "to a wall of", "2 mm"), Blank("faces", "faces", "open at"),
        Blank("outside", "flag", "wall outside"), Blank("own", "walls", "with walls of", "3 mm", "+ other walls")))),
    "draft": (Draft, Sentence("Tilt faces", "tilt", "Tilt", (
        Blank("faces", "faces"), Blank("angle", "angle", "by", "2 deg"), Blank("plane", "plane", "about where they meet"),
        Blank("flip", "flag", "the other way")))),
    "split": (Split, Sentence("Split bodies", "split", "Split", (
        Blank("acts_on", "bodies"), Blank("by", "divider", "by"), Blank("flip", "flag", "keep the other side")))),
    "combine": (Combine, Sentence("Combine bodies", "", "Combine", (
        Blank("does", "choice", "", "unite", choices=(("unite", "unite"), ("subtract", "cut from"), ("overlap", "keep the overlap of"))),
        Blank("acts_on", "body"), Blank("tools", "bodies", "with"), Blank("keep", "flag", "keeping those"),
        Blank("clearance", "length", "grown by", "0.2 mm", "+ clearance")))),
    "bridge": (Bridge, Sentence("Bridge bodies", "bridge", "Bridge", (Blank("faces", "faces", "from one of"),))),
    "move": (Move, Sentence("Move bodies", "move", "Move", (
        Blank("acts_on", "bodies"), Blank("by.x", "length", "along x by", "10 mm"), Blank("by.y", "length", "y", "0 mm"),
        Blank("by.z", "length", "z", "0 mm"), Blank("copies", "flag", "as a copy")), by=Shift)),
    "turn": (Move, Sentence("Turn bodies", "turn", "Turn", (
        Blank("acts_on", "bodies"), Blank("by.axis", "line", "about"), Blank("by.angle", "angle", "by", "90 deg"),
        Blank("copies", "flag", "as a copy")), by=Turn)),
    "align": (Move, Sentence("Align bodies", "align", "Align", (
        Blank("acts_on", "bodies"), Blank("by.start", "place", "so that"), Blank("by.target", "place", "lies on"),
        Blank("by.flip", "flag", "turned over"),
        Blank("copies", "flag", "as a copy")), by=Align)),
    "mirror": (Move, Sentence("Mirror bodies", "mirror", "Mirror", (
        Blank("acts_on", "bodies"), Blank("by.plane", "plane", "in"), Blank("copies", "flag", "as a copy")), by=Mirror)),
    "scale": (Move, Sentence("Scale bodies", "scale", "Scale", (
        Blank("acts_on", "bodies"), Blank("by.factor", "number", "by", "2"), Blank("by.point", "point", "about"),
        Blank("copies", "flag", "as a copy")), by=Scale)),
    "back": (Move, Sentence("Put bodies back", "put back", "Put back", (
        Blank("acts_on", "bodies"), Blank("by.move", "move", "as before")), "move", by=Back)),
    "take_out": (TakeOut, Sentence("Take bodies out", "take out", "Take out", (Blank("acts_on", "bodies"),))),
}  # fmt: skip

VERBS = {"make": "make", "add": "add to", "cut": "cut from", "overlap": "keep the overlap with"}
COUNTED = {"regions": "region", "faces": "face", "edges": "edge", "path": "piece"}


def sentence_of(operation: BodyOperation) -> Sentence:
    """The sentence of an operation, by its kind and, of a move, by how it moves."""
    for kind, sentence in SENTENCES.values():
        if isinstance(operation, kind) and (
            sentence.by is None or isinstance(getattr(operation, "by", None), sentence.by)
        ):
            return sentence
    raise KeyError(type(operation).__name__)  # every kind has an entry: tests see to it


def value_in(operation: Any, field: str) -> Any:
    """What a field holds; `by.x` is the field x of its field `by`."""
    for name in field.split("."):
        operation = getattr(operation, name)
    return operation


def sentence(family: Family, document: Model, operation: AnyOperation) -> str:
    """What an operation does, in one line."""
    if isinstance(operation, Sketch):
        return f"Sketch {operation.name}, on {target(family, document, operation.plane)}"
    if isinstance(operation, Datum):
        return f"{operation.gives.capitalize()} {operation.name}, {datum(family, document, operation.by)}"
    if isinstance(operation, Underlay):
        return f"Underlay {operation.name}, on {target(family, document, operation.plane)}"
    return said(family, document, operation)


def said(family: Family, document: Model, operation: BodyOperation) -> str:
    """An operation in one line."""
    sentence = sentence_of(operation)
    words = [sentence.verb]
    for blank in sentence.blanks:
        value = value_in(operation, blank.field)
        told = _told(family, document, operation, blank, value)
        if told:
            words += [told] if blank.takes == "flag" else [blank.word, told]
    return f"{operation.name}: {' '.join(w for w in words if w)}"


def _told(family: Family, document: Model, operation: Any, blank: Blank, value: Any) -> str:
    """What stands in a blank; "" for what is not said."""
    if blank.takes == "flag":
        return blank.word if value and blank.field not in ("flip", "straight") else ""
    if value is None or value == ():
        return ""
    if blank.takes == "does":
        return f"{VERBS[operation.does]} {bodies(document, value)}"
    if blank.takes in ("bodies", "body"):
        return bodies(document, value)
    if blank.takes == "regions":
        return ""  # a row speaks of bodies; what they come from is seen on hover
    if blank.takes == "walls":
        return f"{text(family, document, value[0].thickness)} at {len(value)} face{'s' if len(value) != 1 else ''}"
    if blank.takes in COUNTED:
        return f"{len(value)} {COUNTED[blank.takes]}{'s' if len(value) != 1 else ''}"
    if blank.takes in ("near", "far"):
        return end_words(family, document, operation, blank.takes == "near")
    if blank.takes == "choice":
        return dict(blank.choices)[value]
    if isinstance(value, Expression):
        return text(family, document, value)
    assert isinstance(value, Reference)
    return target(family, document, value)


def end_words(family: Family, document: Model, operation: Extrude, near: bool) -> str:
    """An end of an extrusion in words."""
    end, other = (operation.near, operation.far) if near else (operation.far, operation.near)
    if end is None or isinstance(end, Symmetric):
        return ""
    if isinstance(end, Through):
        both = isinstance(other, Through)
        return ("" if both else "from before all") if near else ("all the way through" if both else "through all")
    if isinstance(end, ToNext):
        return "up to the next"
    if isinstance(end, Distance):
        told = text(family, document, end.value)
        return f"from {told} before" if near else f"by {told}{', both ways' if isinstance(other, Symmetric) else ''}"
    assert isinstance(end, ToFace)
    offset = ""
    if end.offset is not None:
        shown = text(family, document, end.offset)
        offset = f" − {shown[1:]}" if shown.startswith("-") else f" + {shown}"
    return f"{'from' if near else 'up to'} {target(family, document, end.target)}{offset}"
