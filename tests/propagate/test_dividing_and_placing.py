"""Bodies split by faces and sketches, lines laid in lines, faces laid on faces, moves taken back: against closed forms.

The block is 80 x 50 x 10 with a corner at the origin; formulas stand beside each check.
"""

import math

import pytest
from tests.support.models import TOP
from tests.support.solids import Bench, close

from architectonic.base.errors import UserFault
from architectonic.describe.drawn.drawing import Drawing
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.operations.bodies.move import Align, Back, Move, Scale, Shift, Turn
from architectonic.family.operations.bodies.split import Split
from architectonic.family.operations.solids.extrude import Distance, Extrude, Through
from architectonic.family.records import Reference, Sketch
from architectonic.family.scopes import Scope

pytestmark = pytest.mark.kernel


@pytest.fixture
def bench(engine):
    return Bench(engine)


def drawn(bench, name, draw, plane=TOP):
    """A sketch of loose lines."""
    sketch = Sketch(id=name, name=name, plane=plane)
    bench.add(bench.key, sketch)
    d = Drawing(bench.family, bench.key, sketch)
    draw(d)
    bench.family = edits.replace_operation(bench.family, bench.key, d.sketch)
    return Reference(item=name)


def split(bench, by, **more):
    bench.store(Split(id="s", name="Part it", acts_on=("b1",), by=by, **more))
    return bench.volumes()


def labels(bench, body):
    document = bench.family.documents[bench.key]
    key = next(k for k, b in document.bodies.items() if b.name == body)
    node = Node("mesh", Scope(bench.key, "default"), key)
    return bench.engine.evaluator.evaluate(bench.family, [node]).value(node)["faces"]


def test_a_line_that_ends_inside_is_carried_on_straight(bench):
    """A slanted line from (20, 10) to (30, 30) cuts the block where x = 15 + y / 2: 50 (15 + 40) / 2 * 10 lies left."""
    by = drawn(bench, "slant", lambda d: d.line((20, 10), (30, 30)))
    left = 50 * (15 + 40) / 2 * 10
    assert split(bench, by) == {"Block body": close(left), "Block body 2": close(40000 - left)}
    bench.store(edits.replace(bench.family.documents[bench.key].build[-1], flip=True))
    assert bench.volumes() == {"Block body": close(40000 - left), "Block body 2": close(left)}


def test_lines_and_an_arc_that_meet_make_one_wall_in_whatever_direction_they_were_drawn(bench):
    """Straight in at y = 20, a half round of radius 10 about (40, 20) upwards, straight out: the round bites 50 pi out."""

    def draw(d):
        d.line((30, 20), (10, 20))
        d.arc((40, 20), (50, 20), (30, 20))
        d.line((70, 20), (50, 20))

    found = split(bench, drawn(bench, "hump", draw))
    below, bite = 80 * 20 * 10, math.pi * 50 * 10
    assert sorted(found.values()) == [close(below + bite), close(40000 - below - bite)]
    walls = {f for f in labels(bench, "Block body") if f.startswith("s:wall:")}
    assert len(walls) == 3  # each named by the line it stands on


def test_what_lies_within_a_closed_line_stays(bench):
    found = split(bench, drawn(bench, "plug", lambda d: d.circle((40, 25), 8)))
    assert found == {"Block body": close(64 * math.pi * 10), "Block body 2": close(40000 - 64 * math.pi * 10)}


def test_two_lines_part_what_lies_left_of_both_from_the_rest(bench):
    """Both run upwards: left of both lies x < 20."""

    def draw(d):
        d.line((20, 0), (20, 10))
        d.line((60, 0), (60, 10))

    assert split(bench, drawn(bench, "pair", draw))["Block body"] == close(20 * 50 * 10)


def test_lines_that_branch_or_miss_are_told(bench):
    def branch(d):
        for end in ((10, 0), (0, 10), (-10, 0)):
            d.line((40, 25), (40 + end[0], 25 + end[1]))

    bench.store(Split(id="s", name="Part it", acts_on=("b1",), by=drawn(bench, "fork", branch)))
    assert "branch" in bench.told("s").what and bench.volumes() == {"Block body": close(40000)}
    by = drawn(bench, "far", lambda d: d.circle((200, 25), 8))
    bench.store(Split(id="t", name="Miss", acts_on=("b1",), by=by))
    assert "does not go through" in bench.told("t").what
    helpers = drawn(bench, "none", lambda d: d.point((1, 1)))
    bench.store(Split(id="u", name="By nothing", acts_on=("b1",), by=helpers))
    assert "no line" in bench.told("u").what


def test_a_round_face_of_another_body_splits_as_if_it_went_on(bench):
    """A rod of radius 30 about (0, 25) that only touches the block's floor: its face, extended upwards, parts the block.

    Within x^2 + (y - 25)^2 < 900 and 0 < y < 50, x > 0: 2 * (25 sqrt(275) + 900 asin(25/30)) / 2.
    """
    region = bench.circle("Rod outline", (0.0, 25.0), 30.0)
    bench.store(Extrude(id="rod", name="Rod", does="make", acts_on=("b2",), regions=(region,),
                        far=Distance(value=bench.e("5 mm")), flip=True), "Rod")  # fmt: skip
    (curve,) = bench.family.documents[bench.key].build[-2].curves
    face = Reference(item="b2", stage="here", label=f"rod:side:{curve}")
    within = (25 * math.sqrt(275) + 900 * math.asin(25 / 30)) * 10
    found = split(bench, face)
    assert found["Block body 2"] == close(within)  # before a face lies what it looks at: outside of the rod
    assert found["Block body"] == close(40000 - within)


def test_the_wall_of_a_hole_parts_what_lies_inside_of_it(bench):
    """A hole's face looks inwards: the plug that stands in it is what stays. 36 pi of each mm of height."""
    region = bench.circle("Hole outline", (40.0, 25.0), 6.0)
    bench.store(
        Extrude(id="hole", name="Hole", does="cut", acts_on=("b1",), regions=(region,), far=Through(), near=Through())
    )
    (curve,) = bench.family.documents[bench.key].build[-2].curves
    other = bench.box("Lid outline", "20 mm", "20 mm", at=(30, 15))
    bench.store(Extrude(id="lid", name="Lid", does="make", acts_on=("b3",), regions=(other,), far=Distance(value=bench.e("4 mm"))), "Lid")  # fmt: skip
    face = Reference(item="b1", stage="here", label=f"hole:side:{curve}")
    bench.store(Split(id="s", name="Part it", acts_on=("b3",), by=face))
    assert bench.volumes()["Lid"] == close(36 * math.pi * 4)
    assert bench.volumes()["Lid 2"] == close(1600 - 36 * math.pi * 4)


def centre(bench, body="b1"):
    return bench.settle().value(Node("measure", Scope(bench.key, "default"), body))["centre_mm"]


def test_a_line_is_laid_in_another_by_the_shortest_way(bench):
    """The block's edge along y through (80, ., 0) laid in the z axis: a quarter turn about x, then a shift along x by -80.

    The middle (40, 25, 5) turns with y -> z: (40, -5, 25), then x - 80.
    """
    upright = sorted((f"{bench.made}:side:{bench.sides[1]}", f"{bench.made}:start"))
    edge = Reference(item="b1", stage="here", label=f"({upright[0]}|{upright[1]})")
    move = Move(id="m", name="Stand up", acts_on=("b1",), by=Align(start=edge, target=Reference(item="z")))
    bench.store(move)
    x, y, z = centre(bench)
    assert (x, abs(y)) == (pytest.approx(-40), pytest.approx(5)) and abs(z) == pytest.approx(25)
    bench.store(edits.replace(move, by=edits.replace(move.by, flip=True)))
    assert centre(bench)[2] == pytest.approx(-z)  # the other way round


def test_a_face_is_laid_on_a_plane_face_to_face(bench):
    top = bench.face("end", kind="plane")
    move = Move(id="m", name="Lie", acts_on=("b1",), by=Align(start=top, target=bench.plane("Shelf", "30 mm")))
    bench.store(move)
    assert centre(bench)[2] == pytest.approx(25)  # below the shelf, its top in it
    bench.store(edits.replace(move, by=edits.replace(move.by, flip=True)))
    assert centre(bench)[2] == pytest.approx(35)  # turned over: it stands on the shelf


def test_unlike_places_are_told(bench):
    move = Move(id="m", name="Odd", acts_on=("b1",), by=Align(start=Reference(item="z"), target=Reference(item="top")))
    bench.store(move)
    assert "a line to a line" in bench.told("m").what


@pytest.mark.parametrize(
    "by",
    [
        lambda b: Turn(axis=Reference(item="z"), angle=b.e("37 deg", "angle")),
        lambda b: Scale(point=Reference(item="origin"), factor=b.e("3", "number")),
        lambda b: Align(start=Reference(item="y"), target=Reference(item="z")),
    ],
)
def test_a_move_is_taken_back_later_with_what_was_done_meanwhile(bench, by):
    """Drilled through along z where it stands then; back in its place the block has its old box, and its hole."""
    bench.store(Move(id="m", name="Aside", acts_on=("b1",), by=by(bench)))
    region = bench.box("Bite", "3 mm", "3 mm", at=(-1, -1))
    bench.store(
        Extrude(id="cut", name="Bite it", does="cut", acts_on=("b1",), regions=(region,), far=Through(), near=Through())
    )
    moved = bench.volumes()["Block body"]
    bench.store(Move(id="back", name="Home", acts_on=("b1",), by=Back(move=Reference(item="m", stage="here"))))
    measured = bench.settle().value(Node("measure", Scope(bench.key, "default"), "b1"))
    factor = 27 if isinstance(by(bench), Scale) else 1
    assert measured["box_mm"] == pytest.approx((0, 0, 0, 80, 50, 10), abs=1e-6)
    assert measured["volume_mm3"] == close(moved / factor) and measured["volume_mm3"] < 40000
    bench.family = edits.set_switch(bench.family, bench.key, "m", False)
    home = bench.settle().outcomes[Node("state", Scope(bench.key, "default"), "back")]
    assert home.problem is None and home.value.status == "off"  # nothing to take back where it was not moved


def test_a_move_that_is_taken_back_cannot_be_moved_below_nor_vanish_in_silence(bench):
    shift = Shift(x=bench.e("5 mm"), y=bench.e("0 mm"), z=bench.e("0 mm"))
    bench.store(Move(id="m", name="Aside", acts_on=("b1",), by=shift))
    bench.store(Move(id="back", name="Home", acts_on=("b1",), by=Back(move=Reference(item="m", stage="here"))))
    with pytest.raises(UserFault, match="Home"):
        edits.move_operations(bench.family, bench.key, ("m",))
    bench.family = edits.delete_item(bench.family, bench.key, "m")
    assert bench.told("back").severity == "missing"
