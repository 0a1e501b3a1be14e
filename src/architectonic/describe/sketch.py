"""Sketches: records into numbers, solved and searched for regions in the application's own process."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.describe.planes import in_space, on_plane, plan_curve
from architectonic.describe.recipes import ConstraintInput, CurveInput, SolveInput
from architectonic.describe.results import (
    CurveResult,
    Frame,
    Node,
    PieceResult,
    PlacedCurve,
    Plan,
    Recipe,
    RegionResult,
    SketchResult,
    fault,
    needed,
)
from architectonic.describe.view import View
from architectonic.family.records import Arc, Circle, Curve, Line, Point, Sketch, Trace
from architectonic.sketch import regions, system


def start_values(curve: Curve) -> tuple[str, tuple[float, ...]]:
    """Kind and stored start values of a drawn curve, in the order of system.SHAPES."""
    if isinstance(curve, Line):
        return "line", (*curve.start, *curve.end)
    if isinstance(curve, Circle):
        return "circle", (*curve.centre, curve.radius)
    if isinstance(curve, Arc):
        return "arc", (*curve.centre, *curve.start, *curve.end, math.dist(curve.centre, curve.start))
    assert isinstance(curve, Point)
    return "point", curve.at


def plan_solve(view: View, node: Node) -> Plan:
    """The solved sketch in its own plane; independent of where that plane stands, but for traced curves."""
    record = view.record(node)
    assert isinstance(record, Sketch)
    if not view.is_on(node, record):
        raise fault("operation.off", f"{record.name} is off in this configuration", severity="off")
    curves: list[CurveInput] = []
    for key, curve in record.curves.items():
        if isinstance(curve, Trace):
            placed = yield from plan_curve(view, node, curve.source)
            (own,) = yield [Node("frame", node.document, node.configuration, record.id)]
            kind, values = project(placed, needed(own, "its plane"))
            curves.append(
                CurveInput(
                    key,
                    kind,
                    values,
                    curve.helper,
                    True,
                    curve.drawn if len(curve.drawn) == len(values) else (),
                )
            )
        else:
            kind, values = start_values(curve)
            curves.append(CurveInput(key, kind, values, curve.helper, False))
    dimensions = [c for c in record.constraints if c.value is not None]
    outcomes = yield [Node("value", node.document, node.configuration, c.id) for c in dimensions]
    value_of = {c.id: needed(o, c.name or c.kind) for c, o in zip(dimensions, outcomes, strict=True)}
    for c in dimensions:
        if c.kind in ("distance", "radius", "diameter") and value_of[c.id] < 0:
            raise fault("sketch.negative", f"{c.name or c.kind} is {value_of[c.id]:g} mm", "give it a positive value")
        if c.kind in ("radius", "diameter") and value_of[c.id] < tolerance.FEATURE:
            raise fault("sketch.zero_radius", f"{c.name or c.kind} is zero", "give it a positive value")
    kinds = {c.id: c.kind for c in curves}
    for c in record.constraints:
        found = tuple(system.place_kind(kinds, p) for p in c.of)
        if found not in system.ACCEPTS[c.kind]:
            told = " and ".join(k or "something that is gone" for k in found)
            what = f"{c.name or c.kind.replace('_', ' ')} cannot hold between {told}"
            raise fault(
                "sketch.misfit", what, "delete it, or point what is traced at a curve of the old kind", "missing"
            )
    payload = SolveInput(
        tuple(curves),
        tuple(
            ConstraintInput(c.id, c.kind, c.of, value_of.get(c.id), c.branch) for c in record.constraints if not c.reads
        ),
    )
    made = yield Recipe("solve", payload)
    if made.problem is not None:
        named = {c.id: c.name or c.kind for c in record.constraints}
        told = ", ".join(named.get(c, c) for c in made.problem.candidates)
        raise fault(
            made.problem.code,
            made.problem.what.format(told),
            made.problem.mend,
            "conflict",
            made.problem.candidates,
        )
    return made.value


def project(placed: PlacedCurve, frame: Frame) -> tuple[str, tuple[float, ...]]:
    """A curve of another plane, projected square onto this one; circles only between parallel planes."""
    kind, v = placed.curve.kind, placed.curve.values

    def moved(i: int) -> tuple[float, float]:
        u, w = on_plane(frame, in_space(placed.frame, (v[i], v[i + 1])))
        return tolerance.length(u), tolerance.length(w)

    if kind == "point":
        return kind, moved(0)
    if kind == "line":
        return kind, (*moved(0), *moved(2))
    facing = sum(a * b for a, b in zip(placed.frame.normal, frame.normal, strict=True))
    if abs(abs(facing) - 1) > 1e-9:
        raise fault("trace.tilted", "a circle seen at an angle is no circle", "sketch on a plane parallel to it")
    if kind == "circle":
        return kind, (*moved(0), v[2])
    ends = (*moved(2), *moved(4)) if facing > 0 else (*moved(4), *moved(2))
    return kind, (*moved(0), *ends, v[6])


def compute_solve(payload: SolveInput) -> SketchResult:
    """The recipe: solve, then find regions.

    Raises:
        NodeFault: constraints that cannot all be true; the problem's candidates are their ids.
    """
    from architectonic.sketch import solve  # its libraries load where something is solved, not while a window opens

    curves = [system.Curve(c.id, c.kind, c.values, c.fixed, c.drawn) for c in payload.curves]
    helper = {c.id: c.helper for c in payload.curves}
    solution = solve.solve(
        curves, [system.Constraint(c.id, c.kind, c.of, c.value, c.branch) for c in payload.constraints]
    )
    if solution.conflict or solution.residual > 1e-6:
        raise fault(
            "sketch.conflict",
            "these cannot all be true: {}",
            "change one of them or delete it",
            "conflict",
            solution.conflict,
        )
    found = {
        c.id: CurveResult(c.kind, tuple(tolerance.length(v) for v in solution.values[c.id]), helper[c.id], c.fixed)
        for c in curves
    }
    pieces = [as_piece(key, c) for key, c in found.items() if c.kind != "point" and not c.helper]
    return SketchResult(
        found,
        solution.freedoms,
        tuple(sorted(solution.free)),
        float(solution.residual),
        tuple(_region(r) for r in regions.find(pieces)),
    )


def as_piece(key: str, c: CurveResult) -> regions.Piece:
    """A solved curve as the search for regions reads it."""
    v = c.values
    if c.kind == "line":
        return regions.line(key, (v[0], v[1]), (v[2], v[3]))
    if c.kind == "circle":
        return regions.circle(key, (v[0], v[1]), v[2])
    return regions.arc(key, (v[0], v[1]), (v[2], v[3]), (v[4], v[5]))


def _region(r: regions.Region) -> RegionResult:
    return RegionResult(r.label, tuple(tuple(piece_result(p) for p in loop) for loop in r.loops), r.area, r.inside)


def piece_result(p: regions.Piece) -> PieceResult:
    """A piece as a stored result."""
    return PieceResult(p.curve, p.start, p.end, p.centre, p.radius, p.turn, p.forward)


def as_region(r: RegionResult) -> regions.Region:
    """Inverse of the above, for uniting regions."""
    loops = tuple(
        tuple(regions.Piece(p.curve, p.forward, p.start, p.end, p.centre, p.radius, p.turn) for p in loop)
        for loop in r.loops
    )
    return regions.Region(r.label, loops, r.area, r.inside)
