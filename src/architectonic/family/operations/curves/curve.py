"""The record of curves in space that follow from surfaces and drawings."""

from __future__ import annotations

from typing import ClassVar

from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Expression, Record, Reference


class Crossing(Record, tag="crossing", tag_field="kind", frozen=True, kw_only=True):
    """Where two surfaces, faces or planes meet; a reference without a label means all of a body."""

    first: Reference
    second: Reference


class TwoViews(Record, tag="two_views", tag_field="kind", frozen=True, kw_only=True):
    """What looks like one drawing from one side, and like another from another side."""

    first: tuple[Reference, ...]
    second: tuple[Reference, ...]


class LaidOn(Record, tag="laid_on", tag_field="kind", frozen=True, kw_only=True):
    """A drawing laid on a surface or solid, square to its plane, where it is met first."""

    curves: tuple[Reference, ...]
    onto: Reference


class WrappedOn(Record, tag="wrapped_on", tag_field="kind", frozen=True, kw_only=True):
    """A drawing wrapped around a cylindrical face without stretching; its plane stands along the axis."""

    curves: tuple[Reference, ...]
    onto: Reference


class Isoline(Record, tag="isoline", tag_field="kind", frozen=True, kw_only=True):
    """A line over a face along one of its two ways, at a share of the other."""

    face: Reference
    share: Expression
    across: bool = False


class SpaceCurve(BodyOperation, tag="curve", tag_field="kind", frozen=True, kw_only=True):
    """A curve in space."""

    draws: ClassVar[bool] = True

    by: Crossing | TwoViews | LaidOn | WrappedOn | Isoline
