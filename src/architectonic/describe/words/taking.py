"""The sentences that bring in what stands elsewhere: a trace into a sketch, and a feed from another document."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from architectonic.base.ids import IdSource
from architectonic.base.places import point_of
from architectonic.describe.words.accepts import Accepts, accepting
from architectonic.describe.words.blanks import Blank, Choice, Flag, Length, Telling, counted
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.family.records import Family, Model
from architectonic.quantities.syntax import name_and_value

ALONE, ONWARDS, LOOP, OUTLINE = "alone", "onwards", "loop", "outline"
"""How much a click takes: one edge, what goes on smoothly from it, what it goes around a face with, all around that face."""


def noun(takes: str, label: str = "") -> str:
    """What a socket holds, in a word; what is taken of a curve may be one of its points."""
    if takes == "holes":
        return "hole set"
    return "point" if takes == "vertex" or (takes == "curve" and point_of(label)) else takes


@dataclass(frozen=True, repr=False)
class Offered(Blank):
    """Things that the canvas offers while the sentence is open; a click takes one in, or out again."""

    shape: ClassVar[str] = "offered"
    several: ClassVar[bool] = True
    accepts: ClassVar[Accepts] = accepting(
        "edge vertex face", "curve end axis region plane point", "edges, curves and points"
    )

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """Nothing at first."""
        return {self.field: ()}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """How many there are."""
        return counted(len(value), "thing") if value else ""


@dataclass(frozen=True, repr=False)
class Called(Blank):
    """A name."""

    shape: ClassVar[str] = "name"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The first one."""
        return {self.field: self.first}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """The name."""
        return str(value)

    def typed(self, family: Family, document: Model, text: str) -> str:
        """The name as it is typed; what is stored is checked where it is stored."""
        return text


class Offset(Length):
    """A distance, or nothing."""

    inside: ClassVar[bool] = True

    def typed(self, family: Family, document: Model, text: str) -> Any:
        """The text itself, once it is one of a length; what makes the offset reads it in its sketch, with its name."""
        if text:
            super().typed(family, document, name_and_value(text)[1])
        return text


def trace(stages: tuple[tuple[str, str], ...]) -> Sentence:
    """Tracing into a sketch.

    Args:
        stages: at which things of other documents can be taken: key and words, the finished one first.
    """
    blanks: tuple[Blank, ...] = (
        Offered("things"),
        Choice("how", choices=(("projected", "as it is seen"), ("crossing", "where it crosses"), ("section", "the section of its body"))),
        Choice("reach", choices=((ALONE, "this alone"), (ONWARDS, "all that goes on smoothly"), (LOOP, "what closes around its face"), (OUTLINE, "the whole outline of its face"))),
        Choice("stage", "taken", choices=stages),
        Offset("offset", "offset by", optional=True),
        Choice("side", choices=(("inside", "inside"), ("outside", "outside"))),
        Flag("helper", "as helper lines"),
        Flag("own", "as own curves"),
    )  # fmt: skip
    return Sentence("trace", "Trace", "trace", "", blanks, needs=anywhere)


def feed(datums: tuple[tuple[str, str], ...], sketch: str, own: bool) -> Sentence:
    """Taking from another document, or curves of the document itself into another sketch of it.

    Args:
        datums: of the source: key and words, "" first for none.
        sketch: into which curves can be traced, "" for none; own: whether the source is the document itself.
    """
    blanks: tuple[Blank, ...] = (Offered("things"),)
    if len(datums) > 1:
        blanks = (*blanks, Choice("datum", "and", choices=datums))
    if not own:
        blanks = (*blanks, Called("name", "called"))
    if sketch:
        blanks = (*blanks, Flag("into", f"trace the curves into {sketch}"))
    return Sentence("feed", "Take", "take", "", blanks, needs=anywhere)


POINTED = Sentence("point", "Point it at", "point at", "", (Offered("things"),), needs=anywhere)
"""Pointing a socket elsewhere."""
