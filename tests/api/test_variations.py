"""Repeated instances, and variations side by side."""

import math

import pytest

import architectonic as a
from architectonic.base import rigid
from architectonic.base.errors import UserFault
from architectonic.session.product import varying

pytestmark = pytest.mark.kernel


@pytest.fixture
def family(store):
    with a.new("Rows", sizes=("S", "L"), store=store) as opened:
        yield opened


@pytest.fixture
def leg(family):
    part = family.part("Leg")
    part.parameter("high", "10 mm")
    outline = part.sketch("Outline")
    outline.rectangle("4 mm", "4 mm")
    part.extrude(make="Leg", regions=outline.region(), far="high", name="Raise")
    part.body("Leg").made_of("test", "0.001 g / 1 mm3")
    return part


def told(family, name, size="S"):
    return family.report(name, size=size)["documents"][name]["configurations"][size]["alternates"]["default"]


def test_an_instance_stands_in_rings_and_rows_as_often_as_its_expression_says(family, leg):
    whole = family.assembly("Table")
    whole.parameter("legs", "4", quantity="number", L="6")
    whole.place("Leg", placement=rigid.shift(20, 0, 0))
    whole.repeat("Leg", "legs", "360 deg / legs", about="z")
    for size, count in (("S", 4), ("L", 6)):
        found = told(family, "Table", size)
        assert [i["name"] for i in found["instances"]] == ["Leg", *(f"Leg {k}" for k in range(2, count + 1))]
        for k, i in enumerate(found["instances"]):
            t = math.tau * k / count
            assert i["placement"][3::4][:3] == pytest.approx([20 * math.cos(t), 20 * math.sin(t), 0], abs=1e-9)
        assert found["mass_g"] == pytest.approx(0.16 * count) and found["parts"][0]["quantity"] == count
        assert found["centre_mm"][2] == pytest.approx(5)
    whole.repeat("Leg", "2", "50 mm", along="x", more=True)
    assert len(told(family, "Table")["instances"]) == 8
    above = family.assembly("Above")
    above.place("Table")
    assert told(family, "Above")["mass_g"] == pytest.approx(0.16 * 8)
    (body, *_) = above.work_on("Table / Leg")
    assert body.volume == pytest.approx(160)


def test_a_count_that_is_none_is_refused_or_told(family, leg):
    whole = family.assembly("Table")
    whole.parameter("legs", "4", quantity="number")
    whole.place("Leg")
    for count in ("0", "2.5", "-1"):
        with pytest.raises(UserFault, match="no number of uses"):
            whole.repeat("Leg", count, "10 mm", along="x")
    whole.repeat("Leg", "legs / 8", "10 mm", along="x")
    assert any("stands 0.5 times" in p["what"] for p in family.report("Table")["attention"])


def test_variations_are_shaped_apart_and_one_becomes_the_part(family, leg):
    user = family.assembly("User")
    user.place("Leg")
    row = family[leg.variations(3)]
    names = [i.name for i in row.record.instances]
    assert names == ["Leg", "Leg B", "Leg C"]
    shifts = [i["placement"][3] for i in told(family, row.name)["instances"]]
    assert shifts == pytest.approx([0, 4 * varying.APART, 8 * varying.APART])
    other = family["Leg C"]
    family.set("Leg_C.high", "25 mm")
    assert leg.body("Leg").volume == pytest.approx(160) and other.body("Leg").volume == pytest.approx(400)
    seen = family.evaluate()
    lines = varying.differences(seen, leg.at, other.at)
    assert ("high", "10 mm", "25 mm") in lines and ("Mass", "0.16 g", "0.4 g") in lines
    row.choose("Leg C")
    assert leg.body("Leg").volume == pytest.approx(400) and leg.name == "Leg"
    assert told(family, "User")["mass_g"] == pytest.approx(0.4)
    with pytest.raises(UserFault, match="what the others were copied from"):
        row.choose("Leg")
    with pytest.raises(UserFault, match="give a number from 2"):
        leg.variations(1)
