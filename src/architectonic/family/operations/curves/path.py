"""The record of a path in space."""

from __future__ import annotations

from typing import ClassVar, Literal

from architectonic.family.operations.base import BodyOperation
from architectonic.family.references import Expression, Record, Reference

RuleKind = Literal[
    "meets", "along_x", "along_y", "along_z", "level_x", "level_y", "level_z",
    "coordinate_x", "coordinate_y", "coordinate_z", "step_x", "step_y", "step_z",
    "apart", "corner", "parallel", "square", "equal", "in_plane", "on_line", "mirrored",
]  # fmt: skip
VALUED: dict[str, str] = {
    **{f"{k}_{a}": "length" for k in ("coordinate", "step") for a in "xyz"},
    "apart": "length", "corner": "angle", "in_plane": "length",
}  # fmt: skip
"""Quantities of those that take a value; in_plane may go without one."""
TIED: dict[str, str] = {"meets": "point", "in_plane": "plane", "on_line": "line", "mirrored": "plane"}
"""What those that tie a point to something else take."""


class PathPoint(Record, frozen=True, kw_only=True):
    """A point that a path goes through.

    Attributes:
        at: where it was drawn, mm.
        bend: radius of the bend there, where it has one of its own.
    """

    at: tuple[float, float, float]
    bend: Expression | None = None


class PathRule(Record, frozen=True, kw_only=True):
    """What holds between points of a path, or ties one to something else.

    Attributes:
        of: ids of points; a leg is two points. to: what a point is tied to.
        value: signed coordinates and steps; lengths and angles otherwise.
        before: on which side of a plane a point at a distance from it lies: 1 where its normal points, or -1.
    """

    id: str
    kind: RuleKind
    of: tuple[str, ...]
    to: Reference | None = None
    value: Expression | None = None
    name: str = ""
    before: int = 1


class SpacePath(BodyOperation, tag="path", tag_field="kind", frozen=True, kw_only=True):
    """A path in space: straight legs with bends at their corners, or a smooth curve through its points.

    Attributes:
        points: by id; order: in which it goes through them; closed: from the last back to the first.
        rules: what holds them.
        bend: radius at all corners that have none of their own; None for sharp ones.
        smooth: a curve through the points instead of legs.
        mirror: a plane that the path ends on; its mirror image goes on from there.
        tool: the smallest radius that it can be bent to; spring: the angle that is bent for one that is wanted, `bend` in it.
    """

    draws: ClassVar[bool] = True

    points: dict[str, PathPoint] = {}
    order: tuple[str, ...] = ()
    rules: tuple[PathRule, ...] = ()
    closed: bool = False
    bend: Expression | None = None
    smooth: bool = False
    mirror: Reference | None = None
    tool: Expression | None = None
    spring: Expression | None = None
