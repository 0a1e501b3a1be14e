"""The ways to place a datum, as sentences with the same blanks as operations."""

from __future__ import annotations

from architectonic.describe.words.blanks import Angle, Length, Number
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import LineBlank, PlaneBlank, PointBlank, RoundFace
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
    _way(OffsetPlane, "Plane beside a plane", PlaneBlank("by.plane", "beside"), Length("by.distance", "at", "10 mm", signed=True)),
    _way(LinePlane, "Plane through a line, turned", LineBlank("by.line", "through"), Angle("by.angle", "by", "45 deg"),
         PlaneBlank("by.base", "from", optional=True)),
    _way(SquarePlane, "Plane square to a curve", LineBlank("by.line", "square to"), Number("by.share", "at the share", "0", signed=True)),
    _way(MidPlane, "Plane midway between two", PlaneBlank("by.first", "between"), PlaneBlank("by.second", "and")),
    _way(PointsPlane, "Plane through three points", PointBlank("by.points.0", "through"), PointBlank("by.points.1", ","), PointBlank("by.points.2", "and")),
    _way(TangentPlane, "Plane touching a round face", RoundFace("by.face", "touching"), Angle("by.angle", "at", "0 deg")),
    _way(FrameAt, "Plane with an origin of its own", PointBlank("by.origin", "at"), PlaneBlank("by.plane", "parallel to"),
         LineBlank("by.along", "x along", optional=True)),
    _way(LineAxis, "Axis along a line", LineBlank("by.line", "along")),
    _way(PointsAxis, "Axis through two points", PointBlank("by.points.0", "from"), PointBlank("by.points.1", "to")),
    _way(CrossingAxis, "Axis where two planes cross", PlaneBlank("by.first", "of"), PlaneBlank("by.second", "and")),
    _way(SquareAxis, "Axis square to a plane", PlaneBlank("by.plane", "square to"), PointBlank("by.point", "through")),
    _way(PointHere, "Point at a point", PointBlank("by.point", "at")),
    _way(PointAt, "Point at coordinates", Length("by.x", "x", "0 mm", signed=True), Length("by.y", "y", "0 mm", signed=True),
         Length("by.z", "z", "0 mm", signed=True)),
    _way(PointCrossing, "Point where a line crosses a plane", LineBlank("by.line", "line"), PlaneBlank("by.plane", "and")),
)  # fmt: skip
DATUMS: dict[str, Sentence] = {s.key: s for s in WAYS}


def gives(sentence: Sentence) -> str:
    """What a way places: Plane, Axis or Point."""
    return sentence.title.split()[0]


def way_of(datum: Datum) -> Sentence:
    """The way that a datum is placed."""
    return next(s for s in WAYS if s.by is not None and isinstance(datum.by, s.by))
