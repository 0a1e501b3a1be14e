"""Every kind of constraint: its Jacobian against central differences, its measure, its merges against its rows."""

import math
import random

import numpy as np
import pytest

from architectonic.describe.drawn.readings import measured
from architectonic.describe.results import CurveResult, SketchResult
from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.freedoms import freedoms_of
from architectonic.sketch.solving.problem import Equations
from architectonic.sketch.solving.solve import solve
from architectonic.sketch.solving.system import System

CURVES = [
    Curve("a", "line", (1.0, 2.0, 31.0, 9.0)),
    Curve("b", "line", (4.0, -3.0, 12.0, 25.0)),
    Curve("c", "circle", (20.0, 14.0, 6.0)),
    Curve("d", "circle", (45.0, 10.0, 9.0)),
    Curve("e", "arc", (10.0, 30.0, 18.0, 31.0, 9.0, 38.0, 8.1)),
    Curve("p", "point", (7.0, 17.0)),
]
KINDS = [
    ("coincident", ("a.end", "b.start"), None, 1),
    ("horizontal", ("a",), None, 1),
    ("horizontal", ("a.start", "p.at"), None, 1),
    ("vertical", ("b",), None, 1),
    ("parallel", ("a", "b"), None, 1),
    ("parallel", ("a", "b"), None, -1),
    ("perpendicular", ("a", "b"), None, 1),
    ("perpendicular", ("a", "b"), None, -1),
    ("equal", ("a", "b"), None, 1),
    ("equal", ("c", "d"), None, 1),
    ("equal", ("c", "e"), None, 1),
    ("tangent", ("a", "c"), None, 1),
    ("tangent", ("a", "c"), None, -1),
    ("tangent", ("c", "d"), None, 1),
    ("tangent", ("c", "d"), None, -1),
    ("tangent", ("c", "d"), None, -2),
    ("on_curve", ("p.at", "a"), None, 1),
    ("on_curve", ("p.at", "c"), None, 1),
    ("on_curve", ("a.end", "e"), None, 1),
    ("distance", ("a",), 12.0, 1),
    ("distance", ("a.end", "p.at"), 12.0, 1),
    ("distance", ("p.at", "b"), 5.0, 1),
    ("distance", ("p.at", "b"), 5.0, -1),
    ("horizontal_distance", ("p.at", "a.end"), 5.0, 1),
    ("vertical_distance", ("p.at", "a.end"), 5.0, -1),
    ("angle", ("a", "b"), 0.7, 1),
    ("angle", ("x_axis", "b"), 2.9, -1),
    ("radius", ("c",), 5.0, 1),
    ("diameter", ("e",), 12.0, 1),
    ("collinear", ("a", "b"), None, 1),
    ("concentric", ("c", "e"), None, 1),
    ("midpoint", ("p.at", "a"), None, 1),
    ("symmetric", ("a.start", "b.end", "x_axis"), None, 1),
    ("symmetric", ("a.start", "b.end", "b"), None, 1),
    ("symmetric", ("a.start", "b.start", "p.at"), None, 1),
    ("distance", ("a", "b"), 15.0, 1),
    ("distance", ("c", "d"), 4.0, 1),
    ("arc_length", ("e",), 20.0, 1),
    ("angle", ("a.start", "p.at", "b.end"), 0.9, 1),
    ("fix", ("c",), None, 1),
    ("fix", ("a.start",), None, 1),
]


@pytest.mark.parametrize(("kind", "of", "value", "branch"), KINDS)
def test_jacobian_equals_central_differences(kind, of, value, branch):
    c = Constraint("k", kind, of, value, branch)
    system = System(CURVES, [])
    x = list(system.x)
    h = 1e-6
    for row, (_, gradient) in enumerate(system.rows(c, x)):
        for i in range(len(x)):
            high, low = list(x), list(x)
            high[i] += h
            low[i] -= h
            slope = (system.rows(c, high)[row][0] - system.rows(c, low)[row][0]) / (2 * h)
            if kind != "fix":  # a fix refers to the positions it was made at, which are x itself
                assert gradient.get(i, 0.0) == pytest.approx(slope, abs=2e-7), (kind, i)


@pytest.mark.parametrize(("kind", "of", "value", "branch"), [k for k in KINDS if k[0] != "fix"])
def test_solving_one_constraint_alone_makes_it_true(kind, of, value, branch):
    """Recomputed here, from the curves' values alone."""
    c = Constraint("k", kind, of, value, branch)
    found = solve(CURVES, [c])
    assert not found.conflict and found.residual <= 1e-10
    again = System([Curve(k.id, k.kind, found.values[k.id]) for k in CURVES], [])
    assert max(abs(r) for r, _ in again.rows(c, again.x)) <= 1e-9
    variables = sum(len(k.values) for k in CURVES) - 2  # less the two rows that keep the arc's ends on its radius
    two = kind in ("coincident", "concentric", "midpoint", "symmetric", "collinear") or (kind, of) == (
        "distance",
        ("a", "b"),
    )
    rows = 2 if two else 1
    assert found.freedoms == variables - rows


@pytest.mark.parametrize(("kind", "of", "value", "branch"), [k for k in KINDS if k[2] is not None])
def test_a_dimension_measures_what_it_was_set_to(kind, of, value, branch):
    c = Constraint("k", kind, of, value, branch)
    found = solve(CURVES, [c])
    curves = {k.id: CurveResult(k.kind, found.values[k.id]) for k in CURVES}
    assert measured(SketchResult(curves, 0, (), 0.0, ()), kind, of) == pytest.approx(value, abs=1e-9)


def random_sketch(draw):
    """Lines in a loose chain with random constraints that hold where they are drawn."""
    n = draw.randrange(3, 7)
    at = [(draw.uniform(-50, 50), draw.uniform(-50, 50)) for _ in range(n + 1)]
    curves = [Curve(f"l{i}", "line", (*at[i], *at[i + 1])) for i in range(n)]
    constraints = []
    for i in range(n - 1):
        if draw.random() < 0.8:
            constraints.append(Constraint(f"j{i}", "coincident", (f"l{i}.end", f"l{i + 1}.start")))
    for i in range(n):
        if draw.random() < 0.6:
            constraints.append(Constraint(f"d{i}", "distance", (f"l{i}",), math.dist(at[i], at[i + 1])))
    if draw.random() < 0.5:
        constraints.append(Constraint("o", "fix", ("l0.start",)))
    for i in range(n - 1):
        if draw.random() < 0.4:
            turn = math.atan2(at[i + 2][1] - at[i + 1][1], at[i + 2][0] - at[i + 1][0])
            turn -= math.atan2(at[i + 1][1] - at[i][1], at[i + 1][0] - at[i][0])
            constraints.append(Constraint(f"a{i}", "angle", (f"l{i}", f"l{i + 1}"), turn % (2 * math.pi)))
    return curves, constraints


@pytest.mark.parametrize("seed", range(40))
def test_freedoms_equal_the_rank_of_all_rows(seed):
    """Oracle: rank by singular values of the full Jacobian, before any elimination, by numpy."""
    curves, constraints = random_sketch(random.Random(seed))
    system = System(curves, constraints)
    rows = [g for _, g in system.internal_rows(system.x)]
    rows += [g for c in constraints for _, g in system.rows(c, system.x)]
    free = [i for i in range(len(system.x)) if i not in system.fixed]
    full = np.zeros((len(rows) or 1, len(free)))
    for k, gradient in enumerate(rows):
        for i, g in gradient.items():
            if i in free:
                full[k, free.index(i)] = g
    rank = np.linalg.matrix_rank(full, tol=1e-9 * max(1.0, np.abs(full).max()))
    found, moving = freedoms_of(system, system.x)
    assert found == len(free) - rank
    assert bool(moving) == (found > 0)


@pytest.mark.parametrize("seed", range(12))
def test_a_solution_moves_with_its_drawing(seed):
    """Turning and shifting a loose drawing turns and shifts its solution: no hidden direction is preferred."""
    draw = random.Random(seed)
    curves, constraints = random_sketch(draw)
    constraints = [c for c in constraints if c.kind != "fix"]
    noisy = [Curve(c.id, c.kind, tuple(v + draw.uniform(-0.3, 0.3) for v in c.values)) for c in curves]
    turn, dx, dy = draw.uniform(0, 6), draw.uniform(-20, 20), draw.uniform(-20, 20)

    def put(values):
        out = []
        for x, y in zip(values[::2], values[1::2], strict=True):
            out += [math.cos(turn) * x - math.sin(turn) * y + dx, math.sin(turn) * x + math.cos(turn) * y + dy]
        return tuple(out)

    plain = solve(noisy, constraints)
    moved = solve([Curve(c.id, c.kind, put(c.values)) for c in noisy], constraints)
    assert plain.freedoms == moved.freedoms and not plain.conflict and not moved.conflict
    for c in noisy:
        lengths = [math.dist(v[:2], v[2:]) for v in (plain.values[c.id], moved.values[c.id])]
        assert lengths[0] == pytest.approx(lengths[1], rel=1e-4)


def test_elimination_leaves_no_row_for_what_it_states():
    system = System(CURVES, [Constraint("h", "horizontal", ("a",)), Constraint("d", "distance", ("b",), 20.0)])
    problem = Equations(system)
    columns = list(range(len(problem.members)))
    residual, jacobian = problem.jacobian(problem.start(), problem.equations, columns)
    assert len(residual) == 3 and jacobian.shape == (3, len(columns))  # the arc's two ends and the distance
    assert system.eliminated == {"h"}
