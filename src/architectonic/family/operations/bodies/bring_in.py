"""The record of the operation bring in."""

from __future__ import annotations

from collections.abc import Iterable

from architectonic.family.operations.base import BodyKind, BodyOperation, Operation
from architectonic.family.references import Feed, Record, Reference


class BroughtBody(Record, frozen=True, kw_only=True):
    """Where a body comes from.

    Attributes:
        source: a socket of the document that holds a body; or, within an assembly, a body of another document.
        within: ids of the instances of the assembly that lead to it, the outermost first.
        surface: it was one when it was brought in; what it is now is what its source gives.
    """

    source: Reference
    within: tuple[str, ...] = ()
    surface: bool = False


class BringIn(BodyOperation, tag="bring_in", tag_field="kind", frozen=True, kw_only=True):
    """Bodies made elsewhere, to go on with: those that feeds bring into a part, or those that stand in an assembly.

    Attributes:
        bodies: where each comes from, by the id that it has here.
    """

    bodies: dict[str, BroughtBody] = {}

    @property
    def makes(self) -> tuple[str, ...]:
        """All of them."""
        return tuple(self.bodies)

    @property
    def kinds(self) -> dict[str, BodyKind]:
        """As they were when they were brought in."""
        return {k: "surface" if b.surface else "solid" for k, b in self.bodies.items()}


InPlaceKey = tuple[tuple[str, ...], str, str]
"""A body in an assembly: ids of the instances that lead to it, of its document, and its own."""


def brought_in(build: Iterable[Operation]) -> dict[InPlaceKey, str]:
    """The ids that bodies of instances have in the build list of their assembly."""
    return {
        (b.within, b.source.of, b.source.item): key
        for o in build
        if isinstance(o, BringIn)
        for key, b in o.bodies.items()
        if b.within
    }


def fed_bodies(build: Iterable[Operation], feeds: Iterable[Feed]) -> dict[str, tuple[str, str]]:
    """Of bodies that a build list brings in by feeds: their id here, and the document and body that each follows."""
    sources = {key: socket.source for feed in feeds for key, socket in feed.sockets.items()}
    return {
        key: (sources[b.source.item].of, sources[b.source.item].item)
        for o in build
        if isinstance(o, BringIn)
        for key, b in o.bodies.items()
        if b.source.item in sources
    }
