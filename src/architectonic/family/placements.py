"""What datums are placed by: planes, axes and points."""

from __future__ import annotations

from architectonic.family.references import Expression, Record, Reference


class OffsetPlane(Record, tag="offset", tag_field="kind", frozen=True, kw_only=True):
    """Parallel to a plane, at a distance along its normal."""

    plane: Reference
    distance: Expression


class LinePlane(Record, tag="line", tag_field="kind", frozen=True, kw_only=True):
    """Through a line, turned about it from a plane (None: from the plane that the line was drawn in)."""

    line: Reference
    angle: Expression
    base: Reference | None = None


class SquarePlane(Record, tag="square", tag_field="kind", frozen=True, kw_only=True):
    """Square to a curve, at a share of its length from its start (None: at its start)."""

    line: Reference
    share: Expression | None = None


class MidPlane(Record, tag="mid", tag_field="kind", frozen=True, kw_only=True):
    """Midway between two parallel planes, or halving the angle between two that cross."""

    first: Reference
    second: Reference


class PointsPlane(Record, tag="points", tag_field="kind", frozen=True, kw_only=True):
    """Through three points; its x runs from the first to the second."""

    points: tuple[Reference, Reference, Reference]


class TangentPlane(Record, tag="tangent", tag_field="kind", frozen=True, kw_only=True):
    """Touching a cylinder or cone; the angle about its axis is counted from the document's x, or its y."""

    face: Reference
    angle: Expression


class LineAxis(Record, tag="axis_line", tag_field="kind", frozen=True, kw_only=True):
    """Along a straight curve or edge, or along the axis of a round one."""

    line: Reference


class PointsAxis(Record, tag="axis_points", tag_field="kind", frozen=True, kw_only=True):
    """Through two points."""

    points: tuple[Reference, Reference]


class CrossingAxis(Record, tag="axis_planes", tag_field="kind", frozen=True, kw_only=True):
    """Where two planes cross."""

    first: Reference
    second: Reference


class SquareAxis(Record, tag="axis_square", tag_field="kind", frozen=True, kw_only=True):
    """Through a point, square to a plane."""

    plane: Reference
    point: Reference


class PointHere(Record, tag="point", tag_field="kind", frozen=True, kw_only=True):
    """At a point of something: an end, centre or vertex."""

    point: Reference


class PointAt(Record, tag="coordinates", tag_field="kind", frozen=True, kw_only=True):
    """At coordinates in the document."""

    x: Expression
    y: Expression
    z: Expression


class PointCrossing(Record, tag="crossing", tag_field="kind", frozen=True, kw_only=True):
    """Where a line crosses a plane."""

    line: Reference
    plane: Reference


class FrameAt(Record, tag="frame", tag_field="kind", frozen=True, kw_only=True):
    """A plane with an origin and an x of its own: through a point, parallel to a plane, x along a line."""

    origin: Reference
    plane: Reference
    along: Reference | None = None


AnyPlane = OffsetPlane | LinePlane | SquarePlane | MidPlane | PointsPlane | TangentPlane | FrameAt
AnyAxis = LineAxis | PointsAxis | CrossingAxis | SquareAxis
AnyPoint = PointHere | PointAt | PointCrossing
