"""What the blanks of a sentence accept by clicks, and the words that ask for it."""

from __future__ import annotations

from typing import NamedTuple


class Accepts(NamedTuple):
    """What fills a blank.

    Attributes:
        bodies: kinds of what is hit on bodies: face, edge, vertex.
        drawn: of sketches and datums: region, curve, end, plane, axis, point, sketch.
        says: what to click, in words.
        flat, round: only flat faces; only round faces among the faces.
    """

    bodies: frozenset[str]
    drawn: frozenset[str]
    says: str
    flat: bool = False
    round: bool = False

    def __bool__(self) -> bool:
        return bool(self.says)


def accepting(bodies: str, drawn: str, says: str, flat: bool = False, round: bool = False) -> Accepts:
    """What is accepted, its kinds parted by blanks."""
    return Accepts(frozenset(bodies.split()), frozenset(drawn.split()), says, flat, round)


NOTHING = accepting("", "", "")
