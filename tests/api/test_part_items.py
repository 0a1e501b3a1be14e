"""Part items: offered by shape, listed with masses, placed alone, divided into documents."""

import math

import pytest

import architectonic as a
from architectonic.base import rigid
from architectonic.base.errors import UserFault

pytestmark = pytest.mark.kernel
PIN = math.pi * 9 * 10 * 0.008
"""A pin of 6 mm and 10 mm at 8 g/cm3, g."""


@pytest.fixture
def family(store):
    with a.new("Cases", sizes=("S",), store=store) as opened:
        yield opened


@pytest.fixture
def case(family):
    """A plate, three pins, and two wedges that mirror each other."""
    part = family.part("Case")
    outline = part.sketch("Outline")
    outline.rectangle("40 mm", "20 mm")
    part.extrude(make="Plate", regions=outline.region(), far="5 mm", name="Block")
    part.body("Plate").made_of("test", "0.001 g / 1 mm3")
    for k, x in enumerate((50, 60, 70)):
        pin = part.sketch(f"Pin outline {k + 1}")
        pin.circle((x, 0), diameter="6 mm")
        part.extrude(make=f"Pin {k + 1}", regions=pin.region(), far="10 mm", name=f"Turn {k + 1}")
        part.body(f"Pin {k + 1}").made_of("steel", "0.008 g / 1 mm3")
    for name, sign in (("Wedge", 1), ("Other wedge", -1)):
        wedge = part.sketch(f"{name} outline")
        wedge.draw("a corner that is its own mirror image in no plane", lambda d, s=sign: _corner(d, s))
        low = part.extrude(make=name, regions=wedge.region(), far="4 mm", name=f"Raise {name}")
        rim = low.made("end", f"side:{wedge.curves[0].id}", kind="line", convex="convex")
        part.chamfer(edges=rim, distance="1 mm", name=f"Ease {name}")
    return part


def _corner(d, sign):
    points = [(0.0, -10.0 * sign), (12.0, -10.0 * sign), (0.0, -16.0 * sign)]
    for k, p in enumerate(points):
        d.line(p, points[(k + 1) % 3])


def test_bodies_of_one_shape_are_one_item_and_mirrored_ones_a_pair(case):
    lines = {line.name: line for line in case.offer_items()}
    assert [(n, lines[n].quantity) for n in lines] == [("Plate", 1), ("Pin 1", 3), ("Wedge", 1), ("Wedge opposite", 1)]
    assert lines["Pin 1"].mass == pytest.approx(PIN) and lines["Pin 1"].material == "steel"
    by_name = {i.name: i for i in case.record.part_items}
    assert by_name["Wedge opposite"].opposite == by_name["Wedge"].id
    assert not [i for i in case.record.part_items if i.name == "Plate" and i.apart]


def test_items_stand_under_headings_and_in_the_lists_of_what_places_the_part(family, case, tmp_path):
    case.item("Fasteners")
    case.item("Pin", "Pin 1", "Pin 2", "Pin 3", number="F-1", supply="buy", apart=True, under="Fasteners", quantity=2)
    case.item("Plate", "Plate", number="P-1", description="flat", finish="ground", supply="make")
    assert [(i.name, i.depth, i.quantity) for i in case.items()] == [
        ("Fasteners", 0, 0),
        ("Pin", 1, 6),
        ("Plate", 0, 1),
    ]
    entry = family.report("Case")["documents"]["Case"]["configurations"]["S"]["items"][1]
    assert (entry["supply"], entry["under"], entry["quantity"]) == ("buy", "Fasteners", 6)
    assert entry["mass_g"] == pytest.approx(PIN)
    whole = family.assembly("Whole")
    whole.place("Case")
    whole.place("Case", "Second")
    whole.place("Case", "Plate alone", rigid.shift(0, 50, 0))
    whole.fill("Plate alone", "Case", item="Plate")
    found = {line.name: line for line in whole.parts()}
    assert {n: x.quantity for n, x in found.items()} == {"Case": 2, "Pin": 12, "Plate": 3}  # the wedges are in no item
    assert (found["Plate"].number, found["Plate"].finish, found["Plate"].note) == ("P-1", "ground", "flat")
    nested = [(x.name, x.depth, x.quantity) for x in whole.parts(nested=True)]
    assert nested == [("Case", 0, 2), ("Fasteners", 1, 0), ("Pin", 2, 12), ("Plate", 1, 2), ("Plate", 0, 1)]
    family.export("Case", tmp_path / "pins.step", item="Fasteners")
    text = (tmp_path / "pins.step").read_text("utf-8")
    assert text.count("MANIFOLD_SOLID_BREP(") == 3 and "PRODUCT('Plate'" not in text
    with pytest.raises(UserFault, match="no part item"):
        family.export("Case", tmp_path / "none.step", item="Nobody")
    other = family.part("Other")
    assert [b.name for b in other.bring_in(case, "Fasteners")] == ["Pin 1", "Pin 2", "Pin 3"]
    alone = family.report("Whole")["documents"]["Whole"]["configurations"]["S"]["alternates"]["default"]
    assert alone["box_mm"][4] == pytest.approx(70)  # 50 + the plate's 20: nothing else of the case stands there


def test_a_part_is_divided_into_documents_that_follow_it(family, case):
    case.item("Plate", "Plate", number="P-1")
    case.item("Pin", "Pin 1", "Pin 2", "Pin 3", apart=True)
    assert case.divide(assembly="Divided") == ["Plate", "Pin"]
    plate = family["Plate"]
    assert plate.body("Plate").volume == pytest.approx(4000) and plate.record.number == "P-1"
    assert [(p.name, p.quantity) for p in family["Divided"].parts()] == [("Plate", 1), ("Pin", 3)]
    case.operation("Block").delete()
    assert any(i["where"].startswith("Plate /") for i in family.report()["attention"])


def test_what_an_item_cannot_be_is_refused(family, case):
    case.item("Plate", "Plate", number="P-1")
    before = family.family
    for refused, why in (
        (lambda: case.item("Other", "Plate"), "belongs to Plate"),
        (lambda: case.item("Other", "Pin 1", number="P-1"), "has the number"),
        (lambda: case.item("Plate", "Pin 1"), "another part item"),
        (lambda: case.item("Other", "Pin 1", quantity=0), "no number of pieces"),
        (lambda: case.item("Other", "Pin 1", under="Nobody"), "no part item"),
        (lambda: case.divide("Nobody"), "no part item with bodies"),
    ):
        with pytest.raises(UserFault, match=why):
            refused()
    assert family.family.documents == before.documents
