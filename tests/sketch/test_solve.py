"""Positions with known answers, freedom counts from the literature, and independence of history."""

import math
from dataclasses import replace

import pytest

from architectonic.sketch.solving.conflict import depends_on
from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.solve import solve


def line(key, a, b, c, d):
    return Curve(key, "line", (a, b, c, d))


def circle(key, x, y, r):
    return Curve(key, "circle", (x, y, r))


def con(kind, *of, value=None, branch=1, key=None):
    return Constraint(key or f"{kind}:{','.join(of)}", kind, of, value, branch)


def triangle(a, b, c, start=((0, 0), (30, 1), (31, 50))):
    p, q, r = start
    curves = [line("a", *p, *q), line("b", *q, *r), line("c", *r, *p)]
    constraints = [
        con("coincident", "a.end", "b.start"), con("coincident", "b.end", "c.start"), con("coincident", "c.end", "a.start"),
        con("coincident", "a.start", "origin"), con("horizontal", "a"),
        con("distance", "a", value=a), con("distance", "b", value=b), con("distance", "c", value=c),
    ]  # fmt: skip
    return curves, constraints


def test_right_triangle_33_56_65():
    """Source: Pythagorean triple; the altitude on the hypotenuse is 33 * 56 / 65."""
    curves, constraints = triangle(33, 56, 65)
    found = solve(curves, constraints)
    assert found.freedoms == 0 and found.residual <= 1e-10
    assert found.values["b"][2:] == pytest.approx((33, 56), abs=1e-10)


def test_incircle():
    """Source: Euclid; r = area / s for the triangle (0,0) (70,0) (20,50), area 1750."""
    p = [(0, 0), (70, 0), (20, 50)]
    sides = [line(f"l{i}", *p[i], *p[(i + 1) % 3]) for i in range(3)]
    curves = [*sides, circle("k", 30, 20, 10)]
    constraints = [con("fix", f"l{i}") for i in range(3)] + [con("tangent", f"l{i}", "k") for i in range(3)]
    s = sum(math.dist(p[i], p[(i + 1) % 3]) for i in range(3)) / 2
    assert solve(curves, constraints).values["k"][2] == pytest.approx(1750 / s, rel=1e-12)


def test_circumcircle():
    """Source: sympy 1.14, triangle (0,0) (40,0) (0,30): centre (20,15), radius 25."""
    points = [Curve(f"p{i}", "point", p) for i, p in enumerate([(0, 0), (40, 0), (0, 30)])]
    constraints = [con("fix", f"p{i}.at") for i in range(3)] + [con("on_curve", f"p{i}.at", "k") for i in range(3)]
    assert solve([*points, circle("k", 18, 10, 20)], constraints).values["k"] == pytest.approx((20, 15, 25), abs=1e-10)


@pytest.mark.parametrize("n", [3, 5, 6, 8, 17])
def test_regular_polygon(n):
    """Source: R = a / (2 sin(pi / n)) for n equal sides a = 25 on a circle."""
    r = 25 / (2 * math.sin(math.pi / n)) * 1.05
    at = [(r * math.cos(2 * math.pi * k / n), r * math.sin(2 * math.pi * k / n)) for k in range(n)]
    curves = [line(f"s{k}", *at[k], *at[(k + 1) % n]) for k in range(n)] + [circle("k", 0, 0, r)]
    constraints = [con("coincident", f"s{k}.end", f"s{(k + 1) % n}.start") for k in range(n)]
    constraints += [con("on_curve", f"s{k}.start", "k") for k in range(n)] + [con("coincident", "k.centre", "origin")]
    constraints += [con("equal", "s0", f"s{k}") for k in range(1, n)] + [
        con("distance", "s0", value=25),
        con("horizontal", "s0"),
    ]
    found = solve(curves, constraints)
    assert found.values["k"][2] == pytest.approx(25 / (2 * math.sin(math.pi / n)), rel=1e-11)


def test_four_bar_stays_on_its_branch():
    """Source: circle-circle intersection; ground 100, crank 40, coupler 90, rocker 70, crank at 60 deg."""
    curves = [
        line("crank", 0, 0, 20, 35),
        line("coupler", 20, 35, 103, 70),
        line("rocker", 100, 0, 103, 70),
        Curve("d", "point", (100, 0)),
    ]
    constraints = [
        con("coincident", "crank.start", "origin"), con("fix", "d.at"), con("coincident", "rocker.start", "d.at"),
        con("coincident", "crank.end", "coupler.start"), con("coincident", "coupler.end", "rocker.end"),
        con("distance", "crank", value=40), con("distance", "coupler", value=90), con("distance", "rocker", value=70),
        con("angle", "x_axis", "crank", value=math.radians(60), key="turn"),
    ]  # fmt: skip
    assert solve(curves, constraints).values["rocker"][2:] == pytest.approx((102.786857987, 69.944502447), abs=1e-8)
    for degrees in range(0, 360, 15):
        turned = [replace(c, value=math.radians(degrees)) if c.id == "turn" else c for c in constraints]
        found = solve(curves, turned)
        assert not found.conflict
        bx, by, cx, cy = found.values["coupler"]
        assert (cx - bx) * (0 - by) - (cy - by) * (100 - bx) < 0, (
            degrees
        )  # the same side of the diagonal at every angle


def test_external_tangent_of_two_circles():
    """Source: length sqrt(d^2 - (r1 - r2)^2) = sqrt(80^2 - 18^2)."""
    curves = [circle("a", 0, 0, 30), circle("b", 80, 0, 12), line("t", 5, 29, 81, 13)]
    constraints = [con("fix", "a"), con("fix", "b")]
    for end, k in (("start", "a"), ("end", "b")):
        constraints += [con("on_curve", f"t.{end}", k), con("tangent", "t", k, branch=-1)]
    x0, y0, x1, y1 = solve(curves, constraints).values["t"]
    assert math.hypot(x1 - x0, y1 - y0) == pytest.approx(math.sqrt(80**2 - 18**2), rel=1e-11)
    assert y0 > 0 and y1 > 0


def test_three_tangent_circles():
    """Source: Soddy's kissing circles (Nature 137, 1936): radii 30, 20, 15 give the inner circle 3.125319201354."""
    r1, r2, r3 = 30, 20, 15
    x = ((r1 + r2) ** 2 + (r1 + r3) ** 2 - (r2 + r3) ** 2) / (2 * (r1 + r2))
    third = (x, math.sqrt((r1 + r3) ** 2 - x * x))
    curves = [
        circle("a", 0, 0, r1),
        circle("b", r1 + r2, 0, r2),
        circle("c", *third, r3),
        circle("k", 33, 11, 3),
    ]
    constraints = [con("fix", k) for k in "abc"] + [con("tangent", k, "k") for k in "abc"]
    assert solve(curves, constraints).values["k"][2] == pytest.approx(3.125319201354, rel=1e-11)


# --- freedoms: counts as in check tables of rank by singular values (rectangle, slot, rhombus) -----------


def chain(points):
    n = len(points)
    curves = [line(f"l{i}", *points[i], *points[(i + 1) % n]) for i in range(n)]
    return curves, [con("coincident", f"l{i}.end", f"l{(i + 1) % n}.start") for i in range(n)]


SQUARE = [(0, 0), (60, 3), (62, 40), (-2, 38)]


@pytest.mark.parametrize(
    ("added", "freedoms"),
    [
        ([], 8),
        ([("horizontal", "l0"), ("vertical", "l1"), ("horizontal", "l2"), ("vertical", "l3")], 4),
        ([("parallel", "l0", "l2"), ("parallel", "l1", "l3"), ("perpendicular", "l0", "l1")], 5),
        ([("equal", "l0", "l1"), ("equal", "l0", "l2"), ("equal", "l0", "l3")], 5),
    ],
)
def test_freedoms_of_a_quadrilateral(added, freedoms):
    curves, constraints = chain(SQUARE)
    branch = {"parallel": -1}
    constraints += [con(kind, *of, branch=branch.get(kind, 1)) for kind, *of in added]
    assert solve(curves, constraints).freedoms == freedoms


def slot():
    curves = [
        line("l1", 0, 10, 40, 10), line("l2", 40, -10, 0, -10),
        Curve("a1", "arc", (40, 0, 40, -10, 40, 10, 10)), Curve("a2", "arc", (0, 0, 0, 10, 0, -10, 10)),
    ]  # fmt: skip
    constraints = [
        con("coincident", *p)
        for p in (
            ("l1.end", "a1.end"),
            ("l2.start", "a1.start"),
            ("l2.end", "a2.end"),
            ("l1.start", "a2.start"),
        )
    ]
    return curves, constraints + [con("tangent", f"l{i}", f"a{j}") for i in (1, 2) for j in (1, 2)]


def test_freedoms_of_a_slot():
    """2 lines and 2 arcs, 4 coincidences and 4 tangencies: 18 - 12 = 6; with equal radii 5."""
    curves, constraints = slot()
    assert solve(curves, constraints).freedoms == 6
    assert solve(curves, [*constraints, con("equal", "a1", "a2")]).freedoms == 5


def test_triangle_of_three_lengths_can_only_move_as_a_whole():
    curves, constraints = triangle(30, 40, 45)
    loose = [c for c in constraints if c.kind not in ("horizontal",) and "origin" not in c.of]
    found = solve(curves, loose)
    assert found.freedoms == 3 and found.free == {"a", "b", "c"}


def test_redundant_fourth_perpendicular_depends_on_the_other_three():
    curves, constraints = chain([(0, 0), (60, 0), (60, 40), (0, 40)])
    three = [con("perpendicular", f"l{i}", f"l{i + 1}") for i in range(3)]
    found = depends_on(curves, constraints + three, con("perpendicular", "l3", "l0"))
    assert {c for c in found if c.startswith("perp")} == {c.id for c in three}


def test_a_new_constraint_that_says_something_new_depends_on_nothing():
    curves, constraints = chain(SQUARE)
    assert depends_on(curves, constraints, con("horizontal", "l0")) == ()


def test_impossible_triangle_is_a_conflict_of_its_three_lengths():
    """Source: triangle inequality; at the least-squares minimum the residuals show the three sides."""
    curves, constraints = triangle(30, 40, 80)
    found = solve(curves, constraints)
    assert set(found.conflict) == {"distance:a", "distance:b", "distance:c"}
    assert found.values == {c.id: c.values for c in curves}


def test_from_2_to_20_and_back_gives_the_same_bits():
    curves, constraints = triangle(33, 56, 65)
    first = solve(curves, constraints)
    for value in (2.0, 20.0, 33.0):
        again = solve(curves, [replace(c, value=value) if c.id == "distance:a" else c for c in constraints])
    assert again.values == first.values


@pytest.mark.parametrize("scale", [1e-3, 1.0, 1e3, 1e5])
def test_residual_at_every_scale(scale):
    curves, constraints = triangle(
        33 * scale,
        56 * scale,
        65 * scale,
        tuple((x * scale, y * scale) for x, y in ((0, 0), (30, 1), (31, 50))),
    )
    assert solve(curves, constraints).residual <= max(1e-10, 16 * 2.2e-16 * 65 * scale)


def test_zero_length_line_can_grow():
    curves = [line("a", 5, 5, 5, 5)]
    found = solve(curves, [con("horizontal", "a"), con("distance", "a", value=25)])
    x0, y0, x1, y1 = found.values["a"]
    assert math.hypot(x1 - x0, y1 - y0) == pytest.approx(25) and y0 == y1
