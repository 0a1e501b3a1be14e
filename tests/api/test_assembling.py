"""Instances placed by joints and rules, in every size: boxes in closed form, a hinge, a conflict, what is stored."""

import math

import pytest

import architectonic as a
from architectonic.base import rigid
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.propagate.targets import all_scopes
from architectonic.propagate.whole import evaluate_scopes
from architectonic.session.assembly import surroundings
from architectonic.session.model.entries import entries
from architectonic.session.picking.subject import Subject

pytestmark = pytest.mark.kernel


@pytest.fixture
def family(store):
    with a.new("Hinged", sizes=("S", "L"), store=store) as opened:
        yield opened


@pytest.fixture
def gate(family):
    """A post 20 x 20 x 60 and a leaf 80 x 10 x 50 (100 in L), each with a hole of 6 mm for the pin, and both placed."""
    sizes = family.table("Sizes")
    sizes.parameter("wide", "80 mm", L="100 mm")
    sizes.parameter("open", "30 deg", L="75 deg", quantity="angle")
    for name, w, d, h, at in (
        ("Post", "20 mm", "20 mm", "60 mm", (10, 10)),
        ("Leaf", "Sizes.wide", "10 mm", "50 mm", (5, 5)),
    ):
        part = family.part(name)
        outline = part.sketch("Outline")
        outline.rectangle(w, d)
        outline.circle(at, diameter="6 mm")
        part.extrude(make=name, regions=outline.region(), far=h, name="Block")
    whole = family.assembly("Gate")
    whole.place("Post")
    whole.place("Leaf")
    whole.fix("Post")
    return whole


def bore(family, name):
    return family[name].body(name).face(kind="cylinder")


def test_a_hinge_turns_by_its_value_in_every_size(family, gate):
    """The leaf's bore stands on the post's, 10 mm up its axis, turned by what the table says."""
    gate.bond("revolute", ("Post", bore(family, "Post")), ("Leaf", bore(family, "Leaf")), "Hinge", turn="Sizes.open")
    for size, wide, opened in (("S", 80, 30), ("L", 100, 75)):
        stands = gate.in_size(size).stands()["Leaf"]
        t = math.radians(opened)
        assert math.degrees(math.atan2(stands[4], stands[0])) == pytest.approx(opened, abs=1e-9)
        assert rigid.moved(stands, (5, 5, 0))[:2] == pytest.approx((10, 10), abs=1e-9)
        told = family.report("Gate", size=size)["documents"]["Gate"]["configurations"][size]["alternates"]["default"]
        corners = [rigid.moved(stands, (x, y, z)) for x in (0, wide) for y in (0, 10) for z in (0, 50)]
        high = max(p[1] for p in corners)
        assert told["box_mm"][4] == pytest.approx(max(high, 20), abs=1e-6) and t
        assert told["instances"][1]["placement"] == pytest.approx(list(stands))


def test_rules_bring_an_instance_to_its_place_and_a_contradiction_is_named(family, gate):
    """The leaf lies on the post's top, its bore over the post's: 60 mm up. A distance of 5 mm cannot be true as well."""
    post, leaf = family["Post"], family["Leaf"]
    top, bottom = post.body("Post").face(normal="+z"), leaf.body("Leaf").face(normal="-z")
    gate.bond("coaxial", ("Post", bore(family, "Post")), ("Leaf", bore(family, "Leaf")), "Pin")
    gate.bond("against", ("Post", top), ("Leaf", bottom), "On top")
    stands = gate.stands()["Leaf"]
    assert rigid.moved(stands, (5, 5, 0)) == pytest.approx((10, 10, 60), abs=1e-9)
    node = Node("mobility", gate.at, "")
    assert gate.opened.known(node).value(node).freedoms == 1  # it still turns about the pin
    gate.bond("offset", ("Post", top), ("Leaf", bottom), "5 mm above", offset="5 mm")
    with pytest.raises(a.UserFault, match=r"cannot all be true: On top, 5 mm above"):
        gate.stands()
    (item,) = [i for i in family.check()["attention"] if i["where"].startswith("Gate")]
    assert "On top" in item["what"] and "5 mm above" in item["what"]
    family.undo()
    assert gate.stands()["Leaf"] == stands


def test_rows_say_how_instances_stand_and_neighbours_are_seen_where_joints_place_them(family, gate):
    """Rows of Made of, and the post's neighbour as it is seen behind the post."""
    gate.bond("revolute", ("Post", bore(family, "Post")), ("Leaf", bore(family, "Leaf")), "Hinge", turn="Sizes.open")
    evaluation = evaluate_scopes(family.engine.evaluator, family.family, all_scopes(family.family))
    rows = entries(Subject(family.family, gate.at, evaluation), set())
    assert [r.text for r in rows] == ["Post, fixed", "Leaf, held by Hinge", "Hinge: Leaf turns about Post"]
    stood = surroundings.as_evaluated(evaluation)
    (leaf,) = surroundings.looks_behind(family.family, family["Post"].id, gate.id, gate.at.configuration, stood)
    assert leaf.stands == pytest.approx(gate.stands()["Leaf"])


def test_what_cannot_be_bonded_is_a_sentence(family, gate):
    hole = bore(family, "Post")
    for kind, ends, values, told in (
        ("welded", (("Post", hole), ("Leaf", "top")), {}, "no joint or rule"),
        ("flush", (("Post", "top"), ("Post", "top")), {}, "on one instance"),
        ("flush", (("Post", "top"), ("Gate", "top")), {}, "not placed here"),
        ("coaxial", (("Post", hole), ("Leaf", "z")), {"offset": "3 mm"}, "takes no offset"),
        ("flush", (("Post", "top"), ("Leaf", "top")), {"offset": "3 kg"}, "length"),
        ("screw", (("Post", hole), ("Leaf", "z")), {}, "needs its lead"),
    ):
        before = family.family
        with pytest.raises(a.UserFault, match=told):
            gate.bond(kind, *ends, **values)
        assert family.family is before


def test_bonds_are_saved_follow_renames_and_lose_what_is_deleted(family, gate, tmp_path):
    gate.bond("revolute", ("Post", bore(family, "Post")), ("Leaf", bore(family, "Leaf")), "Hinge", turn="Sizes.open")
    stands = gate.stands()
    family.save(tmp_path / "gate")
    with a.open(tmp_path / "gate") as again:
        assert again["Gate"].stands() == stands
        sizes = edits.find_document(again.family, "Sizes")
        opened = next(p for p in sizes.parameters if p.name == "open")
        again["Sizes"].apply("rename", lambda f: edits.rename_item(f, sizes.id, opened.id, "swing"))
        assert again["Gate"].stands() == stands
        leaf = edits.find_document(again.family, "Gate").instances[1]
        again["Gate"].apply("delete", lambda f: edits.delete_item(f, again["Gate"].id, leaf.id))
        with pytest.raises(a.UserFault, match="not placed any more"):
            again["Gate"].stands()
