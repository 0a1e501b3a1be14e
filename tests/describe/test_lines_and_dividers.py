"""Lines laid in lines, curves that meet, what references can be used as: numbers only, no kernel."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from architectonic.describe.models.operations import CHANGE_BODIES, OPERATIONS, SENTENCES
from architectonic.describe.references.chains import chained, met
from architectonic.describe.references.planes import cross, dot, in_line, unit
from architectonic.describe.registry import VERSIONS
from architectonic.describe.results import Axis, CurveResult, Frame, NodeFault, PlacedCurve
from architectonic.describe.words.acting import DOES
from architectonic.describe.words.blanks import Choice
from architectonic.family.operations.bodies.bring_in import BringIn
from architectonic.family.operations.bodies.outside import Outside

TOP = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
number = st.floats(-50, 50).map(lambda v: round(v, 3))
vector = st.tuples(number, number, number)
direction = vector.filter(lambda v: math.hypot(*v) > 1).map(unit)


def matrix(frame):
    y = cross(frame.normal, frame.x)
    return np.array([frame.x, y, frame.normal]).T


def carried(pair, point):
    """A point of the first frame carried along to the second."""
    first, second = pair
    local = matrix(first).T @ (np.array(point) - first.origin)
    return matrix(second) @ local + second.origin


@settings(max_examples=200)
@given(vector, direction, vector, direction, st.booleans())
def test_a_line_comes_to_lie_in_another_by_the_shortest_turn_and_no_shift_along_it(p, d, q, e, flip):
    pair = in_line(Axis(p, d), Axis(q, e), flip)
    for frame in pair:  # a rigid motion: both frames are right-handed and orthonormal
        assert np.allclose(matrix(frame).T @ matrix(frame), np.eye(3), atol=1e-9)
        assert np.linalg.det(matrix(frame)) == pytest.approx(1, abs=1e-9)
    start, ahead = carried(pair, p), carried(pair, tuple(np.add(p, d)))
    for point in (start, ahead):  # both lie in the target line
        away = np.cross(np.array(point) - q, e)
        assert np.linalg.norm(away) < 1e-6
    assert np.dot(start - np.array(p), e) == pytest.approx(0, abs=1e-6)  # no shift along it
    turned = float(np.dot(ahead - start, d))
    assert turned == pytest.approx(-abs(dot(d, e)) if flip else abs(dot(d, e)), abs=1e-6)


def line(x0, y0, x1, y1):
    return PlacedCurve(TOP, CurveResult("line", (x0, y0, x1, y1)))


def circle(x, y, r):
    return PlacedCurve(TOP, CurveResult("circle", (x, y, r)))


def test_curves_that_hang_together_are_one_group():
    curves = {"a": line(0, 0, 1, 0), "b": line(5, 0, 6, 0), "c": line(2, 1, 1, 0), "d": circle(9, 9, 1)}
    assert set(met(curves)) == {"a", "c"}
    assert met({k: curves[k] for k in "bd"}) == ["b"] and met({"d": curves["d"]}) == ["d"]


def test_a_path_starts_at_a_loose_end_whatever_way_its_pieces_were_drawn():
    pieces = chained([line(1, 0, 2, 0), line(1, 0, 0, 0), line(2, 0, 3, 1)], ["m", "f", "l"])
    assert [p.curve for _, p in pieces] in (["f", "m", "l"], ["l", "m", "f"])
    for (_, one), (_, other) in pairwise(pieces):
        assert one.end == pytest.approx(other.start)


def test_lines_that_branch_or_do_not_meet_are_told():
    fork = {k: line(0, 0, math.cos(a), math.sin(a)) for k, a in (("a", 0), ("b", 2), ("c", 4))}
    with pytest.raises(NodeFault) as fault:
        met(fork)
    assert fault.value.problem.code == "lines.branch" and fault.value.problem.mend
    with pytest.raises(NodeFault) as fault:
        chained([line(0, 0, 1, 0), line(5, 0, 6, 0)], ["a", "b"])
    assert fault.value.problem.code == "sweep.gap"
    with pytest.raises(NodeFault) as fault:
        chained([line(0, 0, 1, 0), circle(5, 5, 1)], ["a", "b"])
    assert fault.value.problem.code == "sweep.closed"


def test_every_kind_of_operation_stands_in_each_registry_once():
    recipes = [k.recipe for k in OPERATIONS.values() if k.recipe]
    assert len(set(recipes)) == len(recipes) == len(CHANGE_BODIES)
    assert all(VERSIONS[r] == k.version > 0 for k in OPERATIONS.values() if (r := k.recipe))
    begun = {k.record for k in OPERATIONS.values() if any(s.opens for s in k.sentences)}
    assert {kind.record for kind, _ in SENTENCES.values()} == begun and set(OPERATIONS) - begun == {BringIn, Outside}
    for _, sentence in SENTENCES.values():
        fields = [b.field for b in sentence.blanks]
        assert len(set(fields)) == len(fields) and sentence.title and sentence.called
        for blank in sentence.blanks:
            assert blank.unless == "" or blank.unless in fields
            assert not isinstance(blank, Choice) or len(blank.choices) > 1
    assert DOES.keys() == {"make", "add", "cut", "overlap"}
