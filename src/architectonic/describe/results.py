"""What nodes evaluate to, and how plans talk to the evaluator.

A *plan* is a generator: it yields the nodes it needs or a recipe to compute, is sent their outcomes, and returns its
value. Recipes hold every input as plain data or as the key of a shape, so that their hash is the key of the result.
"""

from __future__ import annotations

from collections.abc import Generator
from typing import Any, Literal, NamedTuple

import msgspec

from architectonic.base.problem import Problem
from architectonic.family.scopes import Scope
from architectonic.sketch.curves.paths import Path

Vector = tuple[float, float, float]


class Node(NamedTuple):
    """Something to evaluate: what of which item, in which scope.

    `what` is one of value, rule, solve, frame, state, finished, socket, cut, measure, mesh, mass, gauged, relations, placed,
    assembly.
    """

    what: str
    at: Scope
    item: str
    label: str = ""

    @property
    def document(self) -> str:
        """Id of its document."""
        return self.at.document


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


class Gauged(Value, frozen=True):
    """A figure between or of things: mm, mm2 or rad.

    Attributes:
        ends: for a length between two things, the points it lies between; axis: for a radius, what it is about.
    """

    value: float
    ends: tuple[Vector, ...] = ()
    axis: Axis | None = None


class PlacedRegion(Value, frozen=True):
    """A region with the plane it lies in."""

    frame: Frame
    region: RegionResult


BodyKind = Literal["solid", "surface", "mesh"]


class BodyState(Value, frozen=True):
    """A body as it is after an operation.

    Attributes:
        shape: key of its shape.
        kind: what it is, as the operation that made it declares.
        attributes: what is said of its faces, by label: holes with their data, colours. They stay with the body through
            whatever changes it, and with its pieces and copies.
    """

    id: str
    shape: str
    kind: BodyKind = "solid"
    attributes: dict[str, tuple[Value, ...]] = {}


class ModelState(Value, frozen=True):
    """Bodies after an operation, in order of making.

    Attributes:
        status: ok, off or failing, of the operation itself.
        reason: why it is off, in words.
    """

    bodies: tuple[BodyState, ...] = ()
    status: str = "ok"
    reason: str = ""

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
    """Raised inside a plan: this node has no value, for the reason in `problem`."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(problem.what)
        self.problem = problem


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
