"""The record of the operation that makes a surface at a distance from faces."""

from __future__ import annotations

from architectonic.family.operations.base import MakesSurface
from architectonic.family.references import Expression, Reference


class OffsetSurface(MakesSurface, tag="offset", tag_field="kind", frozen=True, kw_only=True):
    """Faces of bodies, or whole surfaces, again at a distance along their normals; none for a copy in place.

    Attributes:
        faces: a reference without a label means all of a body.
        flip: against the normals.
    """

    faces: tuple[Reference, ...]
    distance: Expression | None = None
    flip: bool = False
