"""Operations carried to other documents: what they bring along, what is named from there, what is to be filled."""

import pytest
from tests.support.solids import Bench, close

from architectonic.base.errors import UserFault
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.operations.bodies.split import Split
from architectonic.family.operations.edges.fillet import Fillet
from architectonic.family.operations.solids.draft import Draft
from architectonic.family.operations.solids.extrude import Distance, Extrude
from architectonic.family.records import Reference
from architectonic.family.scopes import Scope
from architectonic.session.model import carrying

pytestmark = pytest.mark.kernel


@pytest.fixture
def bench(engine):
    return Bench(engine)


def volumes_of(bench, key):
    evaluation = bench.settle()
    state = evaluation.value(Node("finished", Scope(key, "default"), ""))
    document = bench.family.documents[key]
    return {
        document.bodies[b].name: evaluation.value(Node("measure", Scope(key, "default"), b))["volume_mm3"]
        for b in (b.id for b in state.bodies)
    }


def test_a_block_comes_with_its_sketch_and_its_body_and_keeps_the_value_it_names(bench):
    bench.parameter(bench.key, "high", "12 mm")
    extrude = edits.operation(bench.family, bench.key, bench.made)
    bench.family = edits.replace_operation(
        bench.family, bench.key, edits.replace(extrude, far=Distance(value=bench.e("high")))
    )
    text = carrying.cut_out(bench.family, bench.key, bench.made, {})
    other = bench.part("Other")
    bench.family, made, left = carrying.paste(bench.family, other, text)
    assert len(made) == 2 and not left and carrying.is_carried(text)
    assert volumes_of(bench, other) == {"Block body": close(80 * 50 * 12)}
    value = bench.family.documents[bench.key].parameters[0].id
    bench.family = edits.set_value(bench.family, bench.key, value, "20 mm")
    assert volumes_of(bench, other) == {"Block body": close(80 * 50 * 20)}  # named from there, it follows
    bench.family, again, _ = carrying.paste(bench.family, other, text)
    names = [o.name for o in bench.family.documents[other].build]
    assert len(set(names)) == 4 and not set(made) & set(again)
    assert len(volumes_of(bench, other)) == 2


def test_edges_are_to_be_picked_again_and_say_so(bench):
    bench.store(Fillet(id="f1", name="Round", edges=(bench.upright(0), bench.upright(1)), radius=bench.e("3 mm")))
    text = carrying.cut_out(bench.family, bench.key, "f1", {})
    other = bench.part("Other")
    bench.block(other, "Second", body="b7")
    bench.family, (key,), left = carrying.paste(bench.family, other, text)
    assert left == ["Round: an edge is to be picked"] * 2
    made = edits.operation(bench.family, other, key)
    assert made.edges == () and made.radius.text == "3 mm"
    told = bench.settle().outcomes[Node("state", Scope(other, "default"), key)].problem
    assert told.what == "has no edge" and volumes_of(bench, other) == {"Second body": close(40000)}


def test_planes_and_bodies_that_stay_behind_have_stand_ins(bench):
    plane = bench.plane("Half", "5 mm")
    bench.store(Split(id="p", name="Halves", acts_on=("b1",), by=plane))
    bench.store(
        Draft(
            id="d", name="Tilt", faces=(bench.face("end"),), plane=bench.face("start"), angle=bench.e("2 deg", "angle")
        )
    )
    other = bench.part("Other")
    bench.block(other, "Second", body="b7")
    bench.family, made, left = carrying.paste(bench.family, other, carrying.cut_out(bench.family, bench.key, "p", {}))
    split = edits.operation(bench.family, other, made[-1])
    assert split.acts_on == ("b7",) and left == ["Block body is not here: it acts on Second body"]
    assert list(volumes_of(bench, other).values()) == [close(20000)] * 2  # the datum came along
    bench.family, (key,), left = carrying.paste(bench.family, other, carrying.cut_out(bench.family, bench.key, "d", {}))
    tilt = edits.operation(bench.family, other, key)
    assert tilt.plane == Reference(item="top") and tilt.faces == () and len(left) == 2


def test_what_cannot_go_there_is_refused(bench):
    layout_family, layout = edits.add_document(bench.family, "layout", "Plan")
    text = carrying.cut_out(bench.family, bench.key, bench.made, {})
    with pytest.raises(UserFault, match="no solids"):
        carrying.paste(layout_family, layout, text)
    stranger = edits.new_family("Elsewhere")
    stranger, part = edits.add_document(stranger, "part", "Part")
    with pytest.raises(UserFault, match="another family"):
        carrying.paste(stranger, part, text)
    with pytest.raises(UserFault, match="no operations"):
        carrying.paste(bench.family, bench.key, "hello")


def test_a_copy_in_the_same_list_acts_on_the_same_body(bench):
    region = bench.circle("Disc", (40.0, 25.0), 5.0)
    bench.store(
        Extrude(
            id="c", name="Hole", does="cut", acts_on=("b1",), regions=(region,), far=Distance(value=bench.e("4 mm"))
        )
    )
    before = bench.volumes()["Block body"]
    bench.family, made, left = carrying.paste(
        bench.family, bench.key, carrying.cut_out(bench.family, bench.key, "c", {})
    )
    assert not left and [type(edits.operation(bench.family, bench.key, k)).__name__ for k in made] == [
        "Sketch",
        "Extrude",
    ]
    hole = edits.operation(bench.family, bench.key, made[-1])
    bench.family = edits.replace_operation(
        bench.family, bench.key, edits.replace(hole, far=Distance(value=bench.e("10 mm")))
    )
    assert (
        bench.volumes()["Block body"] == close(40000 - 3.141592653589793 * 250)
        and before > bench.volumes()["Block body"]
    )
