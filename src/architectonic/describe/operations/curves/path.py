"""Path: a curve in space led from point to point, held by rules, with bends at its corners."""

from __future__ import annotations

import math
from typing import Any

from architectonic.base import tolerance
from architectonic.base.places import PlaceKey
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import plan_length
from architectonic.describe.recipes import ConstraintInput
from architectonic.describe.references.places import plan_line, plan_point
from architectonic.describe.references.planes import plan_plane
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import Axis, Frame, ModelState, Node, NodeFault, Plan, Recipe, Value, Vector, fault
from architectonic.describe.space import leads
from architectonic.describe.space.leads import LeadCorner, Led
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Flag, Length
from architectonic.describe.words.paths import LedPoints, SpringBack
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import PlaneBlank
from architectonic.family.operations.curves.path import TIED, VALUED, PathRule, SpacePath
from architectonic.quantities.units import ANGLE, LENGTH, NUMBER

IN_SOLVER = {
    "meets": "spots_meet", "parallel": "legs_parallel", "square": "legs_square", "equal": "legs_equal", "in_plane": "on_facing",
    "on_line": "on_ray", "mirrored": "spots_mirrored",
}  # fmt: skip
"""What the rules are called there (sketch.solving.space), where that differs."""
TOLD = {
    "meets": "on a point", "parallel": "parallel", "square": "square", "equal": "equally long", "in_plane": "in a plane",
    "on_line": "on a line", "mirrored": "mirrored", "apart": "a length", "corner": "an angle",
    **{f"along_{a}": f"along {a}" for a in "xyz"}, **{f"level_{a}": f"level in {a}" for a in "xyz"},
    **{f"coordinate_{a}": f"at {a}" for a in "xyz"}, **{f"step_{a}": f"a step in {a}" for a in "xyz"},
}  # fmt: skip
"""In words."""


class PathInput(Value, frozen=True, kw_only=True):
    """Points in order, and what holds them.

    Attributes:
        points: id, where it was drawn (mm), radius of the bend there.
        tied: planes and lines that points are tied to, and points: id, kind (spot, facing, ray), values.
        mirror: a plane, as a point and its normal.
    """

    points: tuple[tuple[str, Vector, float], ...]
    tied: tuple[tuple[str, str, tuple[float, ...]], ...]
    rules: tuple[ConstraintInput, ...]
    closed: bool
    smooth: bool
    tool: float
    mirror: tuple[Vector, Vector] | None = None


def plan_path(view: View, node: Node) -> Plan:
    """The path that an operation leads: solved, bent, with its length and table."""
    record = view.record(node)
    if not isinstance(record, SpacePath):
        raise fault("path.missing", "the path is gone", "", "missing")
    if len(record.order) < 2:
        raise fault("path.short", "has no two points", "click points, or type where they are")
    bend = tool = 0.0
    if record.bend is not None:
        bend = yield from plan_length(view, node, record.bend, "radius of its bends")
    if record.tool is not None:
        tool = yield from plan_length(view, node, record.tool, "radius of the tool")
    points = []
    for key in record.order:
        own = record.points[key]
        radius = bend
        if own.bend is not None:
            radius = yield from plan_length(view, node, own.bend, "radius of a bend", zero=True)
        points.append((key, own.at, radius))
    tied: list[tuple[str, str, tuple[float, ...]]] = []
    rules: list[ConstraintInput] = []
    for rule in record.rules:
        rules.append((yield from _plan_rule(view, node, rule, tied)))
    mirror = None
    if record.mirror is not None:
        frame: Frame = yield from plan_plane(view, node, record.mirror, record.id)
        mirror = (frame.origin, frame.normal)
    payload = PathInput(
        points=tuple(points),
        tied=tuple(tied),
        rules=tuple(rules),
        closed=record.closed,
        smooth=record.smooth,
        tool=tool,
        mirror=mirror,
    )
    made = yield Recipe("path", payload)
    if made.problem is not None:
        if made.problem.code != "path.conflict":
            raise NodeFault(made.problem)
        named = {r.id: r.name or TOLD[r.kind] for r in record.rules}
        told = "; ".join(named.get(c, c) for c in made.problem.candidates)
        raise fault(
            "path.conflict", made.problem.what.format(told), made.problem.mend, "conflict", made.problem.candidates
        )
    found: Led = made.value
    if record.spring is None:
        return found
    bends = []
    for b in found.bends:
        bent = b.bend
        if b.point:
            given = {"bend": math.degrees(b.bend)}
            bent = math.radians((yield from evaluate(view, node, record.spring, NUMBER, given, own=("bend",))))
        bends.append(leads.Bend(b.feed, b.turn, b.bend, tolerance.ratio(bent), b.radius, b.point))
    return Led(**{**{f: getattr(found, f) for f in found.__struct_fields__}, "bends": tuple(bends)})


def _plan_rule(view: View, node: Node, rule: PathRule, tied: list[tuple[str, str, tuple[float, ...]]]) -> Plan:
    """Sub-plan: a rule as the solver has it; what it ties to is put among what stands still."""
    value = None
    if rule.value is not None:
        value = yield from evaluate(view, node, rule.value, ANGLE if VALUED[rule.kind] == "angle" else LENGTH)
    of = tuple(PlaceKey(k) for k in rule.of)
    if rule.kind in TIED:
        if rule.to is None:
            raise fault("path.untied", "a point is tied to nothing", "tie it again", "missing")
        key = f"{rule.id}.to"
        if TIED[rule.kind] == "point":
            at: Vector = yield from plan_point(view, node, rule.to, node.item)
            tied.append((key, "spot", at))
        elif TIED[rule.kind] == "line":
            axis: Axis = yield from plan_line(view, node, rule.to, node.item)
            tied.append((key, "ray", (*axis.origin, *axis.direction)))
        else:
            frame: Frame = yield from plan_plane(view, node, rule.to, node.item)
            tied.append((key, "facing", (*frame.origin, *frame.normal)))
        of = (*of, PlaceKey(key))
    return ConstraintInput(rule.id, IN_SOLVER.get(rule.kind, rule.kind), of, value, rule.before)


def compute_path(payload: PathInput) -> Led:
    """The recipe: solve, then lay legs and bends.

    Raises:
        NodeFault: rules that cannot all be true (the problem's candidates are their ids), or no way to bend it.
    """
    import numpy as np

    from architectonic.sketch.solving import entities, solve

    curves = [entities.Curve(k, kind, values, fixed=True) for k, kind, values in payload.tied]
    curves += [entities.Curve(k, "spot", at) for k, at, _ in payload.points]
    constraints = [entities.Constraint(c.id, c.kind, c.of, c.value, c.branch) for c in payload.rules]
    solution = solve.solve(curves, constraints)
    if solution.conflict or solution.residual > tolerance.MODELLING:
        what = "these cannot all be true: {}"
        raise fault("path.conflict", what, "change one of them or take it out", "conflict", solution.conflict)
    at = {k: np.array(solution.values[k]) for k, _, _ in payload.points}
    corners = [LeadCorner(k, at[k], radius) for k, _, radius in payload.points]
    closed = payload.closed
    try:
        if payload.mirror is not None:
            corners, closed = _mirrored(corners, payload.mirror, closed)
        if payload.smooth:
            curve, length = leads.smoothed(corners, closed)
            pieces, bends = [("curve", curve)], list[leads.Bend]()
        else:
            pieces, length, bends = leads.bent(corners, closed, payload.tool, {})
    except leads.LeadFault as problem:
        raise fault("path.refused", problem.what, problem.mend) from None
    own = {k for k, _, _ in payload.points}
    return Led(
        curves=tuple(c for _, c in pieces),
        labels=tuple(k for k, _ in pieces),
        points={c.key: tuple(tolerance.length(float(v)) for v in c.at) for c in corners},  # type: ignore[misc]
        order=tuple(c.key for c in corners),
        closed=closed,
        length=tolerance.length(length),
        freedoms=solution.freedoms,
        free=tuple(sorted(solution.free & own)),
        bends=tuple(bends),
    )


def _mirrored(corners: list[LeadCorner], mirror: tuple[Vector, Vector], closed: bool) -> tuple[list[LeadCorner], bool]:
    """A path with its mirror image going on where it ends on the plane; closed when it begins there too.

    Raises:
        LeadFault: it does not end on the plane.
    """
    import numpy as np

    origin, normal = np.array(mirror[0]), np.array(mirror[1])
    on = [abs(float((c.at - origin) @ normal)) < 10 * tolerance.MODELLING for c in corners]
    if closed or not on[-1]:
        raise leads.LeadFault(
            "the path does not end on the plane that it is mirrored in", "tie its last point to the plane"
        )
    image = [LeadCorner(f"{c.key}'", c.at - 2 * float((c.at - origin) @ normal) * normal, c.radius) for c in corners]
    rest = image[-2::-1]
    return [*corners, *(rest[:-1] if on[0] else rest)], on[0]


def plan(view: View, node: Node, record: SpacePath, given: ModelState) -> Plan:
    """Bodies as they were; the path is there to be taken."""
    (outcome,) = yield [Node("path", node.at, record.id)]
    if outcome.problem is not None:
        raise NodeFault(outcome.problem)
    return given


def labelled(led: Led, label: str) -> Any:
    """A piece of a path by its label; None when it is gone."""
    return dict(zip(led.labels, led.curves, strict=True)).get(label)


KIND = OperationKind(
    SpacePath,
    (
        Sentence("path", "Path in space", "lead", "Path", (
            LedPoints("order", "through"), Length("bend", "bent with radius", "8 mm", "+ bends", optional=True),
            Flag("closed", "closed"), Flag("smooth", "smooth"),
            PlaneBlank("mirror", "and mirrored in", "", "+ mirrored half", optional=True),
            Length("tool", "with no radius below", "5 mm", "+ tool", optional=True),
            SpringBack("spring", "bending", "1.02 * bend", "+ spring-back", optional=True),
        ), short="Path", needs=anywhere, also=("wire", "3D sketch", "route", "spline in space", "rail")),
    ),
    plan,
    group="surfaces",
    rank=70,
)  # fmt: skip
