"""Alternates of an assembly: make-up, pose and values by cell; what each comes to in closed form; what is refused."""

import math

import pytest

import architectonic as a
from architectonic.base import rigid
from architectonic.check import parts
from architectonic.family import edits
from architectonic.family.records import BondValues, Fill
from architectonic.session.joining import motion

pytestmark = pytest.mark.kernel
DENSE = "0.001 g / 1 mm3"


@pytest.fixture
def family(store):
    with a.new("Gates", sizes=("S", "L"), store=store) as opened:
        yield opened


def block(family, name, w, d, h, bore=None, density=True):
    """A box from the origin with a hole of 6 mm through it."""
    part = family.part(name)
    outline = part.sketch("Outline")
    outline.rectangle(w, d)
    if bore:
        outline.circle(bore, diameter="6 mm")
    part.extrude(make=name, regions=outline.region(), far=h, name="Block")
    if density:
        part.body(name).made_of("test", DENSE)
    part.datum_offset(plane="top", distance="5 mm", name="Pin plane")
    return part


@pytest.fixture
def gate(family):
    """A post, or a pillar in its place, and a leaf that hangs on it by the z axis of both, shut or open."""
    family.table("Sizes").parameter("wide", "80 mm", L="100 mm")
    block(family, "Post", "20 mm", "20 mm", "60 mm")
    block(family, "Pillar", "40 mm", "40 mm", "60 mm")
    block(family, "Leaf", "Sizes.wide", "10 mm", "50 mm")
    whole = family.assembly("Gate")
    whole.place("Post")
    whole.place("Leaf", placement=rigid.shift(30, 0, 0))
    whole.fix("Post")
    whole.bond("revolute", ("Post", "z"), ("Leaf", "z"), "Hinge", turn="0 deg")
    whole.limit("Hinge", "-10 deg", "120 deg")
    whole.alternate("Shut")
    whole.alternate("Open", follows="Shut")
    whole.alternate("Pillar, open", follows="Open")
    whole.alternate("Post alone")
    whole.drive("Hinge", "90 deg", "Open")
    whole.fill("Post", "Pillar", where="Pillar, open")
    whole.fill("Leaf", where="Post alone")
    return whole


def told(family, alternate, size="S"):
    return family.report("Gate", size=size)["documents"]["Gate"]["configurations"][size]["alternates"][alternate]


def test_rows_inherit_what_they_do_not_say_themselves(family, gate):
    assert list(family.report("Gate", size="S")["documents"]["Gate"]["configurations"]["S"]["alternates"]) == [
        "Shut", "Open", "Pillar, open", "Post alone",
    ]  # fmt: skip
    for alternate, filler, turn in (("Shut", "Post", 0), ("Open", "Post", 90), ("Pillar, open", "Pillar", 90)):
        found = told(family, alternate)
        assert [i["document"] for i in found["instances"]] == [filler, "Leaf"]
        assert found["joints"][0] == {"name": "Hinge", "kind": "revolute", "value": turn, "unit": "deg"}
        t = math.radians(turn)
        assert found["instances"][1]["placement"][:2] == pytest.approx([math.cos(t), -math.sin(t)], abs=1e-9)
    alone = told(family, "Post alone")
    assert [i["name"] for i in alone["instances"]] == ["Post"] and alone["joints"] == []
    assert alone["status"] == "ok" and alone["mass_g"] == pytest.approx(20 * 20 * 60 / 1000)
    assert told(family, "Shut", "L")["mass_g"] == pytest.approx(24 + 100 * 10 * 50 / 1000)


def test_interference_and_balance_of_each_alternate_in_closed_form(family, gate):
    """The leaf, 80 x 10 x 50 from the hinge, runs through a post of 20 x 20 or a pillar of 40 x 40 wherever it turns; opened
    by 90 degrees it lies at x from -10 to 0 and only touches. Composite mass, centre and moments: parallel-axis theorem."""
    shut, opened = told(family, "Shut"), told(family, "Open")
    assert shut["interference_mm3"] == pytest.approx(20 * 10 * 50, rel=1e-9)
    assert [(c["a"], c["b"]) for c in shut["interferences"]] == [("Post", "Leaf")]
    assert opened["interference_mm3"] == 0 and opened["interferences"] == []
    post, leaf = (20, 20, 60, 24.0), (10, 80, 50, 40.0)  # turned by 90 degrees: along y, at x from -10 to 0
    centres = ((10, 10, 30), (-5, 40, 25))
    total = 64.0
    centre = [sum(m * c[k] for (*_, m), c in zip((post, leaf), centres, strict=True)) / total for k in range(3)]
    assert opened["centre_mm"] == pytest.approx(centre, abs=1e-6)
    izz = sum(
        m * (w * w + d * d) / 12 + m * ((c[0] - centre[0]) ** 2 + (c[1] - centre[1]) ** 2)
        for (w, d, _, m), c in zip((post, leaf), centres, strict=True)
    )
    assert opened["inertia_gmm2"][2] == pytest.approx(izz, rel=1e-6)
    ixy = -sum(m * (c[0] - centre[0]) * (c[1] - centre[1]) for (*_, m), c in zip((post, leaf), centres, strict=True))
    assert opened["inertia_gmm2"][3] == pytest.approx(ixy, rel=1e-6)


def test_balls_and_bars_that_cross_fill_the_volume_of_the_books(family):
    """Two balls of radius r, d apart, share a lens of pi (4 r + d) (2 r - d)^2 / 12; two bars of radius r that cross square
    share 16 r^3 / 3 (Steinmetz; Weisstein, CRC Encyclopedia of Mathematics)."""
    r, apart = 10.0, 12.0
    ball, bar = family.part("Ball"), family.part("Bar")
    half = ball.sketch("Half", on="front")
    half.draw("a half", lambda d: (d.arc((0, 0), (0, -r), (0, r)), d.line((0, r), (0, -r))))
    ball.revolve(make="Ball", regions=half.region(), axis="z", name="Turn")
    section = bar.sketch("Section")
    section.circle((0, 0), diameter="8 mm")
    bar.extrude(make="Bar", regions=section.region(), far=("both", "40 mm"))
    for part, name, placement, volume in (
        ("Ball", "Lens", rigid.shift(apart, 0, 0), math.pi * (4 * r + apart) * (2 * r - apart) ** 2 / 12),
        ("Bar", "Crossing", (1.0, 0, 0, 0, 0, 0.0, -1.0, 0, 0, 1.0, 0.0, 0, 0, 0, 0, 1.0), 16 * 4**3 / 3),
        ("Ball", "Touching", rigid.shift(2 * r, 0, 0), 0.0),
    ):
        whole = family.assembly(name)
        whole.place(part, "First")
        whole.place(part, "Second", tuple(float(c) for c in placement))
        found = family.report(name, size="S")["documents"][name]["configurations"]["S"]["alternates"]["default"]
        assert found["interference_mm3"] == pytest.approx(volume, rel=1e-6, abs=1e-9)


def test_the_parts_list_counts_uses_and_tells_two_alternates_apart(family, gate):
    gate.place("Leaf", "Second leaf", rigid.shift(0, 200, 0))
    evaluation = family.evaluate(("Gate",), "S")
    lists = {name: parts.flat(evaluation, gate.in_alternate(name).at) for name in ("Open", "Pillar, open")}
    assert [(line.name, line.quantity) for line in lists["Open"]] == [("Post", 1), ("Leaf", 2)]
    differing = parts.differences(lists["Open"], lists["Pillar, open"])
    assert [(old and old.name, new and new.name) for old, new in differing] == [("Post", None), (None, "Pillar")]
    whole = family.assembly("Two gates")
    whole.place("Gate", "Left")
    whole.place("Gate", "Right", rigid.shift(500, 0, 0))
    whole.fill("Right", "Gate", alternate="Post alone")
    evaluation = family.evaluate(("Two gates",), "S")
    nested = parts.nested(evaluation, whole.at)
    assert [(n.depth, n.name, n.alternate, n.quantity) for n in nested] == [
        (0, "Gate", "Shut", 1), (1, "Post", "", 1), (1, "Leaf", "", 2),
        (0, "Gate", "Post alone", 1), (1, "Post", "", 1), (1, "Leaf", "", 1),
    ]  # fmt: skip


def test_a_limit_that_is_passed_is_told_where_it_is_and_nothing_else_stops(family, gate):
    gate.drive("Hinge", "130 deg", "Open")
    found = [e for e in family.check()["attention"] if e["where"].startswith("Gate / Hinge")]
    assert [e["what"] for e in found] == ["it stands at 130 deg, its limit is 120 deg"]
    assert "Open" in found[0]["where"] and "Shut" not in found[0]["where"]
    assert told(family, "Open")["joints"][0]["value"] == 130


def test_one_parameter_of_the_assembly_picks_the_size_of_what_fills_a_place(family, gate):
    gate.parameter("span", "90 mm")
    gate.fill("Leaf", "Leaf", choose="pick(span > 85 mm, L, S)")
    assert told(family, "Shut")["instances"][1]["configuration"] == "L"
    gate.apply("span", lambda f: edits.set_value(f, gate.id, gate.record.parameters[0].id, "80 mm", ""))
    assert told(family, "Shut")["instances"][1]["configuration"] == "S"


def test_deleting_rows_hands_down_what_they_said_and_the_last_one_leaves_a_plain_assembly(family, gate):
    keys = {r.name: r.id for r in gate.record.alternates}
    before = {n: told(family, n)["instances"] for n in ("Open", "Pillar, open")}
    gate.apply("delete", lambda f: edits.delete_alternate(f, gate.id, keys["Open"]))
    assert told(family, "Pillar, open")["instances"] == before["Pillar, open"]
    assert [r.parent for r in gate.record.alternates] == ["", keys["Shut"], ""]
    for name in ("Shut", "Post alone"):
        gate.apply("delete", lambda f, n=name: edits.delete_alternate(f, gate.id, keys[n]))
    gate.apply("delete", lambda f: edits.delete_alternate(f, gate.id, keys["Pillar, open"]))
    record = gate.record
    assert not record.alternates and all(not i.fills and not i.stands for i in record.instances)
    assert record.bonds[0].own == {}
    assert told(family, "default")["instances"] == [{**i, "alternate": None} for i in before["Pillar, open"]]
    for _ in range(4):
        family.undo()
    assert {r.name for r in gate.record.alternates} == set(keys)


def test_a_copy_says_the_same_and_renames_change_nothing(family, gate):
    keys = {r.name: r.id for r in gate.record.alternates}
    gate.apply("copy", lambda f: edits.duplicate_alternate(f, gate.id, keys["Pillar, open"], "Pillar, shut")[0])
    gate.drive("Hinge", "0 deg", "Pillar, shut")
    assert [r.name for r in gate.record.alternates] == ["Shut", "Open", "Pillar, open", "Pillar, shut", "Post alone"]
    copied = told(family, "Pillar, shut")
    assert [i["document"] for i in copied["instances"]] == ["Pillar", "Leaf"] and copied["joints"][0]["value"] == 0
    stands = gate.in_alternate("Open").stands()
    gate.apply("rename", lambda f: edits.change_alternate(f, gate.id, keys["Open"], name="Wide open"))
    assert gate.in_alternate("Wide open").stands() == stands


def test_what_cannot_be_is_a_sentence_and_changes_nothing(family, gate):
    keys = {r.name: r.id for r in gate.record.alternates}
    outer = family.assembly("Yard")
    outer.place("Gate")
    for change, words in (
        (lambda f: edits.add_alternate(f, gate.id, "shut")[0], "another alternate"),
        (
            lambda f: edits.change_alternate(f, gate.id, keys["Shut"], parent=keys["Pillar, open"]),
            "would follow itself",
        ),
        (lambda f: edits.set_fill(f, gate.id, gate.record.instances[0].id, Fill(document=outer.id)), "contains this"),
        (
            lambda f: edits.set_fill(f, gate.id, gate.record.instances[0].id, Fill(document=family["Sizes"].id)),
            "cannot be placed",
        ),
        (lambda f: edits.set_bond_value(f, gate.id, gate.record.bonds[0].id, "slide", "3 mm"), "takes no slide"),
        (lambda f: edits.set_bond_value(f, gate.id, gate.record.bonds[0].id, "turn", "3 mm"), "angle"),
    ):
        before = family.family
        with pytest.raises(a.UserFault, match=words):
            gate.apply("try", change)
        assert family.family is before
    with pytest.raises(a.UserFault, match="there are Shut, Open"):
        gate.in_alternate("Ajar")


def test_an_alternate_that_is_deleted_while_it_is_used_is_named_with_a_mend(family, gate):
    keys = {r.name: r.id for r in gate.record.alternates}
    yard = family.assembly("Yard")
    yard.place("Gate")
    yard.fill("Gate", "Gate", alternate="Open")
    assert edits.users_of_alternate(family.family, gate.id, keys["Open"]) == ["Yard / Gate"]
    gate.apply("delete", lambda f: edits.delete_alternate(f, gate.id, keys["Open"]))
    (item,) = [e for e in family.check()["attention"] if e["where"].startswith("Yard")]
    assert item["what"] == "the alternate that it takes is gone" and item["mend"] == "choose another one"
    family.undo()
    assert not [e for e in family.check()["attention"] if e["where"].startswith("Yard")]


def test_places_are_found_by_name_on_what_comes_in_and_named_where_there_is_none(family, gate):
    """A rule holds to a datum of the post; the pillar has one of that name, a plate has not."""
    block(family, "Plate", "90 mm", "90 mm", "5 mm")
    plate = family["Plate"]
    plate.apply("delete", lambda f: edits.delete_item(f, plate.id, plate.operation("Pin plane").record.id))
    gate.bond("flush", ("Post", "Pin plane"), ("Leaf", "Pin plane"), "Level", offset="7 mm")
    gate.drive("Hinge", "", "")
    gate.fill("Post", "Pillar", where="Pillar, open")
    for name in ("Shut", "Pillar, open"):
        assert told(family, name)["status"] == "failing"  # the hinge holds the height already: 7 mm is a contradiction
    gate.drive("Level", "0 mm")
    for name in ("Shut", "Pillar, open"):
        assert told(family, name)["status"] == "ok"
    gate.fill("Post", "Plate", where="Shut")
    (item,) = [e for e in family.check()["attention"] if "no place" in e["what"]]
    assert item["what"] == "Level has no place on Plate" and "pick the place there" in item["mend"]


def test_alternates_are_saved_and_read_again(family, gate, tmp_path):
    family.save(tmp_path / "gates")
    with a.open(tmp_path / "gates") as again:
        assert again["Gate"].record == gate.record
        record = again["Gate"].record
        assert record.bonds[0].own == {
            record.alternates[1].id: BondValues(turn=record.bonds[0].own[record.alternates[1].id].turn)
        }


def test_impact_names_the_alternate_in_which_a_figure_changes(family, gate):
    found = family.impact(
        lambda f: edits.set_bond_value(
            f, gate.id, gate.record.bonds[0].id, "turn", "80 deg", gate.record.alternates[1].id
        )
    )
    placed = {(e["configuration"], e["alternate"]) for e in found["changed"] if e["quantity"] == "Leaf: placement"}
    assert placed == {(size, name) for size in ("S", "L") for name in ("Open", "Pillar, open")}
    assert "Gate" not in found["unchanged"] and "Post" in found["unchanged"]


def test_a_motion_finds_the_first_touch_and_a_point_travels_on_its_circle(family, gate):
    """The leaf lies clear of the post until it stands square to its face, at 90 degrees; its tip goes on a circle of 80 mm."""
    moved = gate.in_alternate("Open").motion("Hinge", 120, 40, count=9)
    assert [s.interference > 0 for s in moved.stills] == [False] * 4 + [True] * 5
    assert math.degrees(moved.first) == pytest.approx(90, abs=2e-3) and moved.first <= moved.clear
    leaf = gate.record.instances[1].id
    tips = motion.travel(moved, leaf, (80, 0, 0))
    for still, tip in zip(moved.stills, tips, strict=True):
        assert tip == pytest.approx((80 * math.cos(still.value), 80 * math.sin(still.value), 0), abs=1e-7)
    assert gate.record.bonds[0].own[gate.record.alternates[1].id].turn.text == "90 deg"  # nothing is stored


def test_27_results_cost_no_more_than_what_differs(family, gate):
    """Alternates that differ in pose alone make no shape anew: only boxes, and how bodies lie to each other, are looked at."""
    family.evaluate()
    counted = []
    submit = family.engine.pool.submit

    def noted(key, kind, *rest):
        counted.append(kind)
        return submit(key, kind, *rest)

    gate.alternate("Ajar", follows="Shut")
    gate.drive("Hinge", "25 deg", "Ajar")
    family.engine.evaluator.executor.submit = noted
    try:
        found = family.evaluate()
    finally:
        family.engine.evaluator.executor.submit = submit
    assert set(counted) <= {"box", "clash"} and len(counted) <= 4  # in two sizes
    assert told(family, "Ajar")["joints"][0]["value"] == 25 and found is not None


def test_a_forked_instance_keeps_its_joints_and_shares_nothing(family, gate):
    before = told(family, "Open")
    gate.bond("flush", ("Post", "Pin plane"), ("Leaf", "Pin plane"), "Level")
    fork = gate.fork("Leaf", "Leaf, pierced")
    assert [i["document"] for i in told(family, "Open")["instances"]] == ["Post", "Leaf, pierced"]
    assert told(family, "Open")["status"] == "ok" and told(family, "Open")["mass_g"] == before["mass_g"]
    hole = fork.sketch("Hole")
    hole.circle((40, 5), diameter="4 mm")
    fork.extrude(cut="Leaf", regions=hole.region(), far="50 mm", name="Pierce")
    lost = math.pi * 4 * 50 / 1000
    assert told(family, "Open")["mass_g"] == pytest.approx(before["mass_g"] - lost, rel=1e-9)
    assert family["Leaf"].body("Leaf").volume == pytest.approx(80 * 10 * 50)
    with pytest.raises(a.UserFault, match="another document"):
        gate.fork("Post", "Leaf")


def test_alternates_are_named_by_what_their_cells_show(family, gate):
    gate.name_alternates("{Post} {Hinge} deg")
    names = [a.name for a in gate.record.alternates]
    assert names == ["Post 0.0 deg", "Post 90.0 deg", "Pillar 90.0 deg", "Post — deg"]
    before = family.family
    for pattern, why in (
        ("{Post}", "another alternate is called"),
        ("{Nothing}", "no column “Nothing”"),
        ("Row", "names no column"),
    ):
        with pytest.raises(a.UserFault, match=why):
            gate.name_alternates(pattern)
    assert family.family is before


def test_a_face_is_found_on_what_comes_in_by_what_it_looked_like_or_is_told(family, gate):
    """A lid on the post's top; a pillar that comes in has a top of its own, another size and as high: it is the nearest flat
    face that looks up. Two towers of one height leave it open, and the joint says so."""
    lid = block(family, "Lid", "20 mm", "20 mm", "4 mm")
    towers = family.part("Towers")
    for name, x in (("Left", -20), ("Right", 20)):
        outline = towers.sketch(f"{name} outline")
        outline.rectangle("20 mm", "20 mm", at=(x, 0))
        towers.extrude(make=name, regions=outline.region(), far="60 mm", name=name)
    stand = family.assembly("Stand")
    stand.place("Post")
    stand.place("Lid")
    stand.fix("Post")
    top = family["Post"].body("Post").face(normal="+z")
    stand.bond("against", ("Post", top), ("Lid", lid.body("Lid").face(normal="-z")), "Lies on top")
    for name, filler in (("On the post", "Post"), ("On the pillar", "Pillar"), ("On towers", "Towers")):
        stand.alternate(name)
        if filler != "Post":
            stand.fill("Post", filler, where=name)
    report = family.report("Stand", size="S")["documents"]["Stand"]["configurations"]["S"]["alternates"]
    for name in ("On the post", "On the pillar"):
        assert report[name]["instances"][1]["placement"][11] == pytest.approx(60) and report[name]["status"] == "ok"
    told_ = [p for p in family.report("Stand")["attention"] if "On towers" in str(p) or "Towers" in p["what"]]
    assert any("has no place on Towers" in p["what"] for p in told_)
