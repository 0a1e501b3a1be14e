"""Measurements of what was picked: figures of things, and between two of them."""

from __future__ import annotations

from typing import Any

from architectonic.base import tolerance
from architectonic.describe.measured import Gauged
from architectonic.describe.recipes import GaugeInput, Thing, Wanted
from architectonic.describe.results import Axis, Vector
from architectonic.kernel.measure import gauge
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import edge_between
from architectonic.kernel.shapes.topology import EDGE, FACE, compound, standing
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.make.fault import MakeFault
from architectonic.make.operations.found import edges_of
from architectonic.make.operations.solid import frame_of, side_of
from architectonic.make.queries import faces_of


def measured(given: GaugeInput, shapes: list[Labelled]) -> tuple[Gauged, dict[str, Labelled]]:
    """The figure, rounded to the grid.

    Raises:
        MakeFault: something of it is gone, or has no such figure.
    """
    axis = None
    try:
        of = [_found(t, shapes) for t in given.of]
        found = _measured(given.what, of)
        if given.what == "radius":
            axis = _axis(of[0][0])
    except KernelRefusal as refusal:
        raise MakeFault("measurement.refused", str(refusal), "measure something else") from None
    round_off = tolerance.ratio if given.what == "angle" else tolerance.length
    return Gauged(round_off(found[0]), tuple(_on_grid(p) for p in found[1:]), axis), {}


def _axis(round_one: Any) -> Axis | None:
    """What a round face or edge is about; None for a ball, which is about a point."""
    about = gauge.carrier(round_one)
    if about is None or about.kind != "line":
        return None
    x, y, z = (tolerance.ratio(c) for c in about.direction)
    return Axis(_on_grid(about.origin), (x, y, z))


def _measured(what: str, of: list[list[Any]]) -> tuple[Any, ...]:
    """The figure, then the points that a length lies between."""
    if what in ("distance", "apart", "angle") and len(of) != 2:
        raise KernelRefusal("this is measured between two things")
    if what == "distance":
        a, b = (found[0] if len(found) == 1 else compound(found) for found in of)
        return gauge.distance(a, b)
    if what in ("apart", "angle"):
        a, b = (_carrier(found) for found in of)
        return gauge.apart(a, b) if what == "apart" else (gauge.angle(a, b),)
    everything = [shape for found in of for shape in found]
    if what == "radius":
        return (gauge.radius(everything[0]),)
    if what == "length":
        if any(s.ShapeType() != EDGE for s in everything):
            raise KernelRefusal("only edges have a length")
        return (gauge.length(everything),)
    if any(s.ShapeType() != FACE for s in everything):
        raise KernelRefusal("only faces and bodies have an area")
    return (gauge.area(everything),)


def _carrier(found: list[Any]) -> gauge.Carrier:
    """The plane, line or point of what was found; pieces of one face or edge lie on the same."""
    carrier = gauge.carrier(found[0])
    if carrier is None:
        raise KernelRefusal("one of them is neither flat, straight nor round: measure the shortest distance")
    return carrier


def _found(thing: Thing, shapes: list[Labelled]) -> list[Any]:
    """What the kernel is to measure."""
    if thing.frame is not None:
        return [gauge.endless_plane(thing.frame.origin, thing.frame.normal)]
    if thing.axis is not None:
        return [gauge.endless_line(thing.axis.origin, thing.axis.direction)]
    if thing.spot is not None:
        return [gauge.vertex_at(thing.spot)]
    if thing.curve is not None:
        frame, piece = frame_of(thing.curve[0]), side_of(thing.curve[1])
        return [edge_between(frame, piece)]
    shape = shapes[thing.shape]
    if thing.wanted is None:
        return [standing(shape.shape, thing.placement)]
    return [standing(found, thing.placement) for found in _picked(shape, thing.wanted)]


def _picked(shape: Labelled, wanted: Wanted) -> list[Any]:
    if wanted.label.startswith("(("):
        found = shape.find_vertices(wanted.label)
        if not found:
            raise MakeFault("vertex.missing", "the vertex it measures is gone", "pick another one", "missing")
        return found
    if wanted.label.startswith("("):
        return list(edges_of(shape, (wanted,)).values())
    return faces_of(shape, wanted, "the face it measures")


def _on_grid(p: Vector) -> Vector:
    return (tolerance.length(p[0]), tolerance.length(p[1]), tolerance.length(p[2]))
