"""Assemblies that work on bodies of their parts, what is sent to the parts and back, and what is seen through an assembly."""

import math

import pytest

import architectonic as a
from architectonic.base import rigid
from architectonic.base.errors import UserFault
from architectonic.family import edits
from architectonic.family.records import Context

pytestmark = pytest.mark.kernel
DENSE = "0.001 g / 1 mm3"
TURNED = rigid.times(rigid.shift(7, 0, 0), rigid.about_z(0.3))
HOLE = math.pi * 9.0 * 5.0
"""A round hole of 6 mm through a plate of 5 mm, mm3."""


@pytest.fixture
def family(store):
    with a.new("Stacks", sizes=("S", "L"), store=store) as opened:
        yield opened


def plate(family, name):
    part = family.part(name)
    outline = part.sketch("Outline")
    outline.rectangle("40 mm", "20 mm")
    part.extrude(make=name, regions=outline.region(), far="5 mm", name="Block")
    part.body(name).made_of("test", DENSE)
    return part


@pytest.fixture
def stack(family):
    """A plate that is turned, a lid on it, and a plate of the same kind aside; drilled through both in one place."""
    plate(family, "Plate")
    plate(family, "Lid")
    whole = family.assembly("Stack")
    whole.place("Plate", placement=TURNED)
    whole.place("Lid", placement=rigid.shift(0, 0, 5))
    whole.place("Plate", "Aside", placement=rigid.shift(100, 0, 0))
    bodies = whole.work_on("Plate", "Lid")
    holes = whole.sketch("Holes")
    holes.circle((14, 10), diameter="6 mm")
    whole.extrude(cut=tuple(b.name for b in bodies), regions=holes.region(), far="through", name="Drill")
    return whole


def told(family, size="S", alternate="default", name="Stack"):
    return family.report(name, size=size)["documents"][name]["configurations"][size]["alternates"][alternate]


def test_a_stack_is_drilled_in_place_and_its_parts_stay_whole(family, stack):
    assert [b.volume for b in stack.bodies] == pytest.approx([4000 - HOLE] * 2, abs=1e-6)
    assert family["Plate"].body("Plate").volume == pytest.approx(4000)
    found = told(family)
    assert found["mass_g"] == pytest.approx((12000 - 2 * HOLE) / 1000, abs=1e-9)
    assert [(p["name"], p["quantity"], p["mass_g"]) for p in found["parts"]] == [("Plate", 2, 4.0), ("Lid", 1, 4.0)]
    # the centre: of three plates less two holes (moments, in closed form)
    middle = rigid.moved(TURNED, (20, 10, 2.5))
    sums = [
        4000 * (m + l + s) - HOLE * 2 * h
        for m, l, s, h in zip(middle, (20, 10, 7.5), (120, 10, 2.5), (14, 10, 5), strict=True)
    ]
    assert found["centre_mm"] == pytest.approx([s / (12000 - 2 * HOLE) for s in sums], abs=1e-6)


def test_what_runs_into_what_counts_the_hole(family, stack):
    bolt = family.part("Bolt")
    outline = bolt.sketch("Outline")
    outline.circle((14, 10), diameter="6 mm")
    bolt.extrude(make="Bolt", regions=outline.region(), far="10 mm", name="Shank")
    stack.place("Bolt")
    assert told(family)["interference_mm3"] == pytest.approx(0, abs=1e-6)
    stack.operation("Drill").switch(False)
    assert told(family)["interference_mm3"] == pytest.approx(2 * HOLE, rel=1e-9)


def test_an_operation_of_an_assembly_is_on_where_it_is_said_and_off_where_nothing_stands(family, stack):
    stack.alternate("Drilled")
    stack.alternate("Plain")
    stack.alternate("Without lid")
    stack.alternate("Empty")
    stack.operation("Drill").switch(False, "Plain")
    stack.fill("Lid", where="Without lid")
    for name in ("Plate", "Lid"):
        stack.fill(name, where="Empty")
    masses = {n: told(family, alternate=n)["mass_g"] for n in ("Drilled", "Plain", "Without lid", "Empty")}
    assert masses == pytest.approx(
        {"Drilled": 12 - 2 * HOLE / 1000, "Plain": 12.0, "Without lid": 8 - HOLE / 1000, "Empty": 4.0}
    )
    for name in masses:
        assert told(family, alternate=name)["status"] == "ok"
    report = family.report()
    assert not report["attention"]


def test_an_assembly_above_shows_what_the_one_below_it_made(family, stack):
    above = family.assembly("Above")
    above.place("Stack", placement=rigid.shift(0, 0, 50))
    found = told(family, name="Above")
    assert found["mass_g"] == pytest.approx((12000 - 2 * HOLE) / 1000)
    assert found["box_mm"][2::3] == pytest.approx([50, 60])
    cut = above.work_on("Stack / Lid")
    notch = above.sketch("Notch")
    notch.rectangle("5 mm", "20 mm")
    above.extrude(cut=cut[0].name, regions=notch.region(), far="through", near="through", name="Cut a notch")
    assert cut[0].volume == pytest.approx(4000 - HOLE - 5 * 20 * 5)
    assert told(family)["mass_g"] == pytest.approx((12000 - 2 * HOLE) / 1000)


def test_an_operation_is_sent_to_the_parts_where_they_stand_and_comes_back(family, stack):
    before = told(family)
    sent = stack.send("Drill")
    assert sent.parts == ("Plate", "Lid") and sent.uses == 3
    assert not stack.bodies and not [o for o in stack.operations if o.name in ("Drill", "Bring in")]
    part = family["Plate"]
    assert part.body("Plate").volume == pytest.approx(4000 - HOLE)
    x, y, _ = rigid.moved(rigid.inverse(TURNED), (14, 10, 0))
    centre = [(4000 * c - HOLE * h) / (4000 - HOLE) for c, h in ((20, x), (10, y))]
    assert part.body("Plate").centre[:2] == pytest.approx(centre, abs=1e-6)
    assert told(family)["mass_g"] == pytest.approx((12000 - 3 * HOLE) / 1000)  # the plate aside is the same part
    part.fetch("Drill")
    family["Lid"].fetch("Drill")
    assert part.body("Plate").volume == pytest.approx(4000) and not part.record.feeds
    assert told(family)["mass_g"] == pytest.approx(before["mass_g"])
    assert told(family)["centre_mm"] == pytest.approx(before["centre_mm"])


def test_what_cannot_be_sent_or_worked_on_says_why_and_changes_nothing(family, stack):
    before = family.family
    for refused, why in (
        (lambda: stack.send("Holes"), "only what changes bodies"),
        (lambda: stack.work_on("Nobody"), "does not stand here"),
        (lambda: family["Plate"].fetch("Block"), "nothing that it takes comes from an assembly"),
        (lambda: stack.extrude(make="Weld", regions=stack.sketch("Holes").region(), far="2 mm"), "it makes none"),
    ):
        with pytest.raises(UserFault, match=why):
            refused()
    assert family.family.documents == before.documents


def test_bodies_of_another_part_are_gone_on_with_and_follow_it(family):
    family.table("Sizes").parameter("wide", "40 mm", L="60 mm")
    driver = family.part("Blank")
    outline = driver.sketch("Outline")
    outline.rectangle("Sizes.wide", "20 mm")
    driver.extrude(make="Blank", regions=outline.region(), far="5 mm", name="Block")
    part = family.part("Finished")
    (blank,) = part.bring_in(driver)
    hole = part.sketch("Hole")
    hole.circle((10, 10), diameter="6 mm")
    part.extrude(cut=blank.name, regions=hole.region(), far="through", name="Drill")
    volumes = {size: part.in_size(size).body("Blank").volume for size in ("S", "L")}
    assert volumes == pytest.approx({"S": 4000 - HOLE, "L": 6000 - HOLE})
    assert driver.body("Blank").volume == pytest.approx(4000)
    with pytest.raises(UserFault, match="there is no body"):
        part.bring_in(driver, "Nothing")


def test_what_is_seen_through_an_assembly_is_taken_as_it_stands_in_the_named_alternate(family):
    """A part takes the top of a neighbour that is turned and shifted, as the alternate has it; in another one it stands elsewhere."""
    plate(family, "Plate")
    taker = family.part("Taker")
    whole = family.assembly("Pair")
    whole.place("Plate", placement=rigid.shift(0, 0, 5))
    whole.place("Taker", placement=rigid.shift(0, 0, 1))
    whole.alternate("Low")
    whole.alternate("High", follows="Low")
    whole.stand("Plate", rigid.shift(0, 0, 30), "High")
    top = family["Plate"].body("Plate").face(normal="+z")
    high = edits.find_alternate(family.family, whole.id, "High")
    plane, taking = whole.record.instances
    for shown, height in ((whole, 5 + 5 - 1), (whole.in_alternate("High"), 30 + 5 - 1)):
        name = f"top {height}"
        taker.take(name, family["Plate"], among=shown, top=top)
        socket, held = next((k, s) for f in taker.record.feeds.values() if f.name == name for k, s in f.sockets.items())
        seen = Context(path=(whole.id, plane.id), home=(taking.id,), alternate=shown.at.alternate)
        assert held.source.context == seen
        evaluation = taker.evaluation()
        (value,) = [o.value for n, o in evaluation.outcomes.items() if n.what == "socket" and n.item == socket]
        assert value.origin[2] == pytest.approx(height)
    assert edits.users_of_alternate(family.family, whole.id, high) == ["Taker / top 34"]


def test_an_expression_names_the_alternate_that_it_takes_a_joint_from(family, stack):
    stack.bond("revolute", ("", "z"), ("Aside", "z"), "Turn", turn="10 deg")
    stack.alternate("Shut")
    stack.alternate("Open", follows="Shut")
    stack.drive("Turn", "70 deg", "Open")
    table = family.table("Sizes")
    table.parameter("shut", "Stack.Turn", quantity="angle")
    table.parameter("open", "Stack.Turn at Open", quantity="angle")
    assert math.degrees(table.value("shut")) == pytest.approx(10)
    assert math.degrees(table.value("open")) == pytest.approx(70)
    with pytest.raises(UserFault, match="no size or alternate"):
        table.parameter("none", "Stack.Turn at Ajar", quantity="angle")
    key = edits.find_alternate(family.family, stack.id, "Open")
    assert edits.users_of_alternate(family.family, stack.id, key) == ["Sizes / open"]


def test_how_near_bodies_come_tells_touching_from_overlapping(family):
    """A ball of radius 5 over, on and in a plate: the gap is the distance of the centre less the radius; a ball that is half in
    fills half of its volume, 2/3 pi r3 (closed form)."""
    plate(family, "Plate")
    ball = family.part("Ball")
    half = ball.sketch("Half", on="front")
    half.draw("half a disc", _half_disc)
    ball.revolve(make="Ball", regions=half.region(), axis="z", name="Turn")
    whole = family.assembly("Balls")
    whole.place("Plate")
    for name, height in (("Over", 11.5), ("On", 10.0), ("In", 5.0), ("Far", 60.0)):
        whole.place("Ball", name, rigid.shift({"Over": 6, "On": 18, "In": 30}.get(name, 10), 10, height))
    near = [(a, b, far, volume) for a, b, far, volume in whole.clearances(3.0) if "Plate" in (a, b)]
    assert [b for _, b, _, _ in near] == ["In", "On", "Over"]
    assert [far for _, _, far, _ in near] == pytest.approx([0, 0, 1.5], abs=1e-6)
    assert near[0][3] == pytest.approx(2 / 3 * math.pi * 125, rel=1e-6) and near[1][3] == 0


def _half_disc(d):
    arc = d.arc((0, 0), (0, -5), (0, 5))
    d.line((0, 5), (0, -5))
    return arc
