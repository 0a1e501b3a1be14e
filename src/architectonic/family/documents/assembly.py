"""Assemblies, and what they place."""

from __future__ import annotations

from typing import ClassVar, Literal

from architectonic.family.documents.base import Model
from architectonic.family.references import MATCH, Expression, Record, Reference


class Instance(Record, frozen=True, kw_only=True):
    """One placed use of a part or assembly.

    Attributes:
        placement: where it stands (base.rigid), or starts when bonds place it; () on the shared origin.
        fixed: bonds do not move it: others come to it.
    """

    id: str
    name: str
    document: str
    configuration: str = MATCH
    placement: tuple[float, ...] = ()
    fixed: bool = False


BondKind = Literal[
    "fixed", "revolute", "prismatic", "cylindrical", "planar", "spherical", "screw",
    "flush", "against", "coaxial", "point", "offset", "angle", "parallel", "frame",
]  # fmt: skip
"""Joints (ISO 3952-1), then placement rules; see assembly.entities.KINDS for what each says."""


class Mounting(Record, frozen=True, kw_only=True):
    """A place on an instance, or on the assembly itself.

    Attributes:
        instance: id; "" for the assembly's own datums, sketches and standard planes.
        place: a face, edge, vertex, curve or datum of the document that the instance shows.
    """

    instance: str = ""
    place: Reference


class Bond(Record, frozen=True, kw_only=True):
    """A joint, or a placement rule: how a place on one instance lies to a place on another.

    Attributes:
        facing: the two axes point against each other.
        offset: along the axis of `a`; angle: between the axes, or about them.
        slide, turn: a joint's value, where it is driven; lead: of a screw, a length a turn.
    """

    id: str
    name: str
    kind: BondKind
    a: Mounting
    b: Mounting
    facing: bool = False
    offset: Expression | None = None
    angle: Expression | None = None
    slide: Expression | None = None
    turn: Expression | None = None
    lead: Expression | None = None


class Assembly(Model, tag="assembly", tag_field="kind", frozen=True, kw_only=True):
    """Parts in place, with sketches and datums of its own."""

    rank: ClassVar[int] = 3
    placeable: ClassVar[bool] = True

    instances: tuple[Instance, ...] = ()
    bonds: tuple[Bond, ...] = ()
