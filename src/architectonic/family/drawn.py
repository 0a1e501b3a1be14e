"""Records of sketches: drawn and traced curves in their plane, and what is said of them."""

from __future__ import annotations

from typing import Literal

from architectonic.base.places import PlaceKey
from architectonic.family.references import Expression, Record, Reference


class Line(Record, tag="line", tag_field="kind", frozen=True, kw_only=True):
    """A straight piece; start positions in the sketch's plane."""

    start: tuple[float, float]
    end: tuple[float, float]
    helper: bool = False


class Circle(Record, tag="circle", tag_field="kind", frozen=True, kw_only=True):
    """A full circle."""

    centre: tuple[float, float]
    radius: float
    helper: bool = False


class Arc(Record, tag="arc", tag_field="kind", frozen=True, kw_only=True):
    """Counter-clockwise from start to end about centre."""

    centre: tuple[float, float]
    start: tuple[float, float]
    end: tuple[float, float]
    helper: bool = False


class Point(Record, tag="point", tag_field="kind", frozen=True, kw_only=True):
    """A point of its own."""

    at: tuple[float, float]
    helper: bool = True


class Ellipse(Record, tag="ellipse", tag_field="kind", frozen=True, kw_only=True):
    """A full ellipse by its centre and an end of each half axis; `across` lies to the left of `along`."""

    centre: tuple[float, float]
    along: tuple[float, float]
    across: tuple[float, float]
    helper: bool = False


class EllipticArc(Record, tag="elliptic_arc", tag_field="kind", frozen=True, kw_only=True):
    """A part of an ellipse, counter-clockwise from start to end."""

    centre: tuple[float, float]
    along: tuple[float, float]
    across: tuple[float, float]
    start: tuple[float, float]
    end: tuple[float, float]
    helper: bool = False


class Spline(Record, tag="spline", tag_field="kind", frozen=True, kw_only=True):
    """A smooth curve by its control points, or through points when it has two end handles.

    Attributes:
        handles: ends of its first and last leg; () for one by control points.
        parameters: of the points that it passes through, from 0 to 1, written when it is drawn.
    """

    points: tuple[tuple[float, float], ...]
    handles: tuple[tuple[float, float], ...] = ()
    parameters: tuple[float, ...] = ()
    helper: bool = False


class Text(Record, tag="text", tag_field="kind", frozen=True, kw_only=True):
    """A line of text whose outlines bound regions: ends of its base line, and the upper corner over its start.

    From `at` to `over` is the height of a capital letter.
    """

    text: str
    at: tuple[float, float]
    along: tuple[float, float]
    over: tuple[float, float]
    helper: bool = False


class Trace(Record, tag="trace", tag_field="kind", frozen=True, kw_only=True):
    """A curve or point brought in; it stands where its source stands.

    Attributes:
        source: a curve, edge, point or axis; of a section the body, its label saying which face is cut.
        how: projected square on the plane; where it crosses the plane; or the cut of a body by the plane.
        drawn: where it stood when the sketch was drawn (sketch.kinds.names_of), as start positions do for the rest.
    """

    source: Reference
    how: Literal["projected", "crossing", "section"] = "projected"
    drawn: tuple[float, ...] = ()
    helper: bool = False


Curve = Line | Circle | Arc | Ellipse | EllipticArc | Spline | Text | Point | Trace

ConstraintKind = Literal[
    "coincident", "horizontal", "vertical", "parallel", "perpendicular", "equal", "tangent", "on_curve",
    "distance", "horizontal_distance", "vertical_distance", "angle", "radius", "diameter", "fix",
    "collinear", "concentric", "midpoint", "symmetric", "arc_length", "smooth",
    "offset", "mirrored", "shifted", "turned", "count",
]  # fmt: skip
DIMENSIONS = (
    "distance", "horizontal_distance", "vertical_distance", "angle", "radius", "diameter", "arc_length",
    "offset", "shifted", "turned", "count",
)  # fmt: skip
ANGLES = ("angle", "turned")
"""Dimensions whose value is an angle."""


COUNT = "count"
"""How many there are in a row or ring of copies, with the first: says which of those that are drawn are there."""


def quantity_of(kind: str) -> Literal["angle", "length", "number"]:
    """What a kind of dimension measures."""
    return "number" if kind == COUNT else "angle" if kind in ANGLES else "length"


class Constraint(Record, frozen=True, kw_only=True):
    """A sketch constraint; a dimension drives with its value, and one without a value is a read-out.

    Attributes:
        of: places such as "c1", "c1.start", "c2.centre", "origin", "x_axis", "y_axis".
        value: of dimensions that drive; own: of single sizes or rows.
        name: of dimensions that expressions may use ("" for none).
        branch: +1 or -1, the side chosen when it was made; never written by solving.
        at: where its text stands, in the sketch's plane.
    """

    id: str
    kind: ConstraintKind
    of: tuple[PlaceKey, ...]
    value: Expression | None = None
    own: dict[str, Expression] = {}
    name: str = ""
    branch: int = 1
    at: tuple[float, float] | None = None

    @property
    def reads(self) -> bool:
        """Whether it is a read-out: it shows a figure and decides nothing."""
        return self.value is None and self.kind in DIMENSIONS

    @property
    def solves(self) -> bool:
        """Whether it is among what the solver makes true."""
        return not self.reads and self.kind != COUNT
