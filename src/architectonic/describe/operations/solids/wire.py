"""Wire: a round bar or tube along a path."""

from __future__ import annotations

import numpy as np

from architectonic.base import tolerance
from architectonic.describe.drawn.curves import as_piece, piece_result
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import named_bodies, plan_length, plan_made, targets
from architectonic.describe.operations.solids.sweep import SweepInput
from architectonic.describe.operations.surface import plan_chain
from architectonic.describe.recipes import Area, Way
from architectonic.describe.references.planes import in_space, unit
from architectonic.describe.results import CurveResult, Frame, ModelState, Node, Plan, Vector, fault
from architectonic.describe.view import View
from architectonic.describe.words.acting import Does
from architectonic.describe.words.blanks import Length
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import PathBlank
from architectonic.family.operations.solids.wire import Wire
from architectonic.sketch.curves import paths


def plan(view: View, node: Node, record: Wire, given: ModelState) -> Plan:
    """Bodies with a wire."""
    path: Way = yield from plan_chain(view, node, record.path, record.id, "path")
    diameter = yield from plan_length(view, node, record.diameter, "diameter")
    wall = 0.0
    if record.wall is not None:
        wall = yield from plan_length(view, node, record.wall, "wall")
        if wall >= diameter / 2:
            raise fault(
                "wire.wall", f"a wall of {wall:g} mm leaves no room in a tube of {diameter:g} mm", "make it thinner"
            )
    bodies = targets(view, node, record, given)
    payload = SweepInput(
        operation=record.id,
        does=record.does,
        bodies=named_bodies(record, bodies),
        area=_round(_start(path), diameter / 2, wall),
        path=path,
    )
    state = yield from plan_made(record, given, "sweep", payload, [s for _, s in bodies])
    return state


def _start(path: Way) -> Frame:
    """The plane square to a path where it begins."""
    frame, piece, heights = path[0]
    if piece.path is not None and heights:
        poles, levels = np.array(piece.path.poles), np.array(heights)
        ends = (0, 1) if piece.span[0] <= piece.span[1] else (-1, -2)
        a, b = (np.array(in_space(frame, tuple(poles[k]))) + levels[k] * np.array(frame.normal) for k in ends)
        return _square((float(a[0]), float(a[1]), float(a[2])), b - a)
    if piece.path is not None:
        here, ahead = (paths.point(piece.path, piece.span[0], order) for order in (0, 1))
        sign = 1.0 if piece.span[0] <= piece.span[1] else -1.0
        way = np.array(in_space(frame, (sign * ahead[0], sign * ahead[1]))) - np.array(frame.origin)
        return _square(in_space(frame, here), way)
    at = np.array(in_space(frame, piece.start))
    if piece.radius:
        out = at - np.array(in_space(frame, piece.centre))
        way = np.cross(np.array(frame.normal), out) * (1.0 if piece.turn > 0 else -1.0)
        return _square(in_space(frame, piece.start), way)
    return _square(in_space(frame, piece.start), np.array(in_space(frame, piece.end)) - at)


def _square(at: Vector, way: np.ndarray) -> Frame:
    n = way / np.linalg.norm(way)
    x = np.cross(n, np.eye(3)[int(np.argmin(np.abs(n)))])
    (a, b, c), (d, e, f) = n, x / np.linalg.norm(x)
    normal = (tolerance.ratio(float(a)), tolerance.ratio(float(b)), tolerance.ratio(float(c)))
    return Frame(at, unit((float(d), float(e), float(f))), normal)


def _round(frame: Frame, radius: float, wall: float) -> Area:
    """A circle, or a ring."""
    outside = as_piece("round", CurveResult("circle", (0.0, 0.0, radius)))
    loops = [(piece_result(outside),)]
    if wall:
        inside = as_piece("bore", CurveResult("circle", (0.0, 0.0, radius - wall)))
        loops.append((piece_result(inside.reversed()),))
    return Area(frame, (tuple(loops),))


KIND = OperationKind(
    Wire,
    (
        Sentence("wire", "Wire or tube", "", "Wire", (
            Does("acts_on"), PathBlank("path", "along"), Length("diameter", "round", "3 mm"),
            Length("wall", "hollow with a wall of", "0.8 mm", "+ hollow", optional=True),
        ), short="Wire", needs=anywhere, also=("rod", "bent wire", "tube", "pipe", "bar")),
    ),
    plan,
    group="solids",
    rank=35,
)  # fmt: skip
