"""Slots, polygons, circles through points, rounded corners and trims, against closed forms."""

import math

import pytest
from tests.support.pads import Pad, pulled

from architectonic.base.errors import UserFault
from architectonic.family import edits
from architectonic.family.records import Arc
from architectonic.session.sketch.corners import round_corner
from architectonic.session.sketch.shapes import circle_through, polygon, slot
from architectonic.session.sketch.snapping import Snapped
from architectonic.session.sketch.trimming import trim


@pytest.fixture
def pad():
    return Pad()


def test_a_slot_has_five_freedoms_and_its_area(pad):
    """solver-facts 5: a slot is 2 r d + pi r^2; 2 places, a length, a width and a direction are left."""
    pad(lambda s: slot(s, Snapped((10, 10)), Snapped((40, 10)), (25, 16)))
    assert pad.solved.freedoms == 5
    (region,) = pad.solved.regions
    assert region.area == pytest.approx(2 * 6 * 30 + math.pi * 36)


@pytest.mark.parametrize("n", [3, 5, 6, 8, 17])
def test_a_polygon_of_a_given_side_has_its_circle(pad, n):
    """R = side / (2 sin(pi / n)) (solver-facts 5.8); centre, turn and size are left free."""
    lines = pad(lambda s: polygon(s, Snapped((0, 0)), Snapped((20, 3)), n))
    assert pad.solved.freedoms == 4
    pad(lambda s: s.constrain("distance", lines[0], value="25 mm"))
    ring = next(c for c in pad.solved.curves.values() if c.kind == "circle")
    assert ring.values[2] == pytest.approx(25 / (2 * math.sin(math.pi / n)), abs=1e-7)
    assert len(pad.solved.regions) == 1
    for bad in (2, 65):
        with pytest.raises(UserFault, match="3 to 64"):
            pad(lambda s, k=bad: polygon(s, Snapped((0, 0)), Snapped((20, 3)), k))


def test_a_circle_through_three_points(pad):
    """Circumcircle of a triangle with sides a, b, c: R = abc / (4 area)."""
    p = [(5.0, 5.0), (75.0, 5.0), (25.0, 55.0)]
    line = pad(lambda s: s.line(Snapped(p[0]), Snapped(p[1]), infer=False))
    key = pad(lambda s: circle_through(s, [pad.snapped(*p[0]), pad.snapped(*p[1]), Snapped(p[2])]))
    a, b, c = math.dist(p[0], p[1]), math.dist(p[1], p[2]), math.dist(p[2], p[0])
    assert pad.solved.curves[key].values[2] == pytest.approx(a * b * c / (4 * 1750))
    assert {c.of for c in pad.sketch.constraints if c.kind == "on_curve"} == {
        (f"{line}.start", key),
        (f"{line}.end", key),
    }
    with pytest.raises(UserFault, match="in a line"):
        pad(lambda s: circle_through(s, [Snapped((0, 0)), Snapped((1, 1)), Snapped((2, 2))]))


def test_a_corner_of_one_radian_is_rounded(pad):
    """solver-facts 5.10: r = 8 in a corner of 1 rad: centre at 8 / sin(0.5), touching at 8 / tan(0.5)."""
    far = (60 * math.cos(1.0), 60 * math.sin(1.0))
    a = pad(lambda s: s.line(Snapped((0, 0)), Snapped((60, 0)), infer=False))
    b = pad(lambda s: s.line(pad.snapped(0, 0), Snapped(far), infer=False))
    arc = pad(lambda s: round_corner(s, a, b, "4 * 2 mm"))
    v = pad.solved.curves[arc].values
    assert math.hypot(*v[:2]) == pytest.approx(8 / math.sin(0.5)) and v[6] == pytest.approx(8)
    assert pad.solved.curves[a].values[0] == pytest.approx(8 / math.tan(0.5))
    # the corner lay on the origin: a point on both lines stays there
    assert {c.kind for c in pad.sketch.constraints} == {"coincident", "tangent", "radius", "on_curve"}
    third = pad(lambda s: s.line(pad.snapped(60, 0), Snapped((60, 30)), infer=False))
    with pytest.raises(UserFault, match="no room"):
        pad(lambda s: round_corner(s, a, third, "500 mm"))
    with pytest.raises(UserFault, match="do not meet"):
        pad(lambda s: round_corner(s, b, third, "1 mm"))


def test_the_middle_of_a_line_is_trimmed_and_the_ends_stay_on_what_cut_it(pad):
    """Two uprights at 10 and 30 cut a line of 40: the piece with the start keeps its id; both stay in line."""
    base = pad(lambda s: s.line(Snapped((0, 0), "origin"), Snapped((40, 0))))
    posts = [pad(lambda s, x=x: s.line(Snapped((x, -9)), Snapped((x, 9)))) for x in (10, 30)]
    pad(lambda s: s.constrain("distance", base, value="40 mm"))
    pad(lambda s: trim(s, base, (20, 0)))
    lines = {k: c.values for k, c in pad.solved.curves.items() if k not in posts}
    assert lines[base] == pytest.approx((0, 0, 10, 0))
    (other,) = [v for k, v in lines.items() if k != base]
    assert other == pytest.approx((30, 0, 40, 0))
    kinds = [c.kind for c in pad.sketch.constraints]
    assert kinds.count("on_curve") == 2 and "collinear" in kinds and "distance" not in kinds
    pulled(pad, f"{posts[0]}.end", (14.0, 9.0))
    assert pad.solved.curves[base].values[2] == pytest.approx(pad.solved.curves[posts[0]].values[0], abs=1e-7)


def test_the_end_of_a_line_and_a_whole_one_are_trimmed(pad):
    base = pad(lambda s: s.line(Snapped((0, 0)), Snapped((40, 0))))
    post = pad(lambda s: s.line(Snapped((25, -9)), Snapped((25, 9))))
    pad(lambda s: trim(s, base, (33, 0.2)))
    assert pad.solved.curves[base].values == pytest.approx((0, 0, 25, 0))
    pad(lambda s: trim(s, post, (25, 5)))
    assert pad.solved.curves[post].values == pytest.approx((25, -9, 25, 0)) or post not in pad.sketch.curves
    pad(lambda s: trim(s, base, (3, 0)))
    assert base not in pad.sketch.curves


def test_a_trimmed_circle_is_an_arc_of_the_same_id_and_diameter(pad):
    """A chord at half the radius leaves 240 degrees: arc length 2 pi r * 2 / 3."""
    ring = pad(lambda s: s.circle(Snapped((0, 0), "origin"), 10.0))
    pad(lambda s: s.constrain("diameter", ring, value="20 mm"))
    pad(lambda s: s.line(Snapped((5, -20)), Snapped((5, 20))))
    pad(lambda s: trim(s, ring, (10, 0)))
    assert isinstance(pad.sketch.curves[ring], Arc)
    from architectonic.describe.drawn.readings import measured

    assert measured(pad.solved, "arc_length", [ring]) == pytest.approx(2 * math.pi * 10 * 2 / 3)
    assert any(c.kind == "diameter" for c in pad.sketch.constraints)
    pad.family = edits.set_value(pad.family, pad.key, next(c.id for c in pad.sketch.constraints if c.kind == "diameter"), "24 mm")  # fmt: skip
    assert pad.solved.curves[ring].values[6] == pytest.approx(12)
    with pytest.raises(UserFault, match="drawn here"):
        pad(lambda s: trim(s, "gone", (0, 0)))


def test_mirrored_curves_stay_symmetric_when_the_original_is_pulled(pad):
    """Reflection in the y axis: (x, y) goes to (-x, y); arcs run the other way round, so areas keep their sign."""
    from architectonic.session.sketch.copies import mirror

    axis = pad(lambda s: s.line(Snapped((0, -20), ""), Snapped((0, 40))))
    pad(lambda s: s.constrain("fix", axis))
    a = pad(lambda s: s.line(Snapped((5, 0)), Snapped((20, 4)), infer=False))
    ring = pad(lambda s: s.circle(Snapped((30, 20)), 6.0))
    bow = pad(lambda s: s.arc(Snapped((12, 20)), Snapped((17, 20)), Snapped((12, 25))))
    loose = pad.solved.freedoms
    made = pad(lambda s: mirror(s, [a, ring, bow], axis))
    assert pad.solved.freedoms == loose
    pulled(pad, f"{a}.end", (26.0, 11.0))
    pulled(pad, f"{ring}.centre", (33.0, 15.0))
    now = pad.solved.curves
    x0, y0, x1, y1 = now[a].values
    assert now[made[0]].values == pytest.approx((-x0, y0, -x1, y1), abs=1e-7)
    assert now[made[1]].values == pytest.approx((-33, 15, 6), abs=1e-6)
    cx, cy, sx, sy, ex, ey, r = now[bow].values
    assert now[made[2]].values == pytest.approx((-cx, cy, -ex, ey, -sx, sy, r), abs=1e-7)
    with pytest.raises(UserFault, match="at a line"):
        pad(lambda s: mirror(s, [a], ring))
    with pytest.raises(UserFault, match="nothing to mirror"):
        pad(lambda s: mirror(s, [], axis))
