"""Surfaces from curves that move along a path: turning with it, led by a rail, twisted, scaled; with labels.

Faces are named `<operation>:side:<curve>:<piece of the path>`, those of what is led or twisted `<operation>:side:<curve>`; what
bounds them as in `making`: start and end across the path, first and last along it.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_CompCurve
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex, BRepBuilderAPI_RightCorner, BRepBuilderAPI_Transform
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakePipe, BRepOffsetAPI_MakePipeShell, BRepOffsetAPI_ThruSections
from OCP.GCPnts import GCPnts_UniformAbscissa
from OCP.gp import gp_Pnt, gp_Trsf, gp_Vec
from OCP.TopoDS import TopoDS
from scipy.optimize import brentq

from architectonic.base import tolerance
from architectonic.kernel.shapes.labelled import Labelled, centre
from architectonic.kernel.shapes.topology import FACE, listed, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids.sweeps import Chain, Path, chain, is_smooth
from architectonic.kernel.surfaces.making import bounds, ends_of, placed_at
from architectonic.kernel.surfaces.sheets import attempt, surface

REFUSED = "the curves cannot be moved along this path: it bends too sharply, or they do not meet it"
STATIONS = 33
"""Places along a path at which a section that grows or twists is put; between them the surface is a cubic spline."""


def swept(section: Path, path: Path, rail: Path, operation: str, twist: float = 0.0, scale: float = 1.0) -> Labelled:
    """Curves moved along a path, turning with it.

    Args:
        rail: a second path that the far end of the section is led by, growing and shrinking with it; () for none.
        twist: rad, by which they have turned about the path at its end; scale: how large they are there.

    Raises:
        KernelRefusal: they cannot be moved so.
    """
    spine, pieces = chain(path)
    wire, edges = chain(section)
    if rail or twist or abs(scale - 1.0) > tolerance.FEATURE:
        if not is_smooth(pieces, spine.Closed()):
            raise KernelRefusal("the path has a corner: round it, so that what is led along it knows which way to go")
        return _led(wire, edges, spine, chain(rail)[0] if rail else None, twist, scale, operation)
    names: dict[Any, list[str]] = {}
    if is_smooth(pieces, spine.Closed()) and not any(side.heights for _, side in path):
        algorithm: Any = BRepOffsetAPI_MakePipe(spine, wire)
        shape = attempt(algorithm.Shape, REFUSED)
        for edge, curve in edges:
            for piece, way in pieces:
                made = algorithm.Generated(piece, edge)
                for face in [] if made.IsNull() else subshapes(made, FACE):
                    names.setdefault(face, [f"{operation}:side:{curve}:{way}"])
    else:
        algorithm = BRepOffsetAPI_MakePipeShell(spine)
        algorithm.SetMode(True)
        algorithm.SetTransitionMode(BRepBuilderAPI_RightCorner)
        algorithm.Add(wire, False, False)

        def make() -> Any:
            algorithm.Build()
            return algorithm.Shape() if algorithm.IsDone() else None

        shape = attempt(make, REFUSED)
        for edge, curve in edges:
            for face in listed(algorithm.Generated(edge)):
                names.setdefault(face, [f"{operation}:side:{curve}:{_way_of(face, pieces)}"])
    for face in subshapes(shape, FACE):
        names.setdefault(face, [f"{operation}:side:{_way_of(face, edges)}:{_way_of(face, pieces)}"])
    caps = [] if spine.Closed() else [(algorithm.FirstShape(), "start"), (algorithm.LastShape(), "end")]
    return surface(shape, names, bounds(shape, caps, wire, operation))


def _way_of(face: Any, pieces: Chain) -> str:
    """The piece that the middle of a face lies nearest to."""
    if len(pieces) == 1:
        return pieces[0][1]
    middle = BRepBuilderAPI_MakeVertex(gp_Pnt(*centre(face))).Vertex()
    return min((float(BRepExtrema_DistShapeShape(middle, e).Value()), n) for e, n in pieces)[1]


def _led(wire: Any, edges: Chain, spine: Any, rail: Any, twist: float, scale: float, operation: str) -> Labelled:
    """A section put at stations along a path, turned and scaled at each, and a surface through all of them."""
    if spine.Closed():
        raise KernelRefusal("along a closed path a section neither grows nor twists")
    points, frames = stations(spine)
    grown = [np.eye(3)] * len(points)
    ends = [placed_at(v) for v, _ in ends_of(wire)]
    if rail is not None:
        if len(ends) != 2:
            raise KernelRefusal("a section that a rail leads is open: it goes from the path to the rail")
        grown = _on_rail(points, frames, rail, np.array(ends))
    shares = np.linspace(0.0, 1.0, len(points))
    algorithm = BRepOffsetAPI_ThruSections(False, False, tolerance.MODELLING)
    algorithm.CheckCompatibility(False)
    copies: list[tuple[Any, str]] = []
    for k, share in enumerate(shares):
        spin = _about(frames[k][:, 2], twist * share) * (1.0 + (scale - 1.0) * share)
        matrix = spin @ grown[k] @ frames[k] @ frames[0].T
        move = _transform(matrix, points[k], points[0])
        copy = BRepBuilderAPI_Transform(wire, move, True)
        last = TopoDS.Wire(copy.Shape())
        algorithm.AddWire(last)
        if k == 0:
            copies = [(TopoDS.Edge(copy.ModifiedShape(e)), c) for e, c in edges]

    def make() -> Any:
        algorithm.Build()
        return algorithm.Shape()

    shape = attempt(make, REFUSED)
    names: dict[Any, list[str]] = {}
    for edge, curve in copies:
        for face in listed(algorithm.Generated(edge)):
            names.setdefault(face, [f"{operation}:side:{curve}"])
    for face in subshapes(shape, FACE):
        names.setdefault(face, [f"{operation}:side:{_way_of(face, edges)}"])
    return surface(shape, names, bounds(shape, [(wire, "start"), (last, "end")], wire, operation))


def stations(spine: Any) -> tuple[np.ndarray, list[np.ndarray]]:
    """Points along a wire at equal steps of length, (n, 3) mm, and at each a frame whose third column is the direction and
    that turns no more than the path makes it: double reflection (Wang, Juettler, Zheng, Liu: Computation of rotation
    minimizing frames, ACM Transactions on Graphics 27, 2008)."""
    curve = BRepAdaptor_CompCurve(spine)
    spread = GCPnts_UniformAbscissa(curve, STATIONS)
    marks = [spread.Parameter(k + 1) for k in range(spread.NbPoints())]
    points, ways = [], []
    for t in marks:
        p, d = gp_Pnt(), gp_Vec()
        curve.D1(t, p, d)
        points.append(p.Coord())
        ways.append(np.array(d.Coord()) / d.Magnitude())
    found = np.array(points)
    across = np.cross(ways[0], min(np.eye(3), key=lambda a: abs(float(a @ ways[0]))))
    r = across / np.linalg.norm(across)
    frames = [np.column_stack([r, np.cross(ways[0], r), ways[0]])]
    for k in range(len(found) - 1):
        v1 = found[k + 1] - found[k]
        c1 = float(v1 @ v1)
        rl = r - 2 / c1 * float(v1 @ r) * v1
        tl = ways[k] - 2 / c1 * float(v1 @ ways[k]) * v1
        v2 = ways[k + 1] - tl
        c2 = float(v2 @ v2)
        r = rl if c2 < 1e-24 else rl - 2 / c2 * float(v2 @ rl) * v2
        r = r / np.linalg.norm(r)
        frames.append(np.column_stack([r, np.cross(ways[k + 1], r), ways[k + 1]]))
    return found, frames


def _on_rail(points: np.ndarray, frames: list[np.ndarray], rail: Any, ends: np.ndarray) -> list[np.ndarray]:
    """At each station the turn and growth that lay the far end of a section on a rail.

    Raises:
        KernelRefusal: the section does not go from the path to the rail, or the rail ends before the path.
    """
    near = int(np.argmin(np.linalg.norm(ends - points[0], axis=1)))
    arm = ends[1 - near] - ends[near]
    if np.linalg.norm(ends[near] - points[0]) > tolerance.GAP:
        raise KernelRefusal("the section does not begin on the path")
    found = []
    for k, (p, frame) in enumerate(zip(points, frames, strict=True)):
        here = frame @ frames[0].T @ arm
        hit = _crossing(rail, p, frame[:, 2], p + here)
        if hit is None:
            raise KernelRefusal("the rail ends before the path does: make it as long")
        wanted = hit - p
        if k == 0 and np.linalg.norm(wanted - here) > tolerance.GAP:
            raise KernelRefusal("the far end of the section does not lie on the rail")
        flat = here - float(here @ frame[:, 2]) * frame[:, 2]
        angle = math.atan2(float(np.cross(flat, wanted) @ frame[:, 2]), float(flat @ wanted))
        found.append(_about(frame[:, 2], angle) * float(np.linalg.norm(wanted) / np.linalg.norm(here)))
    return found


def _crossing(rail: Any, at: np.ndarray, normal: np.ndarray, near: np.ndarray) -> np.ndarray | None:
    """Where a wire crosses a plane, of several places the one nearest to a point."""
    curve = BRepAdaptor_CompCurve(rail)
    low, high = curve.FirstParameter(), curve.LastParameter()

    def height(t: float) -> float:
        return float((np.array(curve.Value(t).Coord()) - at) @ normal)

    marks = np.linspace(low, high, 129)
    heights = [height(t) for t in marks]
    hits = [t for t, h in zip(marks, heights, strict=True) if abs(h) < tolerance.MODELLING]
    for (a, ha), (b, hb) in pairwise(zip(marks, heights, strict=True)):
        if ha * hb < 0:
            hits.append(brentq(height, a, b, xtol=1e-14))
    found = [np.array(curve.Value(t).Coord()) for t in hits]
    return min(found, key=lambda p: float(np.linalg.norm(p - near))) if found else None


def _about(axis: np.ndarray, angle: float) -> np.ndarray:
    """A turn about a direction (Rodrigues)."""
    x, y, z = axis
    k = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
    turn: np.ndarray = np.eye(3) + math.sin(angle) * k + (1 - math.cos(angle)) * k @ k
    return turn


def _transform(matrix: np.ndarray, to: np.ndarray, begun: np.ndarray) -> gp_Trsf:
    """The place that a turn and a growth about where the path begins lead to."""
    move = gp_Trsf()
    shift = to - matrix @ begun
    rows = [[*map(float, matrix[i]), float(shift[i])] for i in range(3)]
    move.SetValues(*rows[0], *rows[1], *rows[2])
    return move
