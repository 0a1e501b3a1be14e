"""Lost references are shown with what they may have meant and put right with one edit; why a face is there."""

import pytest
from tests.support.models import Model, problem, volume

from architectonic.base.errors import UserFault
from architectonic.family import edits
from architectonic.family.operations.edges.fillet import Fillet
from architectonic.family.operations.solids.shell import Shell
from architectonic.family.records import Reference, Witness
from architectonic.family.scopes import Scope
from architectonic.propagate.targets import Look, all_scopes
from architectonic.propagate.whole import evaluate_scopes
from architectonic.session.model import mending
from architectonic.session.model.reasons import reasons

pytestmark = pytest.mark.kernel


@pytest.fixture
def plate(engine):
    """A block 80 x 50 x 10 with two rounds on edges that are not there (their labels name a curve that is gone)."""
    model = Model()
    part = model.part("Plate")
    model.parameter(part, "w", "80 mm")
    block, sides = model.block(part, w="w")
    lost = [f"({block}:side:gone{k}|{block}:side:{sides[k]})" for k in (0, 2)]
    edges = tuple(Reference(item="b1", stage="here", label=label, witness=Witness(kind="line", at=(80.0, 50.0 * k, 5.0)))
                  for k, label in enumerate(lost))  # fmt: skip
    model.add(part, Fillet(id="round", name="Round", edges=edges, radius=model.text(part, "2 mm")))

    def evaluate():
        scopes = all_scopes(model.family)
        return evaluate_scopes(engine.evaluator, model.family, scopes, tuple(Look(s) for s in scopes))

    return model, part, block, sides, lost, evaluate


def test_every_lost_edge_comes_with_what_it_may_have_meant_the_nearest_first(plate):
    """The witnesses stood at x = 80, in the middle of the height: the upright edges there are the nearest."""
    _, part, block, sides, lost, evaluate = plate
    found = mending.lost_in(evaluate(), Scope(part, "default"), "round")
    assert set(found) == set(lost) and problem(evaluate(), part, "round").severity == "missing"
    for k, label in zip((0, 2), lost, strict=True):
        upright = sorted((f"{block}:side:{sides[1]}", f"{block}:side:{sides[k]}"))
        assert found[label][0] == f"({upright[0]}|{upright[1]})"


def test_several_are_taken_at_once_and_have_witnesses_of_now(plate):
    model, part, _, _, _, evaluate = plate
    evaluation = evaluate()
    first = {k: v[0] for k, v in mending.lost_in(evaluation, Scope(part, "default"), "round").items()}
    model.family = mending.mend(model.family, evaluation, part, "round", first)
    after = evaluate()
    assert problem(after, part, "round") is None
    assert volume(after, part) == pytest.approx(40000 - 2 * (1 - 3.141592653589793 / 4) * 4 * 10, rel=1e-9)
    made = edits.operation(model.family, part, "round")
    assert {e.label for e in made.edges} == set(first.values())
    assert all(e.witness.convex == "convex" and len(e.witness.neighbours) == 2 for e in made.edges)
    assert mending.lost_in(after, Scope(part, "default"), "round") == {}
    with pytest.raises(UserFault, match="any more"):
        mending.mend(model.family, after, part, "round", first)


def test_a_lost_face_of_a_hollow_is_mended_too(plate):
    model, part, block, _, _, evaluate = plate
    model.family = edits.delete_item(model.family, part, "round")
    face = Reference(
        item="b1", stage="here", label=f"{block}:side:gone", witness=Witness(kind="plane", at=(40, 25, 10))
    )
    model.add(part, Shell(id="s", name="Tray", acts_on=("b1",), faces=(face,), thickness=model.text(part, "2 mm")))
    found = mending.lost_in(evaluate(), Scope(part, "default"), "s")
    assert list(found) == [face.label]
    model.family = mending.mend(model.family, evaluate(), part, "s", {face.label: f"{block}:end"})
    assert volume(evaluate(), part) == pytest.approx(40000 - 76 * 46 * 8, rel=1e-9)


def test_why_a_face_is_there_leads_from_operation_to_sketch_to_values(plate):
    model, part, block, sides, _, _ = plate
    chain = reasons(model.family, part, f"{block}:side:{sides[0]}")
    assert chain[0].relation.startswith("made by (side") and chain[0].item == block
    assert [r.relation for r in chain[1:]] == ["drawn in", "driven by"]
    assert chain[-1].words == "w" and edits.value_item(model.family, part, chain[-1].item)[2].name == "w"


def test_why_in_the_demo_leads_across_documents(demo):
    foot = edits.find_document(demo, "Foot")
    block = next(o for o in foot.build if o.name == "Foot block")
    chain = reasons(demo, foot.id, f"{block.id}:end")
    assert any(r.relation.startswith("fed by") and r.words.startswith("Elevation / ") for r in chain)
    hollow = next(o for o in foot.build if o.name == "Hollow out")
    words = [r.words for r in reasons(demo, foot.id, f"{hollow.id}:side:x")]
    assert any(w == "Sizes.wall" for w in words)


def test_why_goes_down_to_the_value_and_says_its_figure(demo):
    """The top of the foot stands where the layout's datum is, which a value of the table decides."""
    foot = edits.find_document(demo, "Foot")
    block = next(o for o in foot.build if o.name == "Foot block")
    chain = reasons(demo, foot.id, f"{block.id}:end", lambda document, item: "18 mm")
    at = next(k for k, r in enumerate(chain) if r.words == "Elevation / Foot top")
    value = next(r for r in chain[at + 1 :] if r.relation == "driven by")
    assert value.words == "Sizes.foot_h, 18 mm" and value.depth == chain[at].depth + 1
    assert value.document == edits.find_document(demo, "Sizes").id
    assert [r.depth for r in chain][:1] == [0] and max(r.depth for r in chain) <= 12
    assert len({(r.document, r.item) for r in chain}) == len(chain)  # each thing once
