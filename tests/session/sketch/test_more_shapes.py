"""Arcs, touching circles, slanted rectangles, curved slots, free curves and text; lengthening, splitting, trimming them."""

import math

import numpy as np
import pytest
from tests.support.pads import Pad

from architectonic.base.errors import UserFault
from architectonic.describe.drawn.curves import path_of
from architectonic.family import edits
from architectonic.family.records import EllipticArc, Spline
from architectonic.session.sketch import shapes
from architectonic.session.sketch.snapping import Snapped
from architectonic.session.sketch.trimming import extend, split, trim
from architectonic.sketch.curves import paths


@pytest.fixture
def pad():
    return Pad()


def line(pad, a, b):
    return pad(lambda s: s.line(Snapped(a), Snapped(b), infer=False))


@pytest.mark.parametrize("middle", [(25.0, 9.0), (25.0, -9.0)])
def test_an_arc_through_three_points_bends_towards_the_third(pad, middle):
    """Sagitta 9 on a chord of 50: r = (25^2 + 9^2) / 18 (chord theorem, Euclid III.35)."""
    key = pad(lambda s: shapes.arc_through(s, Snapped((0, 0)), Snapped((50, 0)), Snapped(middle)))
    v = pad.solved.curves[key].values
    assert v[6] == pytest.approx((625 + 81) / 18)
    turns = [math.atan2(q[1] - v[1], q[0] - v[0]) for q in (v[2:4], middle, v[4:6])]
    assert (turns[1] - turns[0]) % math.tau < (turns[2] - turns[0]) % math.tau


@pytest.mark.parametrize("end", [(60.0, 20.0), (60.0, -20.0), (10.0, 15.0)])
def test_an_arc_goes_on_smoothly_from_a_line(pad, end):
    key = line(pad, (-20, 0), (40, 0))
    arc = pad(lambda s: shapes.arc_onwards(s, pad.snapped(40, 0), Snapped(end)))
    v = pad.solved.curves[arc].values
    assert v[0] == pytest.approx(40) and any(
        c.kind == "tangent" and set(c.of) == {key, arc} for c in pad.sketch.constraints
    )
    assert math.dist(v[:2], end) == pytest.approx(v[6])
    with pytest.raises(UserFault, match="straight on"):
        pad(lambda s: shapes.arc_onwards(s, pad.snapped(-20, 0), Snapped((-50, 0))))
    with pytest.raises(UserFault, match="end of another curve"):
        pad(lambda s: shapes.arc_onwards(s, Snapped((5, 5)), Snapped((-30, 0))))


def test_a_circle_touching_three_lines_is_the_incircle(pad):
    """solver-facts 5.1: the triangle (0,0), (70,0), (20,50): r = area / half its perimeter, area 1750."""
    p = [(0.0, 0.0), (70.0, 0.0), (20.0, 50.0)]
    sides = [line(pad, p[k], p[(k + 1) % 3]) for k in range(3)]
    for k in range(3):
        pad(lambda s, k=k: s.constrain("fix", f"{sides[k]}.start"))
        pad(lambda s, k=k: s.try_constraint("fix", f"{sides[k]}.end"))
    clicks = [Snapped(at, under=side) for at, side in zip(((30, 0), (48, 22), (10, 25)), sides, strict=True)]
    key = pad(lambda s: shapes.circle_touching(s, clicks))
    half = sum(math.dist(p[k], p[(k + 1) % 3]) for k in range(3)) / 2
    assert pad.solved.curves[key].values[2] == pytest.approx(1750 / half) and pad.solved.freedoms == 0


def test_rectangles_about_a_centre_and_along_a_slant(pad):
    pad(lambda s: shapes.rectangle_about(s, Snapped((0, 0), "origin"), Snapped((30, 20))))
    assert pad.solved.freedoms == 2  # width and height
    assert [r.area for r in pad.solved.regions] == pytest.approx([60 * 40])
    sides = pad(lambda s: shapes.rectangle_along(s, Snapped((100, 0)), Snapped((140, 30)), Snapped((100, 25))))
    assert max(r.area for r in pad.solved.regions if r.area != 2400) == pytest.approx(50 * 20, rel=1e-9)
    pad(lambda s: s.constrain("distance", sides[0], value="80 mm"))
    v = [pad.solved.curves[k].values for k in sides]
    d = [(a[2] - a[0], a[3] - a[1]) for a in v]
    assert all(abs(d[k][0] * d[k + 1][0] + d[k][1] * d[k + 1][1]) < 1e-6 for k in range(3))


def test_a_curved_slot_has_its_area(pad):
    """Sweep 90 deg at radius 40, half width 5: 2 r R t + pi r^2 by Pappus' theorem."""
    pad(lambda s: shapes.curved_slot(s, Snapped((0, 0), "origin"), Snapped((40, 0)), Snapped((0, 40)), (45, 0)))
    assert pad.solved.freedoms == 4
    assert [r.area for r in pad.solved.regions] == pytest.approx([10 * 40 * math.pi / 2 + math.pi * 25])
    with pytest.raises(UserFault, match="width of a curved slot"):
        pad(lambda s: shapes.curved_slot(s, Snapped((0, 0)), Snapped((4, 0)), Snapped((0, 4)), (9, 0)))


def test_an_ellipse_is_held_by_its_half_axes(pad):
    key = pad(lambda s: shapes.ellipse(s, Snapped((0, 0), "origin"), Snapped((30, 4)), Snapped((2, 12))))
    pad(lambda s: s.constrain("distance", f"{key}.centre", f"{key}.along", value="40 mm"))
    pad(lambda s: s.constrain("distance", f"{key}.centre", f"{key}.across", value="15 mm"))
    assert [r.area for r in pad.solved.regions] == pytest.approx([math.pi * 40 * 15])
    assert pad.solved.freedoms == 1  # its direction
    with pytest.raises(UserFault, match="half axes"):
        pad(lambda s: shapes.ellipse(s, Snapped((0, 0)), Snapped((30, 0)), Snapped((10, 0))))


def test_text_has_a_height_that_drives_and_regions(pad):
    key = pad(lambda s: shapes.text(s, Snapped((0, 0), "origin"), "LIGHT 12", "7 mm"))
    assert pad.solved.freedoms == 0 and len(pad.solved.regions) >= 7
    wide = pad.solved.curves[key].values[2]
    before = sum(r.area for r in pad.solved.regions)
    (height,) = [c.id for c in pad.sketch.constraints if c.kind == "distance"]
    pad.family = edits.set_value(pad.family, pad.key, height, "14 mm")
    assert pad.solved.curves[key].values[2] == pytest.approx(2 * wide)
    assert sum(r.area for r in pad.solved.regions) == pytest.approx(4 * before, rel=1e-6)
    for bad in ("", " ", "♞"):
        with pytest.raises(UserFault):
            pad(lambda s, t=bad: shapes.text(s, Snapped((0, 0)), t, "7 mm"))


@pytest.mark.parametrize("through", [True, False])
def test_parts_of_a_spline_are_exactly_the_same_curve(pad, through):
    clicks = [Snapped(p) for p in ((0, 0), (20, 18), (40, -6), (60, 12), (80, 0))]
    key = pad(lambda s: shapes.spline(s, clicks, through))
    whole = path_of(pad.solved.curves[key])
    new = pad(lambda s: split(s, key, (31, 6)))
    first, last = (path_of(pad.solved.curves[k]) for k in (key, new))
    assert isinstance(pad.sketch.curves[key], Spline)
    for part in (first, last):
        points = paths.at(part, np.linspace(0, 1, 41))
        away = [math.dist(paths.point(whole, paths.nearest(whole, tuple(p), 0, 1)), p) for p in points]
        assert max(away) < 1e-6
    assert paths.point(first, 1.0) == pytest.approx(paths.point(last, 0.0), abs=1e-9)


def test_a_spline_is_trimmed_where_a_line_crosses_it(pad):
    key = pad(lambda s: shapes.spline(s, [Snapped(p) for p in ((0, 0), (20, 18), (40, 0), (60, 18))], True))
    cut = line(pad, (30, -20), (30, 40))
    pad(lambda s: trim(s, key, (50, 6)))
    end = pad.solved.curves[key].values
    n = len(pad.sketch.curves[key].points)
    assert end[2 * n - 2] == pytest.approx(30.0, abs=1e-6)
    assert any(c.kind == "on_curve" and c.of == (f"{key}.end", cut) for c in pad.sketch.constraints)


def test_an_ellipse_trimmed_by_a_line_becomes_half_of_it(pad):
    key = pad(lambda s: shapes.ellipse(s, Snapped((0, 0)), Snapped((30, 0)), Snapped((0, 12))))
    line(pad, (-40, 0), (40, 0))
    pad(lambda s: trim(s, key, (0, -12)))
    assert isinstance(pad.sketch.curves[key], EllipticArc)
    assert [r.area for r in pad.solved.regions] == pytest.approx([math.pi * 30 * 12 / 2])


def test_a_line_and_an_arc_are_lengthened_to_what_lies_ahead(pad):
    key = line(pad, (0, 0), (10, 5))
    wall = line(pad, (40, -10), (40, 60))
    pad(lambda s: extend(s, key, (9, 5)))
    assert pad.solved.curves[key].values[2:] == pytest.approx((40, 20))
    assert any(c.kind == "on_curve" and c.of == (f"{key}.end", wall) for c in pad.sketch.constraints)
    arc = pad(
        lambda s: s.arc(
            Snapped((40, 20)), Snapped((40 + 15, 20)), Snapped((40 + 15 * math.cos(1), 20 + 15 * math.sin(1)))
        )
    )
    pad(lambda s: extend(s, arc, (48, 32)))
    assert pad.solved.curves[arc].values[4:6] == pytest.approx((40, 35))
    with pytest.raises(UserFault, match="nothing lies ahead"):
        pad(lambda s: extend(s, key, (0, 0)))


def test_a_split_line_stays_joined_and_in_line(pad):
    key = line(pad, (0, 0), (60, 0))
    new = pad(lambda s: split(s, key, (20, 0.3)))
    assert pad.solved.curves[key].values == pytest.approx((0, 0, 20, 0)) and pad.solved.freedoms == 5
    assert pad.solved.curves[new].values == pytest.approx((20, 0, 60, 0))
    with pytest.raises(UserFault, match="at its end"):
        pad(lambda s: split(s, key, (0, 0)))
    with pytest.raises(UserFault, match="no curve under the click"):
        pad(lambda s: trim(s, "", (200, 200)))
    ring = pad(lambda s: s.circle(Snapped((100, 0)), 5.0))
    with pytest.raises(UserFault, match="no ends"):
        pad(lambda s: split(s, ring, (105, 0)))
