"""The record of the operation hole."""

from __future__ import annotations

from typing import Literal

from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.solids.extrude import Distance, Through, ToFace
from architectonic.family.references import Expression, Record, Reference


class HolePlace(Record, frozen=True, kw_only=True):
    """Where holes go in.

    Attributes:
        at: a point, circle or arc of a sketch, a whole sketch (all its points and circles), a round edge, a fed curve or hole
            set; or a plane or flat face, with x and y in it.
        id: of a place on a plane or face, by which its hole is known.
    """

    at: Reference
    id: str = ""
    x: Expression | None = None
    y: Expression | None = None


class Stepped(Record, frozen=True, kw_only=True):
    """A wider or narrower part: its diameter and how deep it is."""

    diameter: Expression
    depth: Expression


class Cone(Record, frozen=True, kw_only=True):
    """A countersink: its diameter where the hole begins, and its whole angle."""

    diameter: Expression
    angle: Expression


class Plain(Record, tag="plain", tag_field="kind", frozen=True, kw_only=True):
    """A hole of a diameter."""

    diameter: Expression


class ForScrew(Record, tag="screw", tag_field="kind", frozen=True, kw_only=True):
    """A hole that a screw passes through.

    Attributes:
        size: expression that yields a key of quantities.standards.screws.
        head: what kind of head sits on it; sunk: whether there is a recess for it.
        fit: how much room the screw has (ISO 273); diameter: in place of that.
    """

    size: Expression
    head: Literal["any", "socket", "flat"] = "socket"
    sunk: bool = True
    fit: Literal["fine", "medium", "coarse"] = "medium"
    diameter: Expression | None = None


class Tapped(Record, tag="tapped", tag_field="kind", frozen=True, kw_only=True):
    """A hole with a thread.

    Attributes:
        size: expression that yields a key of quantities.standards.threads.
        depth: of the thread; None for the whole depth of the hole.
        drill: diameter before it is tapped, in place of that of the tables.
        tolerance: class of the thread; "" for the usual one.
        shown: the thread is modelled for pictures and files.
    """

    size: Expression
    depth: Expression | None = None
    hand: Literal["right", "left"] = "right"
    tolerance: str = ""
    drill: Expression | None = None
    shown: bool = False


class ForPin(Record, tag="pin", tag_field="kind", frozen=True, kw_only=True):
    """A hole for a pin.

    Attributes:
        fit: tolerance class of the hole (ISO 286).
    """

    diameter: Expression
    fit: str = "H7"


class Core(Record, tag="core", tag_field="kind", frozen=True, kw_only=True):
    """A core for a screw that forms its own thread in plastic.

    Attributes:
        screw: its nominal diameter; into: a key of quantities.standards.plastics.CORES.
    """

    screw: Expression
    into: str = "ABS"


class Matching(Record, tag="matching", tag_field="kind", frozen=True, kw_only=True):
    """The counterpart of a fed hole set at the same places: tapped where that one lets a screw pass, and the other way round."""

    fit: Literal["fine", "medium", "coarse"] = "medium"
    sunk: bool = True


class Hole(BodyOperation, tag="hole", tag_field="kind", frozen=True, kw_only=True):
    """Holes at places, all of one kind.

    Attributes:
        by: what for.
        near: where a hole begins to be measured: where it meets material beyond its place (None), at its place ("plane"), where
            it meets material from outside ("outside"), or on a face.
        far: where it ends; a distance is that of its full diameter.
        flat: a blind one ends flat, not with a drill's point.
        flip: along the normals of the places, not against them.
        left_out: keys of the places at which there is none.
    """

    places: tuple[HolePlace, ...]
    acts_on: tuple[str, ...]
    by: Plain | ForScrew | Tapped | ForPin | Core | Matching
    near: Literal["plane", "outside"] | ToFace | None = None
    far: Distance | ToFace | Through
    flat: bool = False
    counterbore: Stepped | None = None
    countersink: Cone | None = None
    step: Stepped | None = None
    flip: bool = False
    left_out: tuple[str, ...] = ()

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return self.acts_on
