"""Marks: texts and regions cut into faces and raised on them; what they say is what the size is."""

import math

import pytest

import architectonic as a
from architectonic.base.errors import UserFault
from architectonic.describe.models.operations import sentence
from architectonic.sketch.curves import lettering, regions

pytestmark = pytest.mark.kernel


@pytest.fixture
def family(store):
    with a.new("Marked", sizes=("S", "L"), store=store) as opened:
        yield opened


@pytest.fixture
def plate(family):
    part = family.part("Plate")
    part.number("BR-10")
    outline = part.sketch("Outline")
    outline.rectangle("80 mm", "50 mm")
    part.extrude(make="Plate", regions=outline.region(), far="12 mm", name="Block")
    return part


@pytest.fixture
def bar(family):
    """A round bar of 20 mm, 60 mm high."""
    part = family.part("Bar")
    outline = part.sketch("Outline")
    outline.circle(diameter="20 mm")
    part.extrude(make="Bar", regions=outline.region(), far="60 mm", name="Rod")
    return part


def top(part):
    return part.operation("Block").face("end")


def round_face(part):
    (side,) = [f for f in part.body("Bar").faces() if f.reference.witness.kind == "cylinder"]
    return side


def ink(text, height):
    """Area of the letters of the shipped font (Green's theorem over its outlines; holes of letters are left out)."""
    wide = lettering.set_out(text)[1]
    found = regions.find(lettering.pieces("t", text, (0, 0, height * wide, 0, 0, height)))
    return sum(r.area for r in found if r.label.startswith("+"))


def test_a_text_is_cut_into_a_flat_face_as_deep_as_it_says(plate):
    before = plate.body("Plate").volume
    made = plate.engrave(text="ABO 8", face=top(plate), bodies="Plate", depth="0.5 mm", height="6 mm")
    assert made.problem is None
    assert before - plate.body("Plate").volume == pytest.approx(0.5 * ink("ABO 8", 6.0), rel=1e-6)


def test_a_raised_text_adds_as_much(plate):
    before = plate.body("Plate").volume
    plate.engrave(
        text="Brindle", face=top(plate), bodies="Plate", depth="0.6 mm", height="5 mm", raised=True, turn="30 deg"
    )
    assert plate.body("Plate").volume - before == pytest.approx(0.6 * ink("Brindle", 5.0), rel=1e-6)
    assert plate.body("Plate").box[5] == pytest.approx(12.6, abs=1e-6)


def test_a_text_says_the_number_and_the_size_of_what_it_is_on(plate, family):
    plate.parameter("thick", "12 mm")
    plate.engrave(text="{number} {size} {thick}", face=top(plate), bodies="Plate", depth="0.5 mm", height="4 mm")
    for size in "SL":
        shown = plate.in_size(size)
        made = shown.operation("Mark")
        assert made.problem is None
        cut = 80 * 50 * 12 - shown.body("Plate").volume
        assert cut == pytest.approx(0.5 * ink(f"BR-10 {size} 12 mm", 4.0), rel=1e-6)
    said = sentence(family.family, plate.model, plate.operation("Mark").record)
    assert "“{number} {size} {thick}”" in said
    family.set("Plate.thick", "13 mm")
    assert 80 * 50 * 12 - plate.body("Plate").volume == pytest.approx(0.5 * ink("BR-10 S 13 mm", 4.0), rel=1e-6)


def test_a_part_item_gives_its_own_number(plate):
    plate.item("Top plate", "Plate", number="7-2")
    plate.engrave(text="{number}", face=top(plate), bodies="Plate", depth="0.5 mm", height="4 mm")
    assert 80 * 50 * 12 - plate.body("Plate").volume == pytest.approx(0.5 * ink("7-2", 4.0), rel=1e-6)


def test_a_text_that_is_too_long_says_by_how_much(plate):
    made = plate.engrave(text="A very long text indeed", face=top(plate), bodies="Plate", depth="0.5 mm", height="8 mm")
    wide = 8 * lettering.set_out("A very long text indeed")[1]
    assert made.problem.code == "engrave.over"
    over = float(made.problem.what.split(" stands ")[1].split(" mm")[0])
    assert 0 < over <= (wide - 80) / 2 and over == pytest.approx(
        (wide - 80) / 2, abs=1.0
    )  # less the room beside letters
    assert "smaller" in made.problem.mend


def test_a_text_goes_around_a_bar(bar):
    """Between two cylinders: area on the wall times the mean radius over the radius (sector of a ring)."""
    before = bar.body("Bar").volume
    bar.engrave(text="Brindle 8", face=round_face(bar), bodies="Bar", depth="0.5 mm", height="5 mm")
    assert before - bar.body("Bar").volume == pytest.approx(0.5 * ink("Brindle 8", 5.0) * 9.75 / 10, rel=1e-5)


def test_a_raised_text_goes_around_a_bar_and_is_read_from_the_front(bar):
    bar.engrave(text="I", face=round_face(bar), bodies="Bar", depth="1 mm", height="5 mm", raised=True)
    low, high = bar.body("Bar").box[:3], bar.body("Bar").box[3:]
    assert low[1] == pytest.approx(-11.0, abs=1e-3) and high[1] == pytest.approx(10.0, abs=1e-3)


def test_a_text_longer_than_the_bar_is_round_is_refused(bar):
    made = bar.engrave(
        text="Brindle reading lights 8", face=round_face(bar), bodies="Bar", depth="0.5 mm", height="9 mm"
    )
    assert made.problem.what.endswith("mm long and the face 62.8 mm round")


def test_a_region_is_laid_around_a_bar_without_stretching(bar):
    drawn = bar.sketch("Patch", on="front")
    drawn.rectangle("12 mm", "6 mm", at=(0, 30))
    before = bar.body("Bar").volume
    bar.engrave_regions(regions=drawn.region(), face=round_face(bar), bodies="Bar", depth="1 mm")
    assert before - bar.body("Bar").volume == pytest.approx(12 * 6 * 9.5 / 10, rel=1e-6)


def test_a_region_is_cut_from_where_the_face_is(plate):
    drawn = plate.sketch("Patch")  # on the plane below
    drawn.circle(at=(40, 25), diameter="10 mm")
    before = plate.body("Plate").volume
    plate.engrave_regions(regions=drawn.region(), face=top(plate), bodies="Plate", depth="2 mm")
    assert before - plate.body("Plate").volume == pytest.approx(math.pi * 25 * 2, rel=1e-9)


def test_inside_a_tube_a_text_is_read_from_within(family):
    part = family.part("Tube")
    outline = part.sketch("Outline")
    outline.circle(diameter="30 mm")
    part.extrude(make="Tube", regions=outline.region(), far="40 mm", name="Wall")
    part.hole(
        places=(part.operation("Wall").face("end"), "0 mm", "0 mm"), diameter="24 mm", bodies="Tube", far="through"
    )
    (inner,) = [f for f in part.body("Tube").faces(kind="cylinder") if f.area < 2 * math.pi * 13 * 40]
    before = part.body("Tube").volume
    made = part.engrave(text="AB", face=inner, bodies="Tube", depth="0.5 mm", height="5 mm")
    assert made.problem is None
    assert before - part.body("Tube").volume == pytest.approx(0.5 * ink("AB", 5.0) * 12.25 / 12, rel=1e-5)


def test_a_text_needs_something_to_say(plate, family):
    plate.number("")
    made = plate.engrave(text="{number}", face=top(plate), bodies="Plate", depth="0.5 mm", height="4 mm")
    assert made.problem.code == "engrave.no_text"
    with pytest.raises(UserFault, match="brace"):
        plate.engrave(text="{size", face=top(plate), bodies="Plate", depth="0.5 mm", height="4 mm")
    with pytest.raises(UserFault, match="thikc"):
        plate.engrave(text="{thikc}", face=top(plate), bodies="Plate", depth="0.5 mm", height="4 mm")


def test_a_text_to_be_read_in_a_mirror_takes_as_much(plate):
    before = plate.body("Plate").volume
    plate.engrave(text="RQ 8", face=top(plate), bodies="Plate", depth="0.5 mm", height="6 mm", mirrored=True)
    assert before - plate.body("Plate").volume == pytest.approx(0.5 * ink("RQ 8", 6.0), rel=1e-6)


def test_a_mark_is_repeated_in_a_row_and_around_a_bar(plate, bar):
    before = plate.body("Plate").volume
    mark = plate.engrave(text="A", face=top(plate), bodies="Plate", depth="0.5 mm", height="5 mm", x="-25 mm")
    row = plate.pattern_row(of=mark, bodies="Plate", direction="x", count="4", step="15 mm")
    assert row.problem is None
    assert before - plate.body("Plate").volume == pytest.approx(4 * 0.5 * ink("A", 5.0), rel=1e-6)
    whole = bar.body("Bar").volume
    raised = bar.engrave(text="I", face=round_face(bar), bodies="Bar", depth="0.5 mm", height="5 mm", raised=True)
    one = bar.body("Bar").volume - whole
    ring = bar.pattern_ring(of=raised, bodies="Bar", axis="z", count="6")
    assert ring.problem is None and one > 0
    assert bar.body("Bar").volume - whole == pytest.approx(6 * one, rel=1e-6)


def test_a_text_is_not_mirrored_by_a_pattern(plate):
    mark = plate.engrave(text="A", face=top(plate), bodies="Plate", depth="0.5 mm", height="5 mm", x="-25 mm")
    plate.datum_offset(plane="right", distance="40 mm", name="Middle")
    made = plate.pattern_mirrored(of=mark, bodies="Plate", plane="Middle")
    assert "could only be read in a mirror" in made.problem.what
