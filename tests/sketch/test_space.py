"""Points in space: rows against central differences, freedoms by counting, solved triangles and tetrahedra by closed forms."""

import math

import numpy as np
import pytest

from architectonic.base.places import ORIGIN
from architectonic.sketch.solving import space
from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.freedoms import freedoms_of
from architectonic.sketch.solving.solve import solve
from architectonic.sketch.solving.system import System


def spot(name, *at, fixed=False):
    return Curve(name, "spot", tuple(float(c) for c in at), fixed=fixed)


CURVES = [
    spot("a", 1, 2, 3), spot("b", 14, 5, -4), spot("c", 9, 21, 6), spot("d", -7, 3, 12),
    Curve("p", "facing", (1.0, 0.5, 2.0, 0.3, -0.4, 1.2), fixed=True), Curve("l", "ray", (2.0, 1.0, 0.0, 1.0, 2.0, -0.5), fixed=True),
]  # fmt: skip
OF = {
    "apart": "ab", "corner": "abc", "legs_equal": "abcd", "legs_square": "abcd", "legs_parallel": "abcd",
    "on_facing": "ap", "on_ray": "al", "spots_mirrored": "abp",
}  # fmt: skip


@pytest.mark.parametrize("kind", OF)
def test_slopes_are_those_of_central_differences(kind):
    system = System(CURVES, [])
    c = Constraint("k", kind, tuple(OF[kind]), 3.0)
    for row in space.rows(system, c):
        x = [system.x[i] for i in row.at]
        _, slopes = row.kernel(x, 3.0)
        moving = [k for k, i in enumerate(row.at) if i not in system.fixed]
        for k in moving:
            ends = [row.kernel([v + (h if j == k else 0.0) for j, v in enumerate(x)], 3.0)[0] for h in (1e-6, -1e-6)]
            assert slopes[k] == pytest.approx((ends[0] - ends[1]) / 2e-6, abs=1e-7)


def test_every_kind_that_needs_rows_is_tried_above():
    wholly = {k for k in space.KINDS if k.rpartition("_")[2] in space.AXES or k == "spots_meet"}
    assert set(space.KINDS) == wholly | set(OF)


@pytest.mark.parametrize(
    ("constraints", "left"),
    [
        ([], 9),
        ([Constraint("1", "along_x", ("a", "b"))], 7),
        ([Constraint("1", "along_x", ("a", "b")), Constraint("2", "apart", ("a", "b"), 10.0)], 6),
        ([Constraint(str(k), "apart", p, 10.0) for k, p in enumerate((("a", "b"), ("b", "c"), ("a", "c")))], 6),
        ([Constraint("1", "on_facing", ("a", "p"), 2.0), Constraint("2", "on_ray", ("b", "l"))], 6),
        ([Constraint("1", "spots_mirrored", ("a", "b", "p"))], 6),
        ([Constraint("1", "corner", ("a", "b", "c"), 1.0), Constraint("2", "legs_equal", ("a", "b", "b", "c"))], 7),
        ([Constraint("1", "coordinate_z", ("a",), 5.0), Constraint("2", "level_z", ("a", "b"))], 7),
    ],
)
def test_freedoms_are_what_counting_says(constraints, left):
    """Three points have nine; a distance or an angle takes one, a line two, a mirror image three."""
    curves = [c for c in CURVES if c.id in "abcpl"]
    system = System(curves, constraints)
    assert freedoms_of(system, system.x)[0] == left
    found = solve(curves, constraints)
    assert not found.conflict and found.freedoms == left


def test_a_tetrahedron_with_given_edges_has_the_volume_of_cayley_and_menger():
    """Six edges hold a tetrahedron: 288 V^2 is a determinant of them (Cayley 1841)."""
    edges = {"ab": 13.0, "ac": 20.0, "ad": 15.0, "bc": 18.0, "bd": 22.0, "cd": 25.0}
    ground = [
        Constraint("g1", "spots_meet", ("a", "o")),
        Constraint("g2", "along_x", ("a", "b")),
        Constraint("g3", "level_z", ("a", "c")),
    ]
    held = [Constraint(e, "apart", tuple(e), v) for e, v in edges.items()]
    curves = [spot("o", 0, 0, 0, fixed=True), *(c for c in CURVES if c.kind == "spot")]
    found = solve(curves, [*ground, *held])
    assert not found.conflict and found.freedoms == 0 and found.residual < 1e-9
    a, b, c, d = (np.array(found.values[k]) for k in "abcd")
    for e, v in edges.items():
        assert math.dist(found.values[e[0]], found.values[e[1]]) == pytest.approx(v, abs=1e-9)
    volume = abs(float(np.dot(np.cross(b - a, c - a), d - a))) / 6
    m = np.ones((5, 5)) - np.eye(5)
    for e, v in edges.items():
        i, j = ("abcd".index(k) + 1 for k in e)
        m[i, j] = m[j, i] = v * v
    assert 288 * volume**2 == pytest.approx(float(np.linalg.det(m)), rel=1e-9)


def test_what_cannot_be_is_named():
    """A triangle whose sides do not reach: the three lengths, and nothing else."""
    sides = [
        Constraint("1", "apart", ("a", "b"), 10.0),
        Constraint("2", "apart", ("b", "c"), 4.0),
        Constraint("3", "apart", ("a", "c"), 20.0),
    ]
    level = Constraint("4", "coordinate_z", ("a",), 0.0)
    found = solve([c for c in CURVES if c.id in "abc"], [*sides, level])
    assert set(found.conflict) == {"1", "2", "3"}


def test_legs_that_are_parallel_square_and_equal():
    curves = [c for c in CURVES if c.kind == "spot"]
    constraints = [
        Constraint("1", "legs_parallel", ("a", "b", "c", "d")),
        Constraint("2", "legs_square", ("a", "b", "b", "c")),
        Constraint("3", "legs_equal", ("a", "b", "c", "d")),
        Constraint("4", "apart", ("a", "b"), 12.0),
    ]
    found = solve(curves, constraints)
    a, b, c, d = (np.array(found.values[k]) for k in "abcd")
    assert not found.conflict and found.freedoms == 12 - 5
    assert np.linalg.norm(np.cross(b - a, d - c)) < 1e-8 and abs(float((b - a) @ (c - b))) < 1e-8
    assert np.linalg.norm(d - c) == pytest.approx(12.0, abs=1e-9)


def test_flat_sketches_and_points_in_space_do_not_meet():
    assert ORIGIN not in {c.id for c in CURVES}
