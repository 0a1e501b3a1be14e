"""The record of the operation that moves curves along a path to a surface."""

from __future__ import annotations

from architectonic.family.operations.base import MakesSurface
from architectonic.family.references import Expression, Reference


class SweepSurface(MakesSurface, tag="sweep_surface", tag_field="kind", frozen=True, kw_only=True):
    """Curves moved along a path, turning with it.

    Attributes:
        rail: a second path that the far end of the curves follows, growing and shrinking with it.
        twist: by which they have turned about the path at its end; scale: how large they are there.
    """

    curves: tuple[Reference, ...]
    path: tuple[Reference, ...]
    rail: tuple[Reference, ...] = ()
    twist: Expression | None = None
    scale: Expression | None = None
