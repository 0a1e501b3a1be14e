"""The record of the operation shell."""

from __future__ import annotations

from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Expression, Record, Reference


class OwnWall(Record, frozen=True, kw_only=True):
    """A face with a wall of its own thickness."""

    face: Reference
    thickness: Expression


class Shell(BodyOperation, tag="shell", tag_field="kind", frozen=True, kw_only=True):
    """Bodies hollowed to a wall.

    Attributes:
        faces: those that are left open.
        outside: the wall stands outside of what was solid.
        own: faces with a wall of another thickness.
    """

    acts_on: tuple[str, ...]
    faces: tuple[Reference, ...] = ()
    thickness: Expression
    outside: bool = False
    own: tuple[OwnWall, ...] = ()

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return self.acts_on
