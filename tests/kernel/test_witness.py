"""Convexity and kinds of edges and faces on shapes whose answers are known by construction."""

import pytest
from tests.support.makers import block, extrude, make, square

from architectonic.describe.operations.edges.fillet import FilletInput
from architectonic.describe.references.witness import Candidate, disagreement, ranked
from architectonic.family.records import Witness
from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors
from architectonic.kernel.shapes.witness import convexity, edge_facts, edge_kind, face_facts, face_kind
from architectonic.kernel.solids import blends


def kinds(body):
    around = dict(ancestors(body.shape, EDGE, FACE))
    return {label: convexity(edge, around[edge]) for label, edge in body.edges.items()}


def test_all_twelve_edges_of_a_block_are_convex():
    found = kinds(block())
    assert len(found) == 12 and set(found.values()) == {"convex"}


def test_inner_corners_are_concave_and_they_alone():
    half = make("extrude", extrude(square(60, 10, -20, "d"), "cut", 5.0, 11.0, operation="o2"), [block()])[1]["b"]
    notch = make("extrude", extrude(square(10, -1, -1, "d"), "cut", 5.0, 11.0, operation="o2"), [block()])[1]["b"]
    # a notch at a corner of the block: two walls and a floor, so three concave edges meet in its inner corner
    assert list(kinds(notch).values()).count("concave") == 3
    # cut off over the whole width: one wall stands on one floor
    assert list(kinds(half).values()).count("concave") == 1


def test_a_round_meets_its_neighbours_smoothly():
    body = block()
    label = next(iter(body.edges))
    rounded = blends.fillet(body, {label: body.edges[label]}, 2.0, "o3")
    found = kinds(rounded)
    assert list(found.values()).count("smooth") == 2
    assert sorted(face_kind(f) for f in rounded.face_list) == ["cylinder"] + ["plane"] * 6
    assert sorted({edge_kind(e) for e in rounded.edges.values()}) == ["circle", "line"]


def test_a_witness_rejects_another_kind_convexity_or_neighbours_and_nothing_else():
    body = block()
    around = dict(ancestors(body.shape, EDGE, FACE))
    edge = next(iter(body.edges.values()))
    facts = edge_facts(body, edge, around[edge])
    seen = Witness(kind=facts.kind, convex=facts.convex, neighbours=facts.neighbours, at=(1e6, 0, 0), size=1e6)
    assert disagreement(seen, facts.kind, facts.convex, facts.neighbours) == ""
    assert disagreement(None, "circle", "concave", ()) == ""
    assert "circle" in disagreement(seen, "circle", facts.convex, facts.neighbours)
    assert "concave" in disagreement(seen, facts.kind, "concave", facts.neighbours)
    assert "neighbours" in disagreement(seen, facts.kind, facts.convex, ("o9:side:z", "o9:end"))
    rounded = tuple(f"o3:blend:({n}|o9:end)" for n in facts.neighbours)
    assert disagreement(seen, facts.kind, facts.convex, rounded) == ""


def test_a_face_knows_its_four_neighbours():
    body = block()
    for face in body.face_list:
        facts = face_facts(body, face)
        assert facts.kind == "plane" and len(facts.neighbours) == 4


def test_candidates_are_ranked_by_nearness():
    near, far = (Candidate(k, 1, "plane", (x, 0.0, 0.0)) for k, x in (("near", 1.0), ("far", 9.0)))
    seen = Witness(kind="plane", at=(0.0, 0.0, 0.0))
    assert ranked(seen, [far, near]) == ["near", "far"]
    assert ranked(None, [near, far]) == ["far", "near"]  # by name, when nothing is known
    assert ranked(seen, [near._replace(kind="cylinder"), far]) == [
        "far",
        "near",
    ]  # what is of the same kind is likelier
    assert ranked(seen, [near, far._replace(kind="cylinder", shared=2)]) == ["far", "near"]  # so is what shares more


def test_a_fillet_refuses_an_edge_that_turned_concave():
    from architectonic.describe import recipes
    from architectonic.make.fault import MakeFault

    body = block()
    label = next(iter(body.edges))
    good = recipes.Wanted(label, Witness(kind="line", convex="convex"))
    bad = recipes.Wanted(label, Witness(kind="line", convex="concave"))
    names, _ = make("fillet", FilletInput(operation="o3", radius=1.0, edges=(("b", (good,)),)), [body])
    assert names == ["b"]
    with pytest.raises(MakeFault) as caught:
        make("fillet", FilletInput(operation="o3", radius=1.0, edges=(("b", (good, bad)),)), [body])
    problem = caught.value.problem
    assert problem.severity == "missing" and "was concave" in problem.what and problem.candidates[0] == label
