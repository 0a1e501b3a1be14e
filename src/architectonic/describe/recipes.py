"""Inputs of recipes as plain data. Their encoding is hashed to the key of the result, and travels to workers."""

from __future__ import annotations

from typing import Literal

from architectonic.describe.results import Frame, Loops, Value
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
    of: tuple[str, ...]
    value: float | None
    branch: int


class SolveInput(Value, frozen=True, array_like=True):
    """A sketch to solve."""

    curves: tuple[CurveInput, ...]
    constraints: tuple[ConstraintInput, ...]


Height = tuple[float, float, float]
"""(c, a, b): c + a u + b v at the point (u, v) of a plane, mm; a and b are zero where the height is the same all over."""


class ExtrudeInput(Value, frozen=True, kw_only=True):
    """A prism and what it does.

    Attributes:
        areas: of each connected area, its loops (outer first).
        start, end: heights along the frame's normal, mm.
        bodies: ids, in the order of the shapes that come along; for "make", the id of the new body.
    """

    operation: str
    does: Literal["make", "add", "cut", "overlap"]
    frame: Frame
    areas: tuple[Loops, ...]
    start: Height
    end: Height
    bodies: tuple[str, ...]


class Wanted(Value, frozen=True, array_like=True):
    """A face or edge to find by label, and what is known of it."""

    label: str
    witness: Witness | None = None


class FilletInput(Value, frozen=True):
    """Edges on each body, in the order of the shapes that come along."""

    operation: str
    radius: float
    edges: tuple[tuple[str, tuple[Wanted, ...]], ...]


class FindInput(Value, frozen=True):
    """An edge, vertex, or the axis of a round face or edge, to find among the shapes that come along."""

    what: Literal["edge", "vertex", "axis"]
    wanted: Wanted


class SectionInput(Value, frozen=True):
    """A plane to cut the shapes with that come along."""

    frame: Frame


class FaceInput(Value, frozen=True):
    """A face to find among the shapes that come along."""

    face: Wanted


class BodyInput(Value, frozen=True):
    """Nothing but the shape that comes along."""


class ExportInput(Value, frozen=True):
    """A file to write of the shapes that come along, under these names."""

    path: str
    name: str
    bodies: tuple[str, ...]
