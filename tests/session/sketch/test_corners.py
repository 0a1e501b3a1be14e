"""Corners rounded and cut: what was measured to a corner stays measured to where the lines met."""

import math

import pytest
from tests.support.pads import Pad

from architectonic.base.errors import UserFault
from architectonic.family import edits
from architectonic.session.sketch.corners import chamfer_corners, corners_in, round_corners
from architectonic.session.sketch.snapping import Snapped


@pytest.fixture
def plate():
    """A rectangle of 60 x 40, its lower left corner at the origin, dimensioned, with a circle in its middle."""
    pad = Pad()
    sides = pad(lambda s: s.rectangle(Snapped((0, 0)), Snapped((60, 40))))
    ring = pad(lambda s: s.circle(Snapped((30, 20)), 5))
    pad(lambda s: s.constrain("fix", f"{sides[0]}.start"))
    pad(lambda s: s.constrain("distance", sides[0], value="60 mm", name="wide"))
    pad(lambda s: s.constrain("distance", sides[1], value="40 mm", name="high"))
    middle = pad(lambda s: s.point(Snapped((30, 0))))
    pad(lambda s: s.constrain("midpoint", middle, sides[0]))
    pad(lambda s: s.constrain("vertical_distance", middle, f"{ring}.centre", value="20 mm"))
    pad(lambda s: s.constrain("horizontal_distance", f"{sides[0]}.start", f"{ring}.centre", value="wide / 2"))
    pad(lambda s: s.constrain("radius", ring, value="5 mm"))
    assert pad.solved.freedoms == 0
    return pad, sides, ring, middle


def area(pad):
    return max(r.area for r in pad.solved.regions)


def test_all_corners_of_a_plate_are_rounded_and_nothing_that_held_it_is_lost(plate):
    """Area of a plate with round corners: a b - (4 - pi) r^2, less the hole."""
    pad, sides, ring, middle = plate
    ids = {c.id for c in pad.sketch.constraints}
    joints = {c.id for c in pad.sketch.constraints if c.kind == "coincident"}
    pairs = corners_in(pad.sketch, sides)
    assert len(pairs) == 4
    pad(lambda s: round_corners(s, pairs, "6 mm"))
    kept = {c.id for c in pad.sketch.constraints}
    assert ids - joints <= kept and pad.solved.freedoms == 0  # every dimension and the middle are still there
    assert area(pad) == pytest.approx(60 * 40 - (4 - math.pi) * 36 - math.pi * 25)
    assert [c.kind for c in pad.sketch.constraints].count("radius") == 2  # one radius drives all corners, one the hole
    wide = next(c.id for c in pad.sketch.constraints if c.name == "wide")
    pad.family = edits.set_value(pad.family, pad.key, wide, "90 mm")
    assert pad.solved.curves[ring].values[:2] == pytest.approx((45, 20)) and pad.solved.freedoms == 0
    assert pad.solved.curves[middle].values[:2] == pytest.approx((45, 0))  # the middle of the whole side
    assert area(pad) == pytest.approx(90 * 40 - (4 - math.pi) * 36 - math.pi * 25)


def test_a_corner_is_meant_by_its_point_and_cut_keeps_what_is_measured(plate):
    pad, sides, _, _ = plate
    (pair,) = corners_in(pad.sketch, [f"{sides[2]}.start"])
    assert set(pair) == {sides[1], sides[2]} and corners_in(pad.sketch, [sides[0]]) == []
    pad(lambda s: chamfer_corners(s, [pair], "8 mm"))
    assert pad.solved.freedoms == 0 and area(pad) == pytest.approx(60 * 40 - 8 * 8 / 2 - math.pi * 25)
    assert {c.name for c in pad.sketch.constraints} >= {"wide", "high"}


def test_one_corner_after_the_other_keeps_a_line_measured_from_end_to_end(plate):
    pad, sides, _, _ = plate
    for k in range(4):
        pad(lambda s, k=k: round_corners(s, [(sides[k], sides[(k + 1) % 4])], "5 mm"))
    assert pad.solved.freedoms == 0 and area(pad) == pytest.approx(60 * 40 - (4 - math.pi) * 25 - math.pi * 25)


def test_where_there_is_no_room_nothing_is_changed(plate):
    pad, sides, _, _ = plate
    before = pad.sketch
    with pytest.raises(UserFault, match="no room"):
        pad(lambda s: round_corners(s, corners_in(pad.sketch, sides), "25 mm"))
    assert pad.sketch == before
