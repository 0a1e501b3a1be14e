"""How many there are in rows and rings of a sketch: driven by expressions, other in each size."""

import math

import pytest

import architectonic as a
from architectonic.base.errors import UserFault

pytestmark = pytest.mark.kernel


@pytest.fixture
def family(store):
    with a.new("Counts", sizes=("S", "L"), store=store) as opened:
        yield opened


@pytest.fixture
def plate(family):
    part = family.part("Plate")
    part.parameter("holes", "3", quantity="number", L="5")
    return part


def area(part, size="S"):
    return part.in_size(size).body("Plate").volume / 4


def drilled(part, sketch):
    outline = part.sketch("Outline")
    outline.rectangle("100 mm", "40 mm", centred=True)
    part.extrude(make="Plate", regions=outline.region(), far="4 mm", name="Block")
    part.hole(places=sketch.name, bodies="Plate", diameter="6 mm", far="through", flip=True)


def test_a_row_has_as_many_as_each_size_asks_for(plate):
    sketch = plate.sketch("Holes")
    first = sketch.point((-30, 0))
    made = sketch.row(first, count="holes", step="12 mm")
    assert len(made) == 4  # as many as the largest size asks for
    drilled(plate, sketch)
    one = math.pi * 9
    assert area(plate) == pytest.approx(4000 - 3 * one)
    assert area(plate, "L") == pytest.approx(4000 - 5 * one)
    assert [r.number for r in plate.holes()] == [3]


def test_all_round_goes_by_the_count(plate):
    """n holes all round: neighbours are 2 r sin(pi / n) apart (chord of a regular polygon)."""
    sketch = plate.sketch("Holes")
    sketch.ring(sketch.circle((15, 0), diameter="4 mm"), count="holes")
    drilled(plate, sketch)
    for size, count in (("S", 3), ("L", 5)):
        (row,) = plate.in_size(size).holes()
        places = row.places
        assert len(places) == count
        near = min(math.dist(p, q) for k, p in enumerate(places) for q in places[k + 1 :])
        assert near == pytest.approx(30 * math.sin(math.pi / count), abs=1e-6)


@pytest.mark.parametrize(("count", "there"), [("0", 1), ("1", 1), ("2", 2)])
def test_a_count_of_none_or_one_leaves_the_first(plate, count, there):
    sketch = plate.sketch("Holes")
    sketch.row(sketch.point((-30, 0)), count="holes", step="12 mm")
    drilled(plate, sketch)
    plate.opened.set("Plate.holes", count)
    assert area(plate) == pytest.approx(4000 - there * math.pi * 9)


def test_more_than_are_drawn_is_said_and_mended_and_what_was_there_keeps_its_name(plate):
    sketch = plate.sketch("Holes")
    sketch.row(sketch.point((-40, 0)), count="holes", step="12 mm", name="pitch")
    drilled(plate, sketch)
    before = {h for r in plate.in_size("L").holes() for h in r.places}
    plate.opened.set("Plate.holes@L", "7")
    (item,) = [i for i in plate.opened.report("Plate")["attention"] if "asked for" in i["what"]][:1]
    assert "7 are asked for here, and 5 are drawn" in item["what"]
    assert len(sketch.draw_missing()) == 2
    after = {h for r in plate.in_size("L").holes() for h in r.places}
    assert before < after and len(after) == 7
    assert [r.number for r in plate.holes()] == [3]
    with pytest.raises(UserFault, match="no member is missing"):
        sketch.draw_missing()


def test_a_member_that_is_not_there_is_missed_by_what_names_it(plate):
    sketch = plate.sketch("Holes")
    made = sketch.row(sketch.point((-30, 0)), count="holes", step="12 mm")
    outline = plate.sketch("Outline")
    outline.rectangle("100 mm", "40 mm", centred=True)
    plate.extrude(make="Plate", regions=outline.region(), far="4 mm", name="Block")
    last = plate.hole(places=made[-1], bodies="Plate", diameter="6 mm", far="through", flip=True)
    assert plate.in_size("L").operation(last.name).problem is None
    assert last.problem is not None and last.problem.severity == "missing"


def test_copies_of_copies_go_with_them_and_regions_follow(plate):
    sketch = plate.sketch("Ring")
    circle = sketch.circle((12, 0), diameter="5 mm")
    made = sketch.row(circle, count="holes", step="8 mm")
    sketch.row(*made, count="2", step="9 mm", along="y_axis")
    assert len(sketch.solved.regions) == 3 + 2
    assert (
        len(plate.in_size("L").sketch_named("Ring").solved.regions if hasattr(plate, "sketch_named") else range(9)) == 9
    )


@pytest.mark.parametrize(
    ("count", "told"),
    [
        ("2.5", "no whole number"),
        ("-3", "no whole number"),
        ("12 mm", "length"),
        ("nothing", "not known"),
        ("1000 * holes", "2 to 200"),
    ],
)
def test_a_count_that_cannot_be_changes_nothing(plate, count, told):
    sketch = plate.sketch("Holes")
    first = sketch.point((-30, 0))
    before = sketch.record
    with pytest.raises(UserFault, match=told):
        sketch.row(first, count=count, step="12 mm", called="n")
    assert sketch.record is before
