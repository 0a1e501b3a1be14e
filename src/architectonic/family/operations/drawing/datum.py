"""Datums."""

from __future__ import annotations

from typing import Literal

from architectonic.family.operations.base import Operation
from architectonic.family.placements import AnyAxis, AnyPlane, AnyPoint


class Datum(Operation, tag="datum", tag_field="kind", frozen=True, kw_only=True):
    """A named plane, axis or point."""

    by: AnyPlane | AnyAxis | AnyPoint

    @property
    def gives(self) -> Literal["plane", "axis", "point"]:
        """What the datum is: plane, axis or point."""
        return "axis" if isinstance(self.by, AnyAxis) else "point" if isinstance(self.by, AnyPoint) else "plane"
