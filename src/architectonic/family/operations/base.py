"""What all operations of a build list share."""

from __future__ import annotations

from typing import ClassVar, Literal, Self

import msgspec

from architectonic.base.ids import IdSource
from architectonic.family.references import Expression, Record, Reference

Turned = bool | Expression
"""On, off, or the condition under which something is on."""


class Switch(Record, frozen=True, kw_only=True):
    """Whether an operation is on: by default, and per size or row."""

    default: Turned = True
    own: dict[str, Turned] = {}

    def turned(self, on: Turned | None, cell: str = "") -> Switch:
        """On, off or by a condition in one cell, or by default (cell ""); None inherits again."""
        if not cell:
            return Switch(default=True if on is None else on, own=self.own)
        own = {k: v for k, v in self.own.items() if k != cell}
        return Switch(default=self.default, own=own if on is None else {**own, cell: on})


class Operation(Record, frozen=True, kw_only=True):
    """Common to all entries of a build list.

    Attributes:
        stretch: the heading that it stands under, with its neighbours of the same; "" for none.
    """

    id: str
    name: str
    switch: Switch = Switch()
    stretch: str = ""

    @property
    def kind(self) -> str:
        """The word for what this is, the same in files, reports and commands."""
        return str(self.__struct_config__.tag)


BodyKind = Literal["solid", "surface", "mesh"]


class BodyOperation(Operation, frozen=True, kw_only=True):
    """Common to operations that make or change bodies.

    Attributes:
        gives: what the bodies are that it makes anew.
        draws: it gives curves, which are taken from it and not from bodies.
    """

    gives: ClassVar[BodyKind] = "solid"
    draws: ClassVar[bool] = False

    @property
    def makes(self) -> tuple[str, ...]:
        """Ids of the bodies that come from it."""
        return ()

    @property
    def changes(self) -> tuple[str, ...]:
        """Ids of the bodies that it acts on."""
        return ()

    @property
    def origins(self) -> dict[str, str]:
        """Of bodies that come from it, the ones that they are pieces or copies of."""
        return {}

    @property
    def kinds(self) -> dict[str, BodyKind]:
        """What bodies are after it, of those that it makes anew or makes something else of."""
        return {b: self.gives for b in self.makes if b not in self.origins}

    @property
    def takes_bodies(self) -> bool:
        """Whether the bodies that it acts on are said by themselves, and can be put in and taken out one by one."""
        return hasattr(self, "acts_on")

    def with_bodies(self, make_id: IdSource) -> Self:
        """The same with an id for every body that comes from it."""
        return self


Does = Literal["make", "add", "cut", "overlap"]


class Solid(BodyOperation, frozen=True, kw_only=True):
    """Something solid, and what it does.

    Attributes:
        does: make a body, add to, cut from, or keep the overlap with bodies.
        acts_on: ids of the bodies it changes; for "make", the id of the body it makes.
    """

    does: Does
    acts_on: tuple[str, ...]

    @property
    def makes(self) -> tuple[str, ...]:
        """The body of its own."""
        return self.acts_on if self.does == "make" else ()

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return () if self.does == "make" else self.acts_on

    @property
    def takes_bodies(self) -> bool:
        """Not while it makes a body of its own."""
        return self.does != "make"


class MakesSurface(BodyOperation, frozen=True, kw_only=True):
    """Something that makes one surface.

    Attributes:
        body: its id; "" until it is stored.
    """

    body: str = ""

    gives: ClassVar[BodyKind] = "surface"

    @property
    def makes(self) -> tuple[str, ...]:
        """The surface."""
        return (self.body,) if self.body else ()

    def with_bodies(self, make_id: IdSource) -> Self:
        """The same with an id for its surface."""
        return self if self.body else msgspec.structs.replace(self, body=make_id())


class OnEdges(BodyOperation, frozen=True, kw_only=True):
    """Something along edges; the bodies it acts on are those of the edges."""

    edges: tuple[Reference, ...]

    @property
    def changes(self) -> tuple[str, ...]:
        """The bodies of its edges."""
        return tuple(dict.fromkeys(e.item for e in self.edges))
