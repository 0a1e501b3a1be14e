"""The blanks of sentences as objects: each kind knows its words, what a new sentence has in it, what can fill it from a
list, and what it accepts by clicks. Cards, rows and scripts know blanks; no one knows the sentences that they stand in.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass
from typing import Any, ClassVar, NamedTuple

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.describe.words.accepts import NOTHING, Accepts
from architectonic.describe.words.candidates import Choosing, Named
from architectonic.describe.words.sentences import text
from architectonic.family import edits, names
from architectonic.family.records import Expression, Family, Model
from architectonic.quantities.units import DEFAULT_UNIT


class Telling(NamedTuple):
    """For whom a sentence is told: the family and the document that it stands in."""

    family: Family
    document: Model


@dataclass(frozen=True, repr=False)
class Blank(ABC):
    """One blank of a sentence.

    Attributes:
        field: of the record; `by.x` is the field x of its field `by`.
        word: what stands before it.
        first: what a new sentence has in it, as text.
        clause: of a further clause: the words that add it to the sentence; "" of the main one.
        unless: another field that takes the place of this one when it is filled.
        optional: it may stay empty.
        shape: how a card holds it: value, name, flag, list, picks, offered, walls, bodies, does, end or told.
        accepts: what a click gives it; several: whether it holds any number of things.
        inside: whether its expression may name what is in the shown sketch.
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
    inside: ClassVar[bool] = False
    keyword: ClassVar[str] = "text"

    @property
    def hint(self) -> str:
        """What stands in it at first, or what kind of thing may be put there."""
        return self.first

    @abstractmethod
    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """Fields of a new record; {} to leave them as they are by default."""

    @abstractmethod
    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """What stands in it, after its word; "" for what is not said."""

    def candidates(self, of: Choosing) -> Named:
        """What a list offers."""
        return []

    def typed(self, family: Family, document: Model, text: str) -> Any:
        """What a text means that is typed into it.

        Raises:
            UserFault: it cannot be used; says why.
        """
        raise UserFault(f"“{text}” cannot be typed here", self.word or self.field)


@dataclass(frozen=True, repr=False)
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


@dataclass(frozen=True, repr=False)
class Angle(Quantity):
    """An angle; any sign."""

    signed: bool = True
    quantity: ClassVar[str] = "angle"


class Number(Quantity):
    """A plain number."""

    quantity: ClassVar[str] = "number"


@dataclass(frozen=True, repr=False)
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


@dataclass(frozen=True, repr=False)
class Choice(Blank):
    """One of a few words.

    Attributes:
        choices: value and words.
        quiet: a row does not say the first one.
    """

    choices: tuple[tuple[str, str], ...] = ()
    quiet: bool = False

    @property
    def hint(self) -> str:
        """The words of the first one."""
        return dict(self.choices).get(self.first, self.choices[0][1])

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The first one."""
        return {self.field: self.first or self.choices[0][0]}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Its words."""
        return "" if self.quiet and value == self.first else dict(self.choices)[value]

    def typed(self, family: Family, document: Model, text: str) -> str:
        """One of the words, or of the values behind them."""
        found = next((value for value, words in self.choices if text in (value, words)), None)
        if found is None:
            raise UserFault(f"“{text}” is none of its choices", self.field, "choose " + ", ".join(dict(self.choices)))
        return found


def counted(n: int, noun: str) -> str:
    """`3 faces`, `1 face`, `2 bodies`."""
    several = f"{noun[:-1]}ies" if noun.endswith("y") and noun[-2] not in "aeiou" else f"{noun}s"
    return f"{n} {noun if n == 1 else several}"
