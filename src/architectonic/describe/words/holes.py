"""Blanks of holes: where they go in, sizes of the tables, where they begin and end, recesses, places that are left out."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.describe.words import candidates
from architectonic.describe.words.accepts import Accepts, accepting
from architectonic.describe.words.acting import End, end_words
from architectonic.describe.words.blanks import Blank, Telling, counted
from architectonic.describe.words.candidates import Choosing, Named
from architectonic.describe.words.sentences import target, text
from architectonic.describe.words.things import Picked
from architectonic.family import edits, names
from architectonic.family.operations.holes.hole import Cone, HolePlace, Stepped
from architectonic.family.operations.solids.extrude import Distance, Through
from architectonic.family.records import Expression, Family, Model, Reference, Sketch
from architectonic.family.walk import index


class Places(Picked):
    """Where holes go in: points, circles, round edges, places on flat faces; all of a sketch, fed hole sets."""

    shape: ClassVar[str] = "places"
    noun: ClassVar[str] = "place"
    accepts: ClassVar[Accepts] = accepting(
        "edge face", "curve end", "points and circles of sketches, round edges, or a place on a flat face"
    )

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """How many places, or what gives them."""
        if len(value) == 1:
            return f"at {place_words(to, value[0])}"
        return f"at {counted(len(value), 'place')}" if value else ""

    def candidates(self, of: Choosing) -> Named:
        """Whole sketches with points, and fed hole sets."""
        return candidates.hole_places(of)

    def stored(self, references: tuple[Reference, ...]) -> tuple[HolePlace, ...]:
        """Places that need nothing beside what was picked."""
        return tuple(HolePlace(at=r) for r in references)

    def on_face(
        self, family: Family, document: Model, face: Reference, x: str, y: str, make_id: IdSource, key: str = ""
    ) -> HolePlace:
        """A place in a plane, with what is typed for x and y in it.

        Raises:
            UserFault: a value cannot be used.
        """
        found = [names.bind_quantity(family, document, typed, "length", "mm") for typed in (x, y)]
        return HolePlace(at=face, id=key or make_id(), x=found[0], y=found[1])


def place_words(to: Telling, place: HolePlace) -> str:
    """`all points of Pattern`, `the centre of circle 2 of Plan`, `20 mm, 5 mm on a face of Plate`."""
    told = target(to.family, to.document, place.at)
    if place.x is not None and place.y is not None:
        return f"{text(to.family, to.document, place.x)}, {text(to.family, to.document, place.y)} on {told}"
    if not place.at.label and isinstance(index(to.document).get(place.at.item), Sketch):
        return f"all points of {told}"
    return told


@dataclass(frozen=True, repr=False)
class SizeOf(Blank):
    """A size of a table, chosen or by an expression that yields one: `pick(reach > 300 mm, M5, M4)`.

    Attributes:
        sizes: as expressions name them, and as people do.
    """

    sizes: tuple[tuple[str, str], ...] = ()
    shape: ClassVar[str] = "size"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The first size."""
        return {self.field: Expression(text=self.first)}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """The size as people say it, or the expression."""
        return self.shown(text(to.family, to.document, value))

    def shown(self, said: str) -> str:
        """A key as the size that it stands for; anything else as it is."""
        return dict(self.sizes).get(said, said)

    def typed(self, family: Family, document: Model, text: str) -> Expression:
        """The size, or the expression.

        Raises:
            UserFault: it yields no size of the table.
        """
        plain = text.strip().replace("×", "x").replace(" x ", "x")
        found = next((k for k, n in self.sizes if plain.casefold() in (n.casefold(), k.casefold())), None)
        if found is not None:
            return Expression(text=found)
        if not any(c in plain for c in "(<>=") and plain.isascii():
            near = ", ".join(n for _, n in self.sizes[:6])
            raise UserFault(f"there is no size “{text}” in the tables", "", f"choose {near}, … or type a diameter")
        return names.bind_one_of(family, document, plain, [k for k, _ in self.sizes])


class HoleEnd(End):
    """Where a hole ends."""

    words = (("deep", "distance"), ("through", "through"))
    towards: ClassVar[str] = "up to"
    called: ClassVar[str] = "depth or offset"

    @property
    def hint(self) -> str:
        """The first depth."""
        return f"{self.first} deep"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """At the first depth."""
        return {self.field: Distance(value=Expression(text=self.first))}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """How deep it goes."""
        if isinstance(value, Through):
            return "through"
        if isinstance(value, Distance):
            return f"{text(to.family, to.document, value.value)} deep"
        return end_words(to, value, None, False)


class HoleStart(End):
    """Where a hole begins."""

    near: ClassVar[bool] = True
    words = (
        ("from where it meets material", None),
        ("from its place", "plane"),
        ("from outside", "outside"),
    )
    towards: ClassVar[str] = "from"
    called: ClassVar[str] = "offset from where it begins"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """Where it meets material."""
        return {}

    def stored(self, family: Family, document: Model, chosen: Any, typed: str) -> dict[str, Any]:
        """Its words, or as for any end."""
        if chosen in ("plane", "outside"):
            return {self.field: chosen}
        return {self.field: None} if chosen is None else super().stored(family, document, chosen, typed)

    def shown(self, record: Any) -> tuple[Any, Expression | None]:
        """The inverse of `stored`."""
        end = getattr(record, self.field)
        return (end, None) if isinstance(end, str) else super().shown(record)

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Where it begins, when that is said."""
        if isinstance(value, str):
            return "from its place" if value == "plane" else "from outside"
        return end_words(to, value, None, True)


@dataclass(frozen=True, repr=False)
class Pair(Blank):
    """Two values: the first one a diameter.

    Attributes:
        then: the words between them; second: what the second has in it at first; quantity: of the second.
    """

    then: ClassVar[str] = ""
    second: ClassVar[str] = ""
    quantity: ClassVar[str] = "length"
    shape: ClassVar[str] = "pair"
    parts: ClassVar[tuple[str, str]] = ("diameter", "depth")
    record: ClassVar[type] = Stepped

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """Nothing: it stands in a further clause."""
        return {}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Both values."""
        first, second = (text(to.family, to.document, getattr(value, p)) for p in self.parts)
        return f"Ø {first}{self.then} {second}"

    def both(self, family: Family, document: Model, first: str, second: str) -> Any:
        """The record of what is typed.

        Raises:
            UserFault: a value cannot be used.
        """
        unit = "mm" if self.quantity == "length" else "deg"
        one = names.bind_quantity(family, document, first, "length", "mm")
        other = names.bind_quantity(family, document, second, self.quantity, unit)
        edits.refuse_not_positive(one, "length", self.parts[0])
        edits.refuse_not_positive(other, self.quantity, self.parts[1])
        return self.record(**dict(zip(self.parts, (one, other), strict=True)))


class Steps(Pair):
    """A wider or narrower part: diameter and depth."""

    then = ", deep"
    second = "4 mm"


class Cones(Pair):
    """A countersink: diameter and whole angle."""

    then = ", angle"
    second = "90 deg"
    quantity = "angle"
    parts = ("diameter", "angle")
    record = Cone


class LeftOut(Blank):
    """Members that are not made, by their keys; clicked off in the picture or in the card."""

    shape: ClassVar[str] = "members"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """None."""
        return {}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """How many."""
        return counted(len(value), "place") if value else ""
