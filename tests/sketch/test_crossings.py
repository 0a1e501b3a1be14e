"""Where free curves meet, against roots of polynomials and sign changes; regions of mixed curves against shapely."""

import itertools
import math
import random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from architectonic.sketch.curves import paths, piece
from architectonic.sketch.curves.meetings import meetings
from architectonic.sketch.curves.piece import Piece
from architectonic.sketch.curves.regions import area, find

TOL = 1e-6


def oval(key, x, y, a, b, turn):
    c, s = math.cos(turn), math.sin(turn)
    return piece.along(key, paths.ellipse((x, y), (x + a * c, y + a * s), (x - b * s, y + b * c)))


def outside(p, q):
    """The implicit equation of an ellipse: negative inside."""
    (cx, cy), (ax, ay), (bx, by) = p.path.poles
    u, v = np.linalg.solve([[ax, bx], [ay, by]], np.atleast_2d(q).T - [[cx], [cy]])
    return u * u + v * v - 1


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6))
def test_two_ellipses_meet_where_the_sign_changes(seed):
    """Oracle: sign changes of the implicit equation along 20,000 points of the other one."""
    draw = random.Random(seed)
    a = oval("a", 0.0, 0.0, draw.uniform(8, 30), draw.uniform(8, 30), draw.uniform(0, 3))
    b = oval(
        "b", draw.uniform(-25, 25), draw.uniform(-25, 25), draw.uniform(8, 30), draw.uniform(8, 30), draw.uniform(0, 3)
    )
    t = np.linspace(0, math.tau, 20001)
    sign = outside(b, paths.at(a.path, t))
    found = meetings(a, b, TOL)
    changes = int(np.sum(np.diff(np.sign(sign)) != 0))
    if np.abs(sign[1:-1][(sign[1:-1] - sign[:-2]) * (sign[2:] - sign[1:-1]) < 0]).min(initial=1.0) > 1e-3:
        assert len(found) == changes  # no near touch
    for p in found:
        assert abs(outside(a, p)[0]) < 1e-6 and abs(outside(b, p)[0]) < 1e-6


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6))
def test_a_cubic_meets_a_line_at_the_roots_of_a_polynomial(seed):
    """Oracle: numpy.roots of the cubic's distance to the line."""
    draw = random.Random(seed)
    poles = [(draw.uniform(0, 40), draw.uniform(0, 40)) for _ in range(4)]
    (x0, y0), (x1, y1) = ((draw.uniform(-5, 45), draw.uniform(-5, 45)) for _ in range(2))
    n = np.array([-(y1 - y0), x1 - x0]) / math.hypot(x1 - x0, y1 - y0)
    p = np.array(poles)
    power = [-p[0] + 3 * p[1] - 3 * p[2] + p[3], 3 * p[0] - 6 * p[1] + 3 * p[2], 3 * (p[1] - p[0]), p[0]]
    coefficients = [float(n @ c) for c in power]
    coefficients[-1] -= float(n @ (x0, y0))
    roots = [r.real for r in np.roots(coefficients) if abs(r.imag) < 1e-9]
    points = [paths.point(paths.bezier(poles), t) for t in roots if 0 < t < 1]
    along = np.array([x1 - x0, y1 - y0]) / ((x1 - x0) ** 2 + (y1 - y0) ** 2)
    wanted = [q for q in points if 0 < float(along @ (q[0] - x0, q[1] - y0)) < 1]
    if len(roots) == 3 and min(abs(a - b) for a in roots for b in roots if a != b) < 1e-3:
        return  # nearly a touch
    found = meetings(piece.along("s", paths.bezier(poles)), piece.line("l", (x0, y0), (x1, y1)), TOL)
    assert len(found) == len(wanted)
    for q in wanted:
        assert min(math.dist(q, f) for f in found) < 1e-7


@pytest.mark.parametrize("turn", [0.0, 0.4, 1.9])
def test_a_line_that_touches_an_ellipse_meets_it_once(turn):
    c, s = math.cos(turn), math.sin(turn)
    e = oval("e", 3.0, -2.0, 20.0, 9.0, turn)
    ends = [(3 + x * c - 9 * s, -2 + x * s + 9 * c) for x in (-30, 30)]
    (p,) = meetings(e, piece.line("l", *ends), TOL)
    assert p == pytest.approx((3 - 9 * s, -2 + 9 * c), abs=2e-3)
    assert math.dist(paths.point(e.path, paths.nearest(e.path, p, 0, math.tau)), p) < TOL


def test_one_ellipse_drawn_twice_bounds_one_region():
    a, b = oval("a", 0, 0, 20, 9, 0.3), oval("b", 0, 0, 20, 9, 0.3)
    assert [(r.label, round(r.area, 9)) for r in find([a, b])] == [("+a", round(math.pi * 180, 9))]


def mixed(seed, count=14):
    draw, made = random.Random(seed), list[Piece]()
    for k in range(count):
        x, y, kind = draw.uniform(0, 60), draw.uniform(0, 60), k % 4
        if kind == 0:
            made.append(oval(f"e{k}", x, y, draw.uniform(5, 20), draw.uniform(5, 20), draw.uniform(0, 3)))
        elif kind == 1:
            made.append(piece.circle(f"c{k}", (x, y), draw.uniform(5, 18)))
        elif kind == 2:
            made.append(piece.line(f"l{k}", (x, y), (draw.uniform(0, 60), draw.uniform(0, 60))))
        else:
            points = [(draw.uniform(0, 60), draw.uniform(0, 60)) for _ in range(4)]
            values = tuple(c for p in (*points, *paths.first_handles(points)) for c in p)
            made.append(piece.along(f"s{k}", paths.spline("spline", values, paths.parameters(points))))
    return made


def moved(p, turn, dx, dy):
    c, s = math.cos(turn), math.sin(turn)

    def at(q, shift=True):
        return c * q[0] - s * q[1] + (dx if shift else 0), s * q[0] + c * q[1] + (dy if shift else 0)

    if p.path is None:
        return (
            piece.circle(p.curve, at(p.centre), p.radius) if p.radius else piece.line(p.curve, at(p.start), at(p.end))
        )
    if p.path.kind == "ellipse":
        centre, a, b = p.path.poles
        return piece.along(p.curve, paths.Path("ellipse", (at(centre), at(a, False), at(b, False))))
    return piece.along(p.curve, paths.Path("spline", tuple(at(q) for q in p.path.poles), p.path.knots))


@pytest.mark.parametrize("seed", range(8))
def test_regions_of_mixed_curves_cover_what_shapely_finds(seed):
    """Oracle: shapely.polygonize on fine polylines; ours are exact, theirs near them by the square of the step."""
    from shapely import polygonize, unary_union
    from shapely.geometry import LineString

    given = mixed(seed)
    found = find(given)
    lines = [LineString([p.start, *(p.at(k / 2000) for k in range(1, 2000)), p.end]) for p in given]
    theirs = [g for g in polygonize([unary_union(lines)]).geoms if g.area > 0.02]
    ours = [r for r in found if r.area > 0.02]
    assert sum(r.area for r in ours) == pytest.approx(sum(g.area for g in theirs), rel=2e-4)
    assert abs(len(ours) - len(theirs)) <= 1  # a sliver may be seen by one of them only
    for r in ours:
        assert area(r.loops[0]) > 0 and all(area(hole) < 0 for hole in r.loops[1:])


@pytest.mark.parametrize("seed", range(6))
def test_regions_are_the_same_however_curves_lie_and_are_listed(seed):
    given = mixed(seed)
    base = find(given)
    draw = random.Random(seed)
    other = [moved(p, 0.7 + seed, 13.0, -4.0) for p in given]
    draw.shuffle(other)
    again = find(other)
    assert sorted(r.label.split("#")[0] for r in again) == sorted(r.label.split("#")[0] for r in base)
    assert sorted(r.area for r in again) == pytest.approx(sorted(r.area for r in base), rel=1e-6, abs=1e-9)


@pytest.mark.parametrize("seed", range(4))
def test_parts_of_a_path_add_up(seed):
    draw = random.Random(seed)
    p = mixed(seed)[3]
    cuts = sorted([0.0, 1.0, *(draw.random() for _ in range(4))])
    parts = [p.part(a, b, p.at(a), p.at(b)) for a, b in itertools.pairwise(cuts)]
    assert sum(q.area() for q in parts) == pytest.approx(p.area(), abs=1e-9)
    assert [q.reversed().area() for q in parts] == pytest.approx([-q.area() for q in parts])
    assert parts[0].reversed().at(1.0) == pytest.approx(p.start)
