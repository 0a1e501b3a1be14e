"""Datum planes, axes and points against closed forms of analytic geometry."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.support.frames import frame_of

from architectonic.describe.drawn.drawing import Drawing
from architectonic.describe.references.datum import crossing, midway, through
from architectonic.describe.results import Axis, Frame, Spot
from architectonic.family import edits, names
from architectonic.family.records import (
    CrossingAxis,
    Datum,
    FrameAt,
    LineAxis,
    LinePlane,
    MidPlane,
    OffsetPlane,
    PointAt,
    PointCrossing,
    PointHere,
    PointsAxis,
    PointsPlane,
    Reference,
    Sketch,
    SquareAxis,
    SquarePlane,
)

FRONT, TOP, RIGHT = (Reference(item=k) for k in ("front", "top", "right"))


class Pad:
    """A layout with a line (0,0)-(30,40), a circle of radius 10 about (50, 0) and a point (5, 7) in the front plane."""

    def __init__(self):
        family = edits.new_family("Trial")
        family, self.key = edits.add_document(family, "layout", "L")
        family = edits.add_operation(family, self.key, Sketch(id="s", name="S", plane=FRONT))
        d = Drawing(family, self.key, edits.operation(family, self.key, "s"))
        self.line, self.circle = d.line((0.0, 0.0), (30.0, 40.0)), d.circle((50.0, 0.0), 10.0)
        self.family = edits.replace_operation(family, self.key, d.sketch)

    def text(self, text, quantity="length"):
        unit = {"length": "mm", "angle": "deg", "number": ""}[quantity]
        return names.bind_quantity(self.family, self.family.documents[self.key], text, quantity, unit)

    def add(self, key, by):
        self.family = edits.add_operation(self.family, self.key, Datum(id=key, name=f"D {key}", by=by))
        return self.outcome(key)

    def outcome(self, key):
        return frame_of(self.family, self.key, key)

    def ref(self, label):
        return Reference(item="s", label=label)


@pytest.fixture
def pad():
    return Pad()


def test_midway_between_parallel_planes_and_halving_an_angle(pad):
    pad.add("a", OffsetPlane(plane=TOP, distance=pad.text("30 mm")))
    middle = pad.add("m", MidPlane(first=TOP, second=Reference(item="a"))).value
    assert middle.origin == (0, 0, 15) and middle.normal == (0, 0, 1)
    half = pad.add("h", MidPlane(first=TOP, second=RIGHT)).value
    assert half.normal == pytest.approx((math.sqrt(0.5), 0, math.sqrt(0.5))) and half.origin == (0, 0, 0)


def test_three_points_and_points_in_line(pad):
    plane = PointsPlane(points=(pad.ref(f"{pad.line}.start"), pad.ref(f"{pad.line}.end"), pad.ref(pad.circle)))
    assert abs(pad.add("p", plane).value.normal[1]) == 1  # all lie in the front plane
    line = PointsPlane(points=(pad.ref(f"{pad.line}.start"), pad.ref(f"{pad.line}.end"), Reference(item="origin")))
    problem = pad.add("q", line).problem
    assert problem.code == "datum.in_line" and problem.mend


def test_square_to_a_curve_at_a_share_of_its_length(pad):
    """Halfway along the line (15, 0, 20); a quarter round the circle its tangent is straight across, at its top."""
    half = pad.text("1/2", "number")
    frame = pad.add("a", SquarePlane(line=pad.ref(pad.line), share=half)).value
    assert frame.origin == pytest.approx((15, 0, 20)) and frame.normal == pytest.approx((0.6, 0, 0.8))
    frame = pad.add("b", SquarePlane(line=pad.ref(pad.circle), share=pad.text("0.25", "number"))).value
    assert frame.origin == pytest.approx((50, 0, 10)) and frame.normal == pytest.approx((-1, 0, 0), abs=1e-9)


def test_a_plane_about_a_standard_axis_counts_from_a_plane(pad):
    angle = pad.text("30 deg", "angle")
    frame = pad.add("a", LinePlane(line=Reference(item="x"), angle=angle, base=TOP)).value
    assert frame.normal == pytest.approx((0, -0.5, math.cos(math.pi / 6)))
    assert pad.add("b", LinePlane(line=Reference(item="x"), angle=angle)).problem.code == "datum.no_base"
    assert pad.add("c", LinePlane(line=Reference(item="z"), angle=angle, base=TOP)).problem.code == "datum.square"


def test_axes(pad):
    round_one = pad.add("a", LineAxis(line=pad.ref(pad.circle))).value
    assert round_one == Axis((50, 0, 0), (0, -1, 0))  # through its centre, square to the front plane
    crossing_one = pad.add("b", CrossingAxis(first=TOP, second=RIGHT)).value
    assert crossing_one.origin == (0, 0, 0) and abs(crossing_one.direction[1]) == 1
    points = PointsAxis(points=(Reference(item="origin"), pad.ref(f"{pad.line}.end")))
    assert pad.add("c", points).value.direction == pytest.approx((0.6, 0, 0.8))
    square = pad.add("d", SquareAxis(plane=TOP, point=pad.ref(f"{pad.line}.end"))).value
    assert square == Axis((30, 0, 0), (0, 0, 1))
    assert pad.add("e", CrossingAxis(first=TOP, second=TOP)).problem.code == "datum.parallel"


def test_points_by_coordinates_by_an_end_and_where_a_line_crosses(pad):
    at = PointAt(x=pad.text("1 in"), y=pad.text("2 * 3 mm"), z=pad.text("-4 mm"))
    assert pad.add("a", at).value == Spot((25.4, 6, -4))
    assert pad.add("b", PointHere(point=pad.ref(pad.circle))).value == Spot((50, 0, 0))
    pad.add("up", OffsetPlane(plane=TOP, distance=pad.text("20 mm")))
    crossing_at = PointCrossing(line=pad.ref(pad.line), plane=Reference(item="up"))
    assert pad.add("c", crossing_at).value == Spot((15, 0, 20))
    assert pad.add("d", PointCrossing(line=Reference(item="x"), plane=TOP)).problem.code == "datum.parallel"


def test_a_frame_gives_sketches_its_own_origin_and_x(pad):
    """A sketch on it starts at its point, x along its line; the same sketch on a plain plane starts below the origin."""
    frame = pad.add("f", FrameAt(origin=pad.ref(f"{pad.line}.end"), plane=FRONT, along=pad.ref(pad.line))).value
    assert frame.origin == (30, 0, 40) and frame.x == pytest.approx((0.6, 0, 0.8))
    pad.family = edits.add_operation(pad.family, pad.key, Sketch(id="on", name="On", plane=Reference(item="f")))
    assert pad.outcome("on").value == frame


def test_an_axis_is_no_plane(pad):
    pad.add("a", LineAxis(line=Reference(item="x")))
    pad.family = edits.add_operation(pad.family, pad.key, Sketch(id="on", name="On", plane=Reference(item="a")))
    assert "not a plane" in pad.outcome("on").problem.what


vectors = st.tuples(*[st.floats(-50, 50).map(lambda v: round(v, 3))] * 3)


def _frame(origin, normal):
    n = np.array(normal)
    n = n / np.linalg.norm(n)
    x = np.cross(n, [1.0, 0, 0] if abs(n[0]) < 0.9 else [0, 1.0, 0])
    return Frame(tuple(origin), tuple(x / np.linalg.norm(x)), tuple(n))


@given(vectors, vectors, vectors, vectors)
def test_what_crosses_lies_in_both_and_what_is_midway_is_as_far_from_each(o1, n1, o2, n2):
    if np.linalg.norm(n1) < 1 or np.linalg.norm(n2) < 1:
        return
    a, b = _frame(o1, n1), _frame(o2, n2)
    if np.linalg.norm(np.cross(a.normal, b.normal)) < 1e-3:
        return
    line = crossing(a, b)
    for t in (-10.0, 0.0, 25.0):
        p = np.array(line.origin) + t * np.array(line.direction)
        assert abs(np.dot(p - a.origin, a.normal)) < 1e-6 and abs(np.dot(p - b.origin, b.normal)) < 1e-6
    m = midway(a, b)
    p = np.array(m.origin) + 7 * np.cross(m.normal, m.x) + 3 * np.array(m.x)
    assert abs(abs(np.dot(p - a.origin, a.normal)) - abs(np.dot(p - b.origin, b.normal))) < 1e-6


@given(vectors, vectors, vectors)
def test_three_points_lie_in_their_plane(a, b, c):
    if np.linalg.norm(np.cross(np.subtract(b, a), np.subtract(c, a))) < 1e-2:
        return
    plane = through(a, b, c)
    assert max(abs(np.dot(np.subtract(p, plane.origin), plane.normal)) for p in (a, b, c)) < 1e-6
