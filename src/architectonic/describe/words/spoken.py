"""Sentences: blanks in order, and what they say."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from architectonic.describe.words.blanks import Blank, Choice, Flag, Telling
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.bodies.move import Move
from architectonic.family.records import Model


class Sentence(NamedTuple):
    """A way to say an operation or a datum in words.

    Attributes:
        key: what it is asked for by, in actions, scripts and commands.
        title: of the action that makes one; verb: the words that its row begins with.
        called: what a new one is called.
        blanks: in order.
        short: the word of its button, "" for the title.
        needs: what must be there before one can be made; wants: that, in words.
        by: of a record whose field `by` says how: the type of that field; None where there is none.
        also: other words of the trade that it is found by.
        opens: it is begun by its words; False where another verb makes one.
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
    wants: str = "a body"
    opens: bool = True


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


def outlined(sentence: Sentence) -> str:
    """The sentence as it opens: its words, and for each blank of the main clause what stands in it or may be put there."""
    words = [sentence.verb]
    for blank in sentence.blanks:
        if not blank.clause and not isinstance(blank, Flag) and not (isinstance(blank, Choice) and blank.quiet):
            words += [blank.word, blank.hint]
    said = " ".join(w for w in words if w)
    return f"{said[:1].upper()}{said[1:]}."


def told_by(sentence: Sentence, to: Telling, operation: BodyOperation) -> str:
    """An operation in one line, by the blanks of its sentence."""
    words = [sentence.verb]
    for blank in sentence.blanks:
        value = value_in(operation, blank.field)
        told = "" if value is None or value == () else blank.told(to, operation, value)
        if told:
            words += [told] if isinstance(blank, Flag) else [blank.word, told]
    return f"{operation.name}: {' '.join(w for w in words if w)}"
