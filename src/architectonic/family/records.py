"""The documents of a family as frozen data (docs/format.md).

Nothing here computes; every edit makes new records (family.edits). Coordinates are mm, angles rad, in the frame
that the field names. Order matters in tuples; everything else is keyed by id.
"""

from __future__ import annotations

from typing import Literal

import msgspec

FORMAT = 1
MATCH = "match"
"""Configuration rule: take the source's configuration for the same size (docs/decisions/0003)."""
SELF = "self"
"""A reference to the document it stands in, so that a copy of the file is a fork."""
DEFAULT_SIZE = "default"
STANDARD_PLANES = ("front", "top", "right")
STANDARD_AXES = ("x", "y", "z")
ORIGIN = "origin"
STANDARD = (*STANDARD_PLANES, *STANDARD_AXES, ORIGIN)
"""What every document has by itself: three planes, the axes along which they cross, and the point where they meet."""


class Record(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    omit_defaults=True,
    forbid_unknown_fields=True,
    cache_hash=False,
):
    """Common settings of all stored records."""


class ValueRef(Record, frozen=True, kw_only=True):
    """What a name in an expression means: the feed of one parameter or sketch dimension."""

    document: str = SELF
    item: str
    configuration: str = MATCH


class Expression(Record, frozen=True, kw_only=True):
    """Text as typed and what its names mean; ids decide, the text is redrawn from current names.

    Attributes:
        choices: of an expression that yields a size or row: the id behind each name that it may yield.
    """

    text: str
    refs: dict[str, ValueRef] = {}
    choices: dict[str, str] = {}


class Witness(Record, frozen=True, kw_only=True):
    """What was picked, at the time: for honest repair and to catch a wrong match; never written by evaluation.

    Attributes:
        kind: plane, cylinder, ... of a face; line, circle, ... of an edge or curve.
        convex: of an edge: convex, concave or smooth.
        neighbours: labels of the faces around.
        at, normal, size: where it was and how large; they only rank candidates.
    """

    kind: str
    convex: str = ""
    neighbours: tuple[str, ...] = ()
    at: tuple[float, ...] = ()
    normal: tuple[float, ...] = ()
    size: float | None = None


class Context(Record, frozen=True, kw_only=True):
    """Through which assembly path and alternate a neighbour was seen."""

    path: tuple[str, ...]
    alternate: str = ""


class Reference(Record, frozen=True, kw_only=True):
    """A pointer at something that is made.

    Attributes:
        of: id of the document, or "self".
        item: operation, body, socket, or one of STANDARD.
        stage: "here", "after:<operation id>" or "finished".
        label: which face, edge, vertex, curve, point of a curve or region of the item ("" for the whole).
        configuration: "match", or the id of a size or row that is always taken.
        chosen: an expression that yields the name of the configuration instead.
    """

    of: str = SELF
    item: str
    stage: str = "finished"
    label: str = ""
    configuration: str = MATCH
    chosen: Expression | None = None
    witness: Witness | None = None
    context: Context | None = None


Takes = Literal["curve", "region", "plane", "face", "edge", "vertex", "axis", "section", "layout"]
"""What a socket holds. An axis is that of a round face or edge; a section is a body, cut where it is traced; a layout
is taken whole, as the common frame."""


class Socket(Record, frozen=True, kw_only=True):
    """One place of a feed that downstream work holds on to; re-pointing changes only this.

    Attributes:
        map: old source labels to new ones, written once when the socket was re-pointed.
    """

    takes: Takes
    source: Reference
    map: dict[str, str] = {}


class Feed(Record, frozen=True, kw_only=True):
    """One recorded dependency: things of one driver that are taken into this document."""

    name: str
    state: Literal["live", "pinned", "severed"] = "live"
    sockets: dict[str, Socket] = {}


class Parameter(Record, frozen=True, kw_only=True):
    """A named value: one common expression, and own ones per size or row (blank = parent's, else common).

    Attributes:
        group: the heading it stands under; the rows of a group stand together.
    """

    id: str
    name: str
    quantity: str = "length"
    unit: str = "mm"
    common: Expression
    own: dict[str, Expression] = {}
    group: str = ""
    note: str = ""


class Link(Record, frozen=True, kw_only=True):
    """A spreadsheet that drives values: their stored expressions are what was accepted from it last.

    Attributes:
        file: relative to the family's folder, with forward slashes; or absolute.
        sheet: of a workbook, "" for its first.
        name_column, unit_column: headings of the columns of names and of units ("" for none: the rows' own units).
        columns: the heading of the column behind each cell: "" for the common value, else a size or row.
        rows: the name in the file behind each parameter, by its id.
        at_once: new values are taken without being asked about.
    """

    name: str
    file: str
    sheet: str = ""
    name_column: str
    unit_column: str = ""
    columns: dict[str, str] = {}
    rows: dict[str, str] = {}
    at_once: bool = False


class Rule(Record, frozen=True, kw_only=True):
    """A comparison that must hold, and the sentence that is shown when it does not."""

    id: str
    name: str
    holds: Expression
    message: str = ""


Figure = Literal["volume", "area", "box", "centre"]


class Guard(Record, frozen=True, kw_only=True):
    """A value or a body that must stay as it was recorded; it stands first in every impact.

    Attributes:
        value: what is watched, or
        body: the body that is, with
        figures: which measurements of it.
        recorded: what they were, by size or row, in internal units.
        within: how far they may move; nothing at all when absent.
    """

    id: str
    name: str
    value: Expression | None = None
    body: Reference | None = None
    figures: tuple[Figure, ...] = ()
    recorded: dict[str, tuple[float, ...]] = {}
    within: Expression | None = None
    message: str = ""


class Configuration(Record, frozen=True, kw_only=True):
    """A row of a document; `size` says for which size it stands ("" for none)."""

    id: str
    name: str
    parent: str = ""
    size: str = ""


class Switch(Record, frozen=True, kw_only=True):
    """Whether an operation is on: by default, and per size or row."""

    default: bool = True
    own: dict[str, bool] = {}


# --- sketches -------------------------------------------------------------------------------------------


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
    "offset", "mirrored", "shifted", "turned",
]  # fmt: skip
DIMENSIONS = (
    "distance", "horizontal_distance", "vertical_distance", "angle", "radius", "diameter", "arc_length",
    "offset", "shifted", "turned",
)  # fmt: skip
ANGLES = ("angle", "turned")
"""Dimensions whose value is an angle."""


def quantity_of(kind: str) -> Literal["angle", "length"]:
    """What a kind of dimension measures."""
    return "angle" if kind in ANGLES else "length"


class Constraint(Record, frozen=True, kw_only=True):
    """A sketch constraint; a dimension drives with its value, and one without a value is a read-out.

    Attributes:
        of: places such as "c1", "c1.start", "c2.centre", "origin", "x_axis", "y_axis".
        value: of dimensions that drive.
        name: of dimensions that expressions may use ("" for none).
        branch: +1 or -1, the side chosen when it was made; never written by solving.
        at: where its text stands, in the sketch's plane.
    """

    id: str
    kind: ConstraintKind
    of: tuple[str, ...]
    value: Expression | None = None
    name: str = ""
    branch: int = 1
    at: tuple[float, float] | None = None

    @property
    def reads(self) -> bool:
        """Whether it is a read-out: it shows a figure and decides nothing."""
        return self.value is None and self.kind in DIMENSIONS


# --- operations -----------------------------------------------------------------------------------------


class Operation(Record, frozen=True, kw_only=True):
    """Common to all entries of a build list."""

    id: str
    name: str
    switch: Switch = Switch()


class Sketch(Operation, tag="sketch", tag_field="kind", frozen=True, kw_only=True):
    """Curves on a plane.

    Attributes:
        plane: a standard plane, a datum, a planar face or a socket holding one.
        along: which document axis gives the sketch's x, stored as a choice when made.
    """

    plane: Reference
    along: Literal["x", "y"] = "x"
    curves: dict[str, Curve] = {}
    constraints: tuple[Constraint, ...] = ()


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


class Datum(Operation, tag="datum", tag_field="kind", frozen=True, kw_only=True):
    """A named plane, axis or point."""

    by: AnyPlane | AnyAxis | AnyPoint

    @property
    def gives(self) -> Literal["plane", "axis", "point"]:
        """What it is."""
        return "axis" if isinstance(self.by, AnyAxis) else "point" if isinstance(self.by, AnyPoint) else "plane"


class Underlay(Operation, tag="underlay", tag_field="kind", frozen=True, kw_only=True):
    """A picture on a plane, to draw over.

    Attributes:
        plane, along: as those of a sketch.
        file: in the folder `files/` of the family.
        pixels: its width and height.
        at: its lower left corner on the plane, mm, before it is turned about that corner.
        width: how wide the whole picture is.
        turn: rad, counter-clockwise.
        crop: shares of the picture that are left out at its left, bottom, right and top.
    """

    plane: Reference
    along: Literal["x", "y"] = "x"
    file: str
    pixels: tuple[int, int]
    at: tuple[float, float] = (0.0, 0.0)
    width: Expression
    turn: float = 0.0
    opacity: float = 0.5
    crop: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)


class Distance(Record, tag="distance", tag_field="kind", frozen=True, kw_only=True):
    """An end at a distance from the sketch's plane, along the direction of that side."""

    value: Expression


class ToPlane(Record, tag="plane", tag_field="kind", frozen=True, kw_only=True):
    """An end on a planar face or datum, extended as needed; `offset` carries on in the extrusion's direction."""

    target: Reference
    offset: Expression | None = None


class Symmetric(Record, tag="symmetric", tag_field="kind", frozen=True, kw_only=True):
    """The near side mirrors the far side: the far distance is the whole length."""


class Extrude(Operation, tag="extrude", tag_field="kind", frozen=True, kw_only=True):
    """Regions pushed along their plane's normal.

    Attributes:
        does: make a body, add to, cut from, or keep the overlap with bodies.
        regions: regions of sketches or sockets, all on one plane.
        acts_on: ids of the bodies it changes; for "make", the id of the body it makes.
        flip: against the plane's normal, stored when made.
        far: where it ends; near: where it starts (None: on the plane).
    """

    does: Literal["make", "add", "cut", "overlap"]
    regions: tuple[Reference, ...]
    acts_on: tuple[str, ...]
    far: Distance | ToPlane
    near: Distance | ToPlane | Symmetric | None = None
    flip: bool = False


class Fillet(Operation, tag="fillet", tag_field="kind", frozen=True, kw_only=True):
    """Edges rounded with one radius."""

    edges: tuple[Reference, ...]
    radius: Expression


AnyOperation = Sketch | Datum | Underlay | Extrude | Fillet


class Body(Record, frozen=True, kw_only=True):
    """What is said of a body: its name and properties. Its shape comes from operations."""

    name: str
    density: Expression | None = None
    material: str = ""
    backdrop_only: bool = False


# --- documents ------------------------------------------------------------------------------------------


class Document(Record, frozen=True, kw_only=True):
    """Common to all documents.

    Attributes:
        number: what it is listed and ordered by; no two are alike, "" for none.
    """

    format: int = msgspec.field(default_factory=lambda: FORMAT)
    id: str
    name: str
    number: str = ""
    note: str = ""
    parameters: tuple[Parameter, ...] = ()
    rules: tuple[Rule, ...] = ()
    guards: tuple[Guard, ...] = ()
    configurations: tuple[Configuration, ...] = ()
    links: dict[str, Link] = {}

    @property
    def checked(self) -> tuple[Rule | Guard, ...]:
        """Its rules and guards."""
        return (*self.rules, *self.guards)

    @property
    def kind(self) -> str:
        """The word for what this is: table, layout, part, assembly."""
        return str(self.__struct_config__.tag)


class Table(Document, tag="table", tag_field="kind", frozen=True, kw_only=True):
    """Named values that drive other documents."""


class Model(Document, frozen=True, kw_only=True):
    """A document with a build list."""

    feeds: dict[str, Feed] = {}
    build: tuple[AnyOperation, ...] = ()
    bodies: dict[str, Body] = {}


class Layout(Model, tag="layout", tag_field="kind", frozen=True, kw_only=True):
    """Sketches and datums, no solids."""


class Part(Model, tag="part", tag_field="kind", frozen=True, kw_only=True):
    """Bodies made from what drives them."""


class Instance(Record, frozen=True, kw_only=True):
    """One placed use of a part or assembly, on the shared origin."""

    id: str
    name: str
    document: str
    configuration: str = MATCH


class Assembly(Model, tag="assembly", tag_field="kind", frozen=True, kw_only=True):
    """Parts in place, with sketches and datums of its own."""

    instances: tuple[Instance, ...] = ()


AnyDocument = Table | Layout | Part | Assembly


class Size(Record, frozen=True, kw_only=True):
    """One size of the family; the first is the default."""

    id: str
    name: str


class Head(Record, frozen=True, kw_only=True):
    """The file family.json; it lists no documents."""

    format: int = msgspec.field(default_factory=lambda: FORMAT)
    id: str
    name: str
    units: str = "mm"
    sizes: tuple[Size, ...] = ()


class Family(msgspec.Struct, frozen=True, kw_only=True):
    """A whole family in memory; documents are keyed by id and never changed in place."""

    head: Head
    documents: dict[str, AnyDocument] = {}
