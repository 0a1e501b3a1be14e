"""Sketches: records into numbers, solved and searched for regions in the application's own process."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.base.places import curve_of
from architectonic.describe.drawn.curves import as_pieces, drawn_result, piece_result
from architectonic.describe.recipes import ConstraintInput, CurveInput, SolveInput
from architectonic.describe.references.switched import is_on
from architectonic.describe.results import (
    CurveResult,
    Node,
    Plan,
    Recipe,
    RegionResult,
    SketchResult,
    fault,
    needed,
)
from architectonic.describe.sketch.trace import plan_trace
from architectonic.describe.view import View
from architectonic.describe.words.sentences import holds
from architectonic.family.records import COUNT, Sketch, Trace
from architectonic.sketch.curves import kinds, regions
from architectonic.sketch.solving import entities, images


def plan_solve(view: View, node: Node) -> Plan:
    """The solved sketch in its own plane; independent of where that plane stands, but for traced curves."""
    record = view.record(node)
    assert isinstance(record, Sketch)
    if not (yield from is_on(view, node, record)):
        raise fault("operation.off", f"{record.name} is off in this configuration", severity="off")
    curves: list[CurveInput] = []
    for key, curve in record.curves.items():
        if isinstance(curve, Trace):
            curves.append((yield from plan_trace(view, node, record, key, curve)))
        else:
            here = drawn_result(curve)
            curves.append(CurveInput(key, here.kind, here.values, here.helper, False, (), here.data, here.text))
    dimensions = [c for c in record.constraints if c.value is not None]
    outcomes = yield [Node("value", node.at, c.id) for c in dimensions]
    value_of = {c.id: needed(o, c.name or c.kind) for c, o in zip(dimensions, outcomes, strict=True)}
    for c in dimensions:
        if c.kind in ("distance", "radius", "diameter", "offset") and value_of[c.id] < 0:
            raise fault("sketch.negative", f"{c.name or c.kind} is {value_of[c.id]:g} mm", "give it a positive value")
        if c.kind in ("radius", "diameter") and value_of[c.id] < tolerance.FEATURE:
            raise fault("sketch.zero_radius", f"{c.name or c.kind} is zero", "give it a positive value")
    absent = _absent(record, value_of)
    curves = [c for c in curves if c.id not in absent]
    holding = [c for c in record.constraints if c.solves and not any(curve_of(p) in absent for p in c.of)]
    kind_of = {c.id: c.kind for c in curves}
    for c in (*holding, *(c for c in record.constraints if c.kind == COUNT)):
        found = tuple(kinds.place_kind(kind_of, p) for p in c.of)
        if not kinds.accepted(c.kind, found):
            told = " and ".join(k or "something that is gone" for k in found)
            what = f"{c.name or c.kind.replace('_', ' ')} cannot hold between {told}"
            raise fault(
                "sketch.misfit", what, "delete it, or point what is traced at a curve of the old kind", "missing"
            )
    payload = SolveInput(
        tuple(curves),
        tuple(ConstraintInput(c.id, c.kind, c.of, value_of.get(c.id), c.branch) for c in holding),
    )
    made = yield Recipe("solve", payload)
    if made.problem is not None:
        named = {c.id: holds(record, c, value_of.get(c.id)) for c in record.constraints}
        told = "; ".join(named.get(c, c) for c in made.problem.candidates)
        raise fault(
            made.problem.code,
            made.problem.what.format(told),
            made.problem.mend,
            "conflict",
            made.problem.candidates,
        )
    return made.value


def _absent(sketch: Sketch, value_of: dict[str, float]) -> set[str]:
    """Curves of the members of rows and rings that are beyond their counts, and what is copied from these.

    Raises:
        NodeFault: a count is no number of members, or more than are drawn.
    """
    told = [(c.kind, tuple(c.of)) for c in sketch.constraints]
    absent: set[str] = set()
    for c in sketch.constraints:
        if c.kind != COUNT:
            continue
        count, copies = value_of[c.id], images.members(tuple(c.of), told)
        if abs(count - round(count)) > tolerance.FEATURE or count < 0:
            raise fault("sketch.count", f"{c.name or 'the count'} is {count:g}", "give a whole number, 0 or more")
        if round(count) > len(copies) + 1:
            what = f"{count:g} are asked for here, and {len(copies) + 1} are drawn"
            raise fault(
                "sketch.more", what, "open the sketch and draw the members that are missing", "missing", (c.id,)
            )
        absent |= {curve for m in copies[max(round(count), 1) - 1 :] for curve in m.values()}
    return images.without(absent, told)


def compute_solve(payload: SolveInput) -> SketchResult:
    """The recipe: solve, then find regions.

    Raises:
        NodeFault: constraints that cannot all be true; the problem's candidates are their ids.
    """
    from architectonic.sketch.solving import (  # their libraries load where something is solved, not while a window opens
        singular,
        solve,
    )

    curves = [entities.Curve(c.id, c.kind, c.values, c.fixed, c.drawn, c.data) for c in payload.curves]
    constraints = [entities.Constraint(c.id, c.kind, c.of, c.value, c.branch) for c in payload.constraints]
    solution = solve.solve(curves, constraints)
    if solution.conflict or solution.residual > 1e-6:
        raise fault(
            "sketch.conflict",
            "these cannot all be true: {}",
            "change one of them or delete it",
            "conflict",
            solution.conflict,
        )
    found = {
        c.id: CurveResult(
            c.kind, tuple(tolerance.length(v) for v in solution.values[c.id]), c.helper, c.fixed, c.data, c.text
        )
        for c in payload.curves
    }
    pieces = [p for key, c in found.items() if not c.helper for p in as_pieces(key, c)]
    return SketchResult(
        found,
        solution.freedoms,
        tuple(sorted(solution.free)),
        float(solution.residual),
        tuple(_region(r) for r in regions.find(pieces)),
        tuple(
            sorted({*singular.without_length(solution.values, curves), *singular.dead(curves, constraints, solution)})
        ),
        tuple(sorted(solution.crossed)),
    )


def _region(r: regions.Region) -> RegionResult:
    return RegionResult(r.label, tuple(tuple(piece_result(p) for p in loop) for loop in r.loops), r.area, r.inside)
