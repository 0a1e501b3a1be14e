"""Positions and counts known in closed form; every source stands beside its check."""

import itertools
import math
import random

import numpy as np
import pytest

from architectonic.sketch.solving.conflict import depends_on
from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.solve import solve


def line(key, *v):
    return Curve(key, "line", tuple(map(float, v)))


def ring(key, *v):
    return Curve(key, "circle", tuple(map(float, v)))


def dot(key, *v):
    return Curve(key, "point", tuple(map(float, v)))


def con(kind, *of, value=None, branch=1, key=None):
    return Constraint(key or f"{kind}:{','.join(of)}:{branch}", kind, of, value, branch)


def fixed(*curves):
    return [con("fix", c.id) for c in curves]


# --- Apollonius ------------------------------------------------------------------------------------------


def apollonius(circles, signs):
    """Circles (x, y, r) with |p - c_i| = r + s_i r_i: differences are linear in x, y given r; the rest is a quadratic
    in r (Gergonne's problem in its algebraic form, e.g. Weisstein, MathWorld, "Apollonius' Problem")."""
    (x1, y1, r1), (x2, y2, r2), (x3, y3, r3) = circles
    s1, s2, s3 = signs
    rows = [(2 * (x - x1), 2 * (y - y1), 2 * (s * r - s1 * r1), x * x + y * y - r * r - x1 * x1 - y1 * y1 + r1 * r1)
            for x, y, r, s in ((x2, y2, r2, s2), (x3, y3, r3, s3))]  # fmt: skip
    m = np.array([row[:2] for row in rows])
    p0, pr = np.linalg.solve(m, [row[3] for row in rows]), np.linalg.solve(m, [-row[2] for row in rows])
    d = p0 - (x1, y1)
    a, b, c = pr @ pr - 1, 2 * (d @ pr - s1 * r1), d @ d - r1 * r1
    return [(*(p0 + r * pr), r) for r in np.roots([a, b, c]) if abs(r.imag) < 1e-12 and r.real > 0 for r in (r.real,)]


@pytest.mark.parametrize("signs", list(itertools.product((1, -1), repeat=3)))
def test_each_pattern_of_tangencies_has_its_own_circle(signs):
    """Circles apart from each other have eight touching ones; the stored signs choose which."""
    given = [(0.0, 0.0, 10.0), (60.0, 5.0, 14.0), (25.0, 50.0, 8.0)]
    x, y, r = min(apollonius(given, signs), key=lambda s: s[2])
    curves = [ring(f"c{k}", *c) for k, c in enumerate(given)]
    guess = ring("k", x + 0.4, y - 0.3, r * 1.02)
    branch = {1: 1, -1: -1}  # outside; or the given one within the new one
    touches = [con("tangent", "k", f"c{k}", branch=branch[s]) for k, s in enumerate(signs)]
    found = solve([*curves, guess], [*fixed(*curves), *touches])
    assert not found.conflict and found.values["k"] == pytest.approx((x, y, r), rel=1e-9, abs=1e-9)


# --- positions -------------------------------------------------------------------------------------------


@pytest.mark.parametrize("degrees", [10, 60, 120, 170, 200, 300])
def test_slider_crank(degrees):
    """x = r cos t + sqrt(l^2 - r^2 sin^2 t), r 30, l 80 (Norton, Design of Machinery, ch. 4; common practice)."""
    t = math.radians(degrees)
    x = 30 * math.cos(t) + math.sqrt(6400 - 900 * math.sin(t) ** 2)
    p = (30 * math.cos(t), 30 * math.sin(t))
    curves = [line("a", 0, 0, *p), line("b", *p, x + 1, 0)]
    constraints = [
        con("coincident", "a.start", "origin"), con("coincident", "a.end", "b.start"), con("on_curve", "b.end", "x_axis"),
        con("distance", "a", value=30.0), con("distance", "b", value=80.0), con("angle", "x_axis", "a", value=t),
    ]  # fmt: skip
    assert solve(curves, constraints).values["b"][2] == pytest.approx(x, abs=1e-10)


def test_inner_tangent_of_two_circles():
    """Length sqrt(80^2 - (30 + 12)^2) (Euclid; solver-facts 5.9)."""
    curves = [ring("a", 0, 0, 30), ring("b", 80, 0, 12), line("t", 15, 26, 74, -10)]
    constraints = [*fixed(*curves[:2]), con("on_curve", "t.start", "a"), con("on_curve", "t.end", "b"),
                   con("tangent", "t", "a"), con("tangent", "t", "b")]  # fmt: skip
    found = solve(curves, constraints).values["t"]
    assert math.dist(found[:2], found[2:]) == pytest.approx(math.sqrt(6400 - 42**2), rel=1e-12)


def test_symmetric_trapezoid():
    """Sides 60 and 40, legs sqrt(1000): height 30 (Pythagoras; solver-facts 5.11)."""
    p = [(-30, 0), (30, 0), (20, 28), (-20, 28)]
    curves = [line(f"l{k}", *p[k], *p[(k + 1) % 4]) for k in range(4)]
    constraints = [con("coincident", f"l{k}.end", f"l{(k + 1) % 4}.start") for k in range(4)]
    constraints += [con("symmetric", "l0.start", "l0.end", "y_axis"), con("symmetric", "l2.start", "l2.end", "y_axis"),
                    con("on_curve", "l0.start", "x_axis"), con("distance", "l0", value=60.0), con("distance", "l2", value=40.0),
                    con("distance", "l1", value=math.sqrt(1000))]  # fmt: skip
    found = solve(curves, constraints)
    assert found.values["l2"][1] == pytest.approx(30, abs=1e-9) and found.freedoms == 0


@pytest.mark.parametrize("turn", [0.3, 1.2, 2.5])
def test_symmetric_point_by_the_reflection_matrix(turn):
    """[cos 2t, sin 2t; sin 2t, -cos 2t] (any text on linear algebra; solver-facts 5.12)."""
    c, s = math.cos(2 * turn), math.sin(2 * turn)
    p = (17.0, 5.0)
    image = (c * p[0] + s * p[1], s * p[0] - c * p[1])
    curves = [
        line("m", 0, 0, 40 * math.cos(turn), 40 * math.sin(turn)),
        dot("p", *p),
        dot("q", image[0] + 2, image[1] - 1),
    ]
    found = solve(curves, [*fixed(*curves[:2]), con("symmetric", "p", "q", "m")])
    assert found.values["q"] == pytest.approx(image, abs=1e-10)


def test_an_s_curve_of_two_arcs():
    """Two arcs touching end to end between parallel lines: offset (r1 + r2)(1 - cos t) (solver-facts 5.15)."""
    r1, r2, t = 20.0, 30.0, 0.9
    c1, joint = (0.0, r1), (r1 * math.sin(t), r1 - r1 * math.cos(t))
    c2 = (joint[0] + r2 * math.sin(t), joint[1] - r2 * math.cos(t))
    end = (c2[0], c2[1] + r2)
    curves = [
        Curve("a", "arc", (*c1, 0.0, 0.0, *joint, r1)),
        Curve("b", "arc", (*c2, *end, *joint, r2)),
        line("l", -30, 0, 0, 0),
        line("m", *end, end[0] + 30, end[1]),
    ]
    constraints = [
        con("coincident", "l.end", "a.start"), con("coincident", "a.end", "b.end"), con("coincident", "b.start", "m.start"),
        con("tangent", "l", "a"), con("tangent", "a", "b"), con("tangent", "m", "b", branch=-1), con("horizontal", "l"),
        con("horizontal", "m"), con("coincident", "l.end", "origin"), con("radius", "a", value=r1 * 1.1),
        con("radius", "b", value=r2 * 0.95), con("horizontal_distance", "origin", "m.start", value=(r1 * 1.1 + r2 * 0.95) * math.sin(t)),
        con("distance", "l", value=30.0), con("distance", "m", value=30.0),
    ]  # fmt: skip
    found = solve(curves, constraints)
    assert not found.conflict
    assert found.values["m"][1] == pytest.approx((r1 * 1.1 + r2 * 0.95) * (1 - math.cos(t)), abs=1e-9)


@pytest.mark.parametrize(("pitch", "n", "start"), [(60.0, 6, 0.0), (80.0, 5, 90.0)])
def test_a_bolt_circle(pitch, n, start):
    """PCD 60, 6 holes: chord 30; PCD 80, 5 holes from 90 deg: (-38.042261, 12.360680) second (Machinery's Handbook,
    "Coordinates for hole circles"; from memory)."""
    at = [
        (
            pitch / 2 * math.cos(math.radians(start + 360 / n * k)),
            pitch / 2 * math.sin(math.radians(start + 360 / n * k)),
        )
        for k in range(n)
    ]
    curves = [ring(f"h{k}", x + 0.5, y - 0.4, 3.0) for k, (x, y) in enumerate(at)]
    constraints = [con("fix", "h0.centre")]
    curves[0] = ring("h0", *at[0], 3.0)
    constraints += [con("turned", "origin", "h0", f"h{k}", value=math.tau * k / n) for k in range(1, n)]
    found = solve(curves, constraints)
    second = found.values["h1"][:2]
    if n == 5:
        assert second == pytest.approx((-38.042261, 12.360680), abs=1e-6)
    else:
        assert math.dist(found.values["h0"][:2], second) == pytest.approx(30.0, abs=1e-9)


def test_two_circles_of_five_meet():
    """Radius 5 about (0, 0) and (6, 0): (3, 4) (3-4-5 triangle)."""
    curves = [ring("a", 0, 0, 5), ring("b", 6, 0, 5), dot("p", 2.5, 3.5)]
    found = solve(curves, [*fixed(*curves[:2]), con("on_curve", "p", "a"), con("on_curve", "p", "b")])
    assert found.values["p"] == pytest.approx((3, 4), abs=1e-10)


def test_tangent_from_a_point():
    """From (13, 0) to a circle of 5 about the origin: the point of touch is (25/13, 60/13) (5-12-13 triangle)."""
    curves = [ring("c", 0, 0, 5), line("t", 13, 0, 2, 5)]
    constraints = [con("fix", "c"), con("fix", "t.start"), con("on_curve", "t.end", "c"), con("tangent", "t", "c")]
    assert solve(curves, constraints).values["t"][2:] == pytest.approx((25 / 13, 60 / 13), abs=1e-10)


@pytest.mark.parametrize("k", range(4))
def test_the_centre_of_thirds(k):
    """Medians meet in the mean of the corners (Euclid; the third median says nothing new, solver-facts 5.27)."""
    draw = random.Random(k)
    p = [(draw.uniform(-50, 50), draw.uniform(-50, 50)) for _ in range(3)]
    m = [((p[(i + 1) % 3][0] + p[(i + 2) % 3][0]) / 2, (p[(i + 1) % 3][1] + p[(i + 2) % 3][1]) / 2) for i in range(3)]
    lines = [line(f"m{i}", *p[i], *m[i]) for i in range(3)]
    curves = [*lines, dot("g", 1.0, 2.0)]
    on = [con("on_curve", "g", f"m{i}") for i in range(3)]
    found = solve(curves, [*fixed(*lines), *on[:2]])
    assert found.values["g"] == pytest.approx(tuple(sum(q[i] for q in p) / 3 for i in (0, 1)), abs=1e-9)


# --- counts and dependencies -----------------------------------------------------------------------------


def bars(pairs, points, key="d"):
    return [
        con("distance", *pair, value=math.dist(points[pair[0]], points[pair[1]]), key=f"{key}{i}")
        for i, pair in enumerate(pairs)
    ]


def generic(n, seed=1):
    draw = random.Random(seed)
    return {f"p{k}": (draw.uniform(0, 60), draw.uniform(0, 60)) for k in range(n)}


@pytest.mark.parametrize(
    ("name", "n", "pairs", "freedoms"),
    [
        ("triangle", 3, ((0, 1), (1, 2), (2, 0)), 3),
        ("square", 4, ((0, 1), (1, 2), (2, 3), (3, 0)), 4),
        ("braced square", 4, ((0, 1), (1, 2), (2, 3), (3, 0), (0, 2)), 3),
        ("K33", 6, tuple((a, b) for a in (0, 1, 2) for b in (3, 4, 5)), 3),
        ("prism", 6, ((0, 1), (1, 2), (2, 0), (3, 4), (4, 5), (5, 3), (0, 3), (1, 4), (2, 5)), 3),
        ("pentagon with two diagonals", 5, ((0, 1), (1, 2), (2, 3), (3, 4), (4, 0), (0, 2), (0, 3)), 3),
        ("five bars in a ring", 5, ((0, 1), (1, 2), (2, 3), (3, 4), (4, 0)), 5),
    ],
)
def test_bar_frameworks_have_the_freedoms_of_lamans_theorem(name, n, pairs, freedoms):
    """2 n - bars, three of them of the whole (Laman, J. Eng. Math. 4, 1970; ranks by pyrigi 1.3.0, check-values)."""
    points = generic(n)
    curves = [dot(k, *p) for k, p in points.items()]
    found = solve(curves, bars([(f"p{a}", f"p{b}") for a, b in pairs], points))
    assert not found.conflict and found.freedoms == freedoms, name


def test_counting_alone_is_not_enough():
    """K4 with a point on a single bar: 7 = 2 * 5 - 3 bars, yet it moves (check-values section 13, pyrigi)."""
    points = generic(5)
    pairs = [(f"p{a}", f"p{b}") for a, b in itertools.combinations(range(4), 2)] + [("p3", "p4")]
    found = solve([dot(k, *p) for k, p in points.items()], bars(pairs, points))
    assert not found.conflict and found.freedoms == 4


def test_the_sixth_length_of_four_points_depends_on_the_other_five():
    """K4 (solver-facts 5.19): rank 5; another sixth length disagrees with all."""
    points = generic(4)
    curves = [dot(k, *p) for k, p in points.items()]
    pairs = [(f"p{a}", f"p{b}") for a, b in itertools.combinations(range(4), 2)]
    all_six = bars(pairs, points)
    assert set(depends_on(curves, all_six[:5], all_six[5])) == {c.id for c in all_six[:5]}
    wrong = con("distance", *pairs[5], value=all_six[5].value + 2.0, key="d5")
    assert set(solve(curves, [*all_six[:5], wrong]).conflict) == {c.id for c in all_six}


def rectangle():
    p = [(0, 0), (60, 0), (60, 40), (0, 40)]
    curves = [line(f"l{k}", *p[k], *p[(k + 1) % 4]) for k in range(4)]
    return curves, [con("coincident", f"l{k}.end", f"l{(k + 1) % 4}.start") for k in range(4)]


def test_a_rectangle_held_twice():
    """H, V, H, V and two sides: rank 6 of 8, the opposite side depends on {V, V, side} (solver-facts 5.16)."""
    curves, joins = rectangle()
    square = [con("horizontal" if k % 2 == 0 else "vertical", f"l{k}") for k in range(4)]
    sides = [con("distance", "l0", value=60.0), con("distance", "l1", value=40.0)]
    assert solve(curves, [*joins, *square, *sides]).freedoms == 2
    again = con("distance", "l2", value=60.0)
    told = {c for c in depends_on(curves, [*joins, *square, *sides], again) if not c.startswith("coincident")}
    # of the two uprights alone follows how long the far side is: the levels say how far it lies, not how long it is
    assert told == {square[1].id, square[3].id, sides[0].id} or told == {*(c.id for c in square), sides[0].id}
    found = solve(curves, [*joins, *square, *sides, con("distance", "l2", value=65.0)])
    assert {square[1].id, square[3].id, sides[0].id} <= set(found.conflict)


def test_three_angles_of_a_triangle():
    """Rank 2; a sum off 180 deg is a conflict of exactly the three (Euclid I.32; solver-facts 5.18)."""
    p = [(0.0, 0.0), (50.0, 0.0), (20.0, 30.0)]
    curves = [line(f"l{k}", *p[k], *p[(k + 1) % 3]) for k in range(3)]
    joins = [con("coincident", f"l{k}.end", f"l{(k + 1) % 3}.start") for k in range(3)]
    turns = [math.atan2(p[(k + 1) % 3][1] - p[k][1], p[(k + 1) % 3][0] - p[k][0]) for k in range(3)]
    outer = [(turns[(k + 1) % 3] - turns[k]) % math.tau for k in range(3)]
    angles = [con("angle", f"l{k}", f"l{(k + 1) % 3}", value=outer[k], key=f"a{k}") for k in range(3)]
    assert solve(curves, [*joins, *angles[:2]]).freedoms == 4
    assert set(depends_on(curves, [*joins, *angles[:2]], angles[2])) - {c.id for c in joins} == {"a0", "a1"}
    wrong = con("angle", "l2", "l0", value=outer[2] + 0.1, key="a2")
    assert set(solve(curves, [*joins, *angles[:2], wrong]).conflict) == {"a0", "a1", "a2"}


def test_an_equilateral_pentagon():
    """10 variables less 4 rows: 6 freedoms (solver-facts 5.20)."""
    draw = random.Random(4)
    p = [
        (40 * math.cos(k * 1.2566 + 0.1) + draw.uniform(-3, 3), 40 * math.sin(k * 1.2566 + 0.1) + draw.uniform(-3, 3))
        for k in range(5)
    ]
    curves = [line(f"l{k}", *p[k], *p[(k + 1) % 5]) for k in range(5)]
    joins = [con("coincident", f"l{k}.end", f"l{(k + 1) % 5}.start") for k in range(5)]
    equal = [con("equal", "l0", f"l{k}") for k in range(1, 5)]
    found = solve(curves, [*joins, *equal])
    assert not found.conflict and found.freedoms == 6


def test_varignon():
    """Middles of any quadrilateral make a parallelogram: both parallels say nothing new (solver-facts 5.21)."""
    p = [(0.0, 0.0), (50.0, 4.0), (60.0, 41.0), (-8.0, 30.0)]
    m = [((p[k][0] + p[(k + 1) % 4][0]) / 2, (p[k][1] + p[(k + 1) % 4][1]) / 2) for k in range(4)]
    outer = [line(f"l{k}", *p[k], *p[(k + 1) % 4]) for k in range(4)]
    inner = [line(f"m{k}", *m[k], *m[(k + 1) % 4]) for k in range(4)]
    joins = [con("coincident", f"l{k}.end", f"l{(k + 1) % 4}.start") for k in range(4)]
    joins += [con("coincident", f"m{k}.end", f"m{(k + 1) % 4}.start") for k in range(4)]
    middles = [con("midpoint", f"m{k}.start", f"l{k}") for k in range(4)]
    curves = [*outer, *inner]
    assert solve(curves, [*joins, *middles]).freedoms == 8
    assert depends_on(curves, [*joins, *middles], con("parallel", "m0", "m2", branch=-1))


def test_two_bars_that_do_not_reach():
    """30 + 40 over 71: the two bars disagree with the two fixed points (triangle inequality; solver-facts 5.25)."""
    curves = [line("a", 0, 0, 30, 8), line("b", 30, 8, 71, 0)]
    constraints = [con("coincident", "a.end", "b.start"), con("fix", "a.start"), con("fix", "b.end"),
                   con("distance", "a", value=30.0), con("distance", "b", value=40.0)]  # fmt: skip
    assert {"distance:a:1", "distance:b:1"} <= set(solve(curves, constraints).conflict)


@pytest.mark.parametrize("n", [4, 5, 6, 9])
def test_a_closed_loop_of_bars(n):
    """n - 3 inner freedoms and 3 of the whole (Gruebler; solver-facts 5.26)."""
    p = [(40 * math.cos(math.tau * k / n), 30 * math.sin(math.tau * k / n)) for k in range(n)]
    curves = [line(f"l{k}", *p[k], *p[(k + 1) % n]) for k in range(n)]
    joins = [con("coincident", f"l{k}.end", f"l{(k + 1) % n}.start") for k in range(n)]
    lengths = [con("distance", f"l{k}", value=math.dist(p[k], p[(k + 1) % n])) for k in range(n)]
    assert solve(curves, [*joins, *lengths]).freedoms == n


@pytest.mark.parametrize("seed", range(5))
def test_scaled_turned_mirrored_and_reordered_sketches_have_the_same_counts(seed):
    """solver-facts 5.28: results map."""
    draw = random.Random(seed)
    points = generic(5, seed)
    pairs = draw.sample([(f"p{a}", f"p{b}") for a, b in itertools.combinations(range(5), 2)], 6)
    base = solve([dot(k, *p) for k, p in points.items()], bars(pairs, points)).freedoms
    t, f = draw.uniform(0, 6), draw.uniform(0.01, 30)
    moved = {
        k: (f * (x * math.cos(t) + y * math.sin(t)), f * (x * math.sin(t) - y * math.cos(t)))
        for k, (x, y) in points.items()
    }
    mixed = bars(draw.sample(pairs, 6), moved)
    keys = draw.sample(list(moved), 5)
    assert solve([dot(k, *moved[k]) for k in keys], mixed).freedoms == base


def test_an_ellipse_by_the_gardeners_string():
    """The sum of the distances to both foci is twice the longer half axis (Apollonius, Conics III.52)."""
    curves = [
        Curve("e", "ellipse", (0.0, 0.0, 25.0, 0.0, 0.0, 15.0)),
        dot("p", 14.0, 13.0),
        line("a", 14, 13, -20, 0),
    ]
    constraints = [con("fix", "e"), con("on_curve", "p", "e"), con("coincident", "a.start", "p"), con("fix", "a.end"),
                   con("distance", "a", value=38.0)]  # fmt: skip
    x, y = solve(curves, constraints).values["p"]
    focus = math.sqrt(25**2 - 15**2)
    assert math.hypot(x + focus, y) + math.hypot(x - focus, y) == pytest.approx(50, abs=1e-9)
    assert math.hypot(x + 20, y) == pytest.approx(38, abs=1e-9)
