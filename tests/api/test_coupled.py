"""Joints that follow each other by an expression, and dead centres on the way of a joint, in documents."""

import math

import pytest

import architectonic as a
from architectonic.base import rigid

pytestmark = pytest.mark.kernel


@pytest.fixture
def family(store):
    with a.new("Gears", store=store) as opened:
        yield opened


def wheel(family, name):
    part = family.part(name)
    outline = part.sketch("Outline")
    outline.circle(diameter="20 mm")
    part.extrude(make=name, regions=outline.region(), far="5 mm", name="Block")
    return part


@pytest.fixture
def train(family):
    """Two wheels on axes 30 mm apart; the second follows the first by its teeth."""
    wheel(family, "Pinion")
    wheel(family, "Wheel")
    whole = family.assembly("Train")
    whole.parameter("teeth", "18 / 45", quantity="number")
    whole.place("Pinion")
    whole.place("Wheel", placement=rigid.shift(30, 0, 0))
    whole.bond("revolute", ("", "z"), ("Pinion", "z"), "Crank")
    whole.bond("revolute", ("", "z"), ("Wheel", "z"), "Follower")
    whole.drive("Follower", "-teeth * Crank")
    return whole


def told(family):
    found = family.report("Train")["documents"]["Train"]["configurations"]["default"]["alternates"]["default"]
    return {j["name"]: j["value"] for j in found["joints"]}, found


def test_a_joint_that_names_a_free_one_moves_with_it(family, train):
    values, entry = told(family)
    assert values == {"Crank": 0.0, "Follower": 0.0} and entry["status"] == "ok"
    train.drive("Crank", "50 deg")
    assert told(family)[0] == pytest.approx({"Crank": 50.0, "Follower": -20.0})
    train.drive("Crank", "")
    train.stand("Pinion", rigid.about_z(math.radians(25)))
    values, _ = told(family)  # it starts turned: the least that brings both to their ratio
    assert values["Follower"] == pytest.approx(-0.4 * values["Crank"], abs=1e-6) and values["Crank"] > 10


def test_what_is_no_ratio_of_a_free_joint_is_told(family, train):
    train.drive("Follower", "Crank * Crank / 1 rad")
    problems = family.report("Train")["attention"]
    assert any("by more than a ratio" in p["what"] and "Crank" in p["mend"] for p in problems)
    train.drive("Crank", "30 deg")
    assert not family.report("Train")["attention"]
    assert told(family)[0]["Follower"] == pytest.approx(math.degrees(math.radians(30) ** 2))


def test_play_says_how_far_what_hangs_on_it_can_shift_and_moves_nothing(family, train):
    before = told(family)[1]
    train.drive("Crank", "0 deg")
    train.drive("Crank", "0.2 mm", field="play")
    after = told(family)[1]
    assert after["play_mm"] == {"Pinion": pytest.approx(0.1), "Wheel": pytest.approx(0.0, abs=1e-9)}
    assert [i["placement"] for i in after["instances"]] == [i["placement"] for i in before["instances"]]
