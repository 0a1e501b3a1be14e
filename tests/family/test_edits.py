"""Edits: names that follow, bad input that changes nothing, lists of users, order of operations."""

import networkx as nx
import pytest
from hypothesis import given
from hypothesis import strategies as st

from architectonic.base.errors import UserFault
from architectonic.family import codec, edits, names
from architectonic.family.graph.reading import Place
from architectonic.family.graph.static import Graph, refuse_circle
from architectonic.family.operations.solids.extrude import Distance, Extrude
from architectonic.family.records import Part, Reference, Sketch
from architectonic.family.scopes import Scope
from architectonic.family.walk import items, pointers_in


@pytest.fixture
def family():
    made = edits.new_family("Trial", ("S", "M"))
    made, sizes = edits.add_document(made, "table", "Sizes")
    made = edits.add_parameter(made, sizes, "wall", "2 mm")
    made = edits.add_parameter(made, sizes, "foot", "10 * wall")
    made, part = edits.add_document(made, "part", "Foot")
    return edits.add_parameter(made, part, "rim", "Sizes.wall + Sizes.wall at M")


def parameter(family, document, name):
    found = edits.find_document(family, document)
    return found.id, next(p for p in found.parameters if p.name == name)


def test_rename_follows_everywhere_and_rewrites_nothing(family):
    sizes, wall = parameter(family, "Sizes", "wall")
    part, rim = parameter(family, "Foot", "rim")
    renamed = edits.rename_item(family, sizes, wall.id, "skin")
    renamed = edits.rename_document(renamed, sizes, "All sizes")
    assert renamed.documents[part] is family.documents[part]
    shown = names.shown_text(renamed, renamed.documents[part], rim.common)
    assert shown == "All_sizes.skin + All_sizes.skin at M"
    again = edits.set_value(renamed, part, rim.id, shown)
    assert {r.item for r in parameter(again, "Foot", "rim")[1].common.refs.values()} == {wall.id}


def test_a_deleted_source_is_shown_and_its_users_are_listed(family):
    sizes, wall = parameter(family, "Sizes", "wall")
    assert [(d.name, r.name) for d, _, r in edits.users(family, sizes, wall.id)] == [
        ("Sizes", "foot"),
        ("Foot", "rim"),
    ]
    gone = edits.delete_item(family, sizes, wall.id)
    part, rim = parameter(gone, "Foot", "rim")
    assert "⟨Sizes.wall⟩" in names.shown_text(gone, gone.documents[part], rim.common)


@pytest.mark.parametrize(
    "edit",
    [
        lambda f, s: edits.add_parameter(f, s, "WALL", "1 mm"),
        lambda f, s: edits.add_parameter(f, s, "...", "1 mm"),
        lambda f, s: edits.add_parameter(f, s, "x", "1 deg"),
        lambda f, s: edits.add_parameter(f, s, "x", "nowhere + 1 mm"),
        lambda f, s: edits.add_parameter(f, s, "x", "Sizes.wall at XL"),
        lambda f, s: edits.add_parameter(f, s, "x", "1 mm", quantity="colour"),
        lambda f, s: edits.add_document(f, "part", "foot"),
        lambda f, s: edits.delete_item(f, s, "nothing"),
        lambda f, s: edits.document(f, "nothing"),
        lambda f, s: edits.add_operation(f, s, Sketch(id="x", name="x", plane=Reference(item="top"))),
    ],
)
def test_bad_input_is_refused_in_a_sentence(family, edit):
    before = codec.encode(edits.find_document(family, "Sizes"))
    with pytest.raises(UserFault) as caught:
        edit(family, edits.find_document(family, "Sizes").id)
    assert len(caught.value.sentence) > 15
    assert codec.encode(edits.find_document(family, "Sizes")) == before


def test_a_circle_is_refused_with_its_path(family):
    sizes, wall = parameter(family, "Sizes", "wall")
    with pytest.raises(UserFault, match=r"Sizes / (wall|foot) → Sizes / (wall|foot) → Sizes"):
        refuse_circle(edits.set_value(family, sizes, wall.id, "foot / 10"))


def test_an_assembly_cannot_contain_itself(family):
    family, a = edits.add_document(family, "assembly", "A")
    family, b = edits.add_document(family, "assembly", "B")
    family = edits.add_instance(family, a, b)
    with pytest.raises(UserFault, match="contains"):
        edits.add_instance(family, b, a)


def test_an_operation_cannot_move_before_what_it_takes_from(family):
    part = edits.find_document(family, "Foot").id
    family = edits.add_operation(family, part, Sketch(id="s1", name="Outline", plane=Reference(item="top")))
    far = Distance(value=names.bind_quantity(family, family.documents[part], "5 mm", "length", "mm"))
    block = Extrude(
        id="o1",
        name="Block",
        does="make",
        acts_on=("b1",),
        regions=(Reference(item="s1", label="+c"),),
        far=far,
    )
    family = edits.add_operation(family, part, block)
    with pytest.raises(UserFault, match="must stay after"):
        edits.move_operations(family, part, ("s1",))
    assert isinstance(family.documents[part], Part)


def test_reach_is_the_closure_of_the_graph(demo):
    """Oracle: descendants by networkx 3.6.1 on the same edges."""
    graph = Graph(demo)
    oracle = nx.DiGraph([(read, place) for place, reads in graph.reads.items() for read in reads])
    for place in list(graph.reads)[::7]:
        expected = {place} | (nx.descendants(oracle, place) if place in oracle else set())
        assert graph.reach([place]) == expected
    assert nx.is_directed_acyclic_graph(oracle) and graph.circle() == []


def test_reach_of_one_size_stays_in_that_size(demo):
    sizes = edits.find_document(demo, "Sizes")
    wall = next(p for p in sizes.parameters if p.name == "wall")
    reached = Graph(demo).reach([Place(Scope(sizes.id, demo.head.sizes[1].id), wall.id)])
    assert {demo.documents[p.document].name for p in reached} == {
        "Sizes",
        "Ballast",
        "Head front",
        "Head rear",
        "Cheek L",
        "Cheek R",
        "Elbow",
        "Elbow joint",
        "Foot",
        "Collar",
        "Desk clamp",
        "Stand",
        "Light",
        "Head",
        "Bezel",
        "Diffuser",
    }
    assert {p.at.configuration for p in reached} == {demo.head.sizes[1].id}


@given(st.text(max_size=30))
def test_any_name_gives_a_usable_identifier_or_is_refused(text):
    try:
        name = names.check_name(text, [], "parameter")
    except UserFault:
        return
    key = names.identifier(name)
    assert key.isidentifier() and key not in names.RESERVED


def test_a_body_goes_with_the_operation_that_made_it(demo):
    foot = edits.find_document(demo, "Foot")
    make = next(o for o in foot.build if getattr(o, "does", "") == "make")
    after = edits.delete_item(demo, foot.id, make.id).documents[foot.id]
    assert set(foot.bodies) - set(after.bodies) == set(make.makes)
    cut = next(o for o in foot.build if getattr(o, "does", "") == "cut")
    assert edits.delete_item(demo, foot.id, cut.id).documents[foot.id].bodies == foot.bodies


def test_a_duplicate_takes_from_the_same_sources_and_goes_its_own_way(demo):
    """Everything of the copy is its own; what took from the first document still does."""
    foot = edits.find_document(demo, "Foot")
    family, copy = edits.duplicate_document(demo, foot.id, "Foot 2")
    made = family.documents[copy]
    assert made.name == "Foot 2" and [o.name for o in made.build] == [o.name for o in foot.build]
    assert family.documents[foot.id] is foot and not [u for u in pointed_at(made) if u == foot.id]
    assert set(pointed_at(foot)) - {foot.id} == set(pointed_at(made)) - {copy}
    values = [item for _, item in names.values_of(made)]
    changed = edits.set_value(family, copy, values[0].id, "50 mm")
    assert changed.documents[foot.id] is foot and changed.documents[copy] != made
    with pytest.raises(UserFault):
        edits.duplicate_document(family, foot.id, "foot 2")


def pointed_at(document):
    found = []
    for _, record in items(document):
        for p in pointers_in(record):
            found.append(getattr(p, "of", getattr(p, "document", "self")))
    return [f for f in found if f != "self"]
