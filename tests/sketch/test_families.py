"""The solver on sketches of every size: residuals by code of its own, branches kept, freedoms and conflicts against
oracles that know nothing of blocks."""

import itertools
import math
import random
from dataclasses import replace

import numpy as np
import pytest
from tests.support.trusses import hinged, noisy, orientations, parts, truss

from architectonic.sketch.solving.drag import Drag
from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.freedoms import freedoms_of
from architectonic.sketch.solving.solve import solve
from architectonic.sketch.solving.system import System

pytestmark = pytest.mark.no_cover  # many runs of what other tests cover: tracing would make them three times as long


def misses(curves, constraints, values):
    """How far each constraint is from holding, mm or rad times mm, by plain geometry (not the solver's kernels)."""
    kinds = {c.id: c.kind for c in curves}
    where = {("line", "start"): 0, ("line", "end"): 2, ("circle", "centre"): 0, ("arc", "centre"): 0,
             ("arc", "start"): 2, ("arc", "end"): 4, ("point", "at"): 0}  # fmt: skip

    def point(place):
        curve, _, part = place.partition(".")
        if curve == "origin":
            return 0.0, 0.0
        i = where[kinds[curve], part or "at"]
        return values[curve][i], values[curve][i + 1]

    def ends(of):
        return (values[of[0]][:2], values[of[0]][2:4]) if len(of) == 1 else (point(of[0]), point(of[1]))

    def direction(line):
        v = values[line]
        return math.atan2(v[3] - v[1], v[2] - v[0])

    found = {}
    for c in constraints:
        if c.kind == "coincident":
            miss = math.dist(point(c.of[0]), point(c.of[1]))
        elif c.kind == "distance":
            miss = math.dist(*ends(c.of)) - c.value
        elif c.kind in ("horizontal", "horizontal_distance", "vertical", "vertical_distance"):
            a, b = ends(c.of)
            k = 1 if c.kind in ("horizontal", "vertical_distance") else 0
            miss = b[k] - a[k] - c.branch * (c.value or 0.0)
        elif c.kind == "angle":
            miss = 50 * math.remainder(direction(c.of[1]) - direction(c.of[0]) - c.branch * c.value, math.tau)
        elif c.kind == "radius":
            miss = values[c.of[0]][6] - c.value
        elif c.kind == "equal":
            miss = values[c.of[0]][6] - values[c.of[1]][6]
        elif c.kind == "tangent":
            line, arc = c.of
            (x0, y0, x1, y1), (cx, cy, *_, r) = values[line], values[arc]
            away = abs((x1 - x0) * (cy - y0) - (y1 - y0) * (cx - x0)) / math.hypot(x1 - x0, y1 - y0)
            miss = away - r
        elif c.kind == "fix":
            start = next(k for k in curves if k.id == c.of[0])
            miss = math.dist(values[c.of[0]], start.values)
        else:
            raise AssertionError(c.kind)
        found[c.id] = abs(miss)
    return found


@pytest.mark.parametrize("size", [20, 100, 300, 1000])
@pytest.mark.parametrize("seed", range(3))
def test_plates_slots_and_rounds_are_held_and_exact(size, seed):
    curves, constraints = parts(size, seed)
    found = solve(noisy(curves, 0.5, seed), constraints)
    assert not found.conflict and found.freedoms == 0 and not found.free
    assert max(misses(curves, constraints, found.values).values()) <= 1e-9
    for c in curves:  # 0.5 mm off is less than any feature: the drawn solution is the one that is found
        assert found.values[c.id] == pytest.approx(c.values, abs=1e-6)


@pytest.mark.parametrize("scale", [1e-3, 1.0, 1e3])
def test_residuals_at_every_size(scale):
    """From 0.01 mm to 100 m (solver-facts 2.7): at most 1e-10 mm, or what rounding leaves."""
    curves, constraints = truss(101)
    curves = [Curve(c.id, c.kind, tuple(v * scale for v in c.values)) for c in curves]
    constraints = [c if c.value is None else replace(c, value=c.value * scale) for c in constraints]
    found = solve(noisy(curves, 0.3 * scale), constraints)
    # the noise moved the fixed points too: they stay where they were drawn
    rest = [c for c in constraints if c.kind != "fix"]
    assert not found.conflict
    assert max(misses(curves, rest, found.values).values()) <= max(1e-10, 8 * 2.3e-16 * 1600 * scale)


def test_changes_in_a_row_flip_nothing_and_come_back_to_the_same_bits():
    """Trusses of 21 to 301 rows, one to five bars times 0.6 to 1.6: refused, or solved with every triangle turning as
    it was drawn; the old values give the old bits."""
    draw = random.Random(5)
    solved = refused = 0
    for trial in range(24):
        curves, constraints = truss(draw.choice((21, 101, 301)), trial)
        before = solve(curves, constraints)
        signs = orientations(curves, before.values)
        for _ in range(9):
            changed = list(constraints)
            for i in draw.sample(range(len(constraints) - 2), draw.randrange(1, 6)):
                changed[i] = replace(changed[i], value=changed[i].value * draw.uniform(0.8, 1.25))
            found = solve(curves, changed)
            if found.conflict:
                refused += 1
                continue
            solved += 1
            assert orientations(curves, found.values) == signs
            assert found.residual < 1e-9
        assert solve(curves, constraints).values == before.values
    assert solved >= 180 and refused < 0.2 * solved


def senses(curves, values):
    """Which way every arc runs (less than half round or more) and every corner of a chain turns."""
    found = []
    for c in curves:
        v = values[c.id]
        if c.kind == "arc":
            begin, end = (math.atan2(v[i + 1] - v[1], v[i] - v[0]) for i in (2, 4))
            found.append((end - begin) % math.tau < 1.02 * math.pi)
    lines = [c.id for c in curves if c.kind == "line"]
    for a, b in itertools.pairwise(lines):
        if a[:-1] == b[:-1]:  # of one module
            p, q = values[a], values[b]
            found.append((p[2] - p[0]) * (q[3] - q[1]) - (p[3] - p[1]) * (q[2] - q[0]) >= -1e-9)
    return found


def test_changes_of_rounds_and_slots_in_a_row_flip_nothing():
    """Lengths, radii and angles of plates, rounds and slots times 0.8 to 1.25, one to three at once."""
    draw = random.Random(2)
    for seed in range(10):
        curves, constraints = parts(40, seed)
        before = solve(curves, constraints)
        driven = [i for i, c in enumerate(constraints) if c.kind in ("distance", "radius", "angle")]
        for _ in range(25):
            changed = list(constraints)
            for i in draw.sample(driven, draw.randrange(1, 4)):
                changed[i] = replace(changed[i], value=changed[i].value * draw.uniform(0.8, 1.25))
            found = solve(curves, changed)
            assert not found.conflict and senses(curves, found.values) == senses(curves, before.values)
            assert max(misses(curves, changed, found.values).values()) < 1e-8
        assert solve(curves, constraints).values == before.values


def rank(system, x):
    """Rank and number of columns of all rows at x, by singular values of the whole Jacobian (numpy)."""
    free = [i for i in range(len(x)) if i not in system.fixed]
    place = {i: k for k, i in enumerate(free)}
    rows = [g for _, g in system.internal_rows(x)]
    rows += [g for c in system.constraints for _, g in system.rows(c, x)]
    full = np.zeros((max(1, len(rows)), len(free)))
    for k, gradient in enumerate(rows):
        for i, g in gradient.items():
            if i in place:
                full[k, place[i]] = g
    found = np.linalg.matrix_rank(full, tol=1e-9 * max(1.0, np.abs(full).max())) if full.size else 0
    null = np.linalg.svd(full)[2][found:] if full.size else np.zeros((0, 0))
    moving = {i for i in free if np.abs(null[:, place[i]]).max(initial=0.0) > 1e-7}
    return len(free) - found, moving


def loosened(seed):
    """A sketch of one of the families with some of its constraints taken away."""
    draw = random.Random(seed)
    make = draw.choice([parts, truss, hinged])
    curves, constraints = make(draw.choice((12, 20, 40)), seed)
    kept = [c for c in constraints if c.kind == "coincident" or draw.random() > draw.choice((0.0, 0.1, 0.4))]
    return curves, kept


@pytest.mark.parametrize("block", range(10))
def test_freedoms_and_what_moves_equal_singular_values(block):
    """Oracle on 250 sketches: rank and null space of the whole Jacobian, no elimination, no blocks."""
    for seed in range(block * 25, block * 25 + 25):
        curves, constraints = loosened(seed)
        system = System(curves, constraints)
        expected, moving = rank(system, system.x)
        freedoms, free = freedoms_of(system, system.x)
        assert freedoms == expected, seed
        curve_of = {
            i: c for c, first in system.first.items() for i in range(first, first + len(system.curves[c].values))
        }
        assert free == {curve_of[i] for i in moving}, seed


@pytest.mark.parametrize("seed", range(40))
def test_a_conflict_names_a_smallest_set(seed):
    """Proved by deletion: without any one of the named ones the rest can be solved; with all of them it cannot."""
    draw = random.Random(seed)
    make = draw.choice([parts, truss])
    curves, constraints = make(draw.choice((12, 30, 60)), seed)
    lengths = [i for i, c in enumerate(constraints) if c.kind == "distance"]
    i = draw.choice(lengths)
    if make is truss:  # a bar three times as long as its neighbours allow
        constraints[i] = replace(constraints[i], value=constraints[i].value * 3.5)
        culprit = constraints[i].id
    else:  # a second, different length of the same line
        culprit = "again"
        constraints.append(replace(constraints[i], id=culprit, value=constraints[i].value + 3))
    found = solve(curves, constraints)
    assert culprit in found.conflict
    assert len(found.conflict) <= 6
    for left_out in found.conflict:
        rest = [c for c in constraints if c.id != left_out and (c.id in found.conflict or c.kind == "coincident")]
        assert not solve(curves, rest).conflict, left_out
    named = [c for c in constraints if c.id in found.conflict or c.kind == "coincident"]
    assert solve(curves, named).conflict


def test_a_rectangle_with_three_lengths_names_what_disagrees():
    """solver-facts 5.16: H, V, H, V, width, height and the opposite width off by 5: {V, V, width, opposite width}."""
    p = [(0, 0), (60, 0), (60, 40), (0, 40)]
    curves = [Curve(f"l{i}", "line", (*p[i], *p[(i + 1) % 4])) for i in range(4)]
    constraints = [Constraint(f"j{i}", "coincident", (f"l{i}.end", f"l{(i + 1) % 4}.start")) for i in range(4)]
    constraints += [Constraint(f"{k}{i}", kind, (f"l{i}",)) for i, (k, kind) in enumerate((("h", "horizontal"), ("v", "vertical")) * 2)]  # fmt: skip
    constraints += [Constraint("w", "distance", ("l0",), 60.0), Constraint("h", "distance", ("l1",), 40.0)]
    constraints.append(Constraint("w2", "distance", ("l2",), 65.0))
    assert set(solve(curves, constraints).conflict) == {"v1", "v3", "w", "w2"}


def test_order_and_direction_of_drawing_do_not_matter():
    """The same sketch with its curves and constraints shuffled and mirrored: same freedoms, same lengths."""
    curves, constraints = parts(60, 4)
    draw = random.Random(1)
    plain = solve(noisy(curves, 0.2), constraints)
    shuffled, other = list(noisy(curves, 0.2)), list(constraints)
    draw.shuffle(shuffled)
    draw.shuffle(other)
    again = solve(shuffled, other)
    assert again.freedoms == plain.freedoms == 0
    for c in curves:
        assert again.values[c.id] == pytest.approx(plain.values[c.id], abs=1e-8)


def test_a_mechanism_keeps_its_freedoms_and_what_is_held_near_the_ground():
    curves, constraints = hinged(301)
    found = solve(curves, constraints)
    expected, _ = rank(System(curves, constraints), System(curves, constraints).x)
    assert found.freedoms == expected and not found.conflict
    changed = [
        replace(constraints[5], value=constraints[5].value * 1.1) if c is constraints[5] else c for c in constraints
    ]
    after = solve(curves, changed)
    assert not after.conflict and max(misses(curves, changed, after.values).values()) < 1e-9


@pytest.mark.parametrize("n", [20, 100, 300])
def test_a_pulled_mechanism_keeps_every_bar_and_turns_no_triangle_over(n):
    """At every frame: lengths within 1e-10 mm of what is asked, and each triangle of rigid bars as it was drawn."""
    curves, constraints = hinged(n)
    start = solve(curves, constraints)
    place = sorted(start.free)[len(start.free) // 2]
    pulled = Drag([Curve(c.id, c.kind, start.values[c.id]) for c in curves], constraints, place)
    bars = {frozenset(c.of): c.value for c in constraints if c.kind == "distance"}
    rigid = [
        (a, b, c)
        for a, b, c in zip(*(sorted(start.values, key=lambda k: int(k[1:]))[i:] for i in range(3)), strict=False)
        if all(frozenset(p) in bars for p in ((a, b), (b, c), (a, c)))
    ]

    def sides(at):
        return [
            ((at[b][0] - at[a][0]) * (at[c][1] - at[a][1]) - (at[b][1] - at[a][1]) * (at[c][0] - at[a][0])) > 0
            for a, b, c in rigid
        ]

    x, y = start.values[place]
    before, nearest = sides(start.values), math.inf
    for k in range(40):
        to = (x + 2.0 * k, y - 1.5 * k)
        pulled.pull(to, 2)
        at = pulled.values()
        off = [abs(math.dist(at[a], at[b]) - value) for (a, b), value in ((tuple(s), v) for s, v in bars.items())]
        assert max(off) <= 1e-10 * max(1.0, pulled.problem.scale / 100)
        assert sides(at) == before
        nearest = min(nearest, math.dist(at[place], to))
    assert rigid and nearest < math.inf


def test_a_held_point_cannot_be_pulled():
    curves, constraints = truss(40)
    held = solve(curves, constraints)
    pulled = Drag([Curve(c.id, c.kind, held.values[c.id]) for c in curves], constraints, "p7")
    assert not pulled.pull((500.0, 500.0))
    for key, at in pulled.values().items():
        assert at == pytest.approx(held.values[key], abs=1e-12)
