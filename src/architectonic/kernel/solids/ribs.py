"""Ribs, and narrow faces rounded over; with labels."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from OCP.TopoDS import TopoDS

from architectonic.base import tolerance
from architectonic.base.labels import base, plain
from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.measure.gauge import carrier
from architectonic.kernel.shapes.curves import point_of
from architectonic.kernel.shapes.labelled import Labelled, named
from architectonic.kernel.shapes.outlines import KernelFrame, Side, Vector, carried_on, turned
from architectonic.kernel.shapes.topology import EDGE, FACE, SOLID, VERTEX, ancestors, compound, is_planar, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal, volume
from architectonic.kernel.solids.prisms import boolean, prism

SHARE = 1e-6
"""Share by which what a round takes away may miss its section times its length."""
OPEN = "~open"
"""What the sides of a rib's blank are called where it would run out into the open."""


def rib(
    frame: KernelFrame, curves: list[Side], thickness: float, flip: bool, bodies: list[Labelled], operation: str
) -> Labelled:
    """A wall on one side of curves that go on from each other, as far as the bodies around close it.

    Labels: `<operation>:side:<curve>`, and `<operation>:start`, `<operation>:end` on its flanks.

    Raises:
        KernelRefusal: it runs out into the open, or the curves cross themselves.
    """
    far = 2.0 * max(abs(c) for b in bodies for c in quick_box(b.shape)) + 2.0 * max(
        abs(c) for s in curves for c in (*s.start, *s.end, *frame.origin)
    )
    chain = carried_on(curves if not flip else [turned(s) for s in reversed(curves)], far)
    start, end = chain[0].start, chain[-1].end
    way = np.array(end) - np.array(start)
    left = np.array([-way[1], way[0]]) / max(float(np.linalg.norm(way)), tolerance.FEATURE) * far
    corners = [end, (end[0] + left[0], end[1] + left[1]), (start[0] + left[0], start[1] + left[1]), start]
    closing = [Side(f"{OPEN}{k}", corners[k], corners[k + 1]) for k in range(3)]
    blank = prism(frame, [((*chain, *closing),)], (-thickness / 2, 0.0, 0.0), (thickness / 2, 0.0, 0.0), operation)
    rest: Labelled | None = blank
    for body in bodies:
        rest = boolean("cut", rest, body) if rest is not None else None
    if rest is None:
        raise KernelRefusal("the rib would lie inside the body: there is nothing to fill")
    named_faces = dict(zip(rest.face_list, rest.faces, strict=True))
    own = {f"{operation}:side:{s.curve}" for s in curves}
    closed = []
    for solid in subshapes(rest.shape, SOLID):
        names = [n for f in subshapes(solid, FACE) for n in named_faces[f]]
        if not any(OPEN in n for n in names) and any(base(n) in own for n in names):
            closed.append(solid)
    if not closed:
        raise KernelRefusal("the rib runs out into the open: the body does not close it on that side")
    shape = closed[0] if len(closed) == 1 else compound(closed)
    return named(shape, {f: [base(n) for n in named_faces[f]] for f in subshapes(shape, FACE)})


def round_over(body: Labelled, face: Any, operation: str) -> Labelled:
    """A narrow flat face replaced by a round that touches it and runs smoothly into the flat faces along its long edges.

    Labels: `<operation>:blend:<face>`.

    Raises:
        KernelRefusal: the faces around are not flat, not high enough, or its ends are not square to it.
    """
    label = body.name_of[face]
    flat = is_planar(face)
    if flat is None:
        raise KernelRefusal("only a flat face is rounded over")
    origin, n = (np.array(v) for v in flat)
    along, sides = _long_sides(body, face)
    across = np.cross(n, along)
    centre_u, radius = _touching(origin, n, across, sides)
    points = np.array([point_of(v) for v in subshapes(face, VERTEX)]) - origin
    low, high = float((points @ along).min()), float((points @ along).max())
    touch = [(centre_u + radius * float(m @ across), -radius + radius * float(m @ n)) for _, m in sides]
    (first, second) = sorted(zip(touch, [m for _, m in sides], strict=True), key=lambda e: -e[0][0])
    wide = 2 * (radius + float(np.ptp(points @ across)))
    (t1, m1), (t2, m2) = first, second
    out1 = (t1[0] + wide * float(m1 @ across), t1[1] + wide * float(m1 @ n))
    out2 = (t2[0] + wide * float(m2 @ across), t2[1] + wide * float(m2 @ n))
    ring = [t1, out1, (out1[0], wide), (out2[0], wide), out2, t2]
    lines = [Side(f"away{k}", ring[k], ring[k + 1]) for k in range(5)]
    arc = Side("round", t2, t1, (centre_u, -radius), radius, (centre_u, 0.0), ccw=False)
    frame = KernelFrame(_tuple(origin + low * along), _tuple(across), _tuple(along))
    tool = prism(frame, [((*lines, arc),)], (0.0, 0.0, 0.0), (high - low, 0.0, 0.0), "~tool")
    blend = f"{operation}:blend:{plain(label)}"
    tool = Labelled(tool.shape, tuple((blend if "side:round" in f[0] else f[0],) for f in tool.faces))
    result = boolean("cut", body, tool)
    stray = result is not None and any("~tool" in f for names in result.faces for f in names)
    if result is None or stray:
        raise KernelRefusal("the faces beside it are not as high as the round, or its ends are not square to it")
    removed = _between(sides, origin, across, centre_u, radius) * (high - low)
    if abs(volume(body.shape) - volume(result.shape) - removed) > SHARE * removed:
        raise KernelRefusal("its ends are not square to it, or something else stands on it")
    return result


def _long_sides(body: Labelled, face: Any) -> tuple[np.ndarray, list[tuple[np.ndarray, np.ndarray]]]:
    """The direction of the longest straight edges of a face, and the planes (point, outward normal) beyond the two."""
    found = []
    for edge, around in ancestors(body.shape, EDGE, FACE):
        if face in around and len(around) == 2:
            line, other = carrier(edge), is_planar(TopoDS.Face(next(f for f in around if f != face)))
            ends = [np.array(point_of(v)) for v in subshapes(edge, VERTEX)]
            if line is not None and line.kind == "line" and other is not None and len(ends) == 2:
                found.append((float(np.linalg.norm(ends[1] - ends[0])), (ends[1] - ends[0]), other))
    found.sort(key=lambda e: -e[0])
    if len(found) < 2:
        raise KernelRefusal("there are no two flat faces along it that a round could run into")
    along = found[0][1] / found[0][0]
    second = found[1][1] / found[1][0]
    if np.linalg.norm(np.cross(along, second)) > tolerance.MODELLING:
        raise KernelRefusal("its two long edges are not parallel")
    return along, [(np.array(p), np.array(m)) for _, _, (p, m) in found[:2]]


def _touching(
    origin: np.ndarray, n: np.ndarray, across: np.ndarray, sides: list[tuple[np.ndarray, np.ndarray]]
) -> tuple[float, float]:
    """The circle that touches the face and both planes from inside: its centre lies `radius` below the face."""
    rows, right = [], []
    for point, normal in sides:
        rows.append([float(normal @ across), 1.0 - float(normal @ n)])
        right.append(float(normal @ (point - origin)))
    matrix = np.array(rows)
    if abs(np.linalg.det(matrix)) < tolerance.MEASURE:
        raise KernelRefusal("no round fits between the faces beside it")
    centre, radius = np.linalg.solve(matrix, np.array(right))
    if radius < tolerance.FEATURE:
        raise KernelRefusal("no round fits between the faces beside it")
    return float(centre), float(radius)


def _between(
    sides: list[tuple[np.ndarray, np.ndarray]],
    origin: np.ndarray,
    across: np.ndarray,
    centre: float,
    radius: float,
) -> float:
    """The area between the round and the corners that it replaces: tangent kites less sectors."""
    area = 0.0
    for point, normal in sides:
        u = float(normal @ (point - origin)) / float(normal @ across)  # the corner on the face's plane
        leg = abs(u - centre)
        area += leg * radius - radius * radius * math.atan2(leg, radius)
    return area


def _tuple(v: np.ndarray) -> Vector:
    return float(v[0]), float(v[1]), float(v[2])
