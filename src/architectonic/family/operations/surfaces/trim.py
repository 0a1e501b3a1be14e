"""The record of the operation trim."""

from __future__ import annotations

from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Record, Reference


class PieceChoice(Record, frozen=True, kw_only=True):
    """Whether a piece of a surface stays. It is known by what bounds it, never by where it lies.

    Attributes:
        of: id of the surface that it is a piece of.
        sides: what cuts it, and on which side of that it lies: `<body, datum or face>:before`.
        bounds: the faces of what cuts it in the same way; rims: what else bounds it; faces: those it has a part of: by these
            pieces with the same sides are told apart.
        keep: it stays.
    """

    of: str
    sides: tuple[str, ...]
    bounds: tuple[str, ...] = ()
    rims: tuple[str, ...] = ()
    faces: tuple[str, ...] = ()
    keep: bool = True


class Trim(BodyOperation, tag="trim", tag_field="kind", frozen=True, kw_only=True):
    """Surfaces cut by each other, of which some pieces stay.

    Attributes:
        tools: surfaces that cut them and stay whole; by: planes and faces that do, which count as extended.
        pieces: what was decided of each; one that is not among them is asked about.
    """

    acts_on: tuple[str, ...]
    tools: tuple[str, ...] = ()
    by: tuple[Reference, ...] = ()
    pieces: tuple[PieceChoice, ...] = ()

    @property
    def changes(self) -> tuple[str, ...]:
        """The surfaces that lose pieces."""
        return self.acts_on
