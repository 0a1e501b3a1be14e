"""What the solver of assemblies works on: bodies, places on them, and bonds between two places.

Lengths in mm, angles in rad. A place is a frame on a body: a point, an axis and a side across it, in the body's own
coordinates. A bond says how two places lie to each other; which equations that takes is declared in `KINDS`.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

from architectonic.base.rigid import Rigid, Vector

GROUND = ""
"""The body that is the assembly itself: its datums, sketches and layouts. It never moves."""

Form = Literal["meet", "parallel", "beside", "ahead", "leaning", "turn", "screw"]
"""What equations say of two places A and B: their points meet (3); their axes are parallel (2); B's point lies on A's axis
(2); B's point is so far along A's axis (1); the axes enclose an angle (1); B is turned so far about A's axis (1); B's
advance along the axis follows its turn by a lead (1)."""

Kind = Literal[
    "fixed", "revolute", "prismatic", "cylindrical", "planar", "spherical", "screw",
    "flush", "against", "coaxial", "point", "offset", "angle", "parallel", "frame",
]  # fmt: skip


class RigidBody(NamedTuple):
    """A rigid body where it starts; a fixed one stays there."""

    id: str
    stands: Rigid
    fixed: bool = False


class Mount(NamedTuple):
    """A frame on a body, in its coordinates: a point, an axis and a direction across it, unit vectors square to each other."""

    body: str
    point: Vector
    axis: Vector = (0.0, 0.0, 1.0)
    side: Vector = (1.0, 0.0, 0.0)


class Coupled(NamedTuple):
    """A value of a bond that follows one of another bond: it is `ratio` times that plus `offset` (gears, rack and pinion).

    Attributes:
        field: slide or turn, of the bond that this stands in; other, other_field: what it follows.
        ratio, offset: mm and rad, as the fields are.
    """

    field: str
    other: str
    other_field: str
    ratio: float
    offset: float = 0.0


class Bond(NamedTuple):
    """How place `b` lies to place `a`.

    Attributes:
        sense: +1 when the axes point the same way, -1 when they face each other.
        offset: along a's axis, mm, of planes and of frames; angle: between axes or about them, rad.
        slide, turn: a joint's value along and about its axis where it is driven; None where it is free.
        lead: of a screw, mm a turn.
        coupled: values that follow those of other bonds, which nothing drives either.
    """

    id: str
    kind: Kind
    a: Mount
    b: Mount
    sense: int = 1
    offset: float = 0.0
    angle: float = 0.0
    slide: float | None = None
    turn: float | None = None
    lead: float = 0.0
    coupled: tuple[Coupled, ...] = ()


class Nature(NamedTuple):
    """What a kind of bond is made of.

    Attributes:
        forms: its equations; freedoms: what it leaves of six between two bodies.
    """

    forms: tuple[Form, ...]
    freedoms: int


KINDS: dict[str, Nature] = {
    # joints: ISO 3952-1, with the freedoms of its table
    "fixed": Nature(("meet", "parallel", "turn"), 0),
    "revolute": Nature(("meet", "parallel"), 1),
    "prismatic": Nature(("beside", "parallel", "turn"), 1),
    "screw": Nature(("beside", "parallel", "screw"), 1),
    "cylindrical": Nature(("beside", "parallel"), 2),
    "planar": Nature(("ahead", "parallel"), 3),
    "spherical": Nature(("meet",), 3),
    # placement, in words of the trade (common practice)
    "flush": Nature(("ahead", "parallel"), 3),
    "against": Nature(("ahead", "parallel"), 3),
    "coaxial": Nature(("beside", "parallel"), 2),
    "point": Nature(("meet",), 3),
    "offset": Nature(("ahead",), 5),
    "angle": Nature(("leaning",), 5),
    "parallel": Nature(("parallel",), 4),
    "frame": Nature(("meet", "parallel", "turn"), 0),
}
"""Every kind of bond. "against" is "flush" with axes that face each other; "frame" is "fixed" at an offset."""

ROWS: dict[str, int] = {"meet": 3, "parallel": 2, "beside": 2, "ahead": 1, "leaning": 1, "turn": 1, "screw": 1}
"""How many equations a form has."""
