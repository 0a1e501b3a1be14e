"""The record of the operation extrude."""

from __future__ import annotations

from architectonic.family.operations.base import Solid
from architectonic.family.references import Expression, Record, Reference


class Distance(Record, tag="distance", tag_field="kind", frozen=True, kw_only=True):
    """An end at a distance from the sketch's plane, along the direction of that side."""

    value: Expression


class ToFace(Record, tag="face", tag_field="kind", frozen=True, kw_only=True):
    """An end on a planar face, datum or point, extended as needed; `offset` carries on in the extrusion's direction."""

    target: Reference
    offset: Expression | None = None


class Through(Record, tag="through", tag_field="kind", frozen=True, kw_only=True):
    """An end beyond everything it acts on."""


class ToNext(Record, tag="next", tag_field="kind", frozen=True, kw_only=True):
    """An end where the first material begins, for what is added; where it ends, for what is cut."""


class Symmetric(Record, tag="symmetric", tag_field="kind", frozen=True, kw_only=True):
    """The near side mirrors the far side: the far distance is the whole length."""


Far = Distance | ToFace | Through | ToNext


Near = Distance | ToFace | Through | Symmetric


class Extrude(Solid, tag="extrude", tag_field="kind", frozen=True, kw_only=True):
    """Regions pushed along their plane's normal.

    Attributes:
        regions: regions of sketches or sockets, or planar faces; each is pushed along the normal of its own plane.
        flip: against the plane's normal, stored when made.
        far: where it ends; near: where it starts (None: on the plane).
        draft: how far its sides lean in towards the far end.
    """

    regions: tuple[Reference, ...]
    far: Far
    near: Near | None = None
    flip: bool = False
    draft: Expression | None = None
