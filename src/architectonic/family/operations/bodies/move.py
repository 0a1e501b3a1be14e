"""The record of the operation move."""

from __future__ import annotations

from typing import Self

import msgspec

from architectonic.base.ids import IdSource
from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Expression, Record, Reference


class Shift(Record, tag="shift", tag_field="kind", frozen=True, kw_only=True):
    """Along the document's axes."""

    x: Expression
    y: Expression
    z: Expression


class Turn(Record, tag="turn", tag_field="kind", frozen=True, kw_only=True):
    """About a line."""

    axis: Reference
    angle: Expression


class Align(Record, tag="align", tag_field="kind", frozen=True, kw_only=True):
    """So that a point comes to lie on another, a line in another, or a plane with its x on another.

    Attributes:
        flip: turned over: a line the other way round, a plane face to face.
    """

    start: Reference
    target: Reference
    flip: bool = False


class Mirror(Record, tag="mirror", tag_field="kind", frozen=True, kw_only=True):
    """In a plane: the opposite hand.

    Attributes:
        readable: texts that were engraved before read right on what is mirrored too.
        threads: keep their hand, as screws do.
    """

    plane: Reference
    readable: bool = True
    threads: bool = True


class Scale(Record, tag="scale", tag_field="kind", frozen=True, kw_only=True):
    """About a point, evenly."""

    point: Reference
    factor: Expression


class Back(Record, tag="back", tag_field="kind", frozen=True, kw_only=True):
    """What an earlier move did, taken back.

    Attributes:
        move: the operation that moved them, of the stage "here".
    """

    move: Reference


class Move(BodyOperation, tag="move", tag_field="kind", frozen=True, kw_only=True):
    """Bodies, or copies of them, put elsewhere.

    Attributes:
        copies: the new body of each body it acts on; {} when they are moved themselves.
    """

    acts_on: tuple[str, ...]
    by: Shift | Turn | Align | Mirror | Scale | Back
    copies: dict[str, str] = {}

    @property
    def makes(self) -> tuple[str, ...]:
        """The copies."""
        return tuple(self.copies[b] for b in self.acts_on if b in self.copies)

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return () if self.copies else self.acts_on

    @property
    def origins(self) -> dict[str, str]:
        """What each new body comes from."""
        return {new: old for old, new in self.copies.items()}

    def with_bodies(self, make_id: IdSource) -> Self:
        """A new body for each that is acted on and has none yet."""
        if not self.copies:
            return self
        return msgspec.structs.replace(self, copies={b: self.copies.get(b) or make_id() for b in self.acts_on})
