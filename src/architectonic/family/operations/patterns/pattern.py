"""The records of patterns: operations and bodies made again in other places."""

from __future__ import annotations

import msgspec

from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Expression, Record, Reference


class Row(Record, tag="row", tag_field="kind", frozen=True, kw_only=True):
    """Along a direction.

    Attributes:
        count: how many there are with the first; step: from one to the next, or over all of them (`over`).
    """

    direction: Reference
    count: Expression
    step: Expression
    over: bool = False
    flip: bool = False


class TwoWays(Record, tag="rows", tag_field="kind", frozen=True, kw_only=True):
    """Along two directions."""

    direction: Reference
    count: Expression
    step: Expression
    second: Reference
    second_count: Expression
    second_step: Expression


class Ring(Record, tag="ring", tag_field="kind", frozen=True, kw_only=True):
    """About an axis.

    Attributes:
        angle: over all of them, the last one included unless it is a whole turn; or from one to the next (`each`).
        base: the point that goes around while all keep their direction; None where they turn with it.
    """

    axis: Reference
    count: Expression
    angle: Expression
    each: bool = False
    flip: bool = False
    base: Reference | None = None


class Along(Record, tag="along", tag_field="kind", frozen=True, kw_only=True):
    """Along curves and edges that meet end to end, from the start of the first one.

    Attributes:
        step: along the path; None spreads them over all of it.
        turned: they turn with the path.
    """

    path: tuple[Reference, ...]
    count: Expression
    step: Expression | None = None
    turned: bool = False


class AtPoints(Record, tag="points", tag_field="kind", frozen=True, kw_only=True):
    """At the points of a sketch, as the first one stands to a point."""

    sketch: Reference
    base: Reference


class TableRow(Record, frozen=True, kw_only=True):
    """How far one is put along the document's axes, and turned about its z axis through the first one's base."""

    x: Expression
    y: Expression
    z: Expression
    angle: Expression | None = None


class ByTable(Record, tag="table", tag_field="kind", frozen=True, kw_only=True):
    """By a table of places, from a point on.

    Attributes:
        rows: by id, in order.
    """

    base: Reference
    rows: dict[str, TableRow]


class Mirrored(Record, tag="mirrored", tag_field="kind", frozen=True, kw_only=True):
    """In a plane or flat face."""

    plane: Reference


AnyPattern = Row | TwoWays | Ring | Along | AtPoints | ByTable | Mirrored


class PatternSteps(BodyOperation, tag="pattern", tag_field="kind", frozen=True, kw_only=True):
    """Operations done again in other places.

    Attributes:
        of: earlier operations of the build list, of the stage "here".
        left_out: keys of the members that are not made; only_if: a condition on the number `n` of a member.
    """

    of: tuple[Reference, ...]
    acts_on: tuple[str, ...]
    by: AnyPattern
    left_out: tuple[str, ...] = ()
    only_if: Expression | None = None

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return self.acts_on


class PatternBodies(BodyOperation, tag="pattern_bodies", tag_field="kind", frozen=True, kw_only=True):
    """Bodies made again in other places.

    Attributes:
        apart: the copies are bodies of their own; else they become one with the body that they come from.
        copies: of each member and body (`2/b1`) the new body; those of members that are not there here are not made.
    """

    acts_on: tuple[str, ...]
    by: AnyPattern
    apart: bool = False
    copies: dict[str, str] = {}
    left_out: tuple[str, ...] = ()
    only_if: Expression | None = None

    @property
    def makes(self) -> tuple[str, ...]:
        """The copies that are bodies of their own."""
        return tuple(self.copies.values())

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on, when copies become one with it."""
        return () if self.apart else self.acts_on

    @property
    def origins(self) -> dict[str, str]:
        """What each new body comes from."""
        return {new: key.rpartition("/")[2] for key, new in self.copies.items()}

    def with_members(self, keys: tuple[str, ...], new: dict[str, str]) -> PatternBodies:
        """The same with a body for each of some members; those that have one keep it.

        Args:
            new: ids for members and bodies that have none yet.
        """
        wanted = [f"{k}/{b}" for k in keys for b in self.acts_on] if self.apart else []
        return msgspec.structs.replace(self, copies={w: self.copies.get(w) or new[w] for w in wanted})
