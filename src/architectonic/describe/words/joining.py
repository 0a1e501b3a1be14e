"""The sentence of a joint or placement rule."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from architectonic.describe.words.blanks import Blank, Choice, Flag, Quantity
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.taking import Called, Offered
from architectonic.family import names
from architectonic.family.documents.assembly import JOINTS, QUANTITY, TAKES
from architectonic.family.records import Family, Model
from architectonic.quantities.units import DEFAULT_UNIT

WORDS: dict[str, str] = {
    "revolute": "turns about", "prismatic": "slides along", "cylindrical": "turns about and slides along",
    "planar": "slides on", "spherical": "turns about the point of", "screw": "screws along", "fixed": "is fixed to",
    "flush": "lies flush with", "against": "lies against", "coaxial": "is coaxial with", "point": "has its point at",
    "offset": "is at a distance from", "angle": "is at an angle to", "parallel": "is parallel to", "frame": "lies as",
}  # fmt: skip
"""What each kind says between its two places."""
_JOINT = ("fixed", "revolute", "prismatic", "cylindrical", "planar", "spherical", "screw")
NAMED = {k: f"{w}  ({k} joint)" if k in _JOINT else w for k, w in WORDS.items()}
"""The same as a list offers it, joints with the word of ISO 3952-1."""


@dataclass(frozen=True, repr=False)
class Drive(Quantity):
    """A value that may stay open: the text itself, once it is one of its quantity."""

    kind: str = "length"
    signed: bool = True
    optional: bool = True

    def typed(self, family: Family, document: Model, text: str) -> Any:
        """The text; what makes the bond reads it there."""
        if text:
            names.bind_quantity(family, document, text, self.kind, DEFAULT_UNIT[self.kind])
        return text


def bond(kind: str) -> Sentence:
    """Of one kind: its places, what drives it, how far it goes."""
    blanks: list[Blank] = [
        Offered("b"),
        Choice("kind", "", choices=tuple(NAMED.items())),
        Offered("a"),
        *(Drive(field, field, kind=QUANTITY[field]) for field in TAKES[kind]),
    ]
    if kind in JOINTS:
        moves = JOINTS[kind][-1]
        blanks += [
            Drive("least", f"{moves} from", kind=QUANTITY[moves]),
            Drive("most", "to at most", kind=QUANTITY[moves]),
        ]
    blanks += [Flag("facing", "facing the other way"), Flag("still", "where they are now"), Called("name", "called")]
    return Sentence("bond", "Hold", "hold", "", tuple(blanks), needs=anywhere)
