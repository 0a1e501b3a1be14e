"""Patterns: operations and bodies made again in other places, by closed forms and by what stays when a count changes."""

import math

import pytest

import architectonic as a
from architectonic.base.errors import UserFault
from architectonic.family import edits
from architectonic.family.records import Expression

pytestmark = pytest.mark.kernel
WHOLE = 100 * 60 * 12


@pytest.fixture
def family(store):
    with a.new("Repeated", sizes=("S", "L"), store=store) as opened:
        yield opened


@pytest.fixture
def plate(family):
    part = family.part("Plate")
    outline = part.sketch("Outline")
    outline.rectangle("100 mm", "60 mm")
    part.extrude(make="Plate", regions=outline.region(), far="12 mm", name="Block")
    return part


def top(part):
    return part.operation("Block").face("end")


def bore(part, x="12 mm", y="12 mm", **more):
    return part.hole(places=(top(part), x, y), bodies="Plate", **{"diameter": "5 mm", "far": "through", **more})


def pocket(part, at=(15.0, 40.0)):
    sketch = part.sketch("Pocket", on=top(part))
    sketch.circle(at, diameter="8 mm")
    return part.extrude(cut="Plate", regions=sketch.region(), far="4 mm", flip=True, name="Recess")


def taken(part):
    return WHOLE - part.body("Plate").volume


ONE = math.pi * 6.25 * 12


def spots(part):
    return sorted(tuple(round(c, 6) for c in p[:2]) for r in part.holes() for p in r.places)


# --- where members stand ------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("pitch", "count", "start", "expected"),
    [
        # a bolt circle has its holes at D/2 (cos(start + k 360/N), sin(...)); figures by hand for odd and even counts
        (60.0, 6, 0.0, [(30, 0), (15, 25.980762), (-15, 25.980762), (-30, 0), (-15, -25.980762), (15, -25.980762)]),
        (
            80.0,
            5,
            90.0,
            [(0, 40), (-38.042261, 12.36068), (-23.51141, -32.36068), (23.51141, -32.36068), (38.042261, 12.36068)],
        ),
        (100.0, 8, 22.5, None),
    ],
)
def test_a_ring_of_holes_is_the_bolt_circle_of_handbooks(family, pitch, count, start, expected):
    part = family.part("Flange")
    outline = part.sketch("Outline")
    outline.circle((0, 0), diameter="130 mm")
    part.extrude(make="Plate", regions=outline.region(), far="10 mm", name="Block")
    x, y = (pitch / 2 * f(math.radians(start)) for f in (math.cos, math.sin))
    first = bore(part, f"{x} mm", f"{y} mm")
    part.pattern_ring(of=first, bodies="Plate", axis="z", count=str(count))
    found = spots(part)
    wanted = expected or [
        (pitch / 2 * math.cos(math.radians(start + 45 * k)), pitch / 2 * math.sin(math.radians(start + 45 * k)))
        for k in range(8)
    ]
    assert len(found) == count
    for mine, theirs in zip(found, sorted(tuple(round(c, 6) + 0.0 for c in w) for w in wanted), strict=True):
        assert mine == pytest.approx(theirs, abs=2e-6)
    assert sum(p[0] for p in found) == pytest.approx(0, abs=1e-5)
    chord = min(math.dist(a, b) for k, a in enumerate(found) for b in found[k + 1 :])
    assert chord == pytest.approx(pitch * math.sin(math.pi / count), abs=2e-6)


def test_a_ring_may_keep_the_direction_of_its_members(family):
    """Slots about an axis that all lie along x: each stands where its middle has gone around, turned nowhere."""
    part = family.part("Disc")
    outline = part.sketch("Outline")
    outline.circle((0, 0), diameter="130 mm")
    part.extrude(make="Disc", regions=outline.region(), far="10 mm", name="Block")
    slot = part.sketch("Slot")
    slot.rectangle("20 mm", "6 mm", at=(30, -3))
    middle = slot.point((40, 0))
    first = part.extrude(cut="Disc", regions=slot.region(), far="through", name="Slot cut")
    ring = part.pattern_ring(of=first, bodies="Disc", axis="z", count="4", base=middle)
    assert ring.problem is None
    ends = sorted(tuple(round(c, 4) + 0.0 for c in f.at[:2]) for f in part.body("Disc").faces(normal="+x"))
    assert ends == [(-50.0, 0.0), (-10.0, -40.0), (-10.0, 40.0), (30.0, 0.0)]
    assert part.body("Disc").volume == pytest.approx(math.pi * 65**2 * 10 - 4 * 1200, rel=1e-9)


def test_a_row_by_step_or_over_all_and_a_count_that_follows_each_size(plate):
    plate.parameter("count", "3", quantity="number", L="5")
    first = bore(plate)
    row = plate.pattern_row(of=first, bodies="Plate", direction="x", count="count", step="18 mm")
    assert spots(plate) == [(12, 12), (30, 12), (48, 12)]
    assert len(spots(plate.in_size("L"))) == 5
    row.delete()
    plate.pattern_row(of=first, bodies="Plate", direction="x", count="count", step="72 mm", over=True)
    assert spots(plate) == [(12, 12), (48, 12), (84, 12)]
    assert taken(plate) == pytest.approx(3 * ONE, rel=1e-9)


def test_rows_in_two_directions_less_one_that_is_left_out_and_those_of_a_condition(plate):
    first = bore(plate)
    rows = plate.pattern_rows(
        of=first,
        bodies="Plate",
        direction="x",
        count="4",
        step="20 mm",
        second="y",
        second_count="3",
        second_step="15 mm",
        left_out="2.1",
    )
    assert len(spots(plate)) == 11 and (52, 27) not in spots(plate)
    rows.delete()
    plate.pattern_row(of=first, bodies="Plate", direction="x", count="5", step="18 mm", only_if="n != 3")
    assert spots(plate) == [(12, 12), (30, 12), (66, 12), (84, 12)]


def test_members_at_points_by_a_table_along_a_path_and_mirrored(plate):
    points = plate.sketch("Points", on=top(plate))
    for at in ((12, 12), (40, 20), (80, 45)):
        points.point(at)
    first = bore(plate)
    corner = min(points.curves, key=lambda c: points.solved.curves[c.id].values[0])
    made = plate.pattern_points(of=first, bodies="Plate", sketch="Points", base=corner.at("at"))
    assert made.problem is None
    assert spots(plate) == [(12, 12), (40, 20), (80, 45)]  # none where the first one stands
    made.delete()
    made = plate.pattern_table(of=first, bodies="Plate", rows=[("20 mm", "0"), ("40 mm", "30 mm")], base="origin")
    assert spots(plate) == [(12, 12), (32, 12), (52, 42)]
    made.delete()
    path = plate.sketch("Path", on=top(plate))
    arc = path.arc((12, 32), (12, 12), (32, 32))  # a quarter of 20 mm
    made = plate.pattern_along(of=first, bodies="Plate", path=arc, count="3")
    middle = (12 + 20 * math.sin(math.pi / 4), 32 - 20 * math.cos(math.pi / 4))
    for mine, theirs in zip(spots(plate), sorted([(12, 12), middle, (32, 32)]), strict=True):
        assert mine == pytest.approx(theirs, abs=1e-3)
    made.delete()
    plate.datum_offset(plane="right", distance="50 mm", name="Middle")
    plate.pattern_mirrored(of=first, bodies="Plate", plane="Middle")
    assert spots(plate) == [(12, 12), (88, 12)]


def test_a_mirrored_cut_has_the_volume_of_the_first_and_its_mirrored_centre(plate):
    sketch = plate.sketch("Wedge", on=top(plate))
    sketch.draw(
        "corner", lambda d: [d.line((10, 10), (30, 10)), d.line((30, 10), (10, 25)), d.line((10, 25), (10, 10))]
    )
    cut = plate.extrude(cut="Plate", regions=sketch.region(), far="4 mm", flip=True)
    one, centre = taken(plate), plate.body("Plate").centre
    plate.datum_offset(plane="right", distance="50 mm", name="Middle")
    plate.pattern_mirrored(of=cut, bodies="Plate", plane="Middle")
    assert taken(plate) == pytest.approx(2 * one, rel=1e-9)
    assert plate.body("Plate").centre[0] == pytest.approx(50.0, abs=1e-9)
    assert centre[0] > 50.0


# --- what is repeated ---------------------------------------------------------------------------------


def test_a_cut_and_what_rounds_it_are_repeated_together(plate):
    cut = pocket(plate)
    circle = plate.sketch("Pocket").curves[0]
    edge = cut.made("end", f"side:{circle.id}", kind="circle", convex="concave")
    rounded = plate.fillet(edges=edge, radius="1 mm")
    assert rounded.problem is None
    before = taken(plate)
    plate.pattern_row(of=[cut, rounded], bodies="Plate", direction="x", count="4", step="20 mm")
    assert taken(plate) == pytest.approx(4 * before, rel=1e-9)


def test_bodies_are_repeated_as_one_or_as_bodies_of_their_own(family):
    part = family.part("Fins")
    part.parameter("count", "3", quantity="number", L="5")
    outline = part.sketch("Outline")
    outline.rectangle("10 mm", "10 mm")
    part.extrude(make="Fin", regions=outline.region(), far="12 mm")
    apart = part.bodies_row(bodies="Fin", apart=True, direction="x", count="count", step="18 mm")
    assert [b.name for b in part.bodies] == ["Fin", "Fin 2", "Fin 3"]
    assert [b.name for b in part.in_size("L").bodies] == ["Fin", "Fin 2", "Fin 3", "Fin 4", "Fin 5"]
    apart.delete()
    assert [b.name for b in part.bodies] == ["Fin"]
    part.bodies_ring(bodies="Fin", axis="z", count="4")
    assert [round(b.volume, 6) for b in part.bodies] == [4800.0]


def test_a_count_that_outgrows_its_bodies_asks_for_them(family):
    part = family.part("Fins")
    part.parameter("count", "2", quantity="number")
    outline = part.sketch("Outline")
    outline.rectangle("10 mm", "10 mm")
    part.extrude(make="Fin", regions=outline.region(), far="12 mm")
    made = part.bodies_row(bodies="Fin", apart=True, direction="x", count="count", step="18 mm")
    part.apply("more", lambda f: edits.set_value(f, part.id, part.record.parameters[0].id, "4"))
    assert "have no body yet" in made.problem.what
    from architectonic.session.model import building

    part.apply("kept", lambda f: building.store(f, part.id, made.record, make_id=part.opened.new_id))
    assert made.problem is None and len(part.bodies) == 4


# --- what stays when a count changes ------------------------------------------------------------------


def counted(part, pattern, count):
    """The pattern with another count."""

    def change(f):
        record = next(o for o in edits.model(f, part.id).build if o.id == pattern.id)
        by = edits.replace(record.by, count=Expression(text=str(count)))
        return edits.replace_operation(f, part.id, edits.replace(record, by=by))

    part.apply("count", change)


def test_labels_of_members_stay_when_the_count_changes_and_a_lost_one_is_reported(plate):
    cut = pocket(plate)
    row = plate.pattern_row(of=cut, bodies="Plate", direction="x", count="4", step="20 mm")
    third = next(f for f in plate.body("Plate").faces() if f.label == f"{row.id}:2:({cut.id}:end)")
    deeper = plate.hole(places=(third, f"{third.at[0]} mm", "40 mm"), bodies="Plate", diameter="3 mm", far="through")
    assert deeper.problem is None
    counted(plate, row, 3)
    assert deeper.problem is None
    counted(plate, row, 5)
    assert deeper.problem is None and plate.holes()[-1].places[0][2] == 8.0
    counted(plate, row, 2)
    assert deeper.problem is not None and deeper.problem.severity == "missing"
    assert "gone" in deeper.problem.what
    counted(plate, row, 3)
    assert deeper.problem is None


# --- lawful and unlawful counts -----------------------------------------------------------------------


@pytest.mark.parametrize("count", ["0", "1"])
def test_no_or_one_member_is_lawful(plate, count):
    made = plate.pattern_row(of=bore(plate), bodies="Plate", direction="x", count=count, step="18 mm")
    assert made.problem is None and len(spots(plate)) == 1


@pytest.mark.parametrize(
    ("kind", "said", "told"),
    [
        ("pattern_row", {"count": "9"}, "member 7 lies beside the bodies"),
        ("pattern_row", {"count": "2.5"}, "2.5 is no number of members"),
        ("pattern_row", {"count": "-1"}, "-1 is no number of members"),
        ("pattern_row", {"count": "3", "step": "3 mm"}, "run into each other: 3 mm apart and 5 mm wide"),
        ("pattern_row", {"count": "20000"}, "more than 5000"),
        ("pattern_ring", {"count": "5", "angle": "90 deg", "each": True}, "run into the first one"),
    ],
)
def test_a_pattern_that_cannot_be_says_why_and_changes_nothing(plate, kind, said, told):
    first = bore(plate)
    way = {"axis": "z"} if kind == "pattern_ring" else {"direction": "x", "step": "18 mm"}
    made = getattr(plate, kind)(of=first, bodies="Plate", **{**way, **said})
    assert told in made.problem.what and made.problem.mend
    assert taken(plate) == pytest.approx(ONE, rel=1e-9)


def test_a_cut_that_leaves_the_part_is_told_by_its_member(plate):
    made = plate.pattern_row(of=pocket(plate), bodies="Plate", direction="x", count="7", step="20 mm")
    assert made.problem.what == "member 6 of 7 lies beside the bodies"


def test_a_member_that_would_float_beside_the_body_is_refused(plate):
    sketch = plate.sketch("Boss", on=top(plate))
    sketch.circle((20, 30), diameter="8 mm")
    boss = plate.extrude(add="Plate", regions=sketch.region(), far="5 mm")
    made = plate.pattern_row(of=boss, bodies="Plate", direction="z", count="3", step="20 mm")
    assert made.problem.what == "member 2 of 3 lies beside the bodies" or "do not touch" in made.problem.what


def test_a_body_that_an_operation_makes_is_repeated_as_a_body(plate):
    made = plate.pattern_row(of=plate.operation("Block"), bodies="Plate", direction="x", count="3", step="20 mm")
    assert made.problem.what == "Block makes a body"


def test_words_that_name_nothing_are_refused_before_anything_is_stored(plate):
    first = bore(plate)
    with pytest.raises(UserFault, match="there is no operation “Nothing”"):
        plate.pattern_row(of="Nothing", bodies="Plate", direction="x", count="3", step="18 mm")
    with pytest.raises(UserFault, match="place 1 has 5 values"):
        plate.pattern_table(of=first, bodies="Plate", rows="1, 2, 3, 4, 5")


def test_what_is_repeated_is_off_where_the_first_one_is(plate):
    first = bore(plate)
    row = plate.pattern_row(of=first, bodies="Plate", direction="x", count="3", step="18 mm")
    first.switch(False, "L")
    assert len(spots(plate)) == 3 and spots(plate.in_size("L")) == []
    assert row.problem is None
