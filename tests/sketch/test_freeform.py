"""Ellipses, splines and images: derivatives against central differences, results against closed forms and SciPy."""

import math
import random

import numpy as np
import pytest
from scipy.interpolate import BSpline, CubicSpline

from architectonic.sketch.curves import paths
from architectonic.sketch.curves.kinds import names_of
from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.solve import solve
from architectonic.sketch.solving.system import System

POINTS = [(0.0, 0.0), (12.0, 9.0), (25.0, 4.0), (40.0, 12.0)]
HANDLES = [(4.0, 6.0), (36.0, 16.0)]


def through(key, points, handles=None, shift=(0.0, 0.0)):
    """A spline through points; natural ends unless handles are given."""
    values = [*points, *(handles or paths.first_handles(points))]
    flat = tuple(c + d for p in values for c, d in zip(p, shift, strict=True))
    return Curve(key, "spline", flat, data=paths.parameters(points))


CURVES = [
    Curve("l", "line", (-5.0, -14.0, 42.0, -9.0)),
    Curve("m", "line", (0.0, 0.0, -9.0, -7.0)),
    Curve("c", "circle", (60.0, 30.0, 9.0)),
    Curve("a", "arc", (0.0, -6.0, 0.0, 0.0, -6.0, -6.0, 6.0)),
    Curve("e", "ellipse", (62.0, 2.0, 78.0, 9.0, 59.0, 9.0)),
    Curve("f", "ellipse", (30.0, 40.0, 48.0, 36.0, 32.0, 49.0)),
    Curve("g", "elliptic_arc", (0.0, 50.0, 16.0, 52.0, -1.0, 58.0, 15.0, 52.5, -14.0, 51.0)),
    through("s", POINTS, HANDLES),
    Curve("q", "controlled", (40.0, 12.0, 48.0, 9.0, 55.0, 20.0, 66.0, 18.0, 70.0, 25.0)),
    Curve("p", "point", (20.0, 9.0)),
]
JOINS = [
    Constraint("j1", "coincident", ("m.start", "s.start")),
    Constraint("j2", "coincident", ("a.start", "s.start")),
    Constraint("j3", "coincident", ("q.start", "s.end")),
    Constraint("j4", "coincident", ("g.start", "l.end")),
]
KINDS = [
    ("on_curve", ("p", "e"), None, 1),
    ("on_curve", ("p", "g"), None, 1),
    ("on_curve", ("p", "s"), None, 1),
    ("on_curve", ("p", "q"), None, 1),
    ("tangent", ("e", "l"), None, 1),
    ("tangent", ("e", "l"), None, -1),
    ("tangent", ("e", "c"), None, 1),
    ("tangent", ("e", "f"), None, 1),
    ("tangent", ("s", "m"), None, -1),
    ("tangent", ("s", "a"), None, 1),
    ("tangent", ("s", "q"), None, -1),
    ("tangent", ("g", "l"), None, 1),
    ("smooth", ("s", "m"), None, -1),
    ("smooth", ("s", "a"), None, 1),
    ("smooth", ("s", "q"), None, -1),
    ("concentric", ("e", "f"), None, 1),
    ("shifted", ("l", "a", "a2"), 12.0, 1),
    ("turned", ("p", "a", "a2"), 0.7, -1),
    ("mirrored", ("l", "a", "a2"), None, 1),
    ("mirrored", ("l", "g", "g2"), None, 1),
    ("shifted", ("l", "s", "s2"), 9.0, 1),
    ("turned", ("p", "e", "e2"), 2.1, 1),
    ("offset", ("m", "m2"), 3.0, 1),
    ("offset", ("a", "a2"), 2.0, 1),
]
CURVES += [
    Curve("e2", "ellipse", (62.0, 2.0, 78.0, 9.0, 59.0, 9.0)),
    Curve("m2", "line", (3.0, 1.0, -9.0, -3.0)),
    Curve("a2", "arc", (10.0, -16.0, 11.0, -10.0, 5.0, -15.0, 6.1)),
    Curve("g2", "elliptic_arc", (0.0, -60.0, 16.0, -62.0, 1.0, -52.0, 12.0, -70.0, -13.0, -61.0)),
    through("s2", POINTS, HANDLES, (9.0, 1.0)),
]


def system_of(constraint):
    return System(CURVES, [*JOINS, constraint])


@pytest.mark.parametrize(("kind", "of", "value", "branch"), KINDS)
def test_jacobian_equals_central_differences(kind, of, value, branch):
    c = Constraint("k", kind, of, value, branch)
    system = system_of(c)
    x, h = list(system.x), 1e-5
    for row, (_, gradient) in enumerate(system.rows(c, x)):
        for i in range(len(x)):
            high, low = list(x), list(x)
            high[i] += h
            low[i] -= h
            slope = (system.rows(c, high)[row][0] - system.rows(c, low)[row][0]) / (2 * h)
            assert gradient.get(i, 0.0) == pytest.approx(slope, abs=1e-6, rel=1e-6), (kind, row, i)


def solved(kind, of, value=None, branch=1, curves=CURVES, more=()):
    c = Constraint("k", kind, of, value, branch)
    found = solve(curves, [*JOINS, *more, c] if curves is CURVES else [*more, c])
    assert not found.conflict and found.residual <= 1e-9, found
    return {k.id: Curve(k.id, k.kind, found.values[k.id], data=k.data) for k in curves}, found


def pole_path(c):
    return paths.spline(c.kind, c.values, c.data)


def test_a_spline_through_points_is_the_clamped_cubic_of_scipy():
    """Oracle: scipy.interpolate.CubicSpline with the same end derivatives."""
    c = through("s", POINTS, HANDLES)
    u = np.array(c.data)
    ends = [
        3 * (np.array(HANDLES[0]) - POINTS[0]) / (u[1] - u[0]),
        3 * (np.array(POINTS[-1]) - HANDLES[1]) / (u[-1] - u[-2]),
    ]
    oracle = CubicSpline(u, np.array(POINTS), bc_type=((1, ends[0]), (1, ends[1])))
    t = np.linspace(0, 1, 57)
    assert paths.at(pole_path(c), t) == pytest.approx(oracle(t), abs=1e-12)
    natural = CubicSpline(u, np.array(POINTS), bc_type="natural")
    assert paths.at(pole_path(through("s", POINTS)), t) == pytest.approx(natural(t), abs=1e-12)


def test_control_points_make_the_b_spline_of_scipy():
    values = CURVES[8].values
    path = paths.spline("controlled", values, ())
    oracle = BSpline(np.array([0, 0, 0, 0, 0.5, 1, 1, 1, 1]), np.array(values).reshape(-1, 2), 3)
    t = np.linspace(0, 1, 41)
    assert paths.at(path, t) == pytest.approx(oracle(t), abs=1e-12)
    assert names_of("controlled", 10)[:4] == ("start.x", "start.y", "p1.x", "p1.y")


def test_a_line_tangent_to_an_ellipse():
    """Closed form: A x + B y = C touches x^2/a^2 + y^2/b^2 = 1 when a^2 A^2 + b^2 B^2 = C^2 (Salmon, Conic Sections, 1879, art. 137)."""
    curves = [
        Curve("e", "ellipse", (0.0, 0.0, 5.0, 0.0, 0.0, 3.0)),
        Curve("l", "line", (-6.0, 3.0, 7.0, 4.5)),
    ]
    more = [Constraint("f", "fix", ("e",)), Constraint("g", "fix", ("l.start",))]
    found, _ = solved("tangent", ("e", "l"), branch=-1, curves=curves, more=more)
    x0, y0, x1, y1 = found["l"].values
    a, b = y1 - y0, x0 - x1
    c = a * x0 + b * y0
    assert 25 * a * a + 9 * b * b == pytest.approx(c * c, rel=1e-12)


@pytest.mark.parametrize("second", ["c", "f"])
def test_ellipses_touch_in_one_point(second):
    """Oracle: the least distance of finely sampled outlines is zero and their tangents there agree."""
    found, _ = solved("tangent", ("e", second))
    e, other = found["e"], found[second]

    def outline(c):
        v = c.values
        t = np.linspace(0, 2 * math.pi, 4001)
        if c.kind == "circle":
            return np.column_stack([v[0] + v[2] * np.cos(t), v[1] + v[2] * np.sin(t)])
        return paths.at(paths.ellipse(v[:2], v[2:4], v[4:6]), t)

    a, b = outline(e), outline(other)
    away = np.array([np.hypot(*(b - p).T).min() for p in a])
    k = int(away.argmin())
    assert away[k] < 0.02
    j = int(np.hypot(*(b - a[k]).T).argmin())
    u, w = a[(k + 1) % 4000] - a[k - 1], b[(j + 1) % 4000] - b[j - 1]
    assert abs(u[0] * w[1] - u[1] * w[0]) / (np.hypot(*u) * np.hypot(*w)) < 0.02


def test_half_axes_stay_square():
    found, _ = solved("on_curve", ("p", "e"))
    v = np.array(found["e"].values)
    assert (v[2:4] - v[:2]) @ (v[4:6] - v[:2]) == pytest.approx(0, abs=1e-9)
    x = np.linalg.solve(np.column_stack([v[2:4] - v[:2], v[4:6] - v[:2]]), np.array(found["p"].values) - v[:2])
    assert x @ x == pytest.approx(1, abs=1e-12)


@pytest.mark.parametrize(("spline", "point"), [("s", "p"), ("q", "c.centre")])
def test_a_point_lies_on_a_spline(spline, point):
    found, outcome = solved("on_curve", (point, spline))
    path = pole_path(found[spline])
    t = np.linspace(0, 1, 200001)
    away = np.hypot(*(paths.at(path, t) - np.array(found[point[0]].values[:2])).T)
    assert away.min() < 1e-3
    free = sum(len(c.values) for c in CURVES) - 2 * 4 - 3 * 2  # joins, arcs on their radius and half axes
    assert outcome.freedoms <= free


@pytest.mark.parametrize(("second", "branch"), [("m", -1), ("a", 1), ("q", -1)])
def test_smooth_ends_have_one_tangent_and_one_curvature(second, branch):
    """Curvature (x' y'' - y' x'') / |p'|^3 by SciPy's derivatives of the poles."""
    found, _ = solved("smooth", ("s", second), branch=branch)

    def curvature(key, t):
        path = pole_path(found[key])
        curve = BSpline(np.array(path.knots), np.array(path.poles), path.degree)
        (dx, dy), (ex, ey) = curve.derivative(1)(t), curve.derivative(2)(t)
        return (dx * ey - dy * ex) / math.hypot(dx, dy) ** 3

    if second == "q":
        assert curvature("s", 1.0) == pytest.approx(curvature("q", 0.0), abs=1e-9)
    else:
        expected = 0.0 if second == "m" else 1 / found["a"].values[6]
        assert abs(curvature("s", 0.0)) == pytest.approx(expected, abs=1e-9)


def moved(kind, p, value, line=None, centre=None, branch=1):
    """The image of a point, by complex numbers."""
    z = complex(*p)
    if kind == "turned":
        o = complex(*centre)
        z = o + (z - o) * complex(math.cos(branch * value), math.sin(branch * value))
    else:
        a, b = complex(*line[:2]), complex(*line[2:])
        u = (b - a) / abs(b - a)
        z = z + value * u if kind == "shifted" else a + u * ((z - a) / u).conjugate()
    return z.real, z.imag


@pytest.mark.parametrize("entry", [k for k in KINDS if k[0] in ("shifted", "turned", "mirrored")])
def test_copies_are_images(entry):
    kind, of, value, branch = entry
    by_id = {c.id: c for c in CURVES}
    line, centre = by_id["l"].values, by_id["p"].values
    draw, original = random.Random(5), by_id[of[1]]
    images = [
        moved(kind, original.values[i : i + 2], value, line, centre, branch)
        for i in range(0, len(original.values) - 1, 2)
    ]
    if kind == "mirrored":  # counter-clockwise again, and half axes as they turn
        images[-1], images[-2] = images[-2], images[-1]
        if original.kind == "elliptic_arc":
            images[2] = tuple(2 * c - a for c, a in zip(images[0], images[2], strict=True))
    flat = [q + draw.uniform(-1, 1) for p in images for q in p] + list(original.values[2 * len(images) :])
    copied = Curve(of[2], original.kind, tuple(flat), data=original.data)
    found, _ = solved(kind, of, value, branch, curves=[*(c for c in CURVES if c.id != of[2]), copied], more=JOINS)
    source, copy = found[of[1]], found[of[2]]
    line = found[of[0]].values if kind != "turned" else None
    centre = found[of[0]].values if kind == "turned" else None
    names = {n[:-2]: i for i, n in enumerate(names_of(source.kind, len(source.values))) if n.endswith(".x")}
    for name, i in names.items():
        mate = {"start": "end", "end": "start"}.get(name, name) if kind == "mirrored" else name
        if name == "across":
            continue  # of a mirrored ellipse it lies on the other side
        image = moved(kind, source.values[i : i + 2], value, line, centre, branch)
        j = names[mate]
        assert copy.values[j : j + 2] == pytest.approx(image, abs=1e-8), name
    lengths = [math.dist(c.values[:2], c.values[4:6]) for c in (source, copy)]
    if source.kind in ("ellipse", "elliptic_arc"):
        assert lengths[0] == pytest.approx(lengths[1], abs=1e-9)


def rounded_chain(w, h, r):
    """A line, a quarter round and a line, joined: an L with its corner rounded."""
    curves = [
        Curve("a", "line", (0.0, 0.0, w - r, 0.0)),
        Curve("b", "arc", (w - r, r, w - r, 0.0, w, r, r)),
        Curve("c", "line", (w, r, w, h)),
    ]
    constraints = [
        Constraint("1", "coincident", ("a.end", "b.start")),
        Constraint("2", "coincident", ("b.end", "c.start")),
        Constraint("3", "tangent", ("b", "a")),
        Constraint("4", "tangent", ("b", "c")),
        Constraint("5", "fix", ("a.start",)),
        Constraint("6", "horizontal", ("a",)),
        Constraint("7", "vertical", ("c",)),
        Constraint("8", "radius", ("b",), r),
        Constraint("9", "distance", ("a",), w - r),
        Constraint("10", "distance", ("c",), h - r),
    ]
    return curves, constraints


@pytest.mark.parametrize("r", [4.0, 7.0, 12.0])
def test_a_chain_with_an_arc_is_offset_at_one_distance_and_follows(r):
    """Drawn with r = 4 and offset by 3; any other radius must be followed. Measured here from the values alone."""
    curves, constraints = rounded_chain(50.0, 40.0, 4.0)
    curves += [
        Curve("A", "line", (0.0, 3.0, 46.0, 3.0)),
        Curve("B", "arc", (46.0, 4.0, 46.0, 3.0, 47.0, 4.0, 1.0)),
        Curve("C", "line", (47.0, 4.0, 47.0, 40.0)),
    ]
    d = 3.0 if r > 4 else 2.5
    wanted = [
        Constraint(c.id, c.kind, c.of, {"8": r, "9": 50 - r, "10": 40 - r}.get(c.id, c.value)) for c in constraints
    ]
    found = solve(curves, [*wanted, Constraint("o", "offset", ("a", "A", "b", "B", "c", "C"), d)])
    assert not found.conflict and found.freedoms == 0
    assert found.values["A"] == pytest.approx((0, d, 50 - r, d), abs=1e-9)
    assert found.values["B"] == pytest.approx((50 - r, r, 50 - r, d, 50 - d, r, r - d), abs=1e-9)
    assert found.values["C"] == pytest.approx((50 - d, r, 50 - d, 40), abs=1e-9)


def test_corners_of_an_offset_stay_corners():
    """A triangle 3-4-5 in tens, offset inwards: its incircle of radius 10 shrinks by the distance."""
    p = [(0.0, 0.0), (40.0, 0.0), (0.0, 30.0)]
    q = [(4.0, 4.0), (28.0, 4.0), (4.0, 22.0)]
    curves = [Curve(f"a{k}", "line", (*p[k], *p[(k + 1) % 3])) for k in range(3)]
    curves += [Curve(f"b{k}", "line", (*q[k], *q[(k + 1) % 3])) for k in range(3)]
    joins = [
        Constraint(f"{n}{k}", "coincident", (f"{n}{k}.end", f"{n}{(k + 1) % 3}.start")) for n in "ab" for k in range(3)
    ]
    fixed = [Constraint(f"f{k}", "fix", (f"a{k}.start",)) for k in range(3)]
    offset = Constraint("o", "offset", tuple(x for k in range(3) for x in (f"a{k}", f"b{k}")), 6.0)
    found = solve(curves, [*joins, *fixed, offset])
    assert not found.conflict and found.freedoms == 0
    share = (10.0 - 6.0) / 10.0  # similar about the incentre (10, 10)
    for k in range(3):
        x, y = p[k]
        assert found.values[f"b{k}"][:2] == pytest.approx((10 + share * (x - 10), 10 + share * (y - 10)), abs=1e-9)


def test_text_keeps_its_proportions():
    text = Curve("t", "text", (0.0, 0.0, 40.0, 3.0, -1.0, 9.0), data=(0.25,))
    found = solve([text], [Constraint("h", "distance", ("t.at", "t.over"), 7.0)])
    v = np.array(found.values["t"])
    along, over = v[2:4] - v[:2], v[4:6] - v[:2]
    assert np.hypot(*over) == pytest.approx(7.0) and np.hypot(*along) == pytest.approx(28.0)
    assert along @ over == pytest.approx(0, abs=1e-9) and found.freedoms == 3


def test_area_of_paths_against_fine_polygons():
    """Oracle: shapely's polygon areas, which near ours as 1/n^2."""
    from shapely.geometry import Polygon

    path = paths.spline("controlled", (0, 0, 30, 25, -10, 25, 20, 0), ())
    ellipse = paths.ellipse((3, 4), (8, 6), (1.8, 5.6))
    draw = random.Random(3)
    for p in (path, ellipse):
        low, high = paths.span(p)
        t0 = draw.uniform(low, (low + high) / 2)
        t1 = draw.uniform(t0 + 0.2, high)
        t = np.linspace(t0, t1, 20001)
        points = paths.at(p, t)
        closed = np.vstack([points, [(0.0, 0.0)]])
        polygon = Polygon(closed)
        signed = 0.5 * np.sum(closed[:, 0] * np.roll(closed[:, 1], -1) - closed[:, 1] * np.roll(closed[:, 0], -1))
        assert paths.area(p, t0, t1) == pytest.approx(signed, rel=1e-7)
        assert polygon.area >= 0
