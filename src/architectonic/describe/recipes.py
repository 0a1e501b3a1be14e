"""Inputs of recipes as plain data. Their encoding is hashed to the key of the result, and travels to workers."""

from __future__ import annotations

from typing import Literal

from architectonic.base.places import PlaceKey
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.results import Axis, Frame, Loops, PieceResult, Value, Vector
from architectonic.family.records import Witness


class CurveInput(Value, frozen=True, array_like=True):
    """A curve to solve: start values in the order of sketch.kinds.names_of, and what goes along unchanged."""

    id: str
    kind: str
    values: tuple[float, ...]
    helper: bool
    fixed: bool
    drawn: tuple[float, ...] = ()
    data: tuple[float, ...] = ()
    text: str = ""


class ConstraintInput(Value, frozen=True, array_like=True):
    """A constraint with its value in mm or rad."""

    id: str
    kind: str
    of: tuple[PlaceKey, ...]
    value: float | None
    branch: int


class SolveInput(Value, frozen=True, array_like=True):
    """A sketch to solve."""

    curves: tuple[CurveInput, ...]
    constraints: tuple[ConstraintInput, ...]


Height = tuple[float, float, float]
"""(c, a, b): c + a u + b v at the point (u, v) of a plane, mm; a and b are zero where the height is the same all over."""


class Wanted(Value, frozen=True, array_like=True):
    """A face or edge to find by label, and what is known of it."""

    label: str
    witness: Witness | None = None


class Until(Value, frozen=True):
    """An end on a curved face: what it is, and in which of the shapes that come along."""

    face: Wanted
    shape: int


End = Height | Literal["through", "next"] | Until


class Area(Value, frozen=True):
    """Connected areas of one plane: of each its loops, outer first."""

    frame: Frame
    areas: tuple[Loops, ...]


Way = tuple[tuple[Frame, PieceResult, tuple[float, ...]], ...]
"""Pieces with their planes, and how far the control points of those in no plane stand over it, mm."""


class Thing(Value, frozen=True):
    """Something to measure: found in one of the shapes that come along, the whole of it, or by itself.

    Attributes:
        placement: where what is found stands.
    """

    shape: int = -1
    wanted: Wanted | None = None
    frame: Frame | None = None
    axis: Axis | None = None
    spot: Vector | None = None
    curve: tuple[Frame, PieceResult] | None = None
    placement: Rigid = IDENTITY


class SolidInput(Value, frozen=True, kw_only=True):
    """Something solid, and what it does.

    Attributes:
        bodies: ids, in the order of the shapes that come along first; for "make", the id of the new body.
    """

    operation: str
    does: Literal["make", "add", "cut", "overlap"]
    bodies: tuple[str, ...]


class Prism(Value, frozen=True, kw_only=True):
    """Areas, and the heights along their plane's normal that they are pushed between, mm; draft in rad."""

    area: Area
    start: End
    end: End
    up: bool = True
    draft: float = 0.0


class EdgesInput(Value, frozen=True, kw_only=True):
    """Edges on each body, in the order of the shapes that come along."""

    operation: str
    edges: tuple[tuple[str, tuple[Wanted, ...]], ...]


class OutlineInput(Value, frozen=True):
    """A planar face whose outline is asked for, among the shapes that come along."""

    face: Wanted


class FindInput(Value, frozen=True):
    """An edge, vertex, or the axis of a round face or edge, to find among the shapes that come along."""

    what: Literal["edge", "vertex", "axis"]
    wanted: Wanted


class GaugeInput(Value, frozen=True):
    """What is asked of one thing or of two (family.records.Measures)."""

    what: str
    of: tuple[Thing, ...]


class SectionInput(Value, frozen=True):
    """A plane to cut the shapes with that come along."""

    frame: Frame


class FaceInput(Value, frozen=True):
    """A face to find among the shapes that come along."""

    face: Wanted


class BodyInput(Value, frozen=True):
    """Nothing but the shape that comes along."""


class BoredInput(Value, frozen=True):
    """Operations whose holes are looked for in the shape that comes along."""

    operations: tuple[str, ...]


class Tapping(Value, frozen=True):
    """Threads of one operation as they are cut; mm.

    Attributes:
        diameter: nominal; drill: of the wall before; depth: from the mouth of a hole, None for the whole wall.
    """

    diameter: float
    pitch: float
    drill: float
    depth: float | None
    left: bool


class ThreadedInput(Value, frozen=True):
    """Threads to cut by operation, into the holes of the shape that comes along."""

    taps: dict[str, Tapping]


class MeshInput(Value, frozen=True):
    """How far facets of a round face may turn from one to the next, rad, beside the shape that comes along.

    A second shape is what the first is drawn in place of: faces and edges are those of the second.
    """

    angle: float = 0.16


COARSE = MeshInput(0.5)
"""Enough to see what an open sentence makes; the facets that stay follow."""


class SurveyInput(Value, frozen=True):
    """What is looked for on a body, along which direction, which operations drilled its holes, and which marked it.

    A second shape is what the first is held against.
    """

    what: str
    direction: Vector | None
    drilled: tuple[str, ...]
    marks: tuple[str, ...] = ()


class ExportSolid(Value, frozen=True, kw_only=True):
    """A body to write: its place among the shapes that come along, and what is known of it.

    Attributes:
        colour: `#RRGGBB`; density: g/cm3, 0.0 where it is not known; properties: further ones by name.
        item: the part item that it stands under; "" for none.
    """

    name: str
    shape: int
    item: str = ""
    colour: str = ""
    material: str = ""
    density: float = 0.0
    properties: tuple[tuple[str, str], ...] = ()


class ExportProduct(Value, frozen=True, kw_only=True):
    """A product to write: bodies, or uses of products before it, each with its name and where it stands."""

    name: str
    solids: tuple[ExportSolid, ...] = ()
    uses: tuple[tuple[int, str, Rigid], ...] = ()


class ExportInput(Value, frozen=True):
    """A file to write; the last product is the whole."""

    path: str
    products: tuple[ExportProduct, ...]


class PlacedInput(Value, frozen=True):
    """Where the shape stands that comes along."""

    placement: Rigid


class FacetInput(Value, frozen=True):
    """How near facets of the body that comes along lie to its faces, mm, and how far they turn from one to the next, rad."""

    chord: float
    angle: float


class FlatInput(Value, frozen=True):
    """A flat face whose outline is to be cut out, and how far beside it the cut runs, mm: half its width."""

    face: Wanted
    beside: float
