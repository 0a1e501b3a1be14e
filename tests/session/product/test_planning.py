"""The plan of a product: a tree of empty, numbered parts; common frames; parts started in place."""

import pytest

from architectonic.base.errors import UserFault
from architectonic.check.report import report
from architectonic.describe.references.planes import in_space
from architectonic.describe.results import Node
from architectonic.family import edits, scopes
from architectonic.family.operations.solids.extrude import Extrude
from architectonic.family.records import Datum, OffsetPlane, Reference, Sketch
from architectonic.family.scopes import Scope
from architectonic.propagate.targets import Look, all_scopes
from architectonic.propagate.whole import evaluate_scopes
from architectonic.session.assembly import surroundings
from architectonic.session.feeds.feeding import Offer
from architectonic.session.picking import picked
from architectonic.session.product import planning
from architectonic.session.product.planning import Start


@pytest.fixture
def top():
    family = edits.new_family("Trial", ("S", "M"))
    family, layout = edits.add_document(family, "layout", "Frame")
    family, key = edits.add_document(family, "assembly", "Light")
    family = planning.set_number(family, key, "BRL")
    return surroundings.take_whole(family, key, layout), key, layout


def plan(family, top):
    return [(line.depth, line.name, line.number, line.kind) for line in planning.lines(family, top)]


def test_a_tree_is_planned_numbered_and_rearranged(top):
    family, key, _ = top
    family, _ = planning.add(family, key, "part", "Foot")
    family, head = planning.add(family, key, "assembly", "Head")
    family, _ = planning.add(family, head, "part", "Bezel")
    family, _ = planning.add(family, key, "part", "Stem", before=family.documents[key].instances[1].id)
    assert plan(family, key) == [
        (0, "Foot", "BRL-01", "part"), (0, "Stem", "BRL-03", "part"),
        (0, "Head", "BRL-02", "assembly"), (1, "Bezel", "BRL-02-01", "part"),
    ]  # fmt: skip
    bezel = family.documents[head].instances[0].id
    family = planning.outdent(family, key, head, bezel)
    assert [p[:2] for p in plan(family, key)] == [(0, "Foot"), (0, "Stem"), (0, "Head"), (0, "Bezel")]
    family = planning.indent(family, key, bezel)
    assert [p[:2] for p in plan(family, key)][-1] == (1, "Bezel")
    family = planning.shift(family, key, family.documents[key].instances[2].id, -1)
    assert [p[1] for p in plan(family, key)] == ["Foot", "Head", "Bezel", "Stem"]


def test_an_empty_part_becomes_an_assembly_when_something_is_put_into_it(top):
    family, key, _ = top
    family, arm = planning.add(family, key, "part", "Arm")
    family, tube = planning.add(family, key, "part", "Tube")
    instance = family.documents[key].instances[1].id
    family = planning.indent(family, key, instance)
    assert family.documents[arm].kind == "assembly" and family.documents[arm].number == "BRL-01"
    assert [i.document for i in family.documents[arm].instances] == [tube]
    with pytest.raises(UserFault, match="stands below it"):
        planning.move(family, key, family.documents[key].instances[0].id, arm)
    with pytest.raises(UserFault, match="nothing above it"):
        planning.indent(family, key, family.documents[key].instances[0].id)
    with pytest.raises(UserFault, match="at the top already"):
        planning.outdent(family, key, key, family.documents[key].instances[0].id)


def test_numbers_are_never_twice_and_names_follow_their_instances(top):
    family, key, _ = top
    family, a = planning.add(family, key, "part", "A")
    family, b = planning.add(family, key, "part", "B")
    with pytest.raises(UserFault, match="A has the number"):
        planning.set_number(family, b, "brl-01")
    family = planning.rename(family, a, "Bezel")
    assert family.documents[key].instances[0].name == "Bezel"


def test_new_entries_take_the_common_frame_and_it_weighs_nothing(top, engine):
    family, key, layout = top
    family, part = planning.add(family, key, "part", "Foot")
    assert surroundings.frames_of(family, part) == [layout]
    with pytest.raises(UserFault, match="takes it whole already"):
        surroundings.take_whole(family, part, layout)
    with pytest.raises(UserFault, match="only a layout"):
        surroundings.take_whole(family, key, part)
    data = report(evaluate_scopes(engine.evaluator, family, all_scopes(family)))
    assert not data["attention"]
    light = data["documents"]["Light"]["configurations"]["S"]
    assert light["alternates"]["default"]["mass_g"] is None and light["feeds"][0]["state"] == "live"
    family = edits.delete_document(family, layout)
    data = report(evaluate_scopes(engine.evaluator, family, all_scopes(family)))
    assert {e["where"].split(" / ")[0] for e in data["attention"]} == {"Light", "Foot"}


def test_progress_says_how_far_each_is(demo):
    told = {d.name: planning.progress(demo, d) for d in demo.documents.values()}
    assert told["Foot"] == "3 bodies" and "begun" in told["Light"]
    family = edits.new_family("Trial")
    family, key = edits.add_document(family, "part", "P")
    assert planning.progress(family, family.documents[key]) == "empty"


def test_a_layout_or_assembly_holds_sketches_and_datums_but_no_solids(top):
    family, key, layout = top
    family = edits.add_operation(family, key, Sketch(id="s", name="S", plane=Reference(item="top")))
    text = edits.names.bind_quantity(family, family.documents[key], "5 mm", "length", "mm")
    family = edits.add_operation(
        family, key, Datum(id="d", name="D", by=OffsetPlane(plane=Reference(item="top"), distance=text))
    )
    from architectonic.family.operations.solids.extrude import Distance

    for document in (key, layout):
        solid = Extrude(id="e", name="E", does="make", regions=(), acts_on=("b",), far=Distance(value=text))
        with pytest.raises(UserFault, match="no solids" if document == layout else "it makes none"):
            edits.add_operation(family, document, solid)


@pytest.mark.kernel
def test_a_part_started_on_a_neighbours_face_follows_it_and_has_no_other_relation(demo, engine):
    light, foot = (edits.find_document(demo, n) for n in ("Light", "Foot"))
    size = demo.head.sizes[1].id
    at = scopes.scope(demo, light.id, size)
    scopes_ = all_scopes(demo)
    there = scopes.scope(demo, foot.id, size)
    evaluation = evaluate_scopes(engine.evaluator, demo, scopes_, (Look(at), Look(there)))
    body = next(iter(foot.bodies))
    from architectonic.render.camera import BodyMesh

    mesh = BodyMesh.from_result(evaluation.value(Node("mesh", there, body)))
    tops = [(p[0][2], f) for f, p in zip(mesh.faces, mesh.planes, strict=True) if p and p[1][2] > 0.9]
    height, face = max(tops)
    offer = Offer("face", face and body, face, picked.witness(mesh, "face", face))
    family, part, sketch = planning.new_part_here(demo, evaluation, at, "Cap", None, Start("", there, offer))
    made = family.documents[part]
    assert [f.name for f in made.feeds.values()] == ["Elevation whole", "start on Foot"]
    assert family.documents[light.id].instances[-1].document == part
    node = Node("frame", Scope(part, size), sketch)
    frame = evaluate_scopes(engine.evaluator, family, all_scopes(family)).value(node)
    assert frame.origin[2] == pytest.approx(height) and frame.normal == (0, 0, 1)
    taller = edits.set_value(family, edits.find_document(family, "Sizes").id,
                             next(p.id for p in edits.find_document(family, "Sizes").parameters if p.name == "foot_h"), "25 mm", "")  # fmt: skip
    frame = evaluate_scopes(engine.evaluator, taller, all_scopes(taller)).value(node)
    assert frame.origin[2] == pytest.approx(25)


def test_neighbours_of_a_part_in_an_assembly_are_what_is_seen_behind_it(demo):
    foot, light = edits.find_document(demo, "Foot"), edits.find_document(demo, "Light")
    size = demo.head.sizes[0].id
    assert surroundings.looks_behind(demo, foot.id, "", size) == []
    behind = surroundings.looks_behind(demo, foot.id, light.id, size)
    named = {demo.documents[look.at.document].name for look in behind}
    assert "Stem" in named and "Foot" not in named
    stand = edits.find_document(demo, "Stand")
    assert surroundings.assemblies_with(demo, foot.id) == [stand.id, light.id]
    clamp = edits.find_document(demo, "Desk clamp")  # it fills the place in some alternates only
    assert surroundings.assemblies_with(demo, clamp.id) == [stand.id, light.id]


@pytest.mark.kernel
def test_a_part_started_at_a_point_of_the_frame_has_its_origin_there_and_notes_the_way(demo, engine):
    """The point is the end of a line of the layout: the sketch's origin goes where the line goes."""
    light, layout = (edits.find_document(demo, n) for n in ("Light", "Elevation"))
    size = demo.head.sizes[1].id
    at, there = (scopes.scope(demo, d.id, size) for d in (light, layout))
    evaluation = evaluate_scopes(engine.evaluator, demo, all_scopes(demo))
    side = next(o for o in layout.build if isinstance(o, Sketch))
    solved = evaluation.value(Node("solve", there, side.id))
    plane = evaluation.value(Node("frame", there, side.id))
    line = next(k for k, c in solved.curves.items() if c.kind == "line" and not c.fixed and abs(c.values[3]) > 1)
    point = Start("", there, Offer("curve", side.id, line), "end")
    family, part, sketch = planning.new_part_here(demo, evaluation, at, "Cap", None, Start("top"), point)
    frame = evaluate_scopes(engine.evaluator, family, all_scopes(family)).value(
        Node("frame", Scope(part, size), sketch)
    )
    assert frame.origin == pytest.approx(in_space(plane, solved.curves[line].values[2:4]))
    assert frame.normal == (0, 0, 1)
    assert [o.name for o in family.documents[part].build] == ["Start", "Outline"]


def test_a_neighbour_seen_through_an_assembly_is_noted_with_the_way_to_it(demo):
    light, head, bezel = (edits.find_document(demo, n) for n in ("Light", "Head", "Bezel"))
    context = surroundings.context_of(demo, light.id, bezel.id)
    assert context.path[0] == light.id and len(context.path) == 3
    assert {i.id for i in light.instances if i.document == head.id} == {context.path[1]}
    assert surroundings.context_of(demo, head.id, light.id) is None
