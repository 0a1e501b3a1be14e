"""Assemblies, and what they place."""

from __future__ import annotations

from typing import ClassVar, Literal

from architectonic.family.documents.base import Model
from architectonic.family.operations.base import Switch
from architectonic.family.references import MATCH, Expression, Record, Reference


class Alternate(Record, frozen=True, kw_only=True):
    """One version of an assembly: a row whose own cells stand in what they change, keyed by its id.

    Attributes:
        parent: the alternate that it follows where it says nothing itself; "" for what is common to all.
        number, note: what it is ordered by, and what is said of it.
    """

    id: str
    name: str
    parent: str = ""
    number: str = ""
    note: str = ""


class Fill(Record, frozen=True, kw_only=True):
    """What fills the place of an instance.

    Attributes:
        document: id of a part or assembly; "" for nothing.
        alternate: of an assembly, the id of the one that is taken; "" for its first.
        item: of a part, the id of the part item that alone stands here; "" for all of it.
        chosen: an expression that yields the name of the configuration instead.
    """

    document: str = ""
    configuration: str = MATCH
    alternate: str = ""
    item: str = ""
    chosen: Expression | None = None


class Repeat(Record, frozen=True, kw_only=True):
    """Further uses of an instance, each so far from the one before; they follow the first in all else.

    Attributes:
        axis: a line or axis of the assembly.
        about: they stand about it, else along it.
        count: of all uses, the first among them; step: a length, or an angle.
    """

    axis: Reference
    about: bool = False
    count: Expression
    step: Expression


COPY = "#"
"""Between the id of an instance and the number of a further use of it: `k3f…#2`."""


def use_of(key: str) -> tuple[str, int]:
    """The instance that a use is one of, and its number: 0 for the first."""
    instance, _, number = key.partition(COPY)
    return instance, int(number or 0)


class Instance(Fill, frozen=True, kw_only=True):
    """One placed use of a part or assembly; what it is filled with here holds wherever no cell says otherwise.

    Attributes:
        placement: where it stands (base.rigid), or starts when bonds place it; () on the shared origin.
        fixed: bonds do not move it: others come to it.
        fills: what fills it instead, by alternate, size or row.
        stands: where it stands or starts instead, by the same.
        repeats: rows and rings of it; of several each repeats all that those before it give.
    """

    id: str
    name: str
    placement: tuple[float, ...] = ()
    fixed: bool = False
    fills: dict[str, Fill] = {}
    stands: dict[str, tuple[float, ...]] = {}
    repeats: tuple[Repeat, ...] = ()

    @property
    def every_fill(self) -> tuple[Fill, ...]:
        """What fills it in some alternate, the common one first."""
        return (self, *self.fills.values())


BondKind = Literal[
    "fixed", "revolute", "prismatic", "cylindrical", "planar", "spherical", "screw",
    "flush", "against", "coaxial", "point", "offset", "angle", "parallel", "frame",
]  # fmt: skip
"""Joints (ISO 3952-1), then placement rules; see assembly.entities.KINDS for what each says."""


QUANTITY = {
    "offset": "length", "angle": "angle", "slide": "length", "turn": "angle", "lead": "length", "play": "length",
}  # fmt: skip
"""Of the values of a bond."""
TAKES: dict[str, tuple[str, ...]] = {
    "fixed": ("offset", "angle"), "frame": ("offset", "angle"), "revolute": ("offset", "turn", "play"), "prismatic": ("slide", "play"),
    "cylindrical": ("slide", "turn", "play"), "planar": ("offset", "turn", "play"), "spherical": ("play",),
    "screw": ("offset", "turn", "lead", "play"),
    "flush": ("offset",), "against": ("offset",), "coaxial": (), "point": (), "offset": ("offset",), "angle": ("angle",),
    "parallel": (),
}  # fmt: skip
"""Which values each kind can be given."""


JOINTS: dict[str, tuple[str, ...]] = {
    kind: values for kind, takes in TAKES.items() if (values := tuple(f for f in ("slide", "turn") if f in takes))
}
"""Which values move each joint: along its axis and about it."""


class Mounting(Record, frozen=True, kw_only=True):
    """A place on an instance, or on the assembly itself.

    Attributes:
        instance: id; "" for the assembly's own datums, sketches and standard planes.
        place: a face, edge, vertex, curve or datum of the document that the instance shows.
        within: of an instance of an assembly, ids of the instances in it that lead to what the place is on.
        others: the same place of other documents that may fill the instance, by their ids.
    """

    instance: str = ""
    within: tuple[str, ...] = ()
    place: Reference
    others: dict[str, Reference] = {}


class Limits(Record, frozen=True, kw_only=True):
    """How far a joint goes; an end that is absent is open."""

    least: Expression | None = None
    most: Expression | None = None


class BondValues(Record, frozen=True, kw_only=True):
    """What drives a joint or placement rule.

    Attributes:
        offset: along the axis of `a`; angle: between the axes, or about them.
        slide, turn: a joint's value, where it is driven; lead: of a screw, a length a turn.
        play: the whole clearance of a joint; it moves nothing, and says how far what hangs on it can shift.
    """

    offset: Expression | None = None
    angle: Expression | None = None
    slide: Expression | None = None
    turn: Expression | None = None
    lead: Expression | None = None
    play: Expression | None = None


class Bond(BondValues, frozen=True, kw_only=True):
    """A joint, or a placement rule: how a place on one instance lies to a place on another.

    Attributes:
        facing: the two axes point against each other.
        apart: how b's place is moved in what b shows before it is held (base.rigid), so that nothing moved when this was
            made; () not at all.
        own: values that hold instead, by alternate, size or row; what is absent in them follows.
        limits: of slide and of turn.
        switch: where it holds at all.
    """

    id: str
    name: str
    kind: BondKind
    a: Mounting
    b: Mounting
    facing: bool = False
    apart: tuple[float, ...] = ()
    own: dict[str, BondValues] = {}
    limits: dict[Literal["slide", "turn"], Limits] = {}
    switch: Switch = Switch()

    @property
    def moves(self) -> Literal["slide", "turn", ""]:
        """The value that its name means in expressions: how far a joint is turned, else how far it has slid."""
        return "turn" if "turn" in TAKES[self.kind] else "slide" if "slide" in TAKES[self.kind] else ""


class Assembly(Model, tag="assembly", tag_field="kind", frozen=True, kw_only=True):
    """Parts in place, with sketches and datums of its own."""

    rank: ClassVar[int] = 4
    holds_bodies: ClassVar[bool] = True
    placeable: ClassVar[bool] = True

    instances: tuple[Instance, ...] = ()
    bonds: tuple[Bond, ...] = ()
    alternates: tuple[Alternate, ...] = ()
