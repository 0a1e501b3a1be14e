"""Offsets, mirrors, rows and rings that follow their originals; moving, scaling, copying between sketches, forking."""

import math
from itertools import pairwise

import pytest
from tests.support.pads import Pad

from architectonic.base.errors import UserFault
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.records import Reference, Sketch
from architectonic.family.scopes import Scope
from architectonic.propagate.targets import of_scope
from architectonic.session.open.policy import allowed
from architectonic.session.sketch.copies import Pattern, in_ring, in_row, mirror
from architectonic.session.sketch.corners import round_corner
from architectonic.session.sketch.moving import Similarity, change, cut_out, duplicate, fork_sketch, paste
from architectonic.session.sketch.offsets import inward, offset, offset_all
from architectonic.session.sketch.shapes import slot
from architectonic.session.sketch.sketching import begin
from architectonic.session.sketch.snapping import Snapped


@pytest.fixture
def pad():
    return Pad()


def set_value(pad, name, text):
    (key,) = [c.id for c in pad.sketch.constraints if c.name == name]
    pad.family = edits.set_value(pad.family, pad.key, key, text)


def plate(pad, w=60.0, h=40.0):
    sides = pad(lambda s: s.rectangle(Snapped((0, 0), "origin"), Snapped((w, h))))
    pad(lambda s: s.constrain("distance", sides[0], value=f"{w} mm", name="w"))
    pad(lambda s: s.constrain("distance", sides[1], value=f"{h} mm", name="h"))
    return sides


def area(pad, label):
    return next(r.area for r in pad.solved.regions if label in r.label)


def test_an_offset_plate_follows_its_source(pad):
    """Closed form: (w - 2d)(h - 2d) inside; the source changes, the distance stays."""
    sides = plate(pad)
    assert pad(lambda s: inward(s, list(sides))) == 1
    made = pad(lambda s: offset(s, [sides[2], sides[0], sides[3], sides[1]], "5 mm", inward(s, list(sides))))
    (own,) = [c for c in pad.sketch.constraints if c.kind == "offset"]
    assert pad.solved.freedoms == 0
    inner = [r for r in pad.solved.regions if len(r.loops) == 1]
    assert inner[0].area == pytest.approx(50 * 30)
    set_value(pad, "w", "81 mm")
    assert pad.solved.freedoms == 0
    assert next(r for r in pad.solved.regions if len(r.loops) == 1).area == pytest.approx(71 * 30)
    pad.family = edits.set_value(pad.family, pad.key, own.id, "w / 10")
    assert next(r for r in pad.solved.regions if len(r.loops) == 1).area == pytest.approx((81 - 16.2) * (40 - 16.2))
    assert len(made) == 4


@pytest.mark.parametrize("inside", [True, False])
def test_the_outline_and_the_hole_of_a_frame_are_offset_together(pad, inside):
    """Closed form: a frame of 60 x 40 around 20 x 10, narrower or wider by 2 mm on both of its borders."""
    outer = plate(pad)
    inner = pad(lambda s: s.rectangle(Snapped((20, 15)), Snapped((40, 25))))
    made = pad(lambda s: offset_all(s, [outer[0], inner[1], *inner[2:], *outer[1:], inner[0]], "2 mm", inside))
    assert len(made) == 8 and sum(c.kind == "offset" for c in pad.sketch.constraints) == 2
    borders = sorted([60 * 40, 20 * 10, *((56 * 36, 24 * 14) if inside else (64 * 44, 16 * 6))])
    rings = [borders[0], *(b - a for a, b in pairwise(borders))]
    assert sorted(r.area for r in pad.solved.regions) == pytest.approx(sorted(rings), rel=1e-9)


@pytest.mark.parametrize("side", [1, -1])
def test_an_offset_slot_keeps_its_round_ends(pad, side):
    """A slot of length 30 and radius 6, offset by 2: 2 r d + pi r^2 with r = 4 or 8 (solver-facts 5.13)."""
    curves = pad(lambda s: slot(s, Snapped((0, 0), "origin"), Snapped((30, 0)), (10, 6)))
    pad(lambda s: s.constrain("radius", curves[1], value="6 mm", name="r"))
    pad(lambda s: offset(s, list(curves), "2 mm", side * inward(s, list(curves))))
    r = 6 - 2 * side
    areas = sorted(x.area for x in pad.solved.regions)
    assert len(areas) == 2
    wanted = sorted([2 * 6 * 30 + math.pi * 36, 2 * r * 30 + math.pi * r * r])
    assert areas == pytest.approx(sorted([wanted[0], wanted[1] - wanted[0]]), rel=1e-9)
    before = pad.solved.freedoms
    set_value(pad, "r", "9 mm")
    r = 9 - 2 * side
    wanted = sorted([2 * 9 * 30 + math.pi * 81, 2 * r * 30 + math.pi * r * r])
    assert sorted(x.area for x in pad.solved.regions) == pytest.approx(
        sorted([wanted[0], wanted[1] - wanted[0]]), rel=1e-7
    )
    assert pad.solved.freedoms == before


def test_an_offset_that_has_no_room_is_refused(pad):
    curves = pad(lambda s: slot(s, Snapped((0, 0), "origin"), Snapped((30, 0)), (10, 6)))
    with pytest.raises(UserFault, match="nothing is left"):
        pad(lambda s: offset(s, list(curves), "7 mm", inward(s, list(curves))))
    with pytest.raises(UserFault, match="above zero"):
        pad(lambda s: offset(s, list(curves), "0 mm", 1))
    loose = pad(lambda s: s.line(Snapped((100, 0)), Snapped((120, 20))))
    with pytest.raises(UserFault, match="do not join"):
        pad(lambda s: offset(s, [loose, curves[0]], "1 mm", 1))
    assert not [c for c in pad.sketch.constraints if c.kind == "offset"]


def test_a_round_that_vanishes_under_its_offset_is_a_conflict_and_not_a_negative_radius(pad):
    sides = plate(pad)
    arc = pad(lambda s: round_corner(s, sides[0], sides[1], "8 mm"))
    pad(lambda s: offset(s, [sides[0], arc, sides[1]], "5 mm", 1))
    radius = next(c.id for c in pad.sketch.constraints if c.kind == "radius")
    after = edits.set_value(pad.family, pad.key, radius, "3 mm")
    with pytest.raises(UserFault, match="cannot all be true"):
        allowed(pad.family, after)


def test_a_row_has_one_spacing_that_drives(pad):
    ring = pad(lambda s: s.circle(Snapped((10, 10)), 3.0))
    made = pad(lambda s: in_row(s, [ring], "x_axis", Pattern("4", "12 mm", "pitch")))
    assert [pad.solved.curves[k].values[0] for k in made] == pytest.approx([22, 34, 46])
    assert pad.solved.freedoms == 3  # of the original alone
    for kind in ("horizontal_distance", "vertical_distance"):
        pad(lambda s, k=kind: s.constrain(k, "origin", f"{ring}.centre", value="10 mm"))
    pad(lambda s: s.constrain("radius", ring, value="3 mm"))
    set_value(pad, "pitch", "9 mm")
    assert [pad.solved.curves[k].values for k in made] == [pytest.approx((10 + 9 * k, 10, 3)) for k in (1, 2, 3)]
    with pytest.raises(UserFault, match="2 to 200"):
        pad(lambda s: in_row(s, [ring], "x_axis", Pattern("1", "12 mm")))
    with pytest.raises(UserFault, match="direction"):
        pad(lambda s: in_row(s, [ring], "origin", Pattern("3", "12 mm")))


def test_a_ring_stays_on_its_circle(pad):
    """Six holes at 60 deg: neighbours are as far apart as the radius (hexagon, Euclid IV.15)."""
    hole = pad(lambda s: s.circle(Snapped((25, 0)), 3.0))
    made = pad(lambda s: in_ring(s, [hole], "origin", Pattern("6", "360 deg / 6")))
    at = [pad.solved.curves[k].values[:2] for k in (hole, *made)]
    assert [math.dist(at[k], at[(k + 1) % 6]) for k in range(6)] == pytest.approx([25] * 6)
    pad(lambda s: s.constrain("distance", "origin", f"{hole}.centre", value="40 mm"))
    assert [math.hypot(*pad.solved.curves[k].values[:2]) for k in made] == pytest.approx([40] * 5)


def test_shapes_of_many_kinds_are_mirrored_and_repeated(pad):
    curves = [
        pad(lambda s: s.drawing.ellipse((20, 20), (30, 22), (18, 26))),
        pad(lambda s: s.drawing.spline([(5, 5), (15, 12), (25, 4)])),
        pad(lambda s: s.drawing.elliptic_arc((40, 20), (50, 20), (40, 26), (50, 20), (40, 26))),
        pad(lambda s: s.drawing.spline([(5, 35), (15, 42), (25, 34), (30, 40)], through=False)),
    ]
    before = pad.solved.freedoms
    made = pad(lambda s: mirror(s, curves, "y_axis"))
    assert pad.solved.freedoms == before
    for old, new in zip(curves, made, strict=True):
        a, b = pad.solved.curves[old].values, pad.solved.curves[new].values
        assert (b[0], b[1]) == pytest.approx((-a[0], a[1]), abs=1e-9)
    turned = pad(lambda s: in_ring(s, curves, "origin", Pattern("3", "120 deg")))
    assert pad.solved.freedoms == before and len(turned) == 8
    letters = pad(lambda s: s.drawing.text("R8", (0, -20), 5.0))
    assert pad.solved.freedoms == before + 4
    pad(lambda s: in_row(s, [letters], "x_axis", Pattern("2", "40 mm")))
    assert pad.solved.freedoms == before + 4
    with pytest.raises(UserFault, match="text cannot be mirrored"):
        pad(lambda s: mirror(s, [letters], "y_axis"))


def test_moving_lets_go_only_of_what_no_longer_holds(pad):
    sides = plate(pad)
    lost = pad(lambda s: change(s, list(sides), Similarity(by=(10, 5))))
    assert lost == ["the start of line 1 joined with the origin"]
    assert pad.solved.curves[sides[0]].values == pytest.approx((10, 5, 70, 5))
    lost = pad(lambda s: change(s, list(sides), Similarity(about=(10, 5), turn=math.radians(30))))
    assert lost == ["line 1 level", "line 2 upright", "line 3 level", "line 4 upright"]
    a = pad.solved.curves[sides[0]].values
    assert math.degrees(math.atan2(a[3] - a[1], a[2] - a[0])) == pytest.approx(30, abs=1e-9)


def test_scaling_takes_dimensions_along(pad):
    sides = plate(pad)
    assert pad(lambda s: change(s, list(sides), Similarity(factor=1.5))) == []
    assert sorted(r.area for r in pad.solved.regions) == pytest.approx([90 * 60])
    assert pad.solved.freedoms == 0
    with pytest.raises(UserFault, match="factor"):
        pad(lambda s: change(s, list(sides), Similarity(factor=0.0)))


def test_copies_carry_their_inner_constraints_into_another_document(pad):
    pad.family = edits.add_parameter(pad.family, pad.key, "reach", "60 mm")
    sides = plate(pad)
    set_value(pad, "w", "reach + 2 mm")
    set_value(pad, "h", "w / 2")
    text = pad(lambda s: cut_out(s, list(sides)))
    made = pad(lambda s: paste(s, text))
    assert {c.name for c in pad.sketch.constraints if c.name} == {"w", "h", "w 2", "h 2"}
    pad(lambda s: change(s, made, Similarity(by=(100, 0))))
    areas = sorted(r.area for r in pad.solved.regions)
    assert areas == pytest.approx([62 * 31] * 2)

    family, other = edits.add_document(pad.family, "part", "Other")
    family = edits.add_operation(family, other, Sketch(id="t", name="T", plane=Reference(item="top")))
    at = Scope(other, "default")
    evaluation = pad.evaluator.evaluate(family, list(of_scope(family, at)))
    editing = begin(family, at, "t", evaluation)
    paste(editing, text)
    family = editing.stored()
    sketch = edits.operation(family, other, "t")
    (w,) = [c for c in sketch.constraints if c.name == "w"]
    assert [r.document for r in w.value.refs.values()] == [pad.key]
    evaluation = pad.evaluator.evaluate(family, list(of_scope(family, at)))
    assert [r.area for r in evaluation.value(Node("solve", Scope(other, "default"), "t")).regions] == pytest.approx(
        [62 * 31]
    )
    with pytest.raises(UserFault, match="holds no curves"):
        pad(lambda s: paste(s, "one, two"))


def test_loose_copies_share_nothing(pad):
    sides = plate(pad)
    made = pad(lambda s: duplicate(s, list(sides), Similarity(by=(0, 70))))
    assert len(made) == 4 and pad.solved.freedoms == 2
    set_value(pad, "w", "90 mm")
    assert sorted(r.area for r in pad.solved.regions) == pytest.approx([60 * 40, 90 * 40])


def test_a_forked_sketch_stands_alone(pad):
    plate(pad)
    set_value(pad, "h", "w / 2")
    pad.family, key = fork_sketch(pad.family, pad.key, "s")
    copy = edits.operation(pad.family, pad.key, key)
    assert copy.name == "S 2" and not {c.id for c in copy.constraints} & {c.id for c in pad.sketch.constraints}
    set_value(pad, "w", "20 mm")
    solved = pad.evaluate().value(Node("solve", Scope(pad.key, "default"), key))
    assert [r.area for r in solved.regions] == pytest.approx([60 * 30])
    assert [r.area for r in pad.solved.regions] == pytest.approx([20 * 10])


def test_a_circle_offset_to_nothing_is_a_conflict(pad):
    ring = pad(lambda s: s.circle(Snapped((10, 10)), 9.0))
    pad(lambda s: s.constrain("radius", ring, value="9 mm"))
    pad(lambda s: offset(s, [ring], "5 mm", 1))
    (own,) = [c.id for c in pad.sketch.constraints if c.kind == "offset"]
    after = edits.set_value(pad.family, pad.key, own, "10 mm")
    with pytest.raises(UserFault, match="offset"):
        allowed(pad.family, after)


def test_a_deleted_side_takes_only_its_own_offset_along(pad):
    sides = plate(pad)
    made = pad(lambda s: offset(s, list(sides), "5 mm", 1))
    pad(lambda s: s.delete(sides[2]))
    (own,) = [c for c in pad.sketch.constraints if c.kind == "offset"]
    assert len(own.of) == 6 and sides[2] not in own.of and made[2] not in own.of
    assert pad.solved.curves[made[0]].values[1] == pytest.approx(5)
    hole = pad(lambda s: s.circle(Snapped((10, 10)), 1.0))
    row = pad(lambda s: in_row(s, [hole], "x_axis", Pattern("3", "9 mm")))
    pad(lambda s: s.delete(row[1]))
    assert [len(c.of) for c in pad.sketch.constraints if c.kind == "shifted"] == [3]
    pad(lambda s: s.delete(hole))
    assert not [c for c in pad.sketch.constraints if c.kind == "shifted"]
    centre = pad(lambda s: s.point(Snapped((100, 0))))
    ring = pad(lambda s: s.circle(Snapped((110, 0)), 1.0))
    pad(lambda s: in_ring(s, [ring], centre, Pattern("3", "120 deg")))
    pad(lambda s: s.delete(centre))
    assert not [c for c in pad.sketch.constraints if c.kind == "turned"]
