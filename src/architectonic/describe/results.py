"""What nodes evaluate to, and how plans talk to the evaluator.

A *plan* is a generator: it yields the nodes it needs or a recipe to compute, is sent their outcomes, and returns its
value. Recipes hold every input as plain data or as the key of a shape, so that their hash is the key of the result.
"""

from __future__ import annotations

from collections.abc import Generator
from typing import Any, Literal, NamedTuple

import msgspec

from architectonic.base.problem import Problem
from architectonic.base.rigid import Rigid
from architectonic.family.operations.base import BodyKind
from architectonic.family.scopes import Scope
from architectonic.sketch.curves.paths import Path

Vector = tuple[float, float, float]


OTHER_WAY = "texts the other way round"


class Node(NamedTuple):
    """Something to evaluate: what of which item, in which scope.

    `what` is one of value, rule, solve, frame, state, finished, socket, cut, measure, mesh, mass, gauged, relations, placed,
    assembly. The label of a state, and of what brings bodies into it, is OTHER_WAY where all texts on them are engraved the
    other way round.
    """

    what: str
    at: Scope
    item: str
    label: str = ""

    @property
    def document(self) -> str:
        """Id of its document."""
        return self.at.document

    @property
    def is_other_way(self) -> bool:
        """Whether texts are the other way round in this state."""
        return self.label == OTHER_WAY

    def other_way_round(self) -> Node:
        """The same state with its texts the other way round."""
        return self._replace(label="" if self.is_other_way else OTHER_WAY)


class Value(msgspec.Struct, frozen=True):
    """Base of results; compared by content."""


class Checked(Value, frozen=True):
    """Whether a rule or guard holds, and why.

    Attributes:
        left, right: figures of both sides of the comparison, or as they are and as they were recorded; internal units.
        dimension: exponents of what they are (quantities.units.Dimension).
    """

    holds: bool
    left: tuple[float, ...] = ()
    right: tuple[float, ...] = ()
    dimension: tuple[int, ...] = ()


class Frame(Value, frozen=True):
    """A plane: origin (mm), unit x axis and unit normal; y = normal x x."""

    origin: Vector
    x: Vector
    normal: Vector


class Axis(Value, frozen=True):
    """A line without ends: a point of it (mm) and its unit direction."""

    origin: Vector
    direction: Vector


class Spot(Value, frozen=True):
    """A point, mm."""

    at: Vector


class Picture(Value, frozen=True):
    """A picture in place: its plane, lower left corner (mm), width and height (mm) and turn (rad)."""

    frame: Frame
    at: tuple[float, float]
    size: tuple[float, float]
    turn: float


class CurveResult(Value, frozen=True):
    """A solved curve in its sketch's plane; values in the order of sketch.kinds.names_of.

    Attributes:
        data: what solving does not change (sketch.system.Curve); text: of a text.
    """

    kind: str
    values: tuple[float, ...]
    helper: bool = False
    fixed: bool = False
    data: tuple[float, ...] = ()
    text: str = ""


class PieceResult(Value, frozen=True):
    """A directed piece of a region's loop (sketch.piece.Piece)."""

    curve: str
    start: tuple[float, float]
    end: tuple[float, float]
    centre: tuple[float, float]
    radius: float
    turn: float
    forward: bool
    path: Path | None = None
    span: tuple[float, float] = (0.0, 0.0)


Loops = tuple[tuple[PieceResult, ...], ...]


class RegionResult(Value, frozen=True):
    """A region: its loops (outer first), area in mm2 and a point inside."""

    label: str
    loops: Loops
    area: float
    inside: tuple[float, float]


class SketchResult(Value, frozen=True):
    """A solved sketch: positions, freedoms and regions, in its own plane.

    Attributes:
        dead: curves at a singular position (sketch.singular): a dead centre, or a line of no length.
        crossed: curves for which the other side had to be taken, as no way leads to the asked one on the drawn side.
    """

    curves: dict[str, CurveResult]
    freedoms: int
    free: tuple[str, ...]
    residual: float
    regions: tuple[RegionResult, ...]
    dead: tuple[str, ...] = ()
    crossed: tuple[str, ...] = ()

    @property
    def state(self) -> str:
        """held or free."""
        return "held" if self.freedoms == 0 else "free"


class PlacedCurve(Value, frozen=True):
    """A curve with the plane it lies in.

    Attributes:
        heights: of a spline that lies in no plane: how far each control point stands over it, mm.
    """

    frame: Frame
    curve: CurveResult
    heights: tuple[float, ...] = ()


class Found(Value, frozen=True):
    """What a label of a shape led to (recipe `find`).

    Attributes:
        curves: of an edge, its pieces; of a section, all of its curves, with
        labels: the faces that were cut.
        axis, radius, slope: of a round face or edge; the slope is a cone's change of radius along its axis.
    """

    curves: tuple[PlacedCurve, ...] = ()
    labels: tuple[str, ...] = ()
    point: Vector | None = None
    axis: Axis | None = None
    radius: float = 0.0
    slope: float = 0.0


class PlacedRegion(Value, frozen=True):
    """A region with the plane it lies in."""

    frame: Frame
    region: RegionResult


class HoleSet(Value, frozen=True, kw_only=True):
    """What a hole operation knows of its holes; lengths in mm, angles in rad. It rides on the faces that they made.

    Attributes:
        operation, name: that made them.
        size: nominal: `M4`, `1/4`, the diameter of a pin or screw; made_for: in words.
        standard: what the diameter is laid down in; tolerance: class of the hole or of the thread; limits: of the diameter.
        counterbore: diameter and depth; countersink: diameter and whole angle; step: diameter and depth of a narrower part.
        depth: of the full diameter; None where it goes through or up to a face.
        thread: its designation; thread_depth: None for the whole depth; shown: it is modelled for pictures and files.
    """

    operation: str = ""
    name: str = ""
    purpose: Literal["plain", "screw", "tapped", "pin", "core"]
    size: str = ""
    made_for: str = ""
    standard: str = ""
    diameter: float
    tolerance: str = ""
    limits: tuple[float, float] | None = None
    counterbore: tuple[float, float] | None = None
    countersink: tuple[float, float] | None = None
    step: tuple[float, float] | None = None
    depth: float | None = None
    through: bool = False
    thread: str = ""
    pitch: float = 0.0
    thread_depth: float | None = None
    hand: Literal["right", "left"] = "right"
    shown: bool = False

    @property
    def widest(self) -> float:
        """Its largest diameter."""
        return max(d for d, _ in (self.counterbore or (0.0, 0.0), self.countersink or (0.0, 0.0), (self.diameter, 0.0)))


class HolePlaced(Value, frozen=True):
    """Where a hole goes in: its key, and a plane through its place whose normal points into the material."""

    key: str
    frame: Frame


class HolesResult(Value, frozen=True):
    """The holes of an operation, or of a socket that takes them.

    Attributes:
        fed: at the places of which other set they stand.
        left_out: places at which there is none.
    """

    set: HoleSet
    places: tuple[HolePlaced, ...]
    fed: HoleSet | None = None
    left_out: tuple[HolePlaced, ...] = ()


class MemberMove(Value, frozen=True):
    """A member of a pattern beside the first one.

    Attributes:
        number: the first one being 1; move: takes the first one there, a reflection for a mirrored one; out: it is not made.
    """

    key: str
    number: int
    move: Rigid
    out: bool = False


class HoleFound(Value, frozen=True):
    """A hole as it is in a body, found on the faces that carry its data; mm.

    Attributes:
        operation: that made it; key: the label of its wall.
        at: on its axis where it begins; direction: unit, into the material.
        diameter: of its narrowest wall that goes on from its mouth; depth: from its mouth to the end of its wall.
        whole: share of its wall that is there, 1 for all round.
    """

    operation: str
    key: str
    at: Vector
    direction: Vector
    diameter: float
    depth: float
    whole: float


class BodyState(Value, frozen=True):
    """A body as it is after an operation.

    Attributes:
        shape: key of its shape.
        kind: what it is, as the operation that made it says.
        attributes: what is said of its faces, by the operation that made them: holes with their data. They stay with the
            body through whatever changes it, with its pieces and copies, and go over to what it is united with.
    """

    id: str
    shape: str
    kind: BodyKind = "solid"
    attributes: dict[str, HoleSet] = {}


class ModelState(Value, frozen=True):
    """Bodies after an operation, in order of making.

    Attributes:
        status: ok, off or failing, of the operation itself.
        reason: why it is off, in words.
    """

    bodies: tuple[BodyState, ...] = ()
    status: str = "ok"
    reason: str = ""

    def body(self, body: str) -> BodyState:
        """A body.

        Raises:
            NodeFault: it does not exist here.
        """
        found = next((b for b in self.bodies if b.id == body), None)
        if found is None:
            raise fault("body.missing", "this body does not exist here", "switch on what makes it", "missing")
        return found

    def shape(self, body: str) -> str | None:
        """Key of a body's shape."""
        return next((b.shape for b in self.bodies if b.id == body), None)


class Recipe(NamedTuple):
    """A computation on plain data; `shapes` are keys of shapes it reads."""

    kind: str
    payload: Any
    shapes: tuple[str, ...] = ()


class Made(NamedTuple):
    """What a recipe gave: its key and its value, or a problem."""

    key: str
    value: Any
    problem: Problem | None


class Outcome(NamedTuple):
    """What a node evaluated to. A failing operation has both a problem and a value: its input, passed on."""

    value: Any
    problem: Problem | None = None


class NodeFault(Exception):
    """Raised inside a plan: this node has no value, for the reason in `problem`.

    Attributes:
        instead: of an operation, the state that stands in for what it cannot give; None for the one that it was given.
    """

    def __init__(self, problem: Problem, instead: ModelState | None = None) -> None:
        super().__init__(problem.what)
        self.problem, self.instead = problem, instead


Plan = Generator[Any, Any, Any]
"""Yields list[Node] (sent list[Outcome]) or Recipe (sent Made); returns the node's value."""


def needed(outcome: Outcome, what: str = "") -> Any:
    """The value of an outcome.

    Raises:
        NodeFault: there is none; the first cause is kept as root.
    """
    if outcome.value is None:
        cause = outcome.problem
        assert cause is not None
        root = cause.root or cause.where
        raise NodeFault(
            Problem(
                code="follows." + cause.code.removeprefix("follows."),
                what=f"{what} cannot be used: {cause.what}" if what else cause.what,
                severity=cause.severity,
                mend=cause.mend,
                root=root,
            )
        )
    return outcome.value


def fault(
    code: str, what: str, mend: str = "", severity: Any = "failing", candidates: tuple[str, ...] = ()
) -> NodeFault:
    """A NodeFault with a fresh problem."""
    return NodeFault(Problem(code=code, what=what, mend=mend, severity=severity, candidates=candidates))
