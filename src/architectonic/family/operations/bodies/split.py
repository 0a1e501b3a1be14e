"""The record of the operation split."""

from __future__ import annotations

from typing import Self

import msgspec

from architectonic.base.ids import IdSource
from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Reference


class Split(BodyOperation, tag="split", tag_field="kind", frozen=True, kw_only=True):
    """Bodies cut in two: what lies before the divider stays the body, what lies behind becomes a new one.

    Attributes:
        by: a plane, a face, which counts as extended where its surface has a natural extension, or a sketch, whose lines
            are carried on straight and stand square to its plane. Before it lies where the normal points; of lines what
            is on their left, within closed ones.
        flip: what lies behind stays.
        pieces: the new body of each body it acts on.
    """

    acts_on: tuple[str, ...]
    by: Reference
    flip: bool = False
    pieces: dict[str, str] = {}

    @property
    def makes(self) -> tuple[str, ...]:
        """What lies behind."""
        return tuple(self.pieces[b] for b in self.acts_on if b in self.pieces)

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return self.acts_on

    @property
    def origins(self) -> dict[str, str]:
        """What each new body comes from."""
        return {new: old for old, new in self.pieces.items()}

    def with_bodies(self, make_id: IdSource) -> Self:
        """A new body for each that is acted on and has none yet."""
        return msgspec.structs.replace(self, pieces={b: self.pieces.get(b) or make_id() for b in self.acts_on})
