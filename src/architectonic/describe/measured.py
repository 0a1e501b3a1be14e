"""Results of looking at finished bodies: figures, surveys, edges of surfaces, how fair they run."""

from __future__ import annotations

from architectonic.describe.results import Axis, Value, Vector


class SurveyPlace(Value, frozen=True):
    """A place of a survey: its figure (mm or rad), where it is, the face or edge there, and what lies opposite."""

    value: float
    at: Vector
    label: str
    other: str = ""


class SurveyResult(Value, frozen=True, kw_only=True):
    """What a survey of a body found.

    Attributes:
        places: the worst first.
        points (n, 3) float32 mm, triangles (m, 3) int32, values (m,) float32, as bytes: the picture of it; empty where there is none.
    """

    places: tuple[SurveyPlace, ...]
    points: bytes = b""
    triangles: bytes = b""
    values: bytes = b""


class FairnessResult(Value, frozen=True, kw_only=True):
    """What is looked at to see how fair a body runs.

    Attributes:
        points (n, 3), normals (n, 3) float32 and triangles (m, 3) int32, as bytes: fine facets with the normals of exact faces.
        edges: labels of those that are not straight; at, bends (k, 3) float32: points of all of them, and the curvature
            there, 1/mm, towards its centre; starts (e + 1,) int32: where those of each begin.
    """

    points: bytes
    normals: bytes
    triangles: bytes
    edges: tuple[str, ...]
    starts: bytes
    at: bytes
    bends: bytes


class Gauged(Value, frozen=True):
    """A figure between or of things: mm, mm2 or rad.

    Attributes:
        ends: for a length between two things, the points it lies between; axis: for a radius, what it is about.
    """

    value: float
    ends: tuple[Vector, ...] = ()
    axis: Axis | None = None


class SeamSeen(Value, frozen=True):
    """An edge of a surface (kernel.surfaces.joining.Seam), mm and rad."""

    label: str
    free: bool
    length: float
    gap: float | None
    beside: str
    angle: float
