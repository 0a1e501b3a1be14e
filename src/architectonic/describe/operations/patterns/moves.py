"""Where the members of a pattern stand: the moves that take the first one there."""

from __future__ import annotations

import itertools
import math

from architectonic.base import rigid, tolerance
from architectonic.base.rigid import Rigid
from architectonic.describe.drawn.curves import as_piece_of
from architectonic.describe.references.chains import chained
from architectonic.describe.references.places import plan_curve, plan_line, plan_point
from architectonic.describe.references.planes import along, cross, dot, in_space, plan_plane, unit, y_axis
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import (
    Frame,
    MemberMove,
    Node,
    PlacedCurve,
    Plan,
    SketchResult,
    Vector,
    fault,
    needed,
)
from architectonic.describe.view import View
from architectonic.family.operations.patterns.pattern import (
    Along,
    AtPoints,
    ByTable,
    Mirrored,
    PatternBodies,
    PatternSteps,
    Ring,
    Row,
    TwoWays,
)
from architectonic.family.records import Expression, Reference, Sketch
from architectonic.quantities.compiled import TRUTH
from architectonic.quantities.units import ANGLE, LENGTH, NUMBER
from architectonic.sketch.curves.piece import Piece

MOST = 5000
"""Members that one pattern may have."""
SAMPLES = 256
"""Pieces of a free curve whose lengths are added up."""
NUMBER_OF = "n"
"""What a condition calls the number of a member, the first one being 1."""


def plan_members(view: View, node: Node) -> Plan:
    """The members of a pattern beside the first one, in order; those that are left out are told to be."""
    record = view.record(node)
    if not isinstance(record, (PatternSteps, PatternBodies)):
        raise fault("pattern.missing", "the pattern is gone", "", "missing")
    moves = yield from _plan_moves(view, node, record)
    made = []
    for number, (key, move) in enumerate(moves, start=2):
        if move == rigid.IDENTITY:
            told = f"member {number} stands on the first one"
            raise fault("pattern.same_place", told, "give a step, or leave it out")
        out = key in record.left_out
        if not out and record.only_if is not None:
            given = {NUMBER_OF: float(number)}
            out = not (yield from evaluate(view, node, record.only_if, TRUTH, given, own=(NUMBER_OF,)))
        made.append(MemberMove(key, number, tuple(tolerance.ratio(c) for c in move), out))
    return tuple(made)


def _plan_moves(view: View, node: Node, record: PatternSteps | PatternBodies) -> Plan:
    by = record.by
    if isinstance(by, Row):
        count = yield from _plan_count(view, node, by.count)
        step = yield from _plan_step(view, node, by.direction, by.step, count, by.over, record.id)
        sign = -1.0 if by.flip else 1.0
        return [(str(k), _shift(step, sign * k)) for k in range(1, count)]
    if isinstance(by, TwoWays):
        count = yield from _plan_count(view, node, by.count)
        step = yield from _plan_step(view, node, by.direction, by.step, count, False, record.id)
        across = yield from _plan_count(view, node, by.second_count)
        other = yield from _plan_step(view, node, by.second, by.second_step, across, False, record.id)
        _refuse_many(count * across)
        places = [(i, j) for j in range(across) for i in range(count) if (i, j) != (0, 0)]
        return [(f"{i}.{j}", rigid.times(_shift(step, i), _shift(other, j))) for i, j in places]
    if isinstance(by, Ring):
        found = yield from _plan_ring(view, node, by, record.id)
        return found
    if isinstance(by, Along):
        found = yield from _plan_along(view, node, by, record.id)
        return found
    if isinstance(by, Mirrored):
        plane: Frame = yield from plan_plane(view, node, by.plane, record.id)
        return [("mirrored", mirror(plane))]
    base = yield from plan_point(view, node, by.base, record.id)
    if isinstance(by, AtPoints):
        found = yield from _plan_at_points(view, node, by, base)
        return found
    assert isinstance(by, ByTable)
    moves = []
    for key, row in by.rows.items():
        shift = []
        for expression in (row.x, row.y, row.z):
            shift.append((yield from evaluate(view, node, expression, LENGTH)))
        move = rigid.shift(*shift)
        if row.angle is not None:
            angle = yield from evaluate(view, node, row.angle, ANGLE)
            move = rigid.times(move, rigid.about((0.0, 0.0, 1.0), angle, base))
        moves.append((key, move))
    return moves


def _plan_count(view: View, node: Node, expression: Expression) -> Plan:
    """A whole number, zero and one among them."""
    value = yield from evaluate(view, node, expression, NUMBER)
    count = round(value)
    if abs(value - count) > tolerance.FEATURE or count < 0:
        raise fault("pattern.count", f"{value:g} is no number of members", "give a whole number, 0 or more")
    _refuse_many(count)
    return count


def _refuse_many(count: int) -> None:
    if count > MOST:
        raise fault("pattern.many", f"{count} members are more than {MOST}", "give fewer")


def _plan_step(
    view: View, node: Node, direction: Reference, step: Expression, count: int, over: bool, standing: str
) -> Plan:
    """Sub-plan: from one member to the next."""
    axis = yield from plan_line(view, node, direction, standing)
    value = yield from evaluate(view, node, step, LENGTH)
    if over:
        value = value / max(count - 1, 1)
    d = axis.direction
    return (value * d[0], value * d[1], value * d[2])


def _shift(step: Vector, times: float) -> Rigid:
    return rigid.shift(times * step[0] + 0.0, times * step[1] + 0.0, times * step[2] + 0.0)


def _plan_ring(view: View, node: Node, by: Ring, standing: str) -> Plan:
    axis = yield from plan_line(view, node, by.axis, standing)
    count = yield from _plan_count(view, node, by.count)
    angle = yield from evaluate(view, node, by.angle, ANGLE)
    if not by.each:
        closed = abs(abs(angle) - math.tau) < tolerance.FEATURE
        angle = angle / (count if closed and count else max(count - 1, 1))
    sign = -1.0 if by.flip else 1.0
    if by.each and count > 1 and abs((count - 1) * angle) > math.tau - abs(angle) + tolerance.FEATURE:
        told = f"{count} members of {math.degrees(angle):g}° run into the first one"
        raise fault("pattern.round", told, "give fewer, or a smaller angle")
    turns = [(str(k), rigid.about(axis.direction, sign * k * angle, axis.origin)) for k in range(1, count)]
    if by.base is None:
        return turns
    base: Vector = yield from plan_point(view, node, by.base, standing)
    return [(key, rigid.shift(*along(rigid.moved(turn, base), base, -1.0))) for key, turn in turns]


def _plan_at_points(view: View, node: Node, by: AtPoints, base: Vector) -> Plan:
    record = view.record(Node("", node.at, by.sketch.item))
    if not isinstance(record, Sketch):
        raise fault("pattern.sketch", "the sketch with its points is gone", "pick another one", "missing")
    solved, frame = yield [Node("solve", node.at, record.id), Node("frame", node.at, record.id)]
    found: SketchResult = needed(solved, record.name)
    plane: Frame = needed(frame)
    moves = []
    for key, curve in found.curves.items():
        if curve.kind == "point":
            at = in_space(plane, (curve.values[0], curve.values[1]))
            shift = along(at, base, -1.0)
            if dot(shift, shift) > tolerance.FEATURE**2:  # where the first one stands already there is none
                moves.append((key, rigid.shift(*shift)))
    if not moves:
        raise fault("pattern.no_point", f"{record.name} has no point beside the first one", "draw points in it")
    return sorted(moves, key=lambda m: (round(m[1][3], 6), round(m[1][7], 6), m[1][11]))


def _plan_along(view: View, node: Node, by: Along, standing: str) -> Plan:
    if not by.path:
        raise fault("pattern.no_path", "has no path", "pick curves or edges that meet end to end")
    curves: list[PlacedCurve] = []
    for reference in by.path:
        curves.append((yield from plan_curve(view, node, reference, standing)))
    if any(c.heights for c in curves):
        raise fault("curve.in_space", "this curve lies in no plane", "pick curves that lie in a plane")
    names = [str(k) for k in range(len(curves))]
    legs = [_Leg(c.frame, as_piece_of(p)) for c, p in chained(curves, names)]
    whole = sum(leg.length for leg in legs)
    count = yield from _plan_count(view, node, by.count)
    closed = math.dist(legs[0].at(0.0)[0], legs[-1].at(legs[-1].length)[0]) < tolerance.FEATURE
    step = whole / (count if closed and count else max(count - 1, 1))
    if by.step is not None:
        step = yield from evaluate(view, node, by.step, LENGTH)
        if step * (count - 1) > whole + tolerance.FEATURE:
            told = f"the path is {whole:.4g} mm long and {count} members take {step * (count - 1):.4g} mm"
            raise fault("pattern.path", told, "give fewer, or a smaller step")
    first, ahead = _on(legs, 0.0)
    moves = []
    for k in range(1, count):
        point, direction = _on(legs, k * step)
        turn = _turned_to(ahead, direction, first) if by.turned else rigid.IDENTITY
        moves.append((str(k), rigid.times(rigid.shift(*along(point, first, -1.0)), turn)))
    return moves


class _Leg:
    """One piece of a path, by its length."""

    def __init__(self, frame: Frame, piece: Piece) -> None:
        self.frame, self.piece = frame, piece
        share = [k / SAMPLES for k in range(SAMPLES + 1)]
        points = [piece.at(s) for s in share]
        steps = [math.dist(a, b) for a, b in itertools.pairwise(points)]
        if piece.path is None:
            self.length = math.dist(piece.start, piece.end) if piece.straight else abs(piece.turn) * piece.radius
            self._marks = [s * self.length for s in share]
        else:
            self._marks = [0.0]
            for s in steps:
                self._marks.append(self._marks[-1] + s)
            self.length = self._marks[-1]

    def at(self, along_it: float) -> tuple[Vector, Vector]:
        """The point at a length, and the direction there."""
        k = next((i for i, m in enumerate(self._marks[1:]) if m >= along_it - tolerance.FEATURE), SAMPLES - 1)
        low, high = self._marks[k], self._marks[k + 1]
        share = (k + ((along_it - low) / (high - low) if high > low else 0.0)) / SAMPLES
        here = self.piece.at(min(max(share, 0.0), 1.0))
        near = self.piece.at(min(max(share - 1e-4, 0.0), 1.0))
        far = self.piece.at(min(max(share + 1e-4, 0.0), 1.0))
        x, y = far[0] - near[0], far[1] - near[1]
        way = along(along((0.0, 0.0, 0.0), self.frame.x, x), y_axis(self.frame), y)
        return in_space(self.frame, here), unit(way)


def _on(legs: list[_Leg], length: float) -> tuple[Vector, Vector]:
    for leg in legs:
        if length <= leg.length + tolerance.FEATURE:
            return leg.at(length)
        length -= leg.length
    return legs[-1].at(legs[-1].length)


def _turned_to(a: Vector, b: Vector, through: Vector) -> Rigid:
    """The least turn from one direction to another."""
    axis = cross(a, b)
    size = math.sqrt(dot(axis, axis))
    if size < tolerance.FEATURE:
        return rigid.IDENTITY if dot(a, b) > 0 else rigid.about(_square_to(a), math.pi, through)
    return rigid.about(unit(axis), math.atan2(size, dot(a, b)), through)


def _square_to(a: Vector) -> Vector:
    beside: Vector = (0.0, 0.0, 1.0) if abs(a[2]) < 0.9 else (1.0, 0.0, 0.0)
    return unit(along(beside, a, -dot(beside, a)))


def mirror(plane: Frame) -> Rigid:
    """The reflection in a plane, as a matrix."""
    n, d = plane.normal, dot(plane.origin, plane.normal)
    rows = [[(1.0 if i == j else 0.0) - 2 * n[i] * n[j] for j in range(3)] for i in range(3)]
    return (*rows[0], 2 * d * n[0], *rows[1], 2 * d * n[1], *rows[2], 2 * d * n[2], 0.0, 0.0, 0.0, 1.0)
