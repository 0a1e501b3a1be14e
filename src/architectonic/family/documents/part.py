"""Parts, and what of them is made and counted by itself."""

from __future__ import annotations

from typing import ClassVar, Literal

from architectonic.family.documents.base import Model
from architectonic.family.references import Record

Supply = Literal["", "make", "buy"]
"""Whether something is made in the house or bought; "" while that is not said."""


class PartItem(Record, frozen=True, kw_only=True):
    """A body of a part, or a group of bodies, with a line of its own in lists; its material is that of its bodies.

    Attributes:
        number: what it is ordered by; note: what is said of it.
        bodies: ids; () for a heading that others stand under.
        apart: each body is a piece of its own, all alike; otherwise they are one piece together.
        within: id of the item that it stands under; "" for none.
        opposite: id of the item that it is the mirror image of; "" for none.
        quantity: how many of each piece one part has, where fewer are drawn.
    """

    id: str
    name: str
    number: str = ""
    note: str = ""
    finish: str = ""
    supply: Supply = ""
    bodies: tuple[str, ...] = ()
    apart: bool = False
    within: str = ""
    opposite: str = ""
    quantity: int = 1


class Part(Model, tag="part", tag_field="kind", frozen=True, kw_only=True):
    """Bodies made from what drives them."""

    rank: ClassVar[int] = 3
    holds_bodies: ClassVar[bool] = True
    makes_bodies: ClassVar[bool] = True
    placeable: ClassVar[bool] = True

    part_items: tuple[PartItem, ...] = ()
