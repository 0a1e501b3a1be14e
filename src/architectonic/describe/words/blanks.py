"""The blanks of sentences as objects: each kind knows its words, what a new sentence has in it, what can fill it from a
list, and what it accepts by clicks. Cards, rows and scripts know blanks; no one knows the sentences that they stand in.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, ClassVar, NamedTuple

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.describe.words import candidates
from architectonic.describe.words.accepts import NOTHING, Accepts, accepting
from architectonic.describe.words.candidates import Choosing, Named
from architectonic.describe.words.sentences import bodies, target, text
from architectonic.family import edits, names
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.bodies.move import Move
from architectonic.family.operations.solids.extrude import Distance, Symmetric, Through, ToFace, ToNext
from architectonic.family.operations.solids.shell import OwnWall
from architectonic.family.records import ORIGIN, Expression, Family, Model, Reference
from architectonic.quantities.units import DEFAULT_UNIT

DOES = {"make": "make", "add": "add to", "cut": "cut from", "overlap": "keep the overlap with"}


class Telling(NamedTuple):
    """For whom a sentence is told: the family and the document that it stands in."""

    family: Family
    document: Model


@dataclass(frozen=True)
class Blank:
    """One blank of a sentence.

    Attributes:
        field: of the record; `by.x` is the field x of its field `by`.
        word: what stands before it.
        first: what a new sentence has in it, as text.
        clause: of a further clause: the words that add it to the sentence; "" of the main one.
        unless: another field that takes the place of this one when it is filled.
        optional: it may stay empty.
        shape: how a card holds it: value, flag, list, picks, walls, bodies, does or end.
        accepts: what a click gives it; several: whether it holds any number of things.
    """

    field: str
    word: str = ""
    first: str = ""
    clause: str = ""
    unless: str = ""
    optional: bool = False
    shape: ClassVar[str] = "list"
    accepts: ClassVar[Accepts] = NOTHING
    several: ClassVar[bool] = False
    keyword: ClassVar[str] = "text"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """Fields of a new record; {} to leave them as they are by default."""
        raise NotImplementedError

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """What stands in it, after its word; "" for what is not said."""
        raise NotImplementedError

    def candidates(self, of: Choosing) -> Named:
        """What a list offers."""
        return []

    def typed(self, family: Family, document: Model, text: str) -> Any:
        """What a text means that is typed into it.

        Raises:
            UserFault: it cannot be used; says why.
        """
        raise UserFault(f"“{text}” cannot be typed here", self.word or self.field)


# --- values and flags -----------------------------------------------------------------------------------


@dataclass(frozen=True)
class Quantity(Blank):
    """An expression.

    Attributes:
        signed: it may be zero or negative.
    """

    signed: bool = False
    shape: ClassVar[str] = "value"
    quantity: ClassVar[str] = ""

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The first text."""
        return {self.field: Expression(text=self.first)}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """The expression with the names of now."""
        return text(to.family, to.document, value)

    def typed(self, family: Family, document: Model, text: str) -> Expression:
        """The expression, its dimension checked; one that must be positive is refused where it plainly is not."""
        bound = names.bind_quantity(family, document, text, self.quantity, DEFAULT_UNIT.get(self.quantity, ""))
        if not self.signed:
            edits.refuse_not_positive(bound, self.quantity, self.field)
        return bound


class Length(Quantity):
    """A length."""

    quantity: ClassVar[str] = "length"


@dataclass(frozen=True)
class Angle(Quantity):
    """An angle; any sign."""

    signed: bool = True
    quantity: ClassVar[str] = "angle"


class Number(Quantity):
    """A plain number."""

    quantity: ClassVar[str] = "number"


@dataclass(frozen=True)
class Flag(Blank):
    """Something that is so, or not.

    Attributes:
        quiet: a row does not say it.
    """

    quiet: bool = False
    shape: ClassVar[str] = "flag"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """As by default."""
        return {}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Its words, when it is so."""
        return self.word if value and not self.quiet else ""

    def stored(self, on: bool, was: Any) -> Any:
        """What the record holds for it."""
        return on


class Copies(Flag):
    """Whether copies are made; the new bodies are those that were there, or come when it is stored."""

    def stored(self, on: bool, was: Any) -> Any:
        """New bodies by old ones; what comes later stands under no name yet."""
        return (was or {"": ""}) if on else {}


# --- what is picked -------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Picked(Blank):
    """Things picked in the canvas, any number of them."""

    shape: ClassVar[str] = "picks"
    several: ClassVar[bool] = True
    noun: ClassVar[str] = ""

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """Nothing yet."""
        return {self.field: ()}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """How many, and of what."""
        return counted(len(value), self.noun) if value else ""


class Regions(Picked):
    """Regions of sketches, and flat faces; a row speaks of bodies, not of what they come from."""

    noun: ClassVar[str] = "region"
    accepts: ClassVar[Accepts] = accepting("face", "region", "regions of sketches or flat faces")

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Nothing: what it comes from is seen on hover."""
        return ""


class Faces(Picked):
    """Faces."""

    noun: ClassVar[str] = "face"
    accepts: ClassVar[Accepts] = accepting("face", "", "faces")


class Edges(Picked):
    """Edges."""

    noun: ClassVar[str] = "edge"
    accepts: ClassVar[Accepts] = accepting("edge", "", "edges")


class Path(Picked):
    """Edges and curves that meet end to end."""

    noun: ClassVar[str] = "piece"
    accepts: ClassVar[Accepts] = accepting("edge", "curve", "edges or curves that meet end to end")


class Walls(Faces):
    """Faces with a wall of a thickness of its own."""

    shape: ClassVar[str] = "walls"

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """The first thickness, and at how many faces."""
        return f"{text(to.family, to.document, value[0].thickness)} at {counted(len(value), 'face')}" if value else ""

    def typed(self, family: Family, document: Model, text: str) -> Expression:
        """The thickness."""
        bound = names.bind_quantity(family, document, text, "length", "mm")
        edits.refuse_not_positive(bound, "length", "thickness of a wall")
        return bound

    def stored(self, faces: tuple[Reference, ...], thickness: Expression) -> tuple[OwnWall, ...]:
        """Walls of one thickness."""
        return tuple(OwnWall(face=r, thickness=thickness) for r in faces)


# --- one of a list --------------------------------------------------------------------------------------


@dataclass(frozen=True)
class One(Blank):
    """One thing, from a list or by a click."""

    standard: ClassVar[str] = ""

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """What every document has of it."""
        return {} if self.optional or not self.standard else {self.field: Reference(item=self.standard)}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """What it means, in words."""
        return "" if value is None else target(to.family, to.document, value)


class Plane(One):
    """A plane or a flat face."""

    standard: ClassVar[str] = "top"
    keyword: ClassVar[str] = "plane"
    accepts: ClassVar[Accepts] = accepting("face", "plane sketch", "a flat face or a plane", flat=True)

    def candidates(self, of: Choosing) -> Named:
        """Everything flat."""
        return candidates.planes(of)


class Line(One):
    """A line or an axis, also that of something round."""

    standard: ClassVar[str] = "z"
    keyword: ClassVar[str] = "line"
    accepts: ClassVar[Accepts] = accepting(
        "edge face", "curve axis", "an edge, a line, an axis or a round face", round=True
    )

    def candidates(self, of: Choosing) -> Named:
        """Everything that has a direction."""
        return candidates.lines(of)


class Point(One):
    """A point."""

    standard: ClassVar[str] = ORIGIN
    keyword: ClassVar[str] = "point"
    accepts: ClassVar[Accepts] = accepting(
        "vertex edge", "point end", "a vertex, an end, a point or a round edge for its centre"
    )

    def candidates(self, of: Choosing) -> Named:
        """Points, ends and centres."""
        return candidates.points(of)


class RoundFace(One):
    """A face that has an axis."""

    keyword: ClassVar[str] = "face"
    accepts: ClassVar[Accepts] = accepting("face", "", "a round face", round=True)

    def candidates(self, of: Choosing) -> Named:
        """Picked faces that are round."""
        return candidates.round_faces(of)


class Place(One):
    """A point, a line or a plane."""

    standard: ClassVar[str] = ORIGIN
    keyword: ClassVar[str] = "place"
    accepts: ClassVar[Accepts] = accepting(
        "vertex edge face", "plane axis point curve end", "a vertex, an edge, a face, a plane, an axis or a point"
    )

    def candidates(self, of: Choosing) -> Named:
        """Everything that can be laid on something like it."""
        return candidates.places(of)


class Divider(One):
    """What bodies are split by: a plane, a face of any kind, or the lines of a sketch."""

    standard: ClassVar[str] = "front"
    keyword: ClassVar[str] = "divider"
    accepts: ClassVar[Accepts] = accepting("face", "plane sketch curve", "a face, a plane or a sketch")

    def candidates(self, of: Choosing) -> Named:
        """Everything that bodies can be split by."""
        return candidates.dividers(of)


class EarlierMove(One):
    """An earlier move."""

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The last one.

        Raises:
            UserFault: there is none.
        """
        found = [o for o in document.build if isinstance(o, Move)]
        if not found:
            raise UserFault("there is no move to take back", document.name, "move a body first")
        return {self.field: Reference(item=found[-1].id, stage="here")}

    def candidates(self, of: Choosing) -> Named:
        """All moves of the build list."""
        moves = [o for o in of.build if isinstance(o, Move)]
        return [(o.name, Reference(item=o.id, stage="here")) for o in moves]


@dataclass(frozen=True)
class Choice(Blank):
    """One of a few words.

    Attributes:
        choices: value and words.
    """

    choices: tuple[tuple[str, str], ...] = ()

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The first one."""
        return {self.field: self.first or self.choices[0][0]}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Its words."""
        return dict(self.choices)[value]

    def typed(self, family: Family, document: Model, text: str) -> str:
        """One of the words, or of the values behind them."""
        found = next((value for value, words in self.choices if text in (value, words)), None)
        if found is None:
            raise UserFault(f"“{text}” is none of its choices", self.field, "choose " + ", ".join(dict(self.choices)))
        return found


# --- bodies ---------------------------------------------------------------------------------------------


def _usable(document: Model) -> tuple[str, ...]:
    """Bodies that can be acted on."""
    return tuple(k for k, b in document.bodies.items() if not b.backdrop_only)


@dataclass(frozen=True)
class Bodies(Blank):
    """Bodies of the document."""

    shape: ClassVar[str] = "bodies"
    several: ClassVar[bool] = True

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The first body, or those beside it for what a sentence needs besides."""
        known = _usable(document)
        return {self.field: known[:1] if self.field == "acts_on" else known[1:]}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Their names."""
        return bodies(to.document, value) if value else ""


class OneBody(Bodies):
    """One body."""

    shape: ClassVar[str] = "list"
    several: ClassVar[bool] = False


class Does(Bodies):
    """What something solid does, and to which bodies."""

    shape: ClassVar[str] = "does"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """Cut from what is there; make the first body."""
        known = _usable(document)
        return {"does": "cut", self.field: known} if known else {"does": "make", self.field: (make_id(),)}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """The verb and the bodies."""
        return f"{DOES[operation.does]} {bodies(to.document, value)}"


# --- ends of something that is pushed -------------------------------------------------------------------


@dataclass(frozen=True)
class End(Blank):
    """One end: at a distance, on something, beyond everything.

    Attributes:
        words: the ends that need nothing beside them, and those that a length says: words and sign.
        towards: the word before what it ends on; called: the name of its field for lengths.
    """

    shape: ClassVar[str] = "end"
    near: ClassVar[bool] = False
    words: ClassVar[tuple[tuple[str, str | None], ...]] = ()
    towards: ClassVar[str] = ""
    called: ClassVar[str] = ""
    accepts: ClassVar[Accepts] = accepting("face vertex", "plane point end", "the face, plane or point that it ends on")

    def candidates(self, of: Choosing) -> Named:
        """Planes, faces and points that it can reach."""
        return candidates.ends(of)

    def _length(self, family: Family, document: Model, typed: str) -> Expression:
        value = names.bind_quantity(family, document, typed, "length", "mm")
        edits.refuse_not_positive(value, "length", "where it starts" if self.near else "distance")
        return value

    def stored(self, family: Family, document: Model, chosen: Any, typed: str) -> dict[str, Any]:
        """Fields of the record for what is chosen and the length typed beside it; both ways is said by the near end.

        Raises:
            UserFault: the length cannot be used.
        """
        if chosen is None:
            return {}
        if chosen in ("through", "next"):
            return {self.field: Through() if chosen == "through" else ToNext()}
        if isinstance(chosen, Reference):
            offset = names.bind_quantity(family, document, typed, "length", "mm") if typed else None
            return {self.field: ToFace(target=chosen, offset=offset)}
        made: dict[str, Any] = {self.field: Distance(value=self._length(family, document, typed))}
        return {**made, "near": Symmetric()} if chosen == "both" else made

    def shown(self, record: Any) -> tuple[Any, Expression | None]:
        """What of the list a record has chosen, and the length beside it; the inverse of `stored`."""
        end = getattr(record, self.field)
        if isinstance(end, Distance):
            both = not self.near and isinstance(record.near, Symmetric)
            return ("both" if both else "distance"), end.value
        if isinstance(end, (Through, ToNext)):
            return ("through" if isinstance(end, Through) else "next"), None
        return (end.target, end.offset) if isinstance(end, ToFace) else (None, None)


class NearEnd(End):
    """Where something that is pushed starts."""

    near: ClassVar[bool] = True
    words = (("from its plane", None), ("from before it by", "distance"), ("from before all", "through"))
    towards: ClassVar[str] = "from"
    called: ClassVar[str] = "where it starts"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """On its plane."""
        return {}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Where it starts, when that is not its plane."""
        return end_words(to, value, operation.far, True)


class FarEnd(End):
    """Where something that is pushed ends."""

    words = (("by", "distance"), ("both ways by", "both"), ("through all", "through"), ("up to the next", "next"))
    towards: ClassVar[str] = "up to"
    called: ClassVar[str] = "distance or offset"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """At the first distance."""
        return {self.field: Distance(value=Expression(text=self.first))}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """How far it goes."""
        return end_words(to, value, operation.near, False)


def end_words(to: Telling, end: Any, other: Any, near: bool) -> str:
    """An end of an extrusion in words."""
    if end is None or isinstance(end, Symmetric):
        return ""
    if isinstance(end, Through):
        both = isinstance(other, Through)
        return ("" if both else "from before all") if near else ("all the way through" if both else "through all")
    if isinstance(end, ToNext):
        return "up to the next"
    if isinstance(end, Distance):
        told = text(to.family, to.document, end.value)
        return f"from {told} before" if near else f"by {told}{', both ways' if isinstance(other, Symmetric) else ''}"
    assert isinstance(end, ToFace)
    offset = ""
    if end.offset is not None:
        shown = text(to.family, to.document, end.offset)
        offset = f" − {shown[1:]}" if shown.startswith("-") else f" + {shown}"
    return f"{'from' if near else 'up to'} {target(to.family, to.document, end.target)}{offset}"


def counted(n: int, noun: str) -> str:
    """`3 faces`, `1 face`."""
    return f"{n} {noun}{'' if n == 1 else 's'}"


class Sentence(NamedTuple):
    """A way to say an operation or a datum in words.

    Attributes:
        key: what it is asked for by, in actions, scripts and commands.
        title: of the action that makes one; verb: the words that its row begins with.
        called: what a new one is called.
        blanks: in order.
        short: the word of its button, "" for the title.
        needs: what must be there before one can be made.
        by: of a record whose field `by` says how: the type of that field; None where there is none.
        also: other words of the trade that it is found by.
    """

    key: str
    title: str
    verb: str
    called: str
    blanks: tuple[Blank, ...]
    short: str = ""
    needs: Callable[[Model], bool] = lambda document: bool(document.bodies)
    by: type | None = None
    also: tuple[str, ...] = ()


def anywhere(document: Model) -> bool:
    """For what needs no body."""
    return True


def a_move(document: Model) -> bool:
    """For what takes a move back."""
    return any(isinstance(o, Move) for o in document.build)


def value_in(operation: Any, field: str) -> Any:
    """What a field holds; `by.x` is the field x of its field `by`, `by.points.0` the first of its points."""
    for name in field.split("."):
        operation = operation[int(name)] if name.isdigit() else getattr(operation, name)
    return operation


def told_by(sentence: Sentence, to: Telling, operation: BodyOperation) -> str:
    """An operation in one line, by the blanks of its sentence."""
    words = [sentence.verb]
    for blank in sentence.blanks:
        value = value_in(operation, blank.field)
        told = "" if value is None or value == () else blank.told(to, operation, value)
        if told:
            words += [told] if isinstance(blank, Flag) else [blank.word, told]
    return f"{operation.name}: {' '.join(w for w in words if w)}"
