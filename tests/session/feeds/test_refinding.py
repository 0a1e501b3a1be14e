"""What feeds have lost is found again: the likeliest is what stood there, and a mend is one step."""

import pytest
from tests.support.fakes import FakeExecutor

from architectonic.base.errors import UserFault
from architectonic.check.attention import attention, causes
from architectonic.describe.results import Node
from architectonic.family import edits, scopes
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.targets import all_scopes
from architectonic.propagate.whole import evaluate_scopes
from architectonic.session.feeds import refinding
from architectonic.session.open.history import History
from architectonic.session.sketch.moving import fork_sketch


@pytest.fixture(scope="module")
def evaluator():
    return Evaluator(FakeExecutor())


@pytest.fixture(scope="module")
def without(demo, evaluator):
    """The demo whose sketch *Plan* was copied and then deleted: family, evaluation, ids of the layout and of both."""
    layout = edits.find_document(demo, "Elevation").id
    plan = next(o.id for o in edits.model(demo, layout).build if o.name == "Plan")
    family, twin = fork_sketch(demo, layout, plan)
    family = edits.delete_item(family, layout, plan)
    return family, evaluate_scopes(evaluator, family, all_scopes(family)), layout, plan, twin


def at(family, name):
    return scopes.scope(family, edits.find_document(family, name).id, family.head.sizes[1].id)


def test_one_cause_holds_all_who_took_it(without):
    _, evaluation, layout, plan, _ = without
    (cause,) = causes(attention(evaluation))
    assert cause.gone == (layout, plan) and cause.severity == "missing"
    assert {i.where.split(" / ")[0] for i in cause.items} == {"Foot", "Stem"}
    hanging = [f.where for i in cause.items for f in i.following]
    assert "Foot / Foot block" in hanging and "Stem / Stem rod" in hanging and len(hanging) == len(set(hanging))


def test_the_likeliest_is_what_stood_in_the_same_place_and_all_are_mended_in_one_step(demo, evaluator, without):
    family, evaluation, _, _, twin = without
    for name in ("Foot", "Stem"):
        scope = at(family, name)
        (feed,) = refinding.feeds_with_losses(evaluation, scope)
        lost = refinding.lost_by(evaluation, scope, feed)
        assert lost and {one.likely[0].offer.item for one in lost} == {twin}
        chosen = {one.socket: (one.source, one.likely[0].offer) for one in lost}
        family = refinding.mend(family, evaluation, scope.document, chosen)
    after, whole = (evaluate_scopes(evaluator, f, all_scopes(f)) for f in (family, demo))
    assert attention(after) == []
    for name in ("Foot", "Stem"):
        sockets = [k for feed in edits.find_document(demo, name).feeds.values() for k in feed.sockets]
        for key in sockets:
            was, now = (e.value(Node("socket", at(f, name), key)) for f, e in ((demo, whole), (family, after)))
            assert type(was) is type(now) and getattr(was, "frame", was) == getattr(now, "frame", now)
            if hasattr(was, "region"):
                assert now.region.area == pytest.approx(was.region.area) and len(now.region.loops) == len(
                    was.region.loops
                )


def test_a_circle_is_found_by_its_size_before_a_nearer_one(without):
    _, evaluation, *_ = without
    scope = at(evaluation.family, "Foot")
    (feed,) = refinding.feeds_with_losses(evaluation, scope)
    curves = [one for one in refinding.lost_by(evaluation, scope, feed) if one.takes == "curve"]
    assert len(curves) == 2 and {one.likely[0].witness.size for one in curves} == {one.was.size for one in curves}
    assert refinding.words(curves[0].was, "curve").startswith("a circle, ")


def test_nothing_chosen_changes_nothing(without):
    family, evaluation, *_ = without
    with pytest.raises(UserFault, match="nothing is chosen"):
        refinding.mend(family, evaluation, at(family, "Foot").document, {})
    assert refinding.lost_by(evaluation, at(family, "Foot"), "no such feed") == []
    assert refinding.feeds_with_losses(evaluation, at(family, "Louvre")) == []


def test_history_knows_what_something_was_called(demo, without):
    family, _, layout, plan, _ = without
    history = History(demo)
    history.add(family, "delete Plan")
    assert history.last_with(layout, plan) is demo and history.last_with(layout, "never") is None
