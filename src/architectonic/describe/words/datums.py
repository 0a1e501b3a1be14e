"""The ways to place a datum, as sentences with the same blanks as operations."""

from __future__ import annotations

from architectonic.describe.words.blanks import Angle, Length, Number
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import Line, Plane, Point, RoundFace
from architectonic.family.placements import (
    CrossingAxis,
    FrameAt,
    LineAxis,
    LinePlane,
    MidPlane,
    OffsetPlane,
    PointAt,
    PointCrossing,
    PointHere,
    PointsAxis,
    PointsPlane,
    SquareAxis,
    SquarePlane,
    TangentPlane,
)
from architectonic.family.records import Datum


def _way(by: type, title: str, *blanks: object) -> Sentence:
    key = str(by.__struct_config__.tag)  # type: ignore[attr-defined]
    called = f"{title.split()[0]} 1"
    return Sentence(f"datum_{key}", title, "", called, blanks, needs=anywhere, by=by)  # type: ignore[arg-type]


WAYS = (
    _way(OffsetPlane, "Plane beside a plane", Plane("by.plane", "beside"), Length("by.distance", "at", "10 mm", signed=True)),
    _way(LinePlane, "Plane through a line, turned", Line("by.line", "through"), Angle("by.angle", "by", "45 deg"),
         Plane("by.base", "from", optional=True)),
    _way(SquarePlane, "Plane square to a curve", Line("by.line", "square to"), Number("by.share", "at the share", "0", signed=True)),
    _way(MidPlane, "Plane midway between two", Plane("by.first", "between"), Plane("by.second", "and")),
    _way(PointsPlane, "Plane through three points", Point("by.points.0", "through"), Point("by.points.1", ","), Point("by.points.2", "and")),
    _way(TangentPlane, "Plane touching a round face", RoundFace("by.face", "touching"), Angle("by.angle", "at", "0 deg")),
    _way(FrameAt, "Plane with an origin of its own", Point("by.origin", "at"), Plane("by.plane", "parallel to"),
         Line("by.along", "x along", optional=True)),
    _way(LineAxis, "Axis along a line", Line("by.line", "along")),
    _way(PointsAxis, "Axis through two points", Point("by.points.0", "from"), Point("by.points.1", "to")),
    _way(CrossingAxis, "Axis where two planes cross", Plane("by.first", "of"), Plane("by.second", "and")),
    _way(SquareAxis, "Axis square to a plane", Plane("by.plane", "square to"), Point("by.point", "through")),
    _way(PointHere, "Point at a point", Point("by.point", "at")),
    _way(PointAt, "Point at coordinates", Length("by.x", "x", "0 mm", signed=True), Length("by.y", "y", "0 mm", signed=True),
         Length("by.z", "z", "0 mm", signed=True)),
    _way(PointCrossing, "Point where a line crosses a plane", Line("by.line", "line"), Plane("by.plane", "and")),
)  # fmt: skip
DATUMS: dict[str, Sentence] = {s.key: s for s in WAYS}


def gives(sentence: Sentence) -> str:
    """What a way places: Plane, Axis or Point."""
    return sentence.title.split()[0]


def way_of(datum: Datum) -> Sentence:
    """The way that a datum is placed."""
    return next(s for s in WAYS if s.by is not None and isinstance(datum.by, s.by))
