"""Dead centres and lines of no length are told as such; dependencies that theorems make are not."""

import math

import pytest

from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.singular import dead, without_length
from architectonic.sketch.solving.solve import solve


def two_bars(base, a, b, height=8.0):
    curves = [
        Curve("p", "line", (0.0, 0.0, base * a / (a + b), height)),
        Curve("q", "line", (base * a / (a + b), height, base, 0.0)),
    ]
    constraints = [
        Constraint("j", "coincident", ("p.end", "q.start")),
        Constraint("f", "fix", ("p.start",)),
        Constraint("g", "fix", ("q.end",)),
        Constraint("a", "distance", ("p",), a),
        Constraint("b", "distance", ("q",), b),
    ]
    return curves, constraints


def test_a_dead_centre_is_told_as_one():
    """solver-facts 5.23: 30 + 40 = 70 is singular, not redundant; with 40.4 instead of 40 nothing is left free."""
    curves, constraints = two_bars(70.0, 30.0, 40.0, 0.0)
    found = solve(curves, constraints)
    assert not found.conflict and found.freedoms == 1
    assert dead(curves, constraints, found) == ("p", "q")
    curves, constraints = two_bars(70.0, 30.0, 40.4)
    found = solve(curves, constraints)
    assert not found.conflict and found.freedoms == 0
    assert dead(curves, constraints, found) == ()


def test_a_theorem_is_no_dead_centre():
    """solver-facts 5.22, Thales: the right angle says nothing new wherever the point stands on the circle."""
    turn = 1.1
    p = (20 * math.cos(turn), 20 * math.sin(turn))
    curves = [
        Curve("c", "circle", (0.0, 0.0, 20.0)),
        Curve("ab", "line", (-20.0, 0.0, 20.0, 0.0)),
        Curve("pa", "line", (*p, -20.0, 0.0)),
        Curve("pb", "line", (*p, 20.0, 0.0)),
    ]
    constraints = [
        Constraint("m", "midpoint", ("c.centre", "ab")),
        Constraint("1", "coincident", ("pa.end", "ab.start")),
        Constraint("2", "coincident", ("pb.end", "ab.end")),
        Constraint("3", "coincident", ("pa.start", "pb.start")),
        Constraint("4", "on_curve", ("ab.start", "c")),
        Constraint("5", "on_curve", ("pa.start", "c")),
        Constraint("6", "perpendicular", ("pa", "pb")),
        Constraint("r", "radius", ("c",), 20.0),
    ]
    found = solve(curves, constraints)
    assert not found.conflict and found.freedoms == 4
    assert dead(curves, constraints, found) == ()


def test_a_free_sketch_is_no_dead_centre():
    curves = [Curve("a", "line", (0.0, 0.0, 10.0, 3.0)), Curve("b", "line", (10.0, 3.0, 20.0, 0.0))]
    constraints = [Constraint("j", "coincident", ("a.end", "b.start")), Constraint("d", "distance", ("a",), 12.0)]
    assert dead(curves, constraints, solve(curves, constraints)) == ()


@pytest.mark.parametrize("length", [0.0, 10.0])
def test_a_line_of_no_length_is_named(length):
    curves = [Curve("a", "line", (0.0, 0.0, 10.0, 0.0)), Curve("b", "line", (0.0, 5.0, 10.0, 5.0))]
    constraints = [
        Constraint("h", "horizontal", ("a",)),
        Constraint("x", "horizontal_distance", ("a.start", "a.end"), length),
    ]
    found = solve(curves, constraints)
    assert not found.conflict
    assert without_length(found.values, curves) == (() if length else ("a",))
