"""What needs attention, by root cause, and what an edit changes."""

import pytest
from tests.support.fakes import FakeExecutor

from architectonic.check.attention import attention
from architectonic.check.impact import impact, same
from architectonic.family import edits
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.targets import all_scopes
from architectonic.propagate.whole import evaluate_scopes
from architectonic.session.open.whatif import with_values


@pytest.fixture(scope="module")
def evaluator():
    return Evaluator(FakeExecutor())


def run(evaluator, family):
    return evaluate_scopes(evaluator, family, all_scopes(family))


def test_the_demo_needs_no_attention(evaluator, demo):
    assert attention(run(evaluator, demo)) == []


def test_a_rule_is_told_once_with_its_sizes(evaluator, demo):
    (item,) = attention(run(evaluator, with_values(demo, ["Sizes.reach@L=500 mm"])))
    assert item.severity == "out of rule" and item.configurations == ("L",) and "tips over" in item.what
    (item,) = attention(run(evaluator, with_values(demo, ["Sizes.reach=500 mm"])))
    assert item.configurations == ("S", "M", "L")


def test_a_deleted_driver_is_one_cause_with_followers(evaluator, demo):
    sizes = edits.find_document(demo, "Sizes")
    tube = next(p for p in sizes.parameters if p.name == "tube_d")
    items = attention(run(evaluator, edits.delete_item(demo, sizes.id, tube.id)))
    assert items and all(i.severity == "missing" for i in items)
    assert all("follows" not in i.what for i in items)
    assert sum(len(i.following) for i in items) > 0


def test_failures_come_before_what_is_missing_and_rules(evaluator, demo):
    family = with_values(demo, ["Sizes.reach=500 mm", "Sizes.sheet=-1 mm"])
    severities = [i.severity for i in attention(run(evaluator, family))]
    order = {"failing": 0, "conflict": 1, "missing": 2, "out of rule": 3}
    assert severities == sorted(severities, key=order.get) and {"failing", "out of rule"} <= set(severities)


def test_an_operation_that_is_switched_off_needs_no_attention(evaluator, demo):
    foot = edits.find_document(demo, "Foot")
    family = demo
    for operation in foot.build:
        family = edits.set_switch(family, foot.id, operation.id, False)
    assert attention(run(evaluator, family)) == []


def test_impact_of_nothing_is_nothing(evaluator, demo):
    found = impact(run(evaluator, demo), run(evaluator, demo))
    assert found["changed"] == [] and found["newly_failing"] == [] and found["rules"] == []
    assert found["unchanged"] == [d.name for d in demo.documents.values()]


def test_impact_there_and_back_is_mirrored(evaluator, demo):
    changed = with_values(demo, ["Sizes.wall@M=3 mm", "Sizes.foot_d@S=100 mm"])
    a, b = run(evaluator, demo), run(evaluator, changed)
    there, back = impact(a, b), impact(b, a)
    assert [(e["document"], e["quantity"], e["before"], e["after"]) for e in there["changed"]] == [
        (e["document"], e["quantity"], e["after"], e["before"]) for e in back["changed"]
    ]
    assert {r["holds"] for r in there["rules"]} == {False} and {r["holds"] for r in back["rules"]} == {True}
    assert there["newly_failing"] == back["newly_mended"]


def test_impact_of_a_new_and_of_a_deleted_document(evaluator, demo):
    fewer = edits.delete_document(demo, edits.find_document(demo, "Light").id)
    found = impact(run(evaluator, demo), run(evaluator, fewer))
    assert {e["document"] for e in found["changed"]} == {"Light"} and all(e["after"] is None for e in found["changed"])


@pytest.mark.parametrize(
    ("a", "b", "equal"),
    [(1.0, 1.0 + 1e-12, True), (1.0, 1.0 + 1e-6, False), ([1.0], [1.0], True), (None, 1.0, False), (0.0, 0.0, True)],
)
def test_figures_within_the_noise_of_measuring_are_the_same(a, b, equal):
    assert same(a, b) is equal


def test_what_loses_its_source_is_told_where_it_took_it(evaluator, demo):
    """The sketch that foot and stem take from is deleted: they have no bodies, so nothing may say that all is current."""
    layout = edits.find_document(demo, "Elevation")
    plan = next(o.id for o in layout.build if o.name == "Plan")
    found = attention(run(evaluator, edits.delete_item(demo, layout.id, plan)))
    assert {i.where for i in found} == {
        "Foot / Foot outline, curve 1",
        "Foot / Foot outline, curve 2",
        "Foot / Foot outline, region",
        "Stem / Stem outline, region",
    }
    assert {i.severity for i in found} == {"missing"} and {i.configurations for i in found} == {("S", "M", "L")}
    assert all("is gone" in i.what and i.mend for i in found)
    assert len(next(i for i in found if i.where.startswith("Stem")).following) >= 2  # its rod and the hole through it
