"""The record of the operation that reads bodies from a file."""

from __future__ import annotations

from typing import Literal

from architectonic.family.operations.base import BodyKind, BodyOperation
from architectonic.family.references import Record

LengthUnit = Literal["", "mm", "cm", "m", "in", "ft"]


class OutsideBody(Record, frozen=True, kw_only=True):
    """A body of a file.

    Attributes:
        path: names of the uses that lead to it in the file, the outermost first.
        box: lowest and highest x, y and z, mm: of what stands in for it where its file is missing.
        surface: it encloses nothing.
    """

    path: tuple[str, ...]
    box: tuple[float, ...]
    surface: bool = False


class Outside(BodyOperation, tag="outside", tag_field="kind", frozen=True, kw_only=True):
    """Bodies that were made elsewhere, read from a file.

    Attributes:
        file: where it was read from: relative to the family's folder, or absolute.
        content: name of the kept file that was accepted last (base.kept).
        bodies: by the id that each has here.
        unit: that its lengths are taken in, "" for what the file says.
        placed: they stand as the file places them; otherwise as their own product has them.
    """

    file: str
    content: str
    bodies: dict[str, OutsideBody] = {}
    unit: LengthUnit = ""
    placed: bool = True

    @property
    def makes(self) -> tuple[str, ...]:
        """All of them."""
        return tuple(self.bodies)

    @property
    def kinds(self) -> dict[str, BodyKind]:
        """Those that enclose nothing are surfaces."""
        return {k: "surface" if b.surface else "solid" for k, b in self.bodies.items()}
