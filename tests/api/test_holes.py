"""Holes with their data: what is drilled, and that the data stay through all that happens to the part."""

import math

import pytest

import architectonic as a
from architectonic.base import rigid
from architectonic.base.errors import UserFault
from architectonic.describe.models.operations import sentence
from architectonic.describe.results import Node

pytestmark = pytest.mark.kernel
WIDE, DEEP, HIGH = 80.0, 50.0, 12.0


@pytest.fixture
def family(store):
    with a.new("Drilled", sizes=("S", "L"), store=store) as opened:
        yield opened


def block(family, name="Plate", high="12 mm"):
    part = family.part(name)
    outline = part.sketch("Outline")
    outline.rectangle("80 mm", "50 mm")
    part.extrude(make=name, regions=outline.region(), far=high, name="Block")
    return part


@pytest.fixture
def plate(family):
    return block(family)


def top(part):
    return part.operation("Block").face("end")


def disc(diameter, depth):
    return math.pi * diameter**2 / 4 * depth


def tip(diameter):
    """The cone of a drill of 118 deg."""
    r = diameter / 2
    return math.pi * r**2 * (r / math.tan(math.radians(59))) / 3


def taken(part, body="Plate", whole=WIDE * DEEP * HIGH):
    return whole - part.body(body).volume


def test_a_screw_hole_is_as_wide_and_as_deep_as_the_tables_say(plate):
    pattern = plate.sketch("Pattern", on=top(plate))
    for x in (10, 30, 50, 70):
        pattern.point((x, 15))
    made = plate.screw_hole(places="Pattern", bodies="Plate", size="M4", far="through")
    assert made.problem is None
    # ISO 273 medium 4.5, recess for ISO 4762 after DIN 974-1: 8 wide and 4.4 deep (common practice)
    assert taken(plate) == pytest.approx(4 * (disc(4.5, 7.6) + disc(8, 4.4)), rel=1e-9)
    (row,) = plate.holes()
    assert (row.number, row.depth, row.diameter, row.as_made) == (4, 12.0, 4.5, True)
    assert sorted(row.places) == [(x, 15.0, 12.0) for x in (10.0, 30.0, 50.0, 70.0)]
    assert row.direction == (0.0, 0.0, -1.0)
    assert (row.holes.standard, row.holes.tolerance) == ("ISO 273, medium", "H13")


@pytest.mark.parametrize(
    ("kind", "said", "volume"),
    [
        ("hole", {"diameter": "6 mm", "far": "8 mm"}, disc(6, 8) + tip(6)),
        ("hole", {"diameter": "6 mm", "far": "8 mm", "flat": True}, disc(6, 8)),
        ("hole", {"diameter": "6 mm", "far": "through", "counterbore": ("10 mm", "3 mm")}, disc(6, 9) + disc(10, 3)),
        (
            "hole",  # a cone from 12 to 6 mm of 90 deg is 3 mm high
            {"diameter": "6 mm", "far": "through", "countersink": ("12 mm", "90 deg")},
            disc(6, 9) + math.pi * 3 / 3 * (6**2 + 6 * 3 + 3**2),
        ),
        ("hole", {"diameter": "6 mm", "far": "5 mm", "step": ("3 mm", "4 mm")}, disc(6, 5) + disc(3, 4) + tip(3)),
        ("screw_hole", {"size": "M5", "head": "flat", "far": "through"}, None),
        ("tapped_hole", {"size": "M6", "far": "9 mm", "flat": True}, disc(5.0, 9)),
        ("tapped_hole", {"size": "M8x1", "far": "through"}, disc(7.0, 12)),
        ("tapped_hole", {"size": "1/4-20 UNC", "far": "through"}, disc(0.201 * 25.4, 12)),
        ("pin_hole", {"diameter": "4 mm", "far": "through"}, disc(4, 12)),
        ("core_hole", {"screw": "3 mm", "into": "ABS", "far": "9 mm", "flat": True}, disc(2.4, 9)),
    ],
)
def test_every_kind_takes_away_what_its_drill_is(plate, kind, said, volume):
    made = getattr(plate, kind)(places=(top(plate), "40 mm", "25 mm"), bodies="Plate", **said)
    assert made.problem is None
    if volume is None:  # ISO 10642 M5: 11.2 wide at the surface, 90 deg, in a hole of 5.5
        r, wide = 2.75, 5.6
        volume = math.pi * (wide - r) / 3 * (wide**2 + wide * r + r**2) + disc(5.5, 12 - (wide - r))
    assert taken(plate) == pytest.approx(volume, rel=1e-9)


def test_a_thread_is_data_with_its_hand_class_and_depth(plate):
    plate.tapped_hole(
        places=(top(plate), "20 mm", "20 mm"),
        bodies="Plate",
        size="M5",
        far="9 mm",
        depth="7 mm",
        hand="left",
        tolerance="6G",
    )
    (row,) = plate.holes()
    assert (row.holes.thread, row.holes.pitch, row.holes.thread_depth) == ("M5", 0.8, 7.0)
    assert (row.holes.hand, row.holes.tolerance, row.depth) == ("left", "6G", 9.0)
    report = plate.opened.report("Plate")["documents"]["Plate"]["configurations"]["S"]["holes"]
    assert (
        report[0]["thread"] == "M5" and report[0]["class"] == "6G" and report[0]["positions_mm"] == [[20.0, 20.0, 12.0]]
    )


def test_sizes_follow_an_expression_and_each_size_of_the_family(plate, family):
    plate.parameter("load", "100", quantity="number", L="300")
    plate.screw_hole(
        places=(top(plate), "40 mm", "25 mm"), bodies="Plate", size="pick(load > 200, M6, M4)", far="through"
    )
    assert [r.holes.size for r in plate.holes()] == ["M4"]
    assert [r.holes.size for r in plate.in_size("L").holes()] == ["M6"]


def test_a_hole_goes_in_where_it_meets_material_at_its_place_or_from_outside(plate):
    plate.datum_offset(plane="top", distance="30 mm", name="High")
    pattern = plate.sketch("Pattern", on="High")
    pattern.point((20, 20))
    made = plate.hole(places="Pattern", bodies="Plate", diameter="6 mm", far="8 mm", flat=True)
    assert taken(plate) == pytest.approx(disc(6, 8), rel=1e-9)
    assert plate.holes()[0].places == ((20.0, 20.0, 12.0),)
    made.delete()
    plate.hole(places="Pattern", bodies="Plate", diameter="6 mm", far="8 mm", flat=True, near="outside", flip=True)
    assert plate.holes()[0].places == ((20.0, 20.0, 0.0),)  # from below, upwards
    made = plate.operations[-1]
    made.delete()
    made = plate.hole(places="Pattern", bodies="Plate", diameter="6 mm", far="25 mm", flat=True, near="plane")
    assert taken(plate) == pytest.approx(disc(6, 7), rel=1e-9)


def test_a_hole_ends_on_a_face_and_between_two(plate):
    plate.datum_offset(plane="top", distance="5 mm", name="Floor")
    plate.datum_offset(plane="top", distance="10 mm", name="Under")
    made = plate.hole(places=(top(plate), "20 mm", "20 mm"), bodies="Plate", diameter="6 mm", far="Floor")
    assert taken(plate) == pytest.approx(disc(6, 7), rel=1e-9)
    made.delete()
    made = plate.hole(
        places=(top(plate), "20 mm", "20 mm"), bodies="Plate", diameter="6 mm", far=("Floor", "1 mm"), near="Under"
    )
    assert made.problem is None
    assert [(r.places, r.depth) for r in plate.holes()] == [(((20.0, 20.0, 10.0),), 6.0)]


def test_one_drill_goes_through_chosen_bodies_and_counts_once(plate):
    lid = plate.sketch("Lid", on=top(plate))
    lid.rectangle("80 mm", "50 mm")
    plate.extrude(make="Lid", regions=lid.region(), far="6 mm")
    plate.extrude(make="Apart", regions=plate.sketch("Outline").region(), near="10 mm", far="1 mm")
    plate.datum_offset(plane="top", distance="18 mm", name="Up")
    made = plate.screw_hole(places=("Up", "40 mm", "25 mm"), bodies=["Plate", "Lid"], size="M5", far="through")
    assert made.problem is None
    (row,) = plate.holes()
    assert (row.number, row.depth, len(row.bodies)) == (1, 18.0, 2)
    assert taken(plate, "Lid", WIDE * DEEP * 6) == pytest.approx(disc(10, 5.4) + disc(5.5, 0.6), rel=1e-9)


# --- data stay -----------------------------------------------------------------------------------------


@pytest.fixture
def drilled(plate):
    plate.tapped_hole(
        places=[(top(plate), "20 mm", "20 mm"), (top(plate), "60 mm", "20 mm")], bodies="Plate", size="M5", far="9 mm"
    )
    return plate


def told(part):
    return [(r.holes.thread, r.holes.hand, r.number, r.as_made, sorted(r.places)) for r in part.holes()]


def test_data_stay_when_a_body_is_split_united_moved_and_mirrored(drilled):
    before = told(drilled)
    drilled.datum_offset(plane="right", distance="40 mm", name="Middle")
    drilled.split(bodies="Plate", by="Middle")
    assert told(drilled) == before and len(drilled.bodies) == 2
    drilled.unite(body="Plate", tools="Plate 2")
    assert told(drilled) == before and len(drilled.bodies) == 1
    drilled.move(bodies="Plate", x="5 mm", y="0 mm", z="1 mm")
    assert told(drilled) == [("M5", "right", 2, True, [(25.0, 20.0, 13.0), (65.0, 20.0, 13.0)])]
    drilled.mirror(bodies="Plate", plane="front", copies=True)
    (row,) = told(drilled)
    assert row[:4] == ("M5", "right", 4, True)  # the thread keeps its hand
    assert row[4] == [(25.0, -20.0, 13.0), (25.0, 20.0, 13.0), (65.0, -20.0, 13.0), (65.0, 20.0, 13.0)]


def test_a_bridge_joins_the_data_of_both_bodies(drilled):
    before = told(drilled)
    beside = drilled.sketch("Beside")
    beside.rectangle("20 mm", "50 mm", at=(100, 0))
    drilled.extrude(make="Post", regions=beside.region(), far="12 mm", name="Post")
    drilled.screw_hole(
        places=(drilled.operation("Post").face("end"), "110 mm", "25 mm"), bodies="Post", size="M4", far="through"
    )
    facing = [drilled.body("Plate").face(normal="+x"), drilled.body("Post").face(normal="-x")]
    assert drilled.bridge(faces=facing).problem is None
    assert len(drilled.bodies) == 1
    assert [r.holes.purpose for r in drilled.holes()].count("screw") == 1 and before[0] in told(drilled)


def test_a_hole_that_is_cut_open_says_so_and_a_scaled_one_too(drilled):
    drilled.datum_offset(plane="front", distance="-20 mm", name="Across")
    drilled.split(bodies="Plate", by="Across")
    (row,) = drilled.holes()
    assert (row.number, row.parted) == (2, 2)
    drilled.opened.undo()
    drilled.scale(bodies="Plate", factor="2", point="origin")
    (row,) = drilled.holes()
    assert (row.diameter, row.as_made) == (pytest.approx(8.4), False)


def test_data_go_along_with_a_fed_body_and_into_assemblies(drilled, family):
    other = family.part("Other")
    other.bring_in(drilled)
    assert told(other) == told(drilled)
    whole = family.assembly("Whole")
    whole.place("Plate", placement=rigid.times(rigid.shift(100, 0, 0), rigid.about_z(math.pi / 2)))
    whole.place("Plate", "Second", placement=rigid.shift(0, 0, 50))
    everywhere = sorted(tuple(round(c, 6) for c in p) for r in whole.holes() for p in r.places)
    assert everywhere == [(20.0, 20.0, 62.0), (60.0, 20.0, 62.0), (80.0, 20.0, 12.0), (80.0, 60.0, 12.0)]
    entry = family.report("Whole")["documents"]["Whole"]["configurations"]["S"]["alternates"]["default"]
    assert sum(h["count"] for h in entry["holes"]) == 4


def test_holes_in_an_assembly_leave_the_parts_whole_and_can_be_sent_to_them(family):
    block(family, "Plate"), block(family, "Lid")
    whole = family.assembly("Stack")
    whole.place("Plate")
    whole.place("Lid", placement=rigid.shift(0, 0, 12))
    whole.work_on("Plate", "Lid")
    points = whole.sketch("Points")
    points.point((20, 20))
    made = whole.hole(
        places="Points",
        bodies=["Plate", "Lid"],
        diameter="6 mm",
        far="through",
        near="outside",
        flip=True,
        name="Drill",
    )
    assert made.problem is None
    assert [b.volume for b in whole.bodies] == pytest.approx([48000 - disc(6, 12)] * 2)
    assert family["Plate"].body("Plate").volume == pytest.approx(48000)
    assert [r.number for r in whole.holes()] == [1]
    whole.send("Drill")
    assert family["Plate"].body("Plate").volume == pytest.approx(48000 - disc(6, 12))
    assert [r.depth for r in family["Lid"].holes()] == [12.0]


# --- matching ----------------------------------------------------------------------------------------


@pytest.fixture
def mated(drilled, family):
    """A cover over the tapped plate, with holes that match."""
    cover = family.part("Cover")
    fed = cover.take("Holes of the plate", drilled, holes=drilled.operation("Tapped hole"), face=top(drilled))
    outline = cover.sketch("Outline", on=fed["face"])
    outline.rectangle("80 mm", "50 mm")
    cover.extrude(make="Cover", regions=outline.region(), far="7 mm", name="Block")
    cover.matching_hole(places=fed["holes"], bodies="Cover", far="through", near="outside", name="Clear")
    return cover


def test_a_mating_part_takes_the_matching_kind_at_the_same_places(mated, drilled, family):
    (row,) = mated.holes()
    assert (row.holes.made_for, row.holes.diameter, row.number) == ("M5 socket head, ISO 4762", 5.5, 2)
    assert sorted(row.places) == [(20.0, 20.0, 19.0), (60.0, 20.0, 19.0)]
    assert row.holes.counterbore == (10.0, 5.4)
    moved = drilled.model.build[-1].places[0]
    drilled.opened.session.apply("wider", lambda f: _resized(f, drilled, "M6"))
    assert mated.holes()[0].holes.size == "M6"
    assert moved.x.text == "20 mm"


def _resized(family, part, size):
    from architectonic.family import edits
    from architectonic.family.records import Expression

    record = next(o for o in edits.model(family, part.id).build if o.name == "Tapped hole")
    by = edits.replace(record.by, size=Expression(text=size))
    return edits.replace_operation(family, part.id, edits.replace(record, by=by))


def test_it_says_by_itself_when_the_two_no_longer_match(mated, drilled, family):
    clear = mated.operation("Clear")
    clear.delete()
    fed = next(iter(next(iter(mated.model.feeds.values())).sockets))
    from architectonic.family.records import Reference

    mated.screw_hole(places=Reference(item=fed), bodies="Cover", size="M5", far="through", near="outside", name="Own")
    rules = {r["name"]: r for r in family.report()["rules"] if r["document"] == "Cover"}
    assert all(r["holds"] for r in rules.values()) and rules
    drilled.opened.session.apply("wider", lambda f: _resized(f, drilled, "M6"))
    broken = [r for r in family.report()["rules"] if r["document"] == "Cover" and not r["holds"]]
    assert broken and "M5" in broken[0]["message"] and "M6" in broken[0]["message"]


# --- bad input -----------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("kind", "said", "sentence_told"),
    [
        ("hole", {"diameter": "6 mm", "far": "20 mm"}, "it is 20 mm deep and the material ends after 12 mm"),
        ("hole", {"diameter": "6 mm", "far": "5 mm", "flip": True}, "it lies beside the bodies"),
        ("hole", {"diameter": "6 mm", "far": "through", "counterbore": ("5 mm", "2 mm")}, "is not wider than the hole"),
        ("hole", {"diameter": "6 mm", "far": "3 mm", "counterbore": ("9 mm", "4 mm")}, "ends before its floor"),
        ("tapped_hole", {"size": "M5", "far": "6 mm", "depth": "8 mm"}, "the thread is 8 mm deep and the hole 6 mm"),
        ("tapped_hole", {"size": "M5", "far": "6 mm", "drill": "3 mm"}, "cannot be tapped M5"),
        ("screw_hole", {"size": "M5", "far": "through", "diameter": "5 mm"}, "does not let M5 pass"),
        ("screw_hole", {"size": "M7", "far": "through"}, "no socket head of M7"),
        ("matching_hole", {"far": "through"}, "no hole set to match"),
    ],
)
def test_what_cannot_be_is_told_in_one_sentence_and_changes_nothing(plate, kind, said, sentence_told):
    made = getattr(plate, kind)(places=(top(plate), "40 mm", "25 mm"), bodies="Plate", **said)
    assert made.problem is not None and sentence_told in made.problem.what
    assert made.problem.mend
    assert plate.body("Plate").volume == pytest.approx(48000)


def test_an_unknown_size_is_refused_before_anything_is_stored(plate):
    count = len(plate.model.build)
    with pytest.raises(UserFault, match="no size “M99” in the tables"):
        plate.tapped_hole(places=(top(plate), "40 mm", "25 mm"), bodies="Plate", size="M99", far="5 mm")
    assert len(plate.model.build) == count


def test_holes_that_run_into_each_other_are_named(plate):
    made = plate.hole(
        places=[(top(plate), "40 mm", "25 mm"), (top(plate), "44 mm", "25 mm")],
        bodies="Plate",
        diameter="6 mm",
        far="5 mm",
    )
    assert made.problem.what == "holes 1 and 2 run into each other: 4 mm apart and 6 mm wide"


def test_a_row_says_the_hole_in_one_line(drilled, family):
    said = sentence(family.family, drilled.model, drilled.model.build[-1])
    assert said == "Tapped hole: tap at 2 places into Plate with M5 right hand usual class 9 mm deep"


def test_the_drawing_beside_the_sentence_knows_what_the_hole_goes_through(plate):
    made = plate.hole(places=(top(plate), "40 mm", "25 mm"), bodies="Plate", diameter="6 mm", far="8 mm")
    node = Node("drilled", plate.at, made.id)
    found = plate.opened.known(node).outcomes[node].value
    assert (found.depth, found.acted) == (8.0, ((plate.body("Plate").id, 0.0, 12.0),))
