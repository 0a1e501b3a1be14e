"""What a click near something means: the order of what counts, and the constraints that it stands for."""

import math

import pytest

from architectonic.describe.drawn.readings import foot
from architectonic.describe.results import CurveResult, SketchResult
from architectonic.family.records import Arc, Line, Reference, Sketch
from architectonic.session.sketch.snapping import Snapped, inferred, snap, snap_points

CURVES = {
    "l": CurveResult("line", (0.0, 30.0, 40.0, 30.0)),
    "m": CurveResult("line", (10.0, 10.0, 30.0, 70.0)),
    "c": CurveResult("circle", (70.0, 30.0, 12.0)),
    "a": CurveResult("arc", (100.0, 0.0, 110.0, 0.0, 100.0, 10.0, 10.0)),
    "e": CurveResult("ellipse", (150.0, 30.0, 170.0, 30.0, 150.0, 42.0)),
    "s": CurveResult("controlled", (0.0, 70.0, 10.0, 90.0, 30.0, 60.0, 40.0, 80.0)),
    "t": CurveResult("text", (0.0, 100.0, 40.0, 100.0, 0.0, 107.0), data=(0.175,), text="LIGHT"),
    "p": CurveResult("point", (60.0, 60.0)),
}
SOLVED = SketchResult(CURVES, 0, (), 0.0, ())


@pytest.mark.parametrize(
    ("at", "place", "ways", "told"),
    [
        ((0.4, -0.3), "origin", (), "origin"),
        ((39.5, 30.2), "l.end", (), "end"),
        ((70.3, 29.9), "c.centre", (), "centre"),
        ((60.2, 60.1), "p", (), "point"),
        ((170.3, 30.0), "e.along", (), "point"),
        ((20.2, 30.3), "", (("midpoint", "l"),), "middle"),
        ((81.8, 30.4), "", (("on_curve", "c"), ("horizontal", "c.centre")), "quadrant"),
        ((70.2, 42.3), "", (("on_curve", "c"), ("vertical", "c.centre")), "quadrant"),
        ((33.0, 30.6), "", (("on_curve", "l"),), "on the curve"),
        ((78.6, 38.6), "", (("on_curve", "c"),), "on the curve"),
        ((107.2, 7.3), "", (("on_curve", "a"),), "on the curve"),
        ((50.0, 0.3), "", (("on_curve", "x_axis"),), "on the axis"),
        ((0.2, -20.0), "", (("on_curve", "y_axis"),), "on the axis"),
        ((51.0, 51.0), "", (), ""),
    ],
)
def test_what_counts(at, place, ways, told):
    found = snap(SOLVED, at, 1.0)
    assert (found.place, found.ways, found.told) == (place, ways, told)
    assert found.holds == ((("coincident", place),) if place else ways)
    if ways and ways[0][1] in CURVES:
        on = CURVES[ways[0][1]]
        assert math.dist(foot(on, found.at), found.at) < 1e-6


def test_a_crossing_is_on_both_curves():
    other = snap(
        SketchResult({"l": CURVES["l"], "k": CurveResult("line", (8.0, 20.0, 12.0, 44.0))}, 0, (), 0.0, ()),
        (9.9, 30.3),
        1.0,
    )
    assert set(other.ways) == {("on_curve", "l"), ("on_curve", "k")} and other.told == "crossing"
    assert other.at == pytest.approx((8 + 4 * 10 / 24, 30), abs=1e-9)


def test_the_grid_comes_last_and_dimmed_curves_do_not_count():
    assert snap(SOLVED, (51.0, 52.0), 1.0, 5.0) == Snapped((50.0, 50.0), "", (), "on the grid")
    assert snap(SOLVED, (39.5, 30.2), 1.0, 5.0).place == "l.end"
    assert snap(SOLVED, (39.5, 30.2), 1.0, 0.0, frozenset({"l"})).place == ""


def test_every_point_of_every_curve_can_be_snapped_to():
    points = snap_points(SOLVED)
    assert {"origin", "l.start", "a.centre", "e.across", "s.p1", "s.end", "t.over", "p"} <= set(points)
    for place, at in points.items():
        assert snap(SOLVED, at, 0.5).at == pytest.approx(at), place


@pytest.mark.parametrize("key", list(CURVES))
def test_the_nearest_point_of_a_curve_is_no_farther_than_any_sample(key):
    from architectonic.describe.drawn.readings import samples

    for q in ((-10.0, 5.0), (55.0, 44.0), (120.0, 80.0), (20.0, 72.0)):
        near = math.dist(foot(CURVES[key], q), q)
        assert near <= min(math.dist(p, q) for p in samples(CURVES[key])) + 1e-6


LINES = Sketch(
    id="s",
    name="S",
    plane=Reference(item="top"),
    curves={
        "l": Line(start=(0.0, 0.0), end=(20.0, 10.0)),
        "a": Arc(centre=(50.0, 0.0), start=(60.0, 0.0), end=(50.0, 10.0)),
    },
)


@pytest.mark.parametrize(
    ("start", "end", "meant"),
    [
        (Snapped((0, 5)), Snapped((40, 6)), ("horizontal",)),
        (Snapped((0, 5)), Snapped((1, 60)), ("vertical",)),
        (Snapped((0, 5)), Snapped((30, 30)), None),
        (Snapped((20, 10), "l.end"), Snapped((10.2, 30)), ("perpendicular", "l")),
        (Snapped((50, 10), "a.end"), Snapped((20, 10.4)), ("tangent", "a")),
        (Snapped((60, 0), "a.start"), Snapped((60.3, -20)), ("tangent", "a")),
        (Snapped((0, 5), "l.start"), Snapped((40, 5), "a.centre"), None),
    ],
)
def test_what_a_line_is_meant_to_be(start, end, meant):
    assert inferred(LINES, start, end) == meant
