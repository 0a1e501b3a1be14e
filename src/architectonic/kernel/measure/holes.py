"""Holes as they are in a body: found on the faces that drills left, wherever these have gone since."""

from __future__ import annotations

import math
from collections import defaultdict
from typing import Any, NamedTuple

from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepTools import BRepTools
from OCP.GeomAbs import GeomAbs_Cylinder

from architectonic.base import tolerance
from architectonic.base.labels import made_by, plain
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import EDGE, subshapes

Vector = tuple[float, float, float]
ROLES = frozenset(("wall", "sink", "seat", "flare", "ledge", "step", "floor", "point"))
SAMPLES = 9
"""Points of an edge at which it is asked how far along the axis it lies."""


class Bored(NamedTuple):
    """A hole in a body; mm (describe.results.HoleFound).

    Attributes:
        walls: faces of its full diameter; wall: their label; wall_from: where they begin, from its mouth.
    """

    operation: str
    key: str
    at: Vector
    direction: Vector
    diameter: float
    depth: float
    whole: float
    walls: tuple[Any, ...]
    wall: str
    wall_from: float


class _Axis(NamedTuple):
    origin: Vector
    direction: Vector
    radius: float

    def along(self, p: Any) -> float:
        """How far along the axis a point lies."""
        return float(
            sum(d * (c - o) for d, c, o in zip(self.direction, (p.X(), p.Y(), p.Z()), self.origin, strict=True))
        )

    def line(self) -> tuple[float, ...]:
        """What tells it from other axes: its direction and the point of it nearest to the document's origin."""
        t = sum(d * o for d, o in zip(self.direction, self.origin, strict=True))
        foot = (o - t * d for o, d in zip(self.origin, self.direction, strict=True))
        return (*(round(d, 6) + 0.0 for d in self.direction), *(round(c, 4) + 0.0 for c in foot))


def hole_of(names: tuple[str, ...], operations: frozenset[str]) -> str:
    """What tells the hole that a face is of from all others; "" for no face of a hole."""
    for label in names:
        found = made_by(plain(label), operations, ROLES)
        if found is not None:
            return f"{found[0]}/{found[2]}"
    return ""


def bored(body: Labelled, operations: frozenset[str]) -> list[Bored]:
    """The holes in a body that some operations made, in order of their labels and places.

    A hole that was cut through since counts as one, by what is left of its wall.
    """
    groups: dict[tuple[str, str], dict[str, list[Any]]] = defaultdict(lambda: defaultdict(list))
    named: dict[tuple[str, str], str] = {}
    for face, names in zip(body.face_list, body.faces, strict=True):
        for label in names:
            found = made_by(plain(label), operations, ROLES)
            if found is not None:
                operation, role, key = found
                groups[operation, key][role].append(face)
                if role == "wall":
                    named[operation, key] = plain(label)
                break
    made = []
    for (operation, key), roles in groups.items():
        apart: dict[tuple[float, ...], list[Any]] = defaultdict(list)
        for face in roles.get("wall", ()):
            axis = _axis(face)
            if axis is not None:
                apart[axis.line()].append(face)
        for walls in apart.values():
            axis = _axis(walls[0])
            assert axis is not None
            others = [f for r in ("sink", "flare") for f in roles.get(r, ()) if _about(f, axis)]
            spans = [_extent(f, axis) for f in walls]
            low, end = min(a for a, _ in spans), max(b for _, b in spans)
            mouth = min([low, *(_extent(f, axis)[0] for f in others)])
            o, d = axis.origin, axis.direction
            at = (o[0] + mouth * d[0], o[1] + mouth * d[1], o[2] + mouth * d[2])
            own = (tuple(walls), named[operation, key], low - mouth)
            made.append(Bored(operation, key, at, d, 2 * axis.radius, end - mouth, _whole(walls), *own))
    return sorted(made, key=lambda b: (b.operation, b.key, tuple(round(c, 5) for c in b.at)))


def _axis(face: Any) -> _Axis | None:
    surface = BRepAdaptor_Surface(face)
    if surface.GetType() != GeomAbs_Cylinder:
        return None
    cylinder = surface.Cylinder()
    p, d = cylinder.Location(), cylinder.Axis().Direction()
    return _Axis((p.X(), p.Y(), p.Z()), (d.X(), d.Y(), d.Z()), cylinder.Radius())


def _about(face: Any, axis: _Axis) -> bool:
    """Whether a face of a recess is about an axis: the middle of its box in its own terms is."""
    surface = BRepAdaptor_Surface(face)
    for turned in (surface.Cylinder, surface.Cone):
        try:
            own = turned().Axis()
        except Exception:  # the kernel's faults share no base class but Exception
            continue
        p, d = own.Location(), own.Direction()
        return _Axis((p.X(), p.Y(), p.Z()), (d.X(), d.Y(), d.Z()), 0.0).line() == axis.line()
    return False


def _extent(face: Any, axis: _Axis) -> tuple[float, float]:
    """From where to where a face lies along an axis, by points of its edges."""
    found = []
    for edge in subshapes(face, EDGE):
        curve = BRepAdaptor_Curve(edge)
        first, last = curve.FirstParameter(), curve.LastParameter()
        found += [axis.along(curve.Value(first + (last - first) * k / (SAMPLES - 1))) for k in range(SAMPLES)]
    return min(found), max(found)


def _whole(walls: list[Any]) -> float:
    """The share of the whole turn that walls cover together."""
    spans = []
    for face in walls:
        low, high = BRepTools.UVBounds_s(face)[:2]
        if high - low > math.tau - tolerance.FEATURE:
            return 1.0
        start = low % math.tau
        end = start + high - low
        spans += [(start, min(end, math.tau))] + ([(0.0, end - math.tau)] if end > math.tau else [])
    covered, reached = 0.0, 0.0
    for start, end in sorted(spans):
        covered += max(end - max(start, reached), 0.0)
        reached = max(reached, end)
    return min(covered / math.tau, 1.0)
