"""Checks of parts from Python: surveys, rules on their worst places, and the treatment that evens out a corner."""

import math

import pytest

import architectonic as a
from architectonic.family import edits
from architectonic.family.records import Measurement
from architectonic.session.model import surveying

pytestmark = pytest.mark.kernel


@pytest.fixture
def family(store):
    with a.new("Checked", sizes=("S", "L"), store=store) as opened:
        yield opened


@pytest.fixture
def case(family):
    """A box with walls of 4, rounded with 9 on the outside only."""
    part = family.part("Case")
    part.parameter("thick", "4 mm")
    outline = part.sketch("Outline")
    outline.rectangle("120 mm", "80 mm", at=(-60, -40))
    part.extrude(make="Case", regions=outline.region(), far="25 mm", name="Block")
    part.shell(bodies="Case", thickness="thick", faces=part.operation("Block").face("end"), name="Hollow")
    uprights = list(part.body("Case").edges(kind="line", direction="z", convex="convex"))
    part.fillet(edges=uprights, radius="9 mm", name="Round")
    return part


ACROSS = 4 * math.sqrt(2) - 9 * (math.sqrt(2) - 1)


def test_the_thinnest_place_is_where_the_corner_is_rounded_on_one_side(case):
    body, place = case.survey("wall")[0]
    assert body.name == "Case" and place.value == pytest.approx(ACROSS, abs=0.02)
    assert abs(place.at[0]) > 50 and abs(place.at[1]) > 30


def test_the_matching_treatment_inside_makes_the_wall_even(case, family):
    found = surveying.survey(family.family, case.at, "wall", [case.body("Case").id], None)
    body, place = found.places[0]
    made = surveying.treatment_inside(family.family, found, body, place, case.body("Case").mesh())
    assert made.kind == "fillet" and made.size == "9 mm - 4 mm"
    inner = list(case.body("Case").edges(kind="line", direction="z", convex="concave"))
    assert set(made.edges) == {e.label for e in inner}
    case.fillet(edges=inner, radius=made.size, name="Inside")
    assert case.survey("wall")[0][1].value == pytest.approx(4.0, abs=0.01)
    found = surveying.survey(family.family, case.at, "wall", [body], None)
    assert surveying.treatment_inside(family.family, found, body, found.places[0][1], case.body("Case").mesh()) is None


def test_a_check_becomes_a_rule_that_is_watched(case, family):
    found = surveying.survey(family.family, case.at, "wall", [case.body("Case").id], None)
    family.edit("rule", lambda f: surveying.as_rule(f, found, "thinnest", "1.5 mm"))
    assert case.value("thinnest") == pytest.approx(ACROSS, abs=0.02)
    rules = {r["name"]: r for r in family.check()["rules"]}
    (name,) = [n for n in rules if "Wall thickness" in n]
    assert rules[name]["holds"]
    family.set("Case.thick", "3 mm")  # 3 sqrt 2 - 9 (sqrt 2 - 1) = 0.51
    assert not {r["name"]: r for r in family.check()["rules"]}[name]["holds"]


def test_draft_and_corners_need_a_direction(case):
    assert case.survey("draft")[0][1].value == pytest.approx(0.0, abs=1e-9)
    assert case.survey("inside radius")[0][1].value == 0.0
    assert case.survey("inside radius", direction="x")


def test_a_value_of_what_is_not_there_is_off_and_says_so(case, family):
    record = Measurement(id="m1", name="margin", what="hole to edge", of=(case.body("Case").reference,))
    family.edit("margin", lambda f: edits.put_measurement(f, case.id, record))
    assert case.survey("hole to edge") == []
    case.hole(
        places=(case.operation("Block").face("start"), "0 mm", "0 mm"), bodies="Case", diameter="6 mm", far="through"
    )
    assert case.value("margin") > 20
